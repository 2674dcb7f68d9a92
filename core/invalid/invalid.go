// Package invalid says what is wrong with an input, where, and what to do about it.
package invalid

import (
	"strings"

	"zestytin/core/reason"
)

// Field is one fault of an input.
type Field struct {
	Path string // where, as a JSON path from the input's root: lines[0].count
	Err  error  // what is wrong: a reason.Reason, or an error that has one
}

// Error lists every fault found in one input. It is never empty.
type Error struct{ Fields []Field }

func (e *Error) Error() string {
	parts := make([]string, len(e.Fields))
	for i, f := range e.Fields {
		parts[i] = f.Path + ": " + f.Err.Error()
	}
	return strings.Join(parts, "; ")
}

// At is an error of one fault.
func At(path string, err error) *Error { return &Error{[]Field{{path, err}}} }

// Faults collects the faults of one input. The zero value is ready to use.
type Faults struct{ fields []Field }

// Add notes a fault at path.
func (f *Faults) Add(path string, err error) { f.fields = append(f.fields, Field{path, err}) }

// Because notes a fault at path by a code with its values.
func (f *Faults) Because(path, code string, with ...reason.Value) {
	f.Add(path, reason.Of(code, with...))
}

// Under notes the faults of err, an *Error of a part of the input, below path.
// An err of another kind becomes one fault at path; nil is no fault.
func (f *Faults) Under(path string, err error) {
	if err == nil {
		return
	}
	part, ok := err.(*Error)
	if !ok {
		f.Add(path, err)
		return
	}
	for _, field := range part.Fields {
		f.Add(join(path, field.Path), field.Err)
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
