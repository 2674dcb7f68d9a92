package batch

import (
	"strings"

	"zestytin/core/chocolate"
	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/plan"
	"zestytin/core/recipe"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// Motif is what a piece of work is drawn as: its treat's family, or a mix.
type Motif string

// MixMotif is the motif of a mix that is made by itself.
const MixMotif Motif = "mix"

// Motifs that there are.
func Motifs() []Motif {
	var list []Motif
	for _, f := range family.All() {
		list = append(list, Motif(f))
	}
	return append(list, MixMotif)
}

// Stir is the one step of a mix that is made by itself.
const Stir ident.Step = "stir"

// Making is the batch card of so many grams of a mix that is made ahead by itself, all of it fresh, down to its
// ingredients. It takes so many minutes of hands, and what melting chocolate for it takes.
func Making(mix ident.Ingredient, out si.Grams, minutes si.Minutes, k *treat.Inputs) *Card {
	own := *k
	own.Ahead = nil
	n := &needs{account: &account{rounds: &rounds{starts: &starts{wanted: &wanted{k: &own,
		items: map[ident.Ingredient]treat.Item{}}}}}}
	of := n.item(mix)
	n.take(of, amounts{goes: float64(out)}, nil)
	n.order()
	s := &steps{needs: n}
	for _, m := range n.mixes {
		for _, melt := range s.melts(m) {
			minutes += melt.hands
		}
	}
	keeps, _ := family.MixKeeps(mix, k)
	return &Card{Family: treat.Family(MixMotif), Good: 1, Look: mostOf(n.needs, &own), Mixes: n.mixes, Needs: n.needs,
		Hands: minutes, Keeps: keeps, Steps: []Step{{Name: of.Name, Amounts: s.recipes(mix),
			Operation: plan.Operation{ID: Stir, HandsOnMin: minutes}}}}
}

// someMinutes of hands that a mix takes of which the method does not say (memory).
const someMinutes si.Minutes = 20

// MethodMinutes is how many minutes of hands a method takes by its own words: those of its lines in which nothing only
// waits. Where no line says, what a small mix takes.
func MethodMinutes(method string) si.Minutes {
	sum := si.Minutes(0)
	for _, line := range recipe.Method(strings.Split(method, "\n")) {
		if !line.Waits {
			sum += line.Minutes
		}
	}
	if sum == 0 {
		return someMinutes
	}
	return sum
}

// mostOf what is needed is the chocolate that there is most of; caramel has the colour of milk chocolate.
func mostOf(needs []Need, k *treat.Inputs) food.Chocolate {
	most, look := 0.0, food.Chocolate{Kind: chocolate.Real, Colour: chocolate.Milk}
	for _, n := range needs {
		if of := k.Ingredients[n.Ingredient].Chocolate; of != nil && n.Used.Amount > most {
			most, look = n.Used.Amount, *of
		}
	}
	return look
}
