// Package said is what a metric kitchen would read, for tests of core: core itself has only the reasons.
package said

import (
	"errors"
	"strings"

	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/internal/text"
)

// Of a reason.
func Of(r reason.Reason) string { return text.For(false).Say(r) }

// Text of several, one after the other.
func Text(t reason.Text) string { return text.For(false).Tell(t) }

// All of a list in one.
func All(list []reason.Reason) string { return strings.Join(text.For(false).All(list), " ") }

// Error as it is told; of faults of an input with the place of each.
func Error(err error) string {
	var faults *invalid.Error
	if !errors.As(err, &faults) {
		return text.For(false).Error(err)
	}
	list := make([]string, len(faults.Fields))
	for i, f := range faults.Fields {
		list[i] = f.Path + ": " + text.For(false).Error(f.Err)
	}
	return strings.Join(list, "; ")
}
