// Package invalid says what is wrong with an input, where, and what to do about it.
package invalid

import "strings"

// Field is one fault of an input.
type Field struct {
	Path string // where, as a JSON path from the input's root: lines[0].count
	Says string // what is wrong and what to do, one plain sentence
}

// Error lists every fault found in one input. It is never empty.
type Error struct{ Fields []Field }

func (e *Error) Error() string {
	parts := make([]string, len(e.Fields))
	for i, f := range e.Fields {
		parts[i] = f.Path + ": " + f.Says
	}
	return strings.Join(parts, "; ")
}

// Faults collects the faults of one input. The zero value is ready to use.
type Faults struct{ fields []Field }

// Add notes a fault at path.
func (f *Faults) Add(path, says string) { f.fields = append(f.fields, Field{path, says}) }

// Under notes the faults of err, an *Error of a part of the input, below path.
// An err of another kind becomes one fault at path; nil is no fault.
func (f *Faults) Under(path string, err error) {
	if err == nil {
		return
	}
	part, ok := err.(*Error)
	if !ok {
		f.Add(path, err.Error())
		return
	}
	for _, field := range part.Fields {
		f.Add(join(path, field.Path), field.Says)
	}
}

// Err is an *Error with all that was noted, or nil when nothing was.
func (f *Faults) Err() error {
	if len(f.fields) == 0 {
		return nil
	}
	return &Error{f.fields}
}

func join(parent, child string) string {
	switch {
	case parent == "" || child == "":
		return parent + child
	case child[0] == '[':
		return parent + child
	default:
		return parent + "." + child
	}
}
