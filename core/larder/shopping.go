package larder

import (
	"cmp"
	"maps"
	"slices"
	"strings"
	"time"

	"zestytin/core/ident"

	"github.com/shopspring/decimal"
)

// Want is what a promised batch takes of one thing on the day that it is made.
type Want struct {
	Item ident.Item
	Day  string
	Used float64 // is taken; of chocolate, what is melted fresh for a bowl
	For  string  // which order, for the reader
	// Stands must be there beside it on that day, and comes back.
	Stands float64
}

// Shortage is what is missing on a day, beyond what is missing before.
type Shortage struct {
	Day    string
	Amount float64
	For    []string
}

// Shortages of one thing over days: before each day's work there must be in the house what the day takes, and what must
// stand beside it. It is taken first expired first; a lot that is past its day does not count, nor what is left of
// bowls, which goes into bowls only and is reckoned there. What is short counts as bought from then on, for as many days
// as it is fresh (nil: it keeps). It is asked until a day; empty: for all. Lots are not changed.
func Shortages(lots []StockLot, wants []Want, fresh *int, until string) []Shortage {
	if until != "" {
		sooner := make([]Want, 0, len(wants))
		for _, w := range wants {
			if w.Day <= until {
				sooner = append(sooner, w)
			}
		}
		wants = sooner
	} else {
		wants = slices.Clone(wants)
	}
	lots = Plain(lots)
	SortFEFO(lots)
	slices.SortStableFunc(wants, func(a, b Want) int { return cmp.Compare(a.Day, b.Day) })
	var short []Shortage
	for begin := 0; begin < len(wants); {
		day := wants[begin].Day
		used, stands, whose := 0.0, 0.0, []string{}
		for ; begin < len(wants) && wants[begin].Day == day; begin++ {
			w := wants[begin]
			used, stands = used+w.Used, stands+w.Stands
			if w.For != "" && !slices.Contains(whose, w.For) {
				whose = append(whose, w.For)
			}
		}
		lots = slices.DeleteFunc(lots, func(l StockLot) bool { return !l.GoodOn(day) })
		here := 0.0
		for _, l := range lots {
			here += l.Left
		}
		if missing := used + stands - here; missing > nothing {
			short = append(short, Shortage{day, missing, whose})
			bought := StockLot{Left: missing, Bought: day}
			if fresh != nil {
				bought.BestBefore = Days(day, *fresh-1) // bought the day before
			}
			lots = append(lots, bought)
			SortFEFO(lots)
		}
		Take(lots, used)
	}
	return short
}

// Unmade adds to what is wanted what mixes are made of that are to be there on a day and are not: they have to be made
// after all. made is what a gram of each mix is made of, lots are those of mixes.
func Unmade(wants []Want, lots map[ident.Item][]StockLot, made map[ident.Item]map[ident.Ingredient]float64) []Want {
	own := map[ident.Item][]Want{}
	for _, w := range wants {
		if _, mixed := made[w.Item]; mixed {
			own[w.Item] = append(own[w.Item], w)
		}
	}
	all := slices.Clone(wants)
	for _, mix := range slices.Sorted(maps.Keys(own)) {
		for _, short := range Shortages(lots[mix], own[mix], nil, "") {
			for _, id := range slices.Sorted(maps.Keys(made[mix])) {
				all = append(all, Want{Item: ident.Item(id), Day: short.Day, Used: made[mix][id] * short.Amount,
					For: strings.Join(short.For, ", ")})
			}
		}
	}
	return all
}

// SetAside is what is left free of one thing's lots that are good today when what is wanted is taken out of them: each
// day takes what is still good then, first expired first. Lots are not changed.
func SetAside(lots []StockLot, wants []Want, today string) []StockLot {
	lots, wants = slices.Clone(lots), slices.Clone(wants)
	lots = slices.DeleteFunc(lots, func(l StockLot) bool { return !l.GoodOn(today) })
	SortFEFO(lots)
	slices.SortStableFunc(wants, func(a, b Want) int { return cmp.Compare(a.Day, b.Day) })
	for _, w := range wants {
		rest := w.Used
		for i := range lots {
			if rest > nothing && lots[i].GoodOn(max(w.Day, today)) {
				part := min(lots[i].Left, rest)
				lots[i].Left, rest = lots[i].Left-part, rest-part
			}
		}
	}
	return slices.DeleteFunc(lots, func(l StockLot) bool { return l.Left <= nothing })
}

// Days after a day, or before it when n is negative.
func Days(day string, n int) string {
	t, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return day
	}
	return t.AddDate(0, 0, n).Format(time.DateOnly)
}

// Thing that can be bought.
type Thing struct {
	ID     ident.Item
	Offers []Offer
	Fresh  *int            // days that it stays fresh in the house; nil: it keeps
	Latest decimal.Decimal // price of one unit, as last paid
}

// Span of days to shop for.
type Span struct {
	Today, From, To string
	Days            []time.Weekday // on which the seller shops; none: on any
}

// Buy is one thing to buy.
type Buy struct {
	Item      ident.Item
	Need      float64 // what is short
	Packs     []Picked
	Cost      decimal.Decimal
	Left      float64         // beyond the need
	LeftWorth decimal.Decimal // at what the packs cost
	On        string          // the day to buy it: for what is fresh as late as one can, for the rest the next shopping day
	NotBefore string
	By        string // the day before it is needed
	Needed    string // the first day that it is needed
	Late      bool   // that day has come
	OffDay    bool   // none of the seller's shopping days lies between
	For       []string
}

// List is what must be bought for the span: of things that keep all that falls short in it at once, of fresh ones what
// each day wants for itself, unless it stays fresh from one to the next.
func List(things map[ident.Item]Thing, lots []StockLot, wants []Want, s Span) []Buy {
	own, wanted := map[ident.Item][]StockLot{}, map[ident.Item][]Want{}
	for _, l := range lots {
		own[l.Item] = append(own[l.Item], l)
	}
	for _, w := range wants {
		wanted[w.Item] = append(wanted[w.Item], w)
	}
	list := []Buy{}
	for id, wants := range wanted {
		thing, ok := things[id]
		if !ok {
			continue
		}
		var open *Buy
		for _, short := range Shortages(own[id], wants, thing.Fresh, s.To) {
			if short.Day < s.From {
				continue
			}
			// What is bought for the first day is good for this one as well.
			if open != nil && (thing.Fresh == nil || short.Day <= Days(open.Needed, *thing.Fresh-1)) {
				open.Need += short.Amount
				open.For = append(open.For, short.For...)
				continue
			}
			list = append(list, Buy{Item: id, Need: short.Amount, Needed: short.Day, For: short.For})
			open = &list[len(list)-1]
		}
	}
	for i := range list {
		list[i].For = slices.Compact(list[i].For)
		list[i].pack(things[list[i].Item])
		list[i].when(things[list[i].Item], s)
	}
	slices.SortFunc(list, func(a, b Buy) int { return cmp.Or(cmp.Compare(a.On, b.On), cmp.Compare(a.Item, b.Item)) })
	return list
}

func (b *Buy) pack(t Thing) {
	b.Packs = Choose(b.Need, t.Offers)
	size := 0.0
	for _, p := range b.Packs {
		size += p.Size * float64(p.Count)
		b.Cost = b.Cost.Add(p.Price.Mul(decimal.NewFromInt(int64(p.Count))))
	}
	if size <= b.Need {
		if len(b.Packs) == 0 {
			b.Cost = t.Latest.Mul(decimal.NewFromFloat(b.Need))
		}
		return
	}
	b.Left = size - b.Need
	b.LeftWorth = b.Cost.Mul(decimal.NewFromFloat(b.Left / size))
}

// when to buy it. What stays fresh n days is bought on one of the n days before it is needed (rules 4.8: fruit the day
// before).
func (b *Buy) when(t Thing, s Span) {
	b.NotBefore, b.By = s.Today, Days(b.Needed, -1)
	if t.Fresh != nil {
		b.NotBefore = max(s.Today, Days(b.Needed, -*t.Fresh))
	}
	if b.By < s.Today {
		b.By, b.On, b.NotBefore, b.Late = s.Today, s.Today, s.Today, true
		return
	}
	b.On, b.OffDay = b.By, len(s.Days) > 0
	if t.Fresh == nil && len(s.Days) == 0 {
		b.On = b.NotBefore
	}
	for day := b.NotBefore; day <= b.By && len(s.Days) > 0; day = Days(day, 1) {
		on, err := time.Parse(time.DateOnly, day)
		if err != nil || !slices.Contains(s.Days, on.Weekday()) {
			continue
		}
		b.On, b.OffDay = day, false
		if t.Fresh == nil {
			return // the next one
		}
	}
}
