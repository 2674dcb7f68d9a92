package text

import (
	"context"

	"zestytin/core/reason"
)

type wordsKey struct{}

// With ctx, what is said is said in these words.
func With(ctx context.Context, w *Words) context.Context {
	return context.WithValue(ctx, wordsKey{}, w)
}

// Names are a list of names as it is read: Ada and Bo.
func Names(list reason.List) string { return plain.Value(list) }

// Of ctx; metric where nobody has said.
func Of(ctx context.Context) *Words {
	if ctx == nil {
		return plain
	}
	if w, ok := ctx.Value(wordsKey{}).(*Words); ok {
		return w
	}
	return plain
}

// Format is the sentence of a code as fmt takes it, for a library that fills in the values itself; they are named for
// whoever reads the call. Such a library is set once for all: it speaks English.
func Format(code string, values ...string) string { return english.sentences[code] }
