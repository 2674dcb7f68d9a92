package handover

import (
	"testing"

	"zestytin/internal/platform/web"
)

// What is told of one day is that day's, for that kitchen alone, until it is over.
func TestHowFarASearchHasCome(t *testing.T) {
	o, ctx := &Handover{}, t.Context()
	at := func(day string) Search {
		r, err := o.search(ctx, &OnDay{Day: day})
		if err != nil {
			t.Fatal(err)
		}
		return r.Body
	}
	tell, over := o.searches.follow(ctx, "2026-09-05")
	if at("2026-09-05") != (Search{}) {
		t.Error("a search that has told nothing")
	}
	tell(30, 40)
	other := web.WithWho(ctx, web.Actor{Kitchen: [16]byte{7}})
	if r, _ := o.search(other, &OnDay{Day: "2026-09-05"}); r.Body != (Search{}) || at("2026-09-06") != (Search{}) {
		t.Error("told elsewhere")
	}
	if at("2026-09-05") != (Search{30, 40}) {
		t.Error(at("2026-09-05"))
	}
	over()
	if at("2026-09-05") != (Search{}) {
		t.Error("it is over")
	}
}
