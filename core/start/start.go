// Package start sets a kitchen out for its first evening: from what it sells, when it works and where it is, the
// ingredients, packaging, treats, hours and prices to begin with. Everything is a proposal: sizes and recipes are
// common practice, prices are estimates until somebody types what was paid.
package start

import (
	_ "embed"
	"encoding/csv"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/shopspring/decimal"

	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/treat"
)

//go:embed countries.csv
var countriesCSV string

//go:embed packs.csv
var packsCSV string

// Country is what a country proposes.
type Country struct {
	Code     string   `json:"country"`
	Currency string   `json:"currency"`
	Units    string   `json:"units"`
	Clock    int      `json:"clock"`
	Dates    string   `json:"dates"`
	Degrees  string   `json:"degrees"`
	Law      food.Law `json:"law"`
	Cup      string   `json:"cup"`
	Hourly   string   `json:"hourly"`
	Overhead string   `json:"overhead"`

	level, step decimal.Decimal // of prices
}

// rows of a table that ships with the program.
func rows(text string, fields int) [][]string {
	r := csv.NewReader(strings.NewReader(text))
	r.Comment, r.FieldsPerRecord = '#', fields
	all, err := r.ReadAll()
	if err != nil {
		panic(err) // the table is part of the program, and its test reads it
	}
	return all[1:]
}

// Countries that propose something, by their ISO 3166 codes.
func Countries() []Country {
	var list []Country
	for _, r := range rows(countriesCSV, 12) {
		clock, _ := strconv.Atoi(r[3])
		list = append(list, Country{Code: r[0], Currency: r[1], Units: r[2], Clock: clock, Dates: r[4], Degrees: r[5],
			Law: food.Law(r[6]), Cup: r[7], Hourly: r[8], Overhead: r[9], level: decimal.RequireFromString(r[10]),
			step: decimal.RequireFromString(r[11])})
	}
	return list
}

// Elsewhere is what a country proposes that the table does not know: metric, in euros, to be changed.
const Elsewhere = "DE"

// Of a country by its code, in a currency where that is known: of the first country with that currency where the
// country has another one or is not known, so that no figure is off by a hundred times.
func Of(code, currency string) Country {
	all := Countries()
	at := func(such func(Country) bool) (Country, bool) {
		n := slices.IndexFunc(all, such)
		if n < 0 {
			return Country{}, false
		}
		return all[n], true
	}
	own, known := at(func(c Country) bool { return c.Code == code })
	if known && (currency == "" || own.Currency == currency) {
		return own
	}
	if c, same := at(func(c Country) bool { return c.Currency == currency }); same {
		if known { // its ways, and the money of the other
			own.Currency, own.Hourly, own.Overhead, own.level, own.step = c.Currency, c.Hourly, c.Overhead, c.level,
				c.step
			return own
		}
		return c
	}
	if !known {
		own, _ = at(func(c Country) bool { return c.Code == Elsewhere })
	}
	return own
}

// Bought is a pack of something and what it costs.
type Bought struct {
	Paid     string           `json:"paid"` // decimal
	PaidFor  measure.Quantity `json:"paidFor,omitzero"`
	Estimate bool             `json:"estimate,omitempty"`
}

// estimates of all packs, by name, for a country.
func estimates(c Country) map[string]Bought {
	list := map[string]Bought{}
	for _, r := range rows(packsCSV, 7) {
		pack := r[1:4]
		if c.Units != "us" {
			pack = r[4:7]
		}
		amount, _ := strconv.ParseFloat(pack[0], 64)
		paid := decimal.RequireFromString(pack[2]).Mul(c.level)
		if paid.IsPositive() {
			paid = decimal.Max(paid.Div(c.step).Round(0), decimal.NewFromInt(1)).Mul(c.step)
		}
		list[r[0]] = Bought{Paid: paid.StringFixed(price.Decimals(c.Currency)),
			PaidFor: measure.Of(amount, measure.Unit(pack[1])), Estimate: true}
	}
	return list
}

// Answers is what a seller says on the first evening. What is empty is as it is proposed.
type Answers struct {
	Country  string                             `json:"country"`
	Currency string                             `json:"currency"`
	Units    string                             `json:"units"`
	Hourly   string                             `json:"hourly"`
	Sells    map[treat.Family]map[string]string `json:"sells"` // picks of the tiles of what is sold
	Paid     map[string]Bought                  `json:"paid"`  // what was really paid, by the names in the starting set
}

// Ingredient to begin with.
type Ingredient struct {
	ID ident.Ingredient
	food.Fields
	Bought
}

// Supply is a kind of packaging to begin with; none of it is on the shelf yet.
type Supply struct {
	ID   ident.Supply
	Name string
	Bought
}

// Treat to begin with.
type Treat struct {
	Name    reason.Reason
	Formula *treat.Formula
	Good    int // that a customer would ask for
}

// Set is all that a kitchen begins with. Ids are names.
type Set struct {
	Country     Country
	Ingredients []Ingredient
	Supplies    []Supply
	Mixes       []treat.Mix
	Treats      []Treat
}

// SetOut a kitchen. The error is an *invalid.Error with JSON paths from the answers.
func SetOut(a Answers, called family.Called) (*Set, error) {
	var faults invalid.Faults
	c := Of(a.Country, a.Currency)
	if a.Currency != "" && a.Currency != c.Currency { // no figure is known in it: nothing is better than one far off
		c.Currency, c.Hourly, c.Overhead, c.level = a.Currency, "0", "0", decimal.Zero
	}
	if a.Units == "us" || a.Units == "metric" {
		c.Units = a.Units
	}
	if a.Hourly != "" {
		if _, err := price.Read(a.Hourly, c.Currency); err != nil {
			faults.Add("hourly", err)
		}
		c.Hourly = a.Hourly
	}
	starting, err := food.Starting()
	if err != nil {
		return nil, err
	}
	pantry := map[string]food.Fields{}
	for _, s := range starting {
		pantry[s.Name] = s.Fields
	}
	set := &Set{Country: c, Mixes: []treat.Mix{}}
	guessed := estimates(c)
	for _, of := range family.All() {
		picks, sold := a.Sells[of]
		if !sold {
			continue
		}
		o, err := family.SetOut(of, picks, pantry, c.Units != "us", called)
		if err != nil {
			faults.Add(fmt.Sprintf("sells.%s", of), err)
			continue
		}
		set.take(o, pantry, guessed)
	}
	for of := range a.Sells {
		if !slices.Contains(family.All(), of) {
			_, err := family.SetOut(of, nil, nil, false, nil)
			faults.Add(fmt.Sprintf("sells.%s", of), err)
		}
	}
	for name, b := range a.Paid {
		set.pay(&faults, name, b)
	}
	return set, faults.Err()
}

// take a treat with all that it needs.
func (s *Set) take(o *family.Outset, pantry map[string]food.Fields, guessed map[string]Bought) {
	items := o.Items()
	for _, m := range o.Mixes {
		if !slices.ContainsFunc(s.Mixes, func(x treat.Mix) bool { return x.ID == m.ID }) {
			s.Mixes = append(s.Mixes, m)
		}
		for _, p := range m.Parts {
			items = append(items, p.Of)
		}
	}
	for _, id := range items {
		f, raw := pantry[string(id)]
		if !raw || slices.ContainsFunc(s.Ingredients, func(i Ingredient) bool { return i.ID == id }) {
			continue
		}
		s.Ingredients = append(s.Ingredients, Ingredient{id, f, guessed[string(id)]})
	}
	for _, p := range o.Packs {
		if !slices.ContainsFunc(s.Supplies, func(x Supply) bool { return x.ID == p.Supply }) {
			s.Supplies = append(s.Supplies, Supply{p.Supply, string(p.Supply), guessed[string(p.Supply)]})
		}
	}
	s.Treats = append(s.Treats, Treat{o.Name, o.Formula, o.Good})
}

// Files of the treats, each with all that it needs, named in the seller's language.
func (s *Set) Files(say func(reason.Reason) string) []treat.File {
	k := &treat.Inputs{Ingredients: map[ident.Ingredient]food.Ingredient{}, Mixes: map[ident.Ingredient]treat.Mix{}}
	supplies := map[ident.Supply]treat.FileSupply{}
	for _, i := range s.Ingredients {
		k.Ingredients[i.ID] = food.Ingredient{ID: i.ID, Fields: i.Fields, Substance: i.Weights()}
	}
	for _, m := range s.Mixes {
		k.Mixes[m.ID] = m
	}
	for _, x := range s.Supplies {
		supplies[x.ID] = treat.FileSupply{ID: x.ID, Name: x.Name, Unit: measure.Each}
	}
	files := make([]treat.File, len(s.Treats))
	for n, t := range s.Treats {
		files[n] = treat.NewFile(say(t.Name), t.Formula, k, supplies)
	}
	return files
}

// pay what was really paid for one of the set; what the set does not have is left alone, as when a tile was taken back.
func (s *Set) pay(faults *invalid.Faults, name string, b Bought) {
	path := fmt.Sprintf("paid.%s", name)
	own, of := s.bought(name)
	if own == nil {
		return
	}
	paid, err := price.Read(b.Paid, s.Country.Currency)
	if err != nil {
		faults.Add(path, err)
		return
	}
	if b.PaidFor.Unit != "" {
		if err := of(b.PaidFor); err != nil {
			faults.Add(path, err)
			return
		}
		own.PaidFor = b.PaidFor
	}
	own.Paid, own.Estimate = paid.StringFixed(price.Decimals(s.Country.Currency)), false
}

// bought of the set by its name, and how a pack of it is checked.
func (s *Set) bought(name string) (*Bought, func(measure.Quantity) error) {
	for n := range s.Ingredients {
		if i := &s.Ingredients[n]; i.Name == name {
			return &i.Bought, func(q measure.Quantity) error { return pack(q, i.Unit, i.Weights()) }
		}
	}
	for n := range s.Supplies {
		if x := &s.Supplies[n]; x.Name == name {
			return &x.Bought, func(q measure.Quantity) error { return pack(q, measure.Each, measure.Substance{}) }
		}
	}
	return nil, nil
}

// pack is checked: some amount, in a unit that its weight is known in.
func pack(q measure.Quantity, unit measure.Unit, of measure.Substance) error {
	got, err := q.In(unit, of)
	if err == nil && !(got > 0 && got < 1e9) {
		err = reason.Of("larder.amount-that-was-paid-for")
	}
	return err
}
