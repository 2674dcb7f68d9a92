package invalid

import (
	"bytes"
	"unicode/utf8"

	"zestytin/core/reason"
)

// MostBytes of a file or a pasted text.
const MostBytes = 1 << 20

// Text refuses what is too long, is no text, or is nothing. The error is a plain sentence.
func Text(data []byte) error {
	switch {
	case len(data) > MostBytes:
		return reason.Of("invalid.this-more-than-mb-treat")
	case !utf8.Valid(data) || bytes.IndexByte(data, 0) >= 0:
		return reason.Of("invalid.this-not-text-choose-text")
	case len(bytes.TrimSpace(data)) == 0:
		return reason.Of("invalid.there-nothing-in-choose-another")
	}
	return nil
}
