package box

import (
	"zestytin/core/reason"
	"zestytin/internal/text"
)

// What is said of a reason, in a metric kitchen.
func tell(t reason.Text) string { return text.For(false).Tell(t) }
