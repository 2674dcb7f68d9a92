package batch

import (
	"math"
	"slices"

	"github.com/shopspring/decimal"

	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// Need is an ingredient in all.
type Need struct {
	Ingredient ident.Ingredient `json:"ingredient"`
	Name       string           `json:"name"`
	Used       measure.Shown    `json:"used"`
	House      measure.Shown    `json:"house"`
	Damp       float64          `json:"damp,omitempty"`
	Cost       decimal.Decimal  `json:"-"`
	Why        Why              `json:"why"`

	// Drawn is how much of what is used comes out of bowls, and Fresh how much of what must be in the house goes into
	// them: where the batch is not worked alone the bowls say that instead.
	Drawn float64 `json:"-"`
	Fresh float64 `json:"-"`

	// Ahead is how much of what is used is in mixes that were made ahead: it has left the larder.
	Ahead float64 `json:"-"`

	fit float64 // of what is used, the share that goes in: the rest was bought and is not fit
}

// Goes tells whether some of it goes into the treat: what something is only washed in does not.
func (n *Need) Goes() bool { return n.fit > 0 }

// Stands is what must be in the house beside what is used, and comes back: without what is left of bowls.
func (n *Need) Stands() float64 {
	return max(n.House.Amount-n.Fresh-n.Takes(), 0)
}

// Takes is how much of it the batch takes out of the larder, beside what comes out of bowls.
func (n *Need) Takes() float64 { return max(n.Used.Amount-n.Drawn-n.Ahead, 0) }

// Balance is where all that is weighed goes, in grams: House = Pieces + Lost + Reclaimed.
type Balance struct {
	House     si.Grams `json:"house"`
	Pieces    si.Grams `json:"pieces"`
	Lost      si.Grams `json:"lost"`
	Reclaimed si.Grams `json:"reclaimed"`
}

// needs is all that goes in.
type needs struct {
	*account
	needs   []Need
	mixes   []Mixed
	buy     int                           // centres to buy, of those that are picked over
	pieces  []si.Grams                    // g of one finished unit, by design
	spread  si.Grams                      // g of all that goes onto the pieces
	unfit   si.Grams                      // g of what was bought and is not fit to use
	loose   si.Grams                      // g of mixes that boil off or stay in the pot
	back    si.Grams                      // g of beds that come back
	ahead   map[ident.Ingredient]si.Grams // of mixes made ahead, what is left to take
	balance Balance
	mass    si.Grams // g of one piece or bag; of designs, their mean
}

func (a *account) needs() *needs {
	n := &needs{account: a, pieces: make([]si.Grams, len(a.f.Designs())),
		ahead: make(map[ident.Ingredient]si.Grams, len(a.k.Ahead))}
	for mix, of := range a.k.Ahead {
		n.ahead[mix] = of.Grams
	}
	n.centres()
	n.chocolates()
	n.portions()
	n.baths()
	n.order()
	n.weigh()
	return n
}

// centres: what is dipped, coated, poured or filled in.
func (n *needs) centres() {
	units := n.at(n.adding(treat.AddsCentre))
	type filling struct {
		of   ident.Ingredient
		each si.Grams
	}
	alike, order := map[filling]float64{}, []filling{}
	for i, d := range n.f.Designs() {
		centre := n.f.CentreOf(&d)
		if centre == nil {
			continue
		}
		each := n.law.Centre(n.f, n.k, &d)
		n.pieces[i] += each
		n.spread += each.Times(units[i])
		key := filling{centre.Of, each}
		if _, seen := alike[key]; !seen {
			order = append(order, key)
		}
		alike[key] += units[i]
	}
	if !n.is.Picked {
		// Designs whose centres differ take each their own.
		for _, x := range order {
			if alike[x] > 0 {
				n.take(n.item(x.of), amounts{goes: float64(x.each.Times(alike[x]))},
					because("batch.in-each", grams(x.each), n.unitsOf(alike[x])))
			}
		}
		return
	}
	if len(order) == 0 {
		return
	}
	of, share, all := n.item(n.f.Centre.Of), n.f.Centre.Share, sum(units)
	if share == 0 {
		share = of.Fit
	}
	n.buy = int(math.Ceil(all/share - 1e-9))
	amount, weight := float64(n.buy), order[0].each
	if of.Unit == measure.Gram {
		amount *= float64(weight)
	}
	n.unfit += weight.Times(float64(n.buy) - all)
	n.need(of, amount, amount, all/float64(n.buy), because("batch.what-bought-fit-to-dip", reason.Share(share),
		reason.Int(int(all)), reason.Int(n.buy), measure.ShowGrams(weight)))
}

// chocolates, as the account has them.
func (n *needs) chocolates() {
	for i := range n.f.Designs() {
		for _, role := range n.law.Roles() {
			for _, c := range n.coatings(role, i) {
				n.pieces[i] += c.coat.Stays - c.coat.Trim
			}
		}
	}
	for i := range n.bowls {
		b := &n.bowls[i]
		n.spread += b.Applied - b.Trimmed
		for p, part := range b.Parts {
			known := n.item(part.Of)
			if p > 0 { // stirred in
				base, _ := measure.Grams(b.FreshPart(p)).In(known.Unit, known.Substance)
				at := n.need(known, base, base, 1, because("batch.stirred-into", known.Show(base),
					measure.ShowGrams(b.In()), reason.Name(n.item(b.Pot.Ingredient).Name)))
				n.needs[at].Drawn, n.needs[at].Fresh = n.needs[at].Drawn+base, n.needs[at].Fresh+base
				continue
			}
			used, fresh := float64(part.Used), float64(b.FreshPart(p)) // chocolate is kept in grams
			at := n.need(known, used, fresh, 1, n.potWhy(i))
			n.needs[at].Drawn, n.needs[at].Fresh = n.needs[at].Drawn+used, n.needs[at].Fresh+fresh
			if b.Damp {
				n.needs[at].Damp += float64(part.Left)
			}
		}
	}
}

// portions: what else goes in or on.
func (n *needs) portions() {
	for i, d := range n.f.Designs() {
		for _, p := range slices.Concat(n.f.Portions, d.Portions) {
			known, each := n.item(p.Ingredient), n.each(d, p)
			adds := treat.AddsOn
			if p.Where == treat.In {
				adds = treat.AddsIn
			}
			units := n.at(n.adding(adds))[i]
			if weight, ok := known.Grams(each); ok {
				n.pieces[i] += weight
				n.spread += weight.Times(units)
			}
			if units > 0 && each > 0 {
				why := because("batch.on-each", measure.Show(family.Each(n.f, n.k, &d, p), known.Substance),
					n.unitsOf(units))
				if known.Fit < 1 {
					why.Add("batch.what-bought-fit-to-use", reason.Share(known.Fit))
				}
				n.take(known, amounts{goes: each * units}, why)
			}
		}
	}
	for _, b := range n.beds() {
		a := amounts{back: b.left}
		if b.lost {
			a = amounts{lost: b.left}
		}
		n.take(b.of, a, because("batch.bed-left", b.of.Show(b.left)))
	}
}

// bed that pieces are rolled in.
type bed struct {
	of    treat.Item
	taken float64 // by the pieces, in the unit that it is kept in
	left  float64 // what lies there at the end
	lost  bool    // is thrown away: fresh fruit went through it
}

// beds of the batch: one of everything that is rolled in, however many designs are.
func (n *needs) beds() []bed {
	var list []bed
	damp := false
	for _, role := range n.law.Roles() {
		dip, dips := n.law.Dips(n.f, n.k, role)
		damp = damp || dips && dip.Fresh
	}
	units := n.at(n.adding(treat.AddsOn))
	for i, d := range n.f.Designs() {
		for _, p := range slices.Concat(n.f.Portions, d.Portions) {
			if p.Bed == nil || units[i] == 0 {
				continue
			}
			of := n.item(p.Ingredient)
			left, _ := of.Base(*p.Bed)
			at := slices.IndexFunc(list, func(b bed) bool { return b.of.ID == of.ID })
			if at < 0 {
				at = len(list)
				list = append(list, bed{of: of, lost: damp})
			}
			list[at].taken, list[at].left = list[at].taken+n.each(d, p)*units[i], max(list[at].left, left)
		}
	}
	return list
}

// baths that something is washed in: they are used up, and nothing of them goes into the treat.
func (n *needs) baths() {
	for _, w := range n.f.Steps {
		for _, p := range w.Prepare {
			times, _ := n.bathed(p)
			for _, part := range p.Bath {
				known := n.item(part.Of)
				base, _ := known.Base(part.Amount)
				if times > 0 {
					n.take(known, amounts{lost: base * float64(times)}, because("batch.bath-why", known.Show(base), reason.Int(times)))
				}
			}
		}
	}
}

// bathed is how often the bath of a preparation is made, and how much is washed.
func (n *needs) bathed(p treat.Preparation) (times int, washed measure.Shown) {
	of, _ := family.Prepared(n.f, n.k, p)
	at := slices.IndexFunc(n.needs, func(x Need) bool { return x.Ingredient == of })
	if at < 0 {
		return 0, washed
	}
	washed = n.needs[at].Used
	if weight, ok := n.item(of).Grams(washed.Amount); ok && p.Covers != nil {
		times = int(math.Ceil(weight.Over(treat.Grams(p.Covers)) - 1e-9))
	}
	return times, washed
}

func (n *needs) unitsOf(units float64) reason.Reason {
	if n.lay.Sheet != nil {
		return reason.Of("batch.units", reason.Number(units), reason.Several(n.is.Unit))
	}
	return reason.Of("batch.started", reason.Number(units))
}

// amounts of one thing, in the unit that it is kept in.
type amounts struct {
	goes float64 // into the treat
	back float64 // lies there beside it, and comes back
	lost float64 // is used up beside it

	ahead float64 // share of all of them that is in a mix that was made ahead
}

func (a amounts) times(x float64) amounts {
	return amounts{a.goes * x, a.back * x, a.lost * x, a.ahead}
}

// need adds to what the batch takes of an ingredient, in the unit that it is kept in; fit is the share of what is used
// that goes in. It returns where it stands.
func (n *needs) need(known treat.Item, used, house, fit float64, why Why) int {
	at := slices.IndexFunc(n.needs, func(x Need) bool { return x.Ingredient == known.ID })
	if at < 0 {
		at = len(n.needs)
		n.needs = append(n.needs, Need{Ingredient: known.ID, Name: known.Name, fit: fit})
	}
	x := &n.needs[at]
	if before := x.Used.Amount; before > 0 || x.House.Amount > 0 {
		if before+used > 0 {
			x.fit = (x.fit*before + fit*used) / (before + used)
		}
		used, house, why = used+before, house+x.House.Amount, slices.Concat(x.Why, why)
	}
	x.Used, x.House, x.Why = known.Show(used), known.Show(house), why
	x.Cost = decimal.NewFromFloat(used).Mul(known.Food.Price)
	return at
}

// weigh sums where all that is weighed goes, and the mass of a piece.
func (n *needs) weigh() {
	b := &n.balance
	for _, x := range n.needs {
		if weight, ok := n.item(x.Ingredient).Grams(x.House.Amount); ok {
			b.House += weight
		}
	}
	for i := range n.mixes {
		b.House += n.mixes[i].OfLarder()
	}
	for i := range n.bowls {
		b.Reclaimed += n.bowls[i].Left
		for _, from := range n.bowls[i].From {
			b.Reclaimed -= from.Grams
		}
		b.Lost += n.bowls[i].Tools
	}
	b.Lost += n.unfit + n.loose
	b.Reclaimed += n.back
	switch lay := n.lay.Sheet; {
	case lay != nil && lay.Pieces == 0:
		b.Pieces, n.mass = n.spread.Times(1-n.f.Loss), lay.Bag
	case lay != nil:
		b.Pieces = n.spread.Times(lay.Kept)
		n.mass = b.Pieces.By(n.units * float64(lay.Pieces))
	default:
		b.Pieces = n.spread
		all, units := si.Grams(0), n.at(len(n.f.Steps)-1)
		for i, mass := range n.pieces {
			all += mass.Times(units[i])
		}
		n.mass = all.By(n.units)
	}
	b.Lost += n.spread - b.Pieces
}
