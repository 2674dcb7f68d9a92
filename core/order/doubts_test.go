package order

import (
	"strings"
	"testing"

	"zestytin/core/ident"
	"zestytin/core/larder"
	"zestytin/internal/text/said"
)

// TestDoubts: a cost says what of it nobody has paid, by name, and only that.
func TestDoubts(t *testing.T) {
	k := kitchen()
	r := reckon(t, draft(Line{Treat: "berry", Count: 12}), k)
	paid := len(r.Money.Doubts)
	if len(r.Needs) < 2 {
		t.Fatalf("%d needs", len(r.Needs))
	}
	guessed, free := r.Needs[0], r.Needs[1]
	if k.Stock == nil {
		k.Stock = map[ident.Ingredient]larder.Stock{}
	}
	one := k.stock(guessed.Ingredient)
	one.Estimated = true
	k.Stock[guessed.Ingredient] = one
	k.Stock[free.Ingredient] = larder.Stock{}
	r = reckon(t, draft(Line{Treat: "berry", Count: 12}), k)
	told := said.All(r.Money.Doubts)
	if len(r.Money.Doubts) < 2 || paid > len(r.Money.Doubts) ||
		!strings.Contains(told, "estimated prices for "+guessed.Name) ||
		!strings.Contains(told, "No price is known for "+free.Name) {
		t.Errorf("%d before, then %s", paid, told)
	}
	for _, n := range r.Needs {
		want := larder.OnPaid
		switch n.Ingredient {
		case guessed.Ingredient:
			want = larder.OnEstimate
		case free.Ingredient:
			want = larder.OnNothing
		}
		if (n.Ingredient == guessed.Ingredient || n.Ingredient == free.Ingredient) && n.Basis != want {
			t.Errorf("%s rests on %q, want %q", n.Name, n.Basis, want)
		}
	}
}
