package price

import "zestytin/internal/text"

// What is said of an error, in a metric kitchen.
func wrong(err error) string { return text.For(false).Error(err) }
