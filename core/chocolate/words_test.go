package chocolate

import (
	"strings"

	"zestytin/core/reason"
	"zestytin/internal/text"
)

// What is said of a reason, in a metric kitchen.
func say(r reason.Reason) string { return text.For(false).Say(r) }

func all(list []reason.Reason) string { return strings.Join(text.For(false).All(list), " ") }
