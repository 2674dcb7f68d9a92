package invalid

import (
	"bytes"
	"errors"
	"unicode/utf8"
)

// MostBytes of a file or a pasted text.
const MostBytes = 1 << 20

// Text refuses what is too long, is no text, or is nothing. The error is a plain sentence.
func Text(data []byte) error {
	switch {
	case len(data) > MostBytes:
		return errors.New("This is more than 1 MB: a treat or a recipe is smaller. Choose another file, or paste the recipe's lines alone.")
	case !utf8.Valid(data) || bytes.IndexByte(data, 0) >= 0:
		return errors.New("This is not text: choose a text or JSON file, not a picture or document.")
	case len(bytes.TrimSpace(data)) == 0:
		return errors.New("There is nothing in it: choose another file, or paste the recipe.")
	}
	return nil
}
