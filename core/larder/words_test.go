package larder

import (
	"errors"
	"strings"

	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/internal/text"
)

// What is said of a reason, in a metric kitchen.
func doubted(r *reason.Reason) string {
	if r == nil {
		return ""
	}
	return text.For(false).Say(*r)
}

func wrong(err error) string {
	var faults *invalid.Error
	if !errors.As(err, &faults) {
		return text.For(false).Error(err)
	}
	said := make([]string, len(faults.Fields))
	for i, f := range faults.Fields {
		said[i] = f.Path + ": " + text.For(false).Error(f.Err)
	}
	return strings.Join(said, "; ")
}

func say(r reason.Reason) string { return text.For(false).Say(r) }
