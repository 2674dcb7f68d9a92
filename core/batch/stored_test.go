package batch

import (
	"encoding/json"
	"reflect"
	"testing"

	"zestytin/core/reason"
	"zestytin/internal/text/said"
)

// A card that a version before has stored, with sentences where there are reasons now, is read with the sentences as
// they were; and a card of now comes back as it was stored.
func TestStoredCards(t *testing.T) {
	const before = `{"family":"bomb","good":12,"start":14,"startWhy":"12 good at 6% loss, 95% sure: start 14.","spare":"About 1 spare.","care":["Steam burns."],
		"rounds":{"count":2,"word":"rounds","text":"2 rounds of 24 cavities","fill":"the last fills 4","why":"28 half shells."},
		"pots":[{"advice":"Melt 900 g in bursts. Stir.","additions":"Never water.","why":"52 g on each.","tempering":{"steps":["Melt it.","Stir it."]}}],
		"steps":[{"id":"shells","amounts":["570 g Milk (1 lb 4 oz)"],"inAll":["900 g in all"]}]}`
	var old Card
	if err := json.Unmarshal([]byte(before), &old); err != nil {
		t.Fatal(err)
	}
	for got, want := range map[string]string{
		said.Text(old.StartWhy): "12 good at 6% loss, 95% sure: start 14.", said.Of(old.Spare): "About 1 spare.",
		said.All(old.Care): "Steam burns.", said.Of(old.Rounds.Text): "2 rounds of 24 cavities",
		said.Text(old.Pots[0].Advice):         "Melt 900 g in bursts. Stir.",
		said.All(old.Pots[0].Tempering.Steps): "Melt it. Stir it.",
		said.All(old.Steps[0].Amounts):        "570 g Milk (1 lb 4 oz)",
	} {
		if got != want {
			t.Errorf("%q is read as %q", want, got)
		}
	}
	c := card(t, bomb(), 12)
	data, err := json.Marshal(c)
	if err != nil {
		t.Fatal(err)
	}
	var back Card
	if err := json.Unmarshal(data, &back); err != nil {
		t.Fatal(err)
	}
	if !reflect.DeepEqual(back.StartWhy, c.StartWhy) || !reflect.DeepEqual(back.Pots[0].Why, c.Pots[0].Why) ||
		!reflect.DeepEqual(back.Steps[0].Amounts, c.Steps[0].Amounts) || back.StartWhy.Has(reason.AsWritten) {
		t.Errorf("%v and %v", back.StartWhy, c.StartWhy)
	}
}
