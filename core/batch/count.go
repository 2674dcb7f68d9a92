package batch

import (
	"fmt"
	"math"
	"sort"

	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/treat"
)

// Countables are what a count as people say it can be of.
func Countables() []string {
	return []string{"pieces", "dozen", "bags", "rounds", "sheets", "pans", "g", "kg", "oz", "lb"}
}

// Want is a count as people say it: 40 pieces, 3 dozen, 12 bags of 200 g, 2 sheets, 1.5 kg.
type Want struct {
	Amount float64           `json:"amount"`
	As     string            `json:"as"`
	Bag    *measure.Quantity `json:"bag,omitempty"`
}

// bagged tells whether a treat is counted in bags, by weight.
func bagged(f *treat.Formula) bool {
	sheet := family.LawOf(f).Lay(f).Sheet
	return sheet != nil && sheet.Pieces == 0
}

// MostPieces that one card is made for.
const MostPieces = 10000

// Good is how many pieces (bark: bags) the want comes to, and how. Sheets, pans and rounds are those that are made: it is the
// most that one can be sure of from them. Errors are *invalid.Error with paths from the want.
func (w Want) Good(f *treat.Formula, k *treat.Kitchen) (int, Why, error) {
	fault := func(path, says string) (int, Why, error) {
		return 0, "", &invalid.Error{Fields: []invalid.Field{{Path: path, Says: says}}}
	}
	if !(w.Amount > 0) {
		return fault("amount", "The count is more than 0.")
	}
	good, why := 0.0, ""
	switch w.As {
	case "pieces", "bags", "dozen":
		good = w.Amount
		if w.As == "dozen" {
			good *= 12
			why = fmt.Sprintf("%s dozen are %s %s.", measure.Number(w.Amount), measure.Number(good), family.LawOf(f).Traits().Counted(int(good)))
		}
		if w.As == "bags" && !bagged(f) {
			if w.Bag == nil {
				return fault("bag", "Say what a bag weighs, such as 200 g.")
			}
			if err := w.Bag.Check(measure.Mass); err != nil {
				return fault("bag", err.Error())
			}
			return byMass(w.Amount*treat.Grams(w.Bag), fmt.Sprintf("%s bags of %s", measure.Number(w.Amount), show(*w.Bag)), f, k)
		}
		if w.As == "pieces" && bagged(f) {
			return fault("as", "It has no pieces to count: count bags, sheets or its weight.")
		}
	case "g", "kg", "oz", "lb":
		mass, _ := measure.Of(w.Amount, measure.Unit(w.As)).In(measure.Gram, measure.Substance{})
		return byMass(mass, measure.Number(w.Amount)+" "+w.As, f, k)
	case "rounds", "sheets", "pans":
		return w.byRounds(f, k)
	default:
		return fault("as", fmt.Sprintf("%q is no way to count: use pieces, dozen, bags, rounds, sheets, pans, g, kg, oz or lb.", w.As))
	}
	if good != math.Trunc(good) {
		return fault("amount", "Whole ones only: round the count.")
	}
	if good > MostPieces {
		return fault("amount", fmt.Sprintf("%s is more than the %d that one card can hold: check the number.", measure.Number(good), MostPieces))
	}
	return int(good), why, nil
}

// byMass is how many pieces or bags weigh at least so many grams.
func byMass(grams float64, said string, f *treat.Formula, k *treat.Kitchen) (int, Why, error) {
	one, err := Compute(f, 1, k)
	if err != nil {
		return 0, "", err
	}
	n := math.Ceil(grams/one.PieceMass - 1e-9)
	if !(n <= MostPieces) {
		return 0, "", &invalid.Error{Fields: []invalid.Field{{Path: "amount", Says: fmt.Sprintf("That comes to more than %d %s: check the number.", MostPieces, family.LawOf(f).Traits().Counted(2))}}}
	}
	return int(n), fmt.Sprintf("%s, at %s each: %d %s.", said, show(measure.Grams(one.PieceMass)), int(n), family.LawOf(f).Traits().Counted(int(n))), nil
}

// byRounds is the most good ones that so many rounds, sheets or pans are enough for.
func (w Want) byRounds(f *treat.Formula, k *treat.Kitchen) (int, Why, error) {
	probe, err := Compute(f, 1, k)
	if err != nil {
		return 0, "", err
	}
	if probe.Rounds == nil || probe.Rounds.Word != w.As {
		return 0, "", &invalid.Error{Fields: []invalid.Field{{Path: "as", Says: fmt.Sprintf("A %s is not made in %s: count it in another way.", f.Family, w.As)}}}
	}
	if w.Amount != math.Trunc(w.Amount) {
		return 0, "", &invalid.Error{Fields: []invalid.Field{{Path: "amount", Says: "Whole ones only: round the count."}}}
	}
	good := most(func(n int) bool {
		card, err := Compute(f, n, k)
		return err == nil && card.Rounds.Count <= int(w.Amount)
	})
	if good == 0 {
		return 0, "", &invalid.Error{Fields: []invalid.Field{{Path: "amount", Says: "That is not enough for a single good one."}}}
	}
	return good, fmt.Sprintf("From %d %s one can be %s sure of %d %s.", int(w.Amount), w.As, measure.Percent(k.Sureness), good, family.LawOf(f).Traits().Counted(good)), nil
}

// most is the largest count up to MostPieces that is enough, where a count that is has all below it.
func most(enough func(n int) bool) int {
	return sort.Search(MostPieces, func(i int) bool { return !enough(i + 1) })
}

// Have is what one has of an ingredient.
type Have struct {
	Ingredient string           `json:"ingredient"`
	Amount     measure.Quantity `json:"amount"`
}

// Makeable is how many can be made with what one has.
type Makeable struct {
	Good  int    `json:"good"`
	Text  string `json:"text"`
	Limit string `json:"limit,omitempty"`
	Left  []Left `json:"left"`
}

// Left of what one had.
type Left struct {
	Ingredient string        `json:"ingredient"`
	Name       string        `json:"name"`
	Amount     measure.Shown `json:"amount"`
}

// Make is the most that can be made with what one has; what is not listed is taken to be there. Errors are *invalid.Error with
// paths from the list.
func Make(f *treat.Formula, have []Have, k *treat.Kitchen) (*Makeable, error) {
	var faults invalid.Faults
	stock := map[string]float64{}
	for i, h := range have {
		path := fmt.Sprintf("[%d]", i)
		of, ok := k.Item(h.Ingredient)
		if !ok || of.Food == nil {
			faults.Add(path+".ingredient", "This ingredient is not in the larder: choose one that is.")
			continue
		}
		base, err := of.Base(h.Amount)
		if err != nil {
			faults.Add(path+".amount", of.Name+": "+err.Error())
		}
		stock[h.Ingredient] += base
	}
	probe, err := Compute(f, 1, k)
	if err != nil {
		return nil, err
	}
	uses := false
	for _, n := range probe.Needs {
		_, has := stock[n.Ingredient]
		uses = uses || has
	}
	if len(have) == 0 || !uses && faults.Err() == nil {
		faults.Add("", "None of this goes into the treat: name an ingredient of it.")
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	short := func(card *Card) string {
		for _, n := range card.Needs {
			if had, listed := stock[n.Ingredient]; listed && n.House.Amount > had+1e-9 {
				return n.Ingredient
			}
		}
		return ""
	}
	good := most(func(n int) bool {
		card, err := Compute(f, n, k)
		return err == nil && short(card) == ""
	})
	m := &Makeable{Good: good, Left: []Left{}}
	if next, err := Compute(f, good+1, k); err == nil {
		m.Limit = short(next)
	}
	used := map[string]float64{}
	if good > 0 {
		card, err := Compute(f, good, k)
		if err != nil {
			return nil, err
		}
		for _, n := range card.Needs {
			used[n.Ingredient] = n.Used.Amount
		}
	}
	for _, h := range have {
		of, _ := k.Item(h.Ingredient)
		if amount, first := stock[h.Ingredient]; first {
			m.Left = append(m.Left, Left{h.Ingredient, of.Name, of.Show(max(amount-used[h.Ingredient], 0))})
			delete(stock, h.Ingredient)
		}
	}
	m.Text = fmt.Sprintf("That makes %d good %s", good, family.LawOf(f).Traits().Counted(good))
	if m.Limit != "" {
		m.Text += fmt.Sprintf("; %s ends first", k.Name(m.Limit))
	}
	m.Text += "."
	if good == 0 {
		m.Text = fmt.Sprintf("That is not enough for one: there is too little %s.", k.Name(m.Limit))
	}
	return m, nil
}

// Drawn is the look of a treat's main chocolate without a whole card.
func Drawn(f *treat.Formula, k *treat.Kitchen) food.Chocolate {
	card, err := Compute(f, 1, k)
	if err != nil {
		return food.Chocolate{}
	}
	return card.Look
}
