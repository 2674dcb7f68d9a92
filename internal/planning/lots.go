package planning

import (
	"cmp"
	"context"
	"net/http"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Regrouping is batches of one treat and finish that are made otherwise than now: several in one go, or one for each of
// its orders.
type Regrouping struct {
	Of     []ident.Batch `json:"of"` // the batches as they are
	Groups []Group       `json:"groups"`
}

// Group of shares that are made in one go. It has the name of one of the batches, or a new one.
type Group struct {
	Batch ident.Batch `json:"batch"`
	Takes []Member    `json:"takes"`
}

// Member of a group: an order's share, and the batch that it is in now.
type Member struct {
	Batch ident.Batch `json:"batch"`
	Order ident.Order `json:"order"`
}

// regrouped is a regrouping with what is made in each group.
type regrouped struct {
	Regrouping
	batches []promised
	sheets  []order.LineCard
	names   map[uuid.UUID]named
}

// regroup with what is made in each group; ok is false where that cannot be reckoned, or no time is fresh enough for
// all of a group.
func regroup(k *order.Inputs, w *order.PlanningContext, all []promised, of Regrouping) (r regrouped, ok bool,
	err error) {
	r = regrouped{Regrouping: of, names: map[uuid.UUID]named{}}
	for _, g := range of.Groups {
		b := promised{}
		for _, m := range g.Takes {
			n := slices.IndexFunc(all, func(b promised) bool { return b.ID == m.Batch })
			if n < 0 {
				return r, false, nil
			}
			i := slices.IndexFunc(all[n].shares, func(s order.Share) bool { return s.Order == m.Order })
			if i < 0 {
				return r, false, nil
			}
			b.shares = append(b.shares, all[n].shares[i])
		}
		slices.SortStableFunc(b.shares, func(a, b order.Share) int {
			return cmp.Or(a.Ready.Compare(b.Ready), cmp.Compare(a.Number, b.Number))
		})
		line, card, err := cardOf(k, b.shares)
		if err != nil || card == nil {
			return r, false, err
		}
		b.Batch = order.BatchOf(g.Batch, card, nil)
		b.ReleaseMin, b.keeps = w.Now, b.ShelfLifeMin
		b.settle(w.Calendar, 0)
		if *b.ShelfLifeMin <= 0 || b.DueMin <= w.Now {
			return r, false, nil
		}
		sheet := order.LineCard{Treat: line.Treat, Name: k.Treats[line.Treat].Name, Version: b.shares[0].Version,
			Count: line.Count, Coating: line.Coating, Card: card}
		name := named{shares: b.shares, treat: sheet.Name, count: line.Count, family: batch.Motif(card.Family),
			look:  card.Look,
			hands: card.Hands}
		for _, s := range card.Steps {
			name.ids, name.names = append(name.ids, s.ID), append(name.names, s.Name)
		}
		r.batches, r.sheets = append(r.batches, b), append(r.sheets, sheet)
		r.names[uuid.MustParse(string(g.Batch))] = name
	}
	return r, true, nil
}

func (r *regrouped) alternative() plan.BatchSplit {
	a := plan.BatchSplit{Of: r.Of}
	for _, b := range r.batches {
		a.Instead = append(a.Instead, b.Batch)
	}
	return a
}

// says what is made otherwise.
func (r *regrouped) says() reason.Reason {
	treat := r.sheets[0].Name
	if len(r.Groups) == 1 {
		return reason.Of("planning.made-in-one-go", reason.Name(treat), r.batches[0].shares.CustomerNames())
	}
	var all order.Shares
	for _, b := range r.batches {
		all = append(all, b.shares...)
	}
	return reason.Of("planning.made-alone", reason.Name(treat), all.CustomerNames())
}

// reckoned is what is made in each group of the regroupings, of those that can be.
func (p *Planning) reckoned(ctx context.Context, tx pgx.Tx, s *proposal, ways []Regrouping) ([]regrouped, error) {
	if len(ways) == 0 {
		return nil, nil
	}
	pins := map[ident.Treat]int{}
	for _, r := range ways {
		if n := slices.IndexFunc(s.before, func(b promised) bool { return b.ID == r.Of[0] }); n >= 0 {
			of := s.before[n].shares[0]
			pins[of.Treat] = cmp.Or(pins[of.Treat],
				of.Version) // one version of a treat at a time: another is left as it is
		}
	}
	k, err := p.Kitchen(ctx, tx, pins)
	if err != nil {
		return nil, err
	}
	var could []regrouped
	for _, r := range ways {
		way, ok, err := regroup(k, s.work, s.before, r)
		if err != nil {
			return nil, err
		}
		if ok {
			could = append(could, way)
		}
	}
	return could, nil
}

// choose what makes the plan of s better, one regrouping after the other.
func (s *proposal) choose(ctx context.Context, ways []regrouped, o plan.Options) error {
	alternatives := make([]plan.BatchSplit, len(ways))
	for i := range ways {
		alternatives[i] = ways[i].alternative()
	}
	made, taken, err := plan.ChooseSplits(ctx, plan.Settle, &s.work.Problem, s.made, alternatives, o)
	if err != nil {
		return err
	}
	s.made = made
	for _, t := range taken {
		s.take(ways[slices.IndexFunc(alternatives, func(a plan.BatchSplit) bool { return slices.Equal(a.Of, t.Of) })])
	}
	return nil
}

// regroupings that s has taken.
func (s *proposal) regroupings() []Regrouping {
	list := []Regrouping{}
	for _, r := range s.groups {
		list = append(list, r.Regrouping)
	}
	return list
}

// take a regrouping into the problem.
func (s *proposal) take(r regrouped) {
	s.work.Problem = *s.work.Problem.Instead([]plan.BatchSplit{r.alternative()})
	s.groups = append(s.groups, r)
}

// whole tells whether a batch can still be made otherwise: nothing of it is done, pinned, or should have begun.
func (b *promised) whole(now si.Minutes) bool {
	for _, at := range b.At {
		if at.Done != nil || at.Pinned || at.Start < now && b.short == nil {
			return false
		}
	}
	return b.DueMin > now
}

// apart are the lots that a plan leaves out, for each of their orders alone.
func (s *proposal) apart() (ways []Regrouping) {
	for _, u := range s.made.Unplaced {
		n := slices.IndexFunc(s.before, func(b promised) bool { return b.ID == u.Batch })
		if n < 0 || len(s.before[n].shares) < 2 || !s.before[n].whole(s.work.Now) {
			continue
		}
		r := Regrouping{Of: []ident.Batch{u.Batch}}
		for i, share := range s.before[n].shares {
			id := u.Batch
			if i > 0 {
				id = ident.Batch(db.NewID().String())
			}
			r.Groups = append(r.Groups, Group{id, []Member{{u.Batch, share.Order}}})
		}
		ways = append(ways, r)
	}
	return ways
}

// mostTogether is how many pairs of batches are tried in one go when the weeks are planned anew.
const mostTogether = 6

// together are batches of the same treat and finish, each with the one that is handed over next.
func (s *proposal) together() (ways []Regrouping) {
	type kind struct {
		treat   ident.Treat
		version int
		coating bool
	}
	last := map[kind]*promised{}
	byReady := make([]*promised, len(s.before))
	for i := range s.before {
		byReady[i] = &s.before[i]
	}
	slices.SortStableFunc(byReady, func(a, b *promised) int { return cmp.Compare(a.DueMin, b.DueMin) })
	for _, b := range byReady {
		if len(b.shares) == 0 || !b.whole(s.work.Now) {
			continue
		}
		of := kind{b.shares[0].Treat, b.shares[0].Version, b.shares[0].Coating}
		if first := last[of]; first != nil && len(ways) < mostTogether && !shareAnOrder(first, b) {
			g := Group{Batch: first.ID}
			for _, from := range []*promised{first, b} {
				for _, share := range from.shares {
					g.Takes = append(g.Takes, Member{from.ID, share.Order})
				}
			}
			ways = append(ways, Regrouping{Of: []ident.Batch{first.ID, b.ID}, Groups: []Group{g}})
		}
		last[of] = b
	}
	return ways
}

// shareAnOrder tells whether two batches are parts of one order: it was parted for a reason.
func shareAnOrder(a, b *promised) bool {
	return slices.ContainsFunc(a.shares, func(x order.Share) bool {
		return slices.ContainsFunc(b.shares, func(y order.Share) bool { return x.Order == y.Order })
	})
}

// keep the plan, and what is made otherwise in it.
func (s *proposal) keep(ctx context.Context, tx pgx.Tx) error {
	batch := &pgx.Batch{}
	for _, r := range s.groups {
		rows := func(i int) []stepRow { return s.rowsOf(r.batches[i].Batch, r.Of[0]) }
		if err := r.queue(batch, web.ActorOf(ctx).Kitchen, rows, s.work.Calendar); err != nil {
			return err
		}
	}
	if err := tx.SendBatch(ctx, batch).Close(); err != nil {
		return err
	}
	return keep(ctx, tx, s.work, s.made)
}

// queue what it takes to make it so: the batch of each group, whose steps stand in its rows, with the shares that it
// takes from the batches as they are. Those of which nothing is left go.
func (r *regrouped) queue(batch *pgx.Batch, kitchen uuid.UUID, rows func(group int) []stepRow,
	cal plan.Calendar) error {
	for i, g := range r.Groups {
		if err := storeBatch(batch, kitchen, uuid.MustParse(string(g.Batch)), r.sheets[i], rows(i), cal); err != nil {
			return err
		}
		for _, m := range g.Takes {
			if m.Batch == g.Batch {
				continue
			}
			batch.Queue(`insert into batch_shares (kitchen_id, batch_id, order_id, position, part, count, price, cost,
			since, again)
				select kitchen_id, $3, order_id, position, part, count, price, cost, since, again from batch_shares
				where batch_id = $1 and order_id = $2`, m.Batch, m.Order, g.Batch)
			batch.Queue(`update batch_needs set batch_id = $3 where batch_id = $1 and order_id = $2 and packaging`,
				m.Batch, m.Order, g.Batch)
			batch.Queue(`delete from batch_shares where batch_id = $1 and order_id = $2`, m.Batch, m.Order)
		}
		queueNeeds(batch, uuid.MustParse(string(g.Batch)), r.sheets[i].Card)
	}
	batch.Queue(`delete from batches b where b.id = any($1::uuid[]) and not exists (select from batch_shares h
			where h.kitchen_id = b.kitchen_id and h.batch_id = b.id)`, r.Of)
	return nil
}

// rowsOf a batch where the plan has its steps; where it has not, all stand where the first of the batch was that it
// comes from.
func (s *proposal) rowsOf(b plan.Batch, from ident.Batch) []stepRow {
	var rows []stepRow
	for _, x := range s.made.Steps {
		if x.Batch == b.ID {
			rows = append(rows, stepRow{Step: x.Step, Day: s.work.Calendar.Day(x.Start),
				Start: s.work.Calendar.Clock(x.Start), Hand: x.Hand, Changeover: x.Changeover, Washdown: x.Washdown,
				Melts: x.Melts})
		}
	}
	if len(rows) > 0 {
		return rows
	}
	old := &s.before[slices.IndexFunc(s.before, func(b promised) bool { return b.ID == from })]
	at := old.At[old.steps[0].Step]
	for _, step := range b.Steps {
		rows = append(rows, stepRow{Step: step.ID, Day: s.work.Calendar.Day(at.Start),
			Start: s.work.Calendar.Clock(at.Start), Hand: at.Hand})
	}
	return rows
}

// stood is how to make batches again as they were made before: regroupings of what is there since.
type stood struct {
	Back []Regrouping `json:"back"`
}

// standing of what s makes otherwise; nil where that is nothing.
func (s *proposal) standing() *stood {
	if len(s.groups) == 0 {
		return nil
	}
	was := &stood{}
	for _, r := range s.groups {
		var back Regrouping
		for _, g := range r.Groups {
			back.Of = append(back.Of, g.Batch)
		}
		for _, id := range r.Of {
			g := Group{Batch: id}
			for _, share := range s.before[slices.IndexFunc(s.before,
				func(b promised) bool { return b.ID == id })].shares {
				in := slices.IndexFunc(r.Groups, func(g Group) bool {
					return slices.Contains(g.Takes,
						Member{id, share.Order})
				})
				g.Takes = append(g.Takes, Member{r.Groups[in].Batch, share.Order})
			}
			back.Groups = append(back.Groups, g)
		}
		was.Back = append(was.Back, back)
	}
	return was
}

// begun tells whether something has been done since of what is made otherwise: put back as it stood, that would be
// lost.
func (was *stood) begun(ctx context.Context, tx pgx.Tx) (yes bool, err error) {
	var of []ident.Batch
	for _, r := range was.Back {
		of = append(of, r.Of...)
	}
	err = tx.QueryRow(ctx, `select exists (select from batch_steps where batch_id = any($1::uuid[])
			and done_at is not null)`, of).Scan(&yes)
	return yes, err
}

// putBack what a change made otherwise, by making it otherwise again: with the cards of the promised versions, at the
// times that it had.
func (p *Planning) putBack(ctx context.Context, tx pgx.Tx, was *past) error {
	begun, err := was.Stood.begun(ctx, tx)
	if err != nil {
		return err
	}
	if begun {
		return web.Reject(http.StatusConflict, "planning.work-has-begun-since")
	}
	cal, err := p.Calendar(ctx, tx)
	if err != nil {
		return err
	}
	w, all, err := load(ctx, tx, cal, p.Clock(), Days{0, 28}, uuid.Nil, nil)
	if err != nil {
		return err
	}
	ways, err := p.reckoned(ctx, tx, &proposal{work: &w, before: all}, was.Stood.Back)
	if err != nil {
		return err
	}
	tooLate := web.Reject(http.StatusConflict, "planning.cannot-be-undone-any-more")
	if len(ways) < len(was.Stood.Back) || len(ways) == 0 {
		return tooLate
	}
	batch := &pgx.Batch{}
	for _, r := range ways {
		of := make([][]stepRow, len(r.Groups))
		for i, g := range r.Groups {
			for _, st := range was.Steps {
				if day, err := time.Parse(time.DateOnly, st.Day); err == nil && st.Batch == g.Batch {
					of[i] = append(of[i], stepRow{Step: st.Step, Day: dayOf(w.Calendar, day), Start: st.Start,
						Hand: st.Hand, Changeover: st.Changeover, Washdown: st.Washdown, Pinned: st.Pinned,
						Melts: st.Melts})
				}
			}
			for _, s := range r.sheets[i].Card.Steps { // the rules may make it in other steps by now
				if !slices.ContainsFunc(of[i], func(at stepRow) bool { return at.Step == s.ID }) {
					return tooLate
				}
			}
		}
		if err := r.queue(batch, web.ActorOf(ctx).Kitchen, func(i int) []stepRow { return of[i] },
			w.Calendar); err != nil {
			return err
		}
	}
	for _, r := range ways {
		for _, g := range r.Groups {
			batch.Queue(`update batches set sequence = (select plan_revision + 1 from kitchens) where id = $1`, g.Batch)
		}
	}
	return tx.SendBatch(ctx, batch).Close()
}
