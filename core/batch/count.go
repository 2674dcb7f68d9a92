package batch

import (
	"fmt"
	"maps"
	"math"
	"sort"

	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
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

// Good is how many pieces (bark: bags) the want comes to, and how. Sheets, pans and rounds are those that are made: it
// is the most that one can be sure of from them. Errors are *invalid.Error with paths from the want.
func (w Want) Good(f *treat.Formula, k *treat.Inputs) (int, Why, error) {
	fault := func(path string, err error) (int, Why, error) { return 0, nil, invalid.At(path, err) }
	if !(w.Amount > 0) {
		return fault("amount", reason.Of("batch.count-more-than"))
	}
	good, why := 0.0, Why{}
	switch w.As {
	case "pieces", "bags", "dozen":
		good = w.Amount
		if w.As == "dozen" {
			good *= 12
			why.Add("batch.dozen", reason.Number(w.Amount), counted(f, int(good)))
		}
		if w.As == "bags" && !bagged(f) {
			if w.Bag == nil {
				return fault("bag", reason.Of("batch.say-what-bag-weighs-such"))
			}
			if err := w.Bag.Check(measure.Mass); err != nil {
				return fault("bag", err)
			}
			return byMass(treat.Grams(w.Bag).Times(w.Amount),
				reason.Of("batch.bags", reason.Number(w.Amount), measure.Show(*w.Bag, measure.Substance{})), f, k)
		}
		if w.As == "pieces" && bagged(f) {
			return fault("as", reason.Of("batch.has-no-pieces-to-count"))
		}
	case "g", "kg", "oz", "lb":
		mass := measure.Of(w.Amount, measure.Unit(w.As))
		return byMass(treat.Grams(&mass), reason.Of("batch.mass", reason.Number(w.Amount), reason.Name(w.As)), f, k)
	case "rounds", "sheets", "pans":
		return w.byRounds(f, k)
	default:
		return fault("as", reason.Of("batch.no-way-to-count-use", reason.Name(w.As)))
	}
	if good != math.Trunc(good) {
		return fault("amount", reason.Of("batch.whole-ones-only-round-count"))
	}
	if good > MostPieces {
		return fault("amount", reason.Of("batch.more-than-that-one-card", reason.Number(good), reason.Int(MostPieces)))
	}
	return int(good), why, nil
}

// counted is so many of what is counted in orders.
func counted(f *treat.Formula, n int) reason.Count {
	return reason.Count{N: n, Of: family.LawOf(f).Traits().One}
}

// aBag is what a bag of pieces holds where nobody has said.
var aBag = measure.Grams(200)

// counts are the ways in which the card's count can be said, each rounded to what can be counted so.
func (c *Card) counts() []Want {
	mass := c.PieceMass.Times(float64(c.Good))
	list := []Want{{Amount: float64(c.Good), As: "pieces"}, {Amount: math.Max(math.Round(float64(c.Good)/12), 1),
		As: "dozen"}, {Amount: math.Max(math.Round(mass.Over(treat.Grams(&aBag))), 1), As: "bags", Bag: &aBag}}
	if c.Sold == "bag" || c.Sold == "bags" {
		list = []Want{{Amount: float64(c.Good), As: "bags"}}
	}
	if c.Rounds != nil {
		list = append(list, Want{Amount: float64(c.Rounds.Count), As: c.Rounds.Word})
	}
	for _, in := range []struct {
		unit measure.Unit
		step float64
	}{{measure.Gram, 1}, {measure.Kilogram, 0.1}, {measure.Ounce, 1}, {measure.Pound, 0.1}} {
		amount, _ := measure.Grams(mass).In(in.unit, measure.Substance{})
		list = append(list, Want{Amount: math.Max(math.Round(math.Round(amount/in.step)*in.step*10)/10, in.step),
			As: string(in.unit)})
	}
	return list
}

// byMass is how many pieces or bags weigh at least so many grams.
func byMass(grams si.Grams, said reason.Reason, f *treat.Formula, k *treat.Inputs) (int, Why, error) {
	one, err := Compute(f, 1, k)
	if err != nil {
		return 0, nil, err
	}
	n := math.Ceil(grams.Over(one.PieceMass) - 1e-9)
	if !(n <= MostPieces) {
		return 0, nil, invalid.At("amount", reason.Of("batch.that-comes-to-more-than", counted(f, MostPieces)))
	}
	return int(n), because("batch.at-each", said, measure.ShowGrams(one.PieceMass), counted(f, int(n))), nil
}

// byRounds is the most good ones that so many rounds, sheets or pans are enough for.
func (w Want) byRounds(f *treat.Formula, k *treat.Inputs) (int, Why, error) {
	probe, err := Compute(f, 1, k)
	if err != nil {
		return 0, nil, err
	}
	if probe.Rounds == nil || probe.Rounds.Word != w.As {
		return 0, nil, invalid.At("as", reason.Of("batch.not-made-in-count-in", reason.Name(f.Family),
			reason.Name(w.As)))
	}
	if w.Amount != math.Trunc(w.Amount) {
		return 0, nil, invalid.At("amount", reason.Of("batch.whole-ones-only-round-count"))
	}
	good := most(func(n int) bool {
		card, err := Compute(f, n, k)
		return err == nil && card.Rounds.Count <= int(w.Amount)
	})
	if good == 0 {
		return 0, nil, invalid.At("amount", reason.Of("batch.that-not-enough-for-single"))
	}
	return good, because("batch.from-one-can-be-sure", reason.Int(int(w.Amount)), reason.Name(w.As),
		reason.Share(k.Confidence), counted(f, good)), nil
}

// most is the largest count up to MostPieces that is enough, where a count that is has all below it.
func most(enough func(n int) bool) int {
	return sort.Search(MostPieces, func(i int) bool { return !enough(i + 1) })
}

// Have is what one has of an ingredient.
type Have struct {
	Ingredient ident.Ingredient `json:"ingredient"`
	Amount     measure.Quantity `json:"amount"`
}

// Makeable is how many can be made with what one has.
type Makeable struct {
	Good  int              `json:"good"`
	Text  reason.Text      `json:"text"`
	Limit ident.Ingredient `json:"limit,omitempty"`
	Left  []Left           `json:"left"`
}

// Left of what one had.
type Left struct {
	Ingredient ident.Ingredient `json:"ingredient"`
	Name       string           `json:"name"`
	Amount     measure.Shown    `json:"amount"`
}

// Make is the most that can be made with what one has; what is not listed is taken to be there. A mix that one has is
// not made anew. Where filling up the last mould or sheet costs some, it says how many there are without. Errors are
// *invalid.Error with paths from the list.
func Make(f *treat.Formula, have []Have, k *treat.Inputs) (*Makeable, error) {
	var faults invalid.Faults
	stock := map[ident.Ingredient]float64{}
	for i, h := range have {
		path := fmt.Sprintf("[%d]", i)
		of, ok := k.Item(h.Ingredient)
		if !ok {
			faults.Add(path+".ingredient", reason.Of("batch.this-ingredient-not-in-larder"))
			continue
		}
		base, err := of.Base(h.Amount)
		if err != nil {
			faults.Because(path+".amount", "batch.of-it", reason.Name(of.Name), reason.Because(err))
		}
		stock[h.Ingredient] += base
	}
	own := *k
	own.Ahead = map[ident.Ingredient]treat.Ahead{}
	for id, amount := range stock {
		if _, mixed := k.Mixes[id]; mixed {
			own.Ahead[id] = treat.Ahead{Grams: si.Grams(amount)}
		}
	}
	k = &own
	probe, err := Compute(f, 1, k)
	if err != nil {
		return nil, err
	}
	uses := false
	for _, n := range probe.Needs {
		_, has := stock[n.Ingredient]
		uses = uses || has
	}
	for _, m := range probe.Mixes {
		_, has := stock[m.Mix]
		uses = uses || has
	}
	if len(have) == 0 || !uses && faults.Err() == nil {
		faults.Add("", reason.Of("batch.none-this-goes-into-treat"))
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	short := func(card *Card) ident.Ingredient {
		for _, n := range card.Needs {
			if had, listed := stock[n.Ingredient]; listed && n.House.Amount > had+1e-9 {
				return n.Ingredient
			}
		}
		for _, m := range card.Mixes {
			if _, listed := stock[m.Mix]; listed && m.Make.Amount > nothing {
				return m.Mix
			}
		}
		return ""
	}
	mostOf := func(f *treat.Formula) int {
		return most(func(n int) bool {
			card, err := Compute(f, n, k)
			return err == nil && short(card) == ""
		})
	}
	good := mostOf(f)
	m := &Makeable{Good: good, Left: []Left{}}
	if next, err := Compute(f, good+1, k); err == nil {
		m.Limit = short(next)
	}
	var more reason.Text // where the last one is not filled up
	if family.Chosen(f, "last") == "whole" {
		part := *f
		part.Choices = maps.Clone(f.Choices)
		part.Choices["last"] = "part"
		if n := mostOf(&part); n > good {
			more = reason.Text{notFilledUp(f, n)}
		}
	}
	used := map[ident.Ingredient]float64{}
	if good > 0 {
		card, err := Compute(f, good, k)
		if err != nil {
			return nil, err
		}
		for _, n := range card.Needs {
			used[n.Ingredient] = n.Used.Amount - n.Ahead
		}
		for i := range card.Mixes {
			used[card.Mixes[i].Mix] = float64(card.Mixes[i].OfLarder())
		}
	}
	for _, h := range have {
		of, _ := k.Item(h.Ingredient)
		if amount, first := stock[h.Ingredient]; first {
			m.Left = append(m.Left, Left{h.Ingredient, of.Name, of.Show(max(amount-used[h.Ingredient], 0))})
			delete(stock, h.Ingredient)
		}
	}
	switch {
	case good == 0:
		m.Text.Add("batch.that-not-enough-for-one", reason.Name(k.Name(m.Limit)))
	case m.Limit != "":
		m.Text.Add("batch.that-makes-until", counted(f, good), reason.Name(k.Name(m.Limit)))
	default:
		m.Text.Add("batch.that-makes", counted(f, good))
	}
	m.Text = append(m.Text, more...)
	return m, nil
}

// notFilledUp is what is said of making so many by not filling up the last sheet, pan or mould.
func notFilledUp(f *treat.Formula, good int) reason.Reason {
	if family.LawOf(f).Lay(f).Sheet != nil {
		return reason.Of("batch.on-a-smaller-sheet", counted(f, good))
	}
	return reason.Of("batch.with-fewer-cavities", counted(f, good))
}

// Drawn is the look of a treat's main chocolate without a whole card.
func Drawn(f *treat.Formula, k *treat.Inputs) food.Chocolate {
	card, err := Compute(f, 1, k)
	if err != nil {
		return food.Chocolate{}
	}
	return card.Look
}
