package family

import (
	"slices"

	"zestytin/core/treat"
)

// Choice is one on which people differ (handbook 6): what can be chosen, with the reasons. The first option is the default.
type Choice struct {
	ID      string   `json:"id"`
	Name    string   `json:"name"`
	Options []Option `json:"options"`
}

// Option of a choice.
type Option struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Why  string `json:"why"`
}

// first is the choice with another option as its default.
func (c Choice) first(id string) Choice {
	c.Options = slices.Clone(c.Options)
	slices.SortStableFunc(c.Options, func(a, b Option) int {
		switch id {
		case a.ID:
			return -1
		case b.ID:
			return 1
		}
		return 0
	})
	return c
}

// Choices that several families have.
var (
	coat = Choice{"coat", "How the mould is coated", []Option{
		{"spoon", "spoon and brush", "Little is melted, and the rim can be built up where it is thin."},
		{"drain", "fill and drain", "Quicker for many, and even all round; more is melted, and what drains from one mould fills the next."},
		{"turn", "half-fill and turn", "A little over 2 tablespoons in each, turned until it is coated, the rest poured off: less is melted than for filling to the brim."},
	}}
	coats = Choice{"coats", "Coats", []Option{
		{"one", "one", "Enough for a wall of 3 mm and more."},
		{"two", "two", "The second covers bare spots and the rim; thin walls and cups crack without it."},
	}}
	lines = Choice{"lines", "Lines", []Option{
		{"after", "when set", "They stand up crisp and do not run."},
		{"wet", "while wet", "One time of setting less; they sink in and lie flat."},
	}}
	last = Choice{"last", "The last round", []Option{
		{"part", "as much as is needed", "No more is made than the extras ask for."},
		{"whole", "filled up", "A begun mould, sheet or pan takes nearly the time of a full one: the spare ones are shop stock."},
	}}
	setting = Choice{"set", "Where it sets", []Option{
		{"fridge", "fridge", "Sets evenly and soon; pieces sweat when they come out into warm, damp air."},
		{"room", "room", "The best gloss, and nothing sweats; it takes longest, and longer when it is humid or warm."},
		{"freezer", "freezer", "Minutes only, for thin coats that must not turn white on the table, and to free moulds."},
	}}
)

// wholeSheets is the choice of what is made on sheets: a begun one is mostly filled up.
func wholeSheets() Choice {
	c := last.first("whole")
	c.Name = "The last one"
	return c
}

// Choices of a formula's family, for what it has chosen.
func Choices(f *treat.Formula) []Choice { return LawOf(f).Choices(f.Choices) }

// Chosen is what a formula chooses, or its family's default; empty where there is no such choice.
func Chosen(f *treat.Formula, id string) string {
	if made := f.Choices[id]; made != "" {
		return made
	}
	for _, c := range LawOf(f).Choices(f.Choices) {
		if c.ID == id {
			return c.Options[0].ID
		}
	}
	return ""
}
