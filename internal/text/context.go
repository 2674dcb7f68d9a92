package text

import "context"

type wordsKey struct{}

// With ctx, what is said is said in these words.
func With(ctx context.Context, w *Words) context.Context { return context.WithValue(ctx, wordsKey{}, w) }

var plain = In(false)

// Of ctx; metric where nobody has said.
func Of(ctx context.Context) *Words {
	if w, ok := ctx.Value(wordsKey{}).(*Words); ok {
		return w
	}
	return plain
}
