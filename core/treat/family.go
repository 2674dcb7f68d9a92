package treat

import (
	"slices"
)

// Family fixes the stages and the quantity laws of a treat.
type Family string

const (
	Bomb    Family = "bomb"    // two half shells a piece, or a cup with a lid, filled and sealed (handbook 2.1)
	Fruit   Family = "fruit"   // picked over, washed, dried, dipped (handbook 2.2)
	Pretzel Family = "pretzel" // rods and twists, dipped (handbook 2.3)
	Truffle Family = "truffle" // a centre of any mix, coated (handbook 2.4)
	Bark    Family = "bark"    // by sheet area and depth, broken, bagged by weight (handbook 2.5)
	Fudge   Family = "fudge"   // by pan area and depth, cut into a grid (handbook 2.6)
	Moulded Family = "moulded" // shell, fill and cap in a cavity (handbook 2.7)
)

// Families in the order of the book.
func Families() []Family {
	return []Family{Bomb, Fruit, Pretzel, Truffle, Bark, Fudge, Moulded}
}

// Sold is the word for what is counted in an order, for one and for many.
func (f Family) Sold(n int) string {
	switch {
	case f == Bark && n == 1:
		return "bag"
	case f == Bark:
		return "bags"
	case n == 1:
		return "piece"
	default:
		return "pieces"
	}
}

// roles of chocolate that a family can have.
func (f Family) roles() []Role {
	switch f {
	case Bomb:
		return []Role{RoleShell, RoleDrizzle}
	case Fruit, Pretzel, Truffle:
		return []Role{RoleCoat, RoleDrizzle}
	case Bark:
		return []Role{RoleBase, RoleLayer, RoleDrizzle}
	case Moulded:
		return []Role{RoleShell, RoleCap, RoleDrizzle}
	default:
		return []Role{RoleDrizzle}
	}
}

// main role of a family's chocolate, which it cannot do without; none for fudge.
func (f Family) main() Role {
	if f == Fudge {
		return ""
	}
	return f.roles()[0]
}

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

var (
	coat = Choice{"coat", "How the mould is coated", []Option{
		{"spoon", "spoon and brush", "Little is melted, and the rim can be built up where it is thin."},
		{"drain", "fill and drain", "Quicker for many, and even all round; more is melted, and what drains is used for the next."},
	}}
	coats = Choice{"coats", "Coats", []Option{
		{"one", "one", "Enough for a wall of 3 mm and more."},
		{"two", "two", "The second covers bare spots and the rim; thin walls and cups crack without it."},
	}}
	twice = Choice{"coats", "Coats", []Option{
		{"two", "two", "One coat cracks when the cup is taken off."},
		{"one", "one", "Only for a thick wall that is left in its cup."},
	}}
	lines = Choice{"lines", "Lines", []Option{
		{"after", "when set", "They stand up crisp and do not run."},
		{"wet", "while wet", "One time of setting less; they sink in and lie flat."},
	}}
	last = Choice{"last", "The last round", []Option{
		{"part", "as much as is needed", "No more is made than the extras ask for."},
		{"whole", "filled up", "A begun mould, sheet or pan takes nearly the time of a full one: the spare ones are shop stock."},
	}}
	wholeSheets = Choice{"last", "The last one", []Option{last.Options[1], last.Options[0]}}
)

func setting(first string) Choice {
	options := []Option{
		{"fridge", "fridge", "Sets evenly and soon; pieces sweat when they come out into warm, damp air."},
		{"room", "room", "The best gloss, and nothing sweats; it takes longest, and longer when it is humid or warm."},
		{"freezer", "freezer", "Minutes only, for thin coats that must not turn white on the table, and to free moulds."},
	}
	slices.SortStableFunc(options, func(a, b Option) int {
		switch first {
		case a.ID:
			return -1
		case b.ID:
			return 1
		}
		return 0
	})
	return Choice{"set", "Where it sets", options}
}

// Choices of a family, given those that are made: a cup wants two coats, a ball one.
func (f Family) Choices(made map[string]string) []Choice {
	switch f {
	case Bomb:
		shape := Choice{"shape", "Shape", []Option{
			{"ball", "ball", "Two half shells from a sphere mould, sealed at the seam."},
			{"cup", "cup", "A small disposable cup, slit and taped, is the mould; filled, and sealed with a lid of chocolate. Slow work."},
		}}
		coats := coats
		if made["shape"] == "cup" {
			coats = twice
		}
		return []Choice{shape, coat, coats, setting("fridge"), lines, last}
	case Fruit:
		return []Choice{
			{"stand", "How it sets", []Option{
				{"flat", "flat on paper", "Quick, needs no pick to stand in; one side is flat."},
				{"standing", "standing in a glass", "Round all over; every piece needs its pick and its place."},
			}},
			setting("room"),
			{"wash", "Wash", []Option{
				{"soak", "soak", "3 parts water to 1 part white vinegar, 5 to 10 minutes, then rinse."},
				{"spray", "produce wash", "Rubbed for about 30 seconds, then rinsed: quicker for a few."},
				{"none", "wipe only", "For dried fruit, which must not get wet."},
			}},
			coats, lines,
		}
	case Pretzel:
		return []Choice{
			{"shape", "Shape", []Option{
				{"rod", "rods", "Dipped and turned in a tall squeeze bottle held at a slant."},
				{"twist", "twists", "With a fork or tongs in a bowl."},
			}},
			setting("freezer"), coats, lines,
		}
	case Truffle:
		return []Choice{
			{"centres", "Centres before coating", []Option{
				{"freezer", "freezer", "Firm in 15 minutes and easy to dip; cold centres cool the bowl, and may crack the coat as they expand."},
				{"fridge", "fridge", "Slower; the bowl stays warm for longer and the coat cracks less."},
			}},
			{"skin", "Skin", []Option{
				{"dipped", "dipped", "Shows its gloss: the chocolate is tempered."},
				{"rolled", "dipped and rolled", "The rolling hides that it is not tempered, so the coat may be melted only."},
			}},
			coats, setting("fridge"), lines,
		}
	case Bark:
		return []Choice{
			{"style", "Colours", []Option{
				{"plain", "one", "One chocolate, topped while wet."},
				{"swirl", "swirl of two", "Both poured at once, dragged, tapped level: quick."},
				{"trail", "spread and trailed", "Thin is liked: about three quarters are spread and topped, the last quarter is trailed over to hold the toppings."},
				{"layers", "two layers", "The second goes on while the first is warm, but not hot (it bleeds) and never chilled (they part)."},
			}},
			{"divide", "Pieces", []Option{
				{"break", "broken by hand", "Irregular is wanted; crumbs are a loss to plan."},
				{"cut", "cut", "Even pieces and fewer crumbs; cut before it is hard."},
			}},
			setting("fridge"), wholeSheets,
		}
	case Fudge:
		return []Choice{
			{"cook", "How it is made", []Option{
				{"cooked", "cooked", "Boiled to soft ball, cooled undisturbed, beaten: the real thing, and it wants a thermometer."},
				{"quick", "quick", "Condensed milk and chocolate melted together and chilled: no boiling sugar."},
			}},
			setting("room"), wholeSheets,
		}
	case Moulded:
		drained := Choice{coat.ID, coat.Name, []Option{coat.Options[1], coat.Options[0]}}
		return []Choice{drained, coats, setting("freezer"), last}
	default:
		return nil
	}
}

// defaults of every family's choices, and those of a bomb that is a cup.
var defaults, cupDefaults = func() (all map[Family]map[string]string, cup map[string]string) {
	first := func(f Family, made map[string]string) map[string]string {
		of := map[string]string{}
		for _, c := range f.Choices(made) {
			of[c.ID] = c.Options[0].ID
		}
		return of
	}
	all = map[Family]map[string]string{}
	for _, f := range Families() {
		all[f] = first(f, nil)
	}
	return all, first(Bomb, map[string]string{"shape": "cup"})
}()

// choice that the formula makes, or the family's default.
func (f *Formula) choice(id string) string {
	if made := f.Choices[id]; made != "" {
		return made
	}
	if f.Choices["shape"] == "cup" {
		return cupDefaults[id]
	}
	return defaults[f.Family][id]
}
