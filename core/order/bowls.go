package order

import (
	"slices"
	"strings"

	"zestytin/core/batch"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Pot is a melt that an order works from. Where the order is planned it is the bowl of the plan, with all that is
// worked from it.
type Pot struct {
	Key        ident.Pot        `json:"key"`
	Ingredient ident.Ingredient `json:"ingredient"`
	Name       string           `json:"name"`
	Chocolate  food.Chocolate   `json:"chocolate"`
	Day        string           `json:"day,omitempty"`
	Melted     measure.Shown    `json:"melted"`
	TopUp      *measure.Shown   `json:"topUp,omitempty"`
	Used       measure.Shown    `json:"used"`
	Reclaimed  measure.Shown    `json:"reclaimed"`
	Shared     bool             `json:"shared,omitempty"`
	Why        batch.Why        `json:"why"`
}

// bowl of an order: what of it is the order's own.
type bowl struct {
	ledger.Melt
	own    float64  // share of what is used of it that is the order's
	left   si.Grams // of what it leaves, not put into a later bowl
	shared bool
	names  []string // of the order's treats that are worked from it
}

// lineShare is how much of a batch that is made in one go is the order's own: all, or its pieces of a lot.
func (m *plannedBatch) lineShare(r *Estimate) float64 {
	if m.combined == nil {
		return 1
	}
	return float64(r.Lines[m.line].Count) / float64(m.card.Good)
}

// SessionOf a minute: the index of the time of work that it lies in; -1 where there is none.
func SessionOf(sessions []plan.Session, minute si.Minutes) int {
	return slices.IndexFunc(sessions, func(s plan.Session) bool { return s.From <= minute && minute < s.To })
}

// Work of placed steps, as the bowls ask for it: draw tells what a step draws, free what must not touch its batch.
func Worked(placed []plan.ScheduledOperation, sessions []plan.Session, cal plan.Calendar,
	draw func(ident.Batch, ident.Step) *ledger.Draw, free func(ident.Batch) []string) []ledger.Worked {
	list := make([]ledger.Worked, 0, len(placed))
	for _, p := range placed {
		d := draw(p.Batch, p.Step)
		if d == nil && len(p.Melts) == 0 {
			continue
		}
		session, begun := SessionOf(sessions, p.Start), p.Start
		if session >= 0 {
			begun = sessions[session].From
		}
		list = append(list, ledger.Worked{Batch: p.Batch, Step: p.Step, Day: cal.DateOf(begun), Session: session,
			Hand: p.Hand, Start: p.Start, End: p.To(), Melts: p.Melts, Draw: d, FreeFrom: free(p.Batch)})
	}
	return list
}

// bowls that the order works from: those of its plan, or all lines worked in one go where there is none. real are the
// bowls with all that is worked from them, alone what the order's own batches would melt on the same days without the
// others.
func (r *Estimate) bowls(d *Draft, k *Inputs) (real, alone []bowl) {
	if r.When.made == nil || !r.When.Fits {
		var works []ledger.Worked
		for i, l := range r.Lines {
			for n := range l.Card.Steps {
				s := &l.Card.Steps[n]
				works = append(works, ledger.Worked{Batch: BatchID(i, 0), Step: s.ID, Start: si.Minutes(len(works)),
					End: si.Minutes(len(works) + 1), Draw: s.Draw})
			}
		}
		whole := make([]plannedBatch, len(r.Lines))
		for i, l := range r.Lines {
			whole[i] = plannedBatch{id: BatchID(i, 0), line: i, card: l.Card}
		}
		alone = r.own(works, whole, k)
		return alone, alone
	}
	makings := map[ident.Batch]*plannedBatch{}
	for i := range r.When.makings {
		makings[r.When.makings[i].id] = &r.When.makings[i]
	}
	draw := func(batch ident.Batch, step ident.Step) *ledger.Draw {
		if m := makings[batch]; m != nil {
			return m.card.Draw(step)
		}
		return k.Planning.Draws[batch][step]
	}
	p := r.When.problem
	free := func(id ident.Batch) []string {
		if b := batchOf(p, id); b != nil {
			return b.FreeFrom
		}
		return nil
	}
	works := Worked(r.When.made.Steps, p.Sessions, k.Planning.Calendar, draw, free)
	real = r.own(works, r.When.makings, k)
	own := slices.DeleteFunc(slices.Clone(works), func(w ledger.Worked) bool { return makings[w.Batch] == nil })
	return real, r.own(own, r.When.makings, k)
}

// own are the bowls of some work that the order's makings draw from.
func (r *Estimate) own(works []ledger.Worked, makings []plannedBatch, k *Inputs) []bowl {
	planned := ledger.Bowls(works)
	melts := make([]ledger.Melt, len(planned))
	for i := range planned {
		melts[i] = planned[i].Melt
	}
	ledger.Carry(melts, nil)
	carried := map[string]si.Grams{}
	for i := range melts {
		for _, from := range melts[i].From {
			carried[from.Of] += from.Grams
		}
	}
	r.traces(planned, melts, makings, k)
	var list []bowl
	for i := range planned {
		b := bowl{Melt: melts[i], left: melts[i].Left - carried[melts[i].Of]}
		var mine si.Grams
		for n := range makings {
			m := &makings[n]
			if used := planned[i].UsedBy(m.id); used > 0 {
				mine += used.Times(m.lineShare(r))
				if name := r.Lines[m.line].Name; !slices.Contains(b.names, name) {
					b.names = append(b.names, name)
				}
			}
		}
		if b.Used > 0 && mine > 0 {
			b.own = mine.Over(b.Used)
			b.shared = b.own < 1-1e-9
			list = append(list, b)
		}
	}
	return list
}

// traces of allergens that a line may have: not in it, but in a bowl that it is worked from, until it is; of the
// order's lines, of other orders, or of what is left in the larder from bowls before.
func (r *Estimate) traces(planned []ledger.Planned, melts []ledger.Melt, makings []plannedBatch, k *Inputs) {
	var rests []ledger.Rest
	for _, stock := range k.Stock {
		for n := range stock.Lots {
			if l := &stock.Lots[n]; l.Rest != nil && len(l.Rest.Touched) > 0 {
				rests = append(rests, l.Rest.Holds(string(l.ID), si.Grams(l.Left)))
			}
		}
	}
	slices.SortFunc(rests, func(a, b ledger.Rest) int { return strings.Compare(a.Of, b.Of) })
	carried, brings := slices.Clone(melts), map[string][]string{} // by what is put in: what that has touched
	ledger.Carry(carried, rests)
	for _, r := range rests {
		brings[r.Of] = r.Touched
	}
	for _, m := range carried {
		brings[m.Of] = m.Touched
	}
	for i := range planned {
		b := &planned[i]
		for n := range makings {
			line, last := &r.Lines[makings[n].line], -1
			for w := range b.Works {
				if b.Works[w].Batch == makings[n].id && b.Draws[w].Applied > 0 {
					last = w
				}
			}
			if last < 0 {
				continue
			}
			var touched []string
			for _, from := range carried[i].From {
				touched = append(touched, brings[from.Of]...)
			}
			for w := range last + 1 {
				touched = append(touched, b.Draws[w].Touches...)
			}
			for _, a := range touched {
				if !slices.Contains(line.Card.Allergens, a) && !slices.Contains(line.Traces, a) {
					line.Traces = append(line.Traces, a)
				}
			}
			slices.Sort(line.Traces)
		}
	}
}

// pots as they are told.
func (r *Estimate) tellPots(bowls []bowl, k *Inputs) {
	r.Pots = []Pot{}
	for i := range bowls {
		b := &bowls[i]
		known := k.Ingredients[b.Pot.Ingredient]
		if known.Chocolate == nil {
			continue
		}
		p := Pot{Key: b.Pot.Key(), Ingredient: b.Pot.Ingredient, Name: known.Name, Chocolate: *known.Chocolate,
			Day: b.Day, Shared: b.shared,
			Melted: measure.ShowGrams(b.Melted), Used: measure.ShowGrams(b.Used.Times(b.own)),
			Reclaimed: measure.ShowGrams(b.Left)}
		p.Why = because("order.for-used-with-for-tools", reason.Names(b.names), p.Used, reason.Share(ledger.OnTools))
		if more := b.In() - b.Melted; more > 1e-9 {
			p.TopUp = new(measure.ShowGrams(more))
			p.Why.Add("order.melt-and-more", p.Melted, *p.TopUp, p.Reclaimed)
		} else {
			p.Why.Add("order.melt", p.Melted, p.Reclaimed)
		}
		if b.shared {
			p.Why.Add("order.for-other-orders-too")
		}
		for _, from := range b.From {
			p.Why.Add("order.left-from-before", measure.ShowGrams(from.Grams))
		}
		if b.Damp {
			p.Why.Add("order.fresh-fruit-goes-through-what")
		}
		r.Pots = append(r.Pots, p)
	}
}

func because(code string, with ...reason.Value) reason.Text {
	return reason.Text{reason.Of(code, with...)}
}

// taking is what the order takes of an ingredient, in the unit that it is kept in.
type taking struct {
	used, house, damp float64
	why               reason.Text
}

// takings of all ingredients, in the order in which the lines name them. What comes out of bowls is told by the bowls,
// the rest by the cards of what is made.
func (r *Estimate) takings(alone []bowl, k *Inputs) (ids []ident.Ingredient, of map[ident.Ingredient]*taking) {
	of = map[ident.Ingredient]*taking{}
	at := func(id ident.Ingredient) *taking {
		if of[id] == nil {
			ids, of[id] = append(ids, id), &taking{}
		}
		return of[id]
	}
	makings := r.When.makings
	if r.When.made == nil || !r.When.Fits {
		makings = nil
		for i, l := range r.Lines {
			makings = append(makings, plannedBatch{line: i, card: l.Card})
		}
	}
	for i := range makings {
		m := &makings[i]
		share, name := m.lineShare(r), r.Lines[m.line].Name
		for _, n := range m.card.Needs {
			t := at(n.Ingredient)
			t.used, t.house = t.used+n.Takes()*share, t.house+(n.House.Amount-n.Fresh)*share
			t.why.Add("order.of-treat", reason.Name(name), n.Why)
			if share < 1 {
				t.why.Add("order.made-in-one-go-with", reason.Share(share))
			}
		}
		for n := range m.card.Mixes {
			if mix := &m.card.Mixes[n]; mix.OfLarder() > 0 {
				t := at(mix.Mix)
				grams := float64(mix.OfLarder()) * share
				t.used, t.house = t.used+grams, t.house+grams
				t.why.Add("order.of-treat", reason.Name(name), mix.Why)
			}
		}
	}
	for i := range alone {
		b := &alone[i]
		for n, part := range b.Parts {
			known := k.Ingredients[part.Of]
			base := func(g si.Grams) float64 {
				x, _ := measure.Grams(g).In(known.Unit, known.Substance)
				return x
			}
			t := at(part.Of)
			fresh := base(b.FreshPart(n)) * b.own
			if t.house += fresh; n > 0 { // stirred in: charged in full
				t.used += fresh
				continue
			}
			t.used += base(part.Used) * b.own
			if b.Damp {
				t.damp += base(b.left) * b.own
			}
		}
	}
	return ids, of
}
