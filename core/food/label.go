package food

import (
	"cmp"
	"slices"
	"strings"

	"zestytin/core/reason"
	"zestytin/core/si"
)

// Law by which a kitchen declares what is in its food.
type Law string

const (
	LawUS Law = "us" // FALCPA and the FASTER Act: nine, and sulphites from 10 ppm (21 CFR 101.100(a)(4))
	LawEU Law = "eu" // Regulation 1169/2011, Annex II: fourteen
)

// Laws that are known.
func Laws() []Law { return []Law{LawUS, LawEU} }

// Requires tells whether the law has an allergen declared, by the names of both laws.
func (l Law) Requires(allergen string) bool {
	n := slices.IndexFunc(Allergens(), func(a Allergen) bool { return a.Name == allergen })
	if n < 0 {
		return false
	}
	a := Allergens()[n]
	if l == LawUS {
		return a.US
	}
	return a.EU
}

// kinds of tree nuts and of cereals with gluten, by the words that name them. Both laws want nuts named by their kind,
// the EU's the cereal as well.
var (
	nuts = []string{"almond", "hazelnut", "walnut", "cashew", "pecan", "brazil nut", "pistachio", "macadamia",
		"pine nut", "chestnut"}
	cereals = []string{"wheat", "rye", "barley", "oat", "spelt", "kamut"}
)

// named finds which of some kinds an ingredient names, in its own name or among what it is made of.
func (i *Ingredient) named(kinds []string) []string {
	var found []string
	for _, text := range append([]string{i.Name}, i.MadeOf...) {
		words := " " + Words(text) + " "
		for _, k := range kinds {
			if strings.Contains(words, " "+k+" ") && !slices.Contains(found, k) {
				found = append(found, k)
			}
		}
	}
	return found
}

// Declare is what a label names by a law for foods made of the ingredients, sorted. A nut or a cereal whose kind no
// name tells is declared as what it is: the seller must look at the pack.
func (l Law) Declare(of []Ingredient) []reason.Word {
	list := []reason.Word{}
	add := func(names ...string) {
		for _, n := range names {
			if !slices.Contains(list, reason.Word(n)) {
				list = append(list, reason.Word(n))
			}
		}
	}
	for n := range of {
		i := &of[n]
		for _, a := range i.Allergens {
			switch {
			case a == "tree nut":
				if kinds := i.named(nuts); len(kinds) > 0 {
					add(kinds...)
				} else {
					add("declare.tree-nuts")
				}
			case a == "gluten" && l == LawEU:
				if kinds := i.named(cereals); len(kinds) > 0 {
					add(kinds...)
				} else if !slices.Contains(i.Allergens, "wheat") {
					add("declare.gluten")
				}
			case a == "wheat" || l.Requires(a):
				add(a)
			}
		}
	}
	slices.Sort(list)
	return list
}

// spirits are words that name alcohol among what something is made of. Vinegar and sugar alcohols are none.
var spirits = []string{"alcohol", "ethanol", "rum", "brandy", "cognac", "whisky", "whiskey", "bourbon", "vodka", "gin",
	"tequila", "kirsch", "grappa", "liqueur", "schnapp", "spirit", "wine", "sherry",
	"port", "marsala", "champagne", "beer", "stout", "cider"}

// IsAlcohol tells whether a name is that of something with alcohol in it.
func IsAlcohol(name string) bool {
	words := strings.Fields(Words(name))
	if slices.Contains(words, "vinegar") || slices.Contains(words, "free") || slices.Contains(words, "sugar") ||
		slices.Contains(words, "flavour") && slices.Contains(words, "no") {
		return false
	}
	return slices.ContainsFunc(words, func(w string) bool { return slices.Contains(spirits, w) })
}

// HasAlcohol tells whether an ingredient is an alcohol or is made with one.
func (i *Ingredient) HasAlcohol() bool {
	return i.Kind == KindAlcohol || slices.ContainsFunc(i.MadeOf, IsAlcohol)
}

// Part of a food: an ingredient and how many g of it go in. What was bought and is not fit to use does not.
type Part struct {
	Ingredient
	Grams si.Grams
}

// Label is the list of ingredients in falling order of weight (21 CFR 101.4(a)(1); Regulation 1169/2011, Article 18),
// sub-ingredients in brackets after the name (21 CFR 101.4(b)(2)). Entries that read the same are one.
func Label(parts []Part) string {
	type entry struct {
		text  string
		grams si.Grams
	}
	var list []entry
	for _, p := range parts {
		text := strings.ToLower(p.Name)
		if len(p.MadeOf) > 0 {
			text += " (" + strings.Join(p.MadeOf, ", ") + ")"
		}
		if n := slices.IndexFunc(list, func(e entry) bool { return e.text == text }); n >= 0 {
			list[n].grams += p.Grams
			continue
		}
		list = append(list, entry{text, p.Grams})
	}
	slices.SortStableFunc(list, func(a, b entry) int { return cmp.Compare(b.grams, a.grams) })
	texts := make([]string, len(list))
	for i, e := range list {
		texts[i] = e.text
	}
	return strings.Join(texts, ", ")
}
