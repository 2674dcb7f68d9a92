package planning

import (
	"cmp"
	"context"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/batch"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// PlanView is the plan of some days in large.
type PlanView struct {
	Revision int        `json:"revision" doc:"Raised whenever a planned step changes"`
	Today    string     `json:"today" format:"date"`
	Now      si.Minutes `json:"now" doc:"Minute of today"`
	Days     []PlanDay  `json:"days"`
	Levels   []Level    `json:"levels" doc:"What waits in each place, and how many moulds are held"`
	Short    []Short    `json:"short" doc:"What has no room"`
	Planned  si.Minutes `json:"planned" doc:"Hands-on minutes of what is planned on these days, with melting and washing down"`
	Free     si.Minutes `json:"free" doc:"Minutes that are free on these days"`
	Setup    si.Minutes `json:"setup" doc:"Minutes of melting and washing down on these days"`
	Undo     *Undo      `json:"undo,omitempty" doc:"The last change, while it can be undone"`
}

// PlanDay is a day.
type PlanDay struct {
	Day    string        `json:"day" format:"date"`
	Reason string        `json:"reason,omitempty" doc:"Why the day differs from the weekly pattern"`
	Off    bool          `json:"off" doc:"A person has said that nobody works"`
	Hours  []Hours       `json:"hours"`
	Free   si.Minutes    `json:"free" doc:"Minutes of hands; today, from now on"`
	Steps  []PlanStep    `json:"steps" doc:"By their begin"`
	Open   si.Minutes    `json:"open" doc:"Minutes of hands that the whole day has"`
	Fills  []DayFill     `json:"fills" doc:"What takes them, most first"`
	Setup  si.Minutes    `json:"setup" doc:"Minutes of melting and washing down"`
	Away   []plan.Errand `json:"away" doc:"When somebody is on the road"`
}

// Hours in which people work, in minutes of the day.
type Hours struct {
	From  si.Minutes `json:"from"`
	To    si.Minutes `json:"to"`
	Hands int        `json:"hands"`
}

// PlanStep is a step where it stands. Times are minutes of the day.
type PlanStep struct {
	Batch     uuid.UUID          `json:"batch"`
	Step      ident.Step         `json:"step"`
	For       []order.ShareOwner `json:"for" doc:"Whom its batch is for, next handover first; nobody of a mix that is made ahead"`
	Treat     string             `json:"treat"`
	Count     int                `json:"count" doc:"Pieces of the batch; bags of bark"`
	Mix       *uuid.UUID         `json:"mix,omitempty" doc:"That is made ahead"`
	Amount    *measure.Shown     `json:"amount,omitempty" doc:"Of a mix: how much of it is made"`
	Name      string             `json:"name"`
	Family    batch.Motif        `json:"family"`
	Chocolate food.Chocolate     `json:"chocolate" doc:"That it works with, or that the treat is drawn in"`
	Pot       string             `json:"pot,omitempty" doc:"Name of the chocolate that it works with"`
	Start     si.Minutes         `json:"start"`
	Hand      int                `json:"hand" doc:"Which person, from 0"`
	Hands     si.Minutes         `json:"hands"`
	Wait      si.Minutes         `json:"wait"`
	Place     string             `json:"place,omitempty" doc:"The storage spot where it waits, by its id"`
	Spot      string             `json:"spot,omitempty" doc:"What that is called"`
	Melt      si.Minutes         `json:"melt" doc:"Minutes of melting immediately before"`
	Wash      si.Minutes         `json:"wash" doc:"Minutes of washing down before that"`
	FreeFrom  []string           `json:"freeFrom"`
	Pinned    bool               `json:"pinned"`
	Done      bool               `json:"done"`
	Short     bool               `json:"short" doc:"Its batch has no room in the plan; this is where it was"`
}

// Level is how full something is over time.
type Level struct {
	Kind  string           `json:"kind" enum:"spot,mould"`
	ID    string           `json:"id"`
	Name  reason.Reason    `json:"name"`
	Holds int              `json:"holds" doc:"Trays, or moulds"`
	Fills []plan.FillLevel `json:"fills" doc:"How much of it is taken, and from when on"`
}

// Short is a batch that has no room.
type Short struct {
	Batch   uuid.UUID          `json:"batch"`
	For     []order.ShareOwner `json:"for" doc:"Whom it is for, next handover first"`
	Treat   string             `json:"treat"`
	Count   int                `json:"count"`
	Amount  *measure.Shown     `json:"amount,omitempty" doc:"Of a mix: how much of it is made"`
	Ready   time.Time          `json:"ready" doc:"When it is to be handed over; of a mix, the end of the day on which it is to be there"`
	Minutes si.Minutes         `json:"minutes" doc:"Of hands, that it needs"`
	Text    reason.Reason      `json:"text"`
}

// Undo is a change that can be undone.
type Undo struct {
	ID   uuid.UUID   `json:"id"`
	Says reason.Text `json:"says"`
}

// named is what a batch is called.
type named struct {
	shares order.Shares // next handover first
	treat  string
	count  int
	family batch.Motif
	mix    *uuid.UUID     // that it is, where no order takes from it
	amount *measure.Shown // of that mix
	ready  *time.Time     // the day on which that mix is to be there, as the database gives it
	look   food.Chocolate
	hands  si.Minutes
	names  []string // of its steps
	ids    []ident.Step
}

func (p *Planning) view(ctx context.Context, in *struct {
	From string `query:"from" doc:"The first day; today where it is not given, or has passed" format:"date"`
	Days int    `query:"days" minimum:"1" maximum:"28" default:"14"`
}) (*struct{ Body PlanView }, error) {
	var v PlanView
	err := p.In(ctx, func(tx pgx.Tx) error {
		cal, err := p.Calendar(ctx, tx)
		if err != nil {
			return err
		}
		first := 0
		if day, err := time.Parse(time.DateOnly, in.From); err == nil {
			first = min(max(dayOf(cal, day), 0), Horizon)
		}
		v, err = p.viewOf(ctx, tx, Days{first, first + in.Days})
		return err
	})
	return &struct{ Body PlanView }{v}, err
}

// viewOf the days as they are planned.
func (p *Planning) viewOf(ctx context.Context, tx pgx.Tx, span Days) (PlanView, error) {
	cal, err := p.Calendar(ctx, tx)
	if err != nil {
		return PlanView{}, err
	}
	now := p.Clock()
	work, all, err := load(ctx, tx, cal, now, span, uuid.Nil, nil)
	if err != nil {
		return PlanView{}, err
	}
	ingredients, err := p.Ingredients(ctx, tx)
	if err != nil {
		return PlanView{}, err
	}
	names, err := namesOf(ctx, tx, all)
	if err != nil {
		return PlanView{}, err
	}
	hours, _, err := loadWorkDays(ctx, tx)
	if err != nil {
		return PlanView{}, err
	}
	v := PlanView{Today: cal.Date(0), Now: cal.Minute(now), Days: make([]PlanDay, span.To-span.From), Levels: []Level{},
		Short: []Short{}}
	if err := tx.QueryRow(ctx, `select plan_revision from kitchens`).Scan(&v.Revision); err != nil {
		return v, err
	}
	if v.Undo, err = lastChange(ctx, tx, v.Revision); err != nil {
		return v, err
	}
	before := work.Calendar.DayOf(cal.Zero) // days of the problem before the calendar's
	for i := range v.Days {
		v.Days[i] = dayView(hours, cal, span.From+i)
	}
	var planned []plan.ScheduledOperation
	for i := range all {
		b := &all[i]
		id := uuid.MustParse(string(b.ID))
		of := names[id]
		if b.short != nil {
			v.Short = append(v.Short, b.shortage(id, of, &work))
		}
		for _, s := range b.steps {
			step := b.step(s.Step)
			if real := pinnedAt(&work.Problem, b.ID, s.Step); s.Done != nil &&
				real != nil { // where it was done, which may not be where it was planned
				s.Day, s.Start, s.Hand = work.Calendar.Day(real.Start)-before, work.Calendar.Clock(real.Start),
					real.Hand
			}
			at := s.Day - span.From
			if b.short == nil {
				planned = append(planned, plan.ScheduledOperation{Batch: b.ID, Step: s.Step,
					Start: work.Calendar.At(s.Day+before, s.Start), Hand: s.Hand, Changeover: s.Changeover,
					Washdown: s.Washdown, Hands: step.HandsOnMin, Wait: step.PassiveMin})
			}
			if at < 0 || at >= len(v.Days) {
				continue
			}
			shown := PlanStep{Batch: id, Step: s.Step, For: of.shares.Owners(), Treat: of.treat, Count: of.count,
				Mix: of.mix, Amount: of.amount, Name: of.nameOf(s.Step), Family: of.family, Chocolate: of.look,
				Start: s.Start, Hand: s.Hand, Hands: step.HandsOnMin, Wait: step.PassiveMin,
				Place: string(step.Storage), Spot: work.StorageName(step.Storage), Melt: s.Changeover, Wash: s.Washdown,
				FreeFrom: of.shares.FreeFrom(), Pinned: s.Pinned, Done: s.Done != nil, Short: b.short != nil}
			if s.Draw != nil && s.Draw.Applied > 0 {
				if pot, known := ingredients[s.Draw.Pot.Ingredient]; known && pot.Chocolate != nil {
					shown.Pot, shown.Chocolate = pot.Name, *pot.Chocolate
				}
			}
			v.Days[at].Steps = append(v.Days[at].Steps, shown)
			if b.short == nil {
				v.Setup += s.Changeover + s.Washdown
				v.Planned += s.Changeover + s.Washdown + step.HandsOnMin
			}
		}
	}
	away, err := errands(ctx, tx, work.Calendar, Days{before, span.To + before})
	if err != nil {
		return v, err
	}
	planned = append(planned, busySteps(away, work.Calendar, work.Sessions)...)
	for _, e := range away {
		if date, err := time.Parse(time.DateOnly, e.Day); err == nil {
			if at := dayOf(cal, date) - span.From; at >= 0 && at < len(v.Days) {
				v.Days[at].Away = append(v.Days[at].Away, e)
			}
		}
	}
	look := map[string]food.Chocolate{}
	for _, n := range names {
		look[n.treat] = n.look
	}
	for i := range v.Days {
		v.Days[i].fill(look)
		slices.SortStableFunc(v.Days[i].Steps, func(a, b PlanStep) int {
			return cmp.Compare(a.Start-a.Melt-a.Wash,
				b.Start-b.Melt-b.Wash)
		})
		var ahead []plan.Session
		for _, h := range v.Days[i].Hours {
			for _, x := range work.Calendar.Spans(span.From+i+before, h.From, h.To) {
				if s := (plan.Session{From: max(x.From, work.Now), To: x.To, People: h.Hands}); s.From < s.To {
					ahead = append(ahead, s)
				}
			}
		}
		v.Days[i].Free = plan.Free(ahead, planned)
		v.Free += v.Days[i].Free
	}
	k, err := p.Kitchen(ctx, tx, nil)
	if err != nil {
		return v, err
	}
	v.Levels = levels(&work, all, planned, mouldsOf(ctx, k), work.Calendar.Begin(span.From+before),
		work.Calendar.Begin(span.To+before))
	return v, nil
}

func dayView(w WorkDays, cal plan.Calendar, day int) PlanDay {
	d := PlanDay{Day: cal.Date(day), Hours: []Hours{}, Steps: []PlanStep{}, Away: []plan.Errand{}}
	for _, e := range w.Exceptions {
		if e.Day == d.Day {
			d.Reason, d.Off = e.Reason, len(e.Spans) == 0
		}
	}
	for _, s := range w.spansOn(cal, day) {
		from, _ := minuteOf(s.From)
		to, _ := minuteOf(s.To)
		d.Hours = append(d.Hours, Hours{si.Minutes(from), si.Minutes(to), s.Hands})
	}
	return d
}

// pinnedAt is where a step is pinned in a problem; nil where it is not.
func pinnedAt(p *plan.Problem, batch ident.Batch, step ident.Step) *plan.Pinned {
	for _, b := range p.Batches {
		if b.ID != batch {
			continue
		}
		for _, s := range b.Steps {
			if s.ID == step {
				return s.Pinned
			}
		}
	}
	return nil
}

func (b *promised) step(id ident.Step) plan.Operation {
	if n := slices.IndexFunc(b.Steps, func(s plan.Operation) bool { return s.ID == id }); n >= 0 {
		return b.Steps[n]
	}
	return plan.Operation{}
}

func (n named) nameOf(step ident.Step) string {
	if i := slices.Index(n.ids, step); i >= 0 && i < len(n.names) {
		return n.names[i]
	}
	return string(step)
}

// shortage is why a batch has no room, by the calendar.
func (b *promised) shortage(id uuid.UUID, of named, w *order.PlanningContext) Short {
	s := Short{Batch: id, For: of.shares.Owners(), Treat: of.treat, Count: of.count, Amount: of.amount,
		Minutes: of.hands}
	if of.ready != nil {
		s.Ready = w.Calendar.Time(w.Calendar.Begin(dayOf(w.Calendar, *of.ready) + 1))
	} else {
		s.Ready = of.shares[0].Ready
	}
	u := plan.Unplaced{Batch: b.ID, Reason: b.short.Reason, Of: b.short.Of, Minutes: b.short.Minutes,
		From: w.Calendar.Minute(b.short.From), To: w.Calendar.Minute(b.short.To)}
	free, keeps := si.Minutes(0), si.Minutes(0)
	for _, x := range w.Sessions {
		if x = (plan.Session{From: max(x.From, u.From, w.Now), To: min(x.To, u.To), People: x.People}); x.From < x.To &&
			w.Previous != nil {
			free += plan.Free([]plan.Session{x}, w.Previous.Steps)
		}
	}
	if b.keeps != nil {
		keeps = *b.keeps / 60
	}
	s.Text = order.Shortage(u, order.BatchDescription{What: of.what(), Hands: of.hands, Keeps: int(keeps), Steps: b.Batch.Steps,
		Name: of.nameOf}, free,
		&w.Problem, w.Calendar)
	return s
}

// what a batch is of: so many of a treat, so much of a mix.
func (n named) what() reason.Reason {
	if n.amount != nil {
		return reason.Of("order.amount-of", *n.amount, reason.Name(n.treat))
	}
	return reason.Of("order.count-of", reason.Int(n.count), reason.Name(n.treat))
}

// whom it is for: customers, or the larder.
func (n named) whom() reason.List {
	if n.mix != nil {
		return reason.List{reason.Of("planning.the-larder")}
	}
	return n.shares.CustomerNames()
}

// namesOf batches.
func namesOf(ctx context.Context, tx pgx.Tx, all []promised) (map[uuid.UUID]named, error) {
	ids := make([]uuid.UUID, len(all))
	for i, b := range all {
		ids[i] = uuid.MustParse(string(b.ID))
	}
	rows, err := tx.Query(ctx, `select b.id, batch_for(b.kitchen_id, b.id), b.name, b.count, b.family, b.look, b.hands,
			b.mix_id, b.grams, b.ready_on,
			jsonb_path_query_array(b.sheet, '$.card.steps[*].name'), jsonb_path_query_array(b.sheet,
			'$.card.steps[*].id')
		from batches b where b.id = any($1)`, ids)
	if err != nil {
		return nil, err
	}
	names := map[uuid.UUID]named{}
	_, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (struct{}, error) {
		var id uuid.UUID
		var n named
		var grams *si.Grams
		err := row.Scan(&id, &n.shares, &n.treat, &n.count, &n.family, &n.look, &n.hands, &n.mix, &grams, &n.ready,
			&n.names, &n.ids)
		if grams != nil {
			n.amount = new(measure.ShowGrams(*grams))
		}
		n.shares = n.shares.Live()
		names[id] = n
		return struct{}{}, err
	})
	return names, err
}

// levels of places and moulds between two minutes of the problem.
func levels(w *order.PlanningContext, all []promised, planned []plan.ScheduledOperation, moulds []Mould, from,
	to si.Minutes) []Level {
	problem := plan.Problem{}
	for i := range all {
		problem.Batches = append(problem.Batches, all[i].Batch)
	}
	list := []Level{}
	at := map[string]int{}
	for _, p := range w.Places {
		at[string(p.ID)] = len(list)
		list = append(list, Level{Kind: "spot", ID: string(p.ID),
			Name: reason.Of("planning.level", reason.Name(p.Name)), Holds: p.Trays})
	}
	for _, t := range w.Tools {
		name := reason.Of("planning.level-of-moulds")
		if n := slices.IndexFunc(moulds, func(m Mould) bool { return m.Tool == t.ID }); n >= 0 {
			name = reason.Of("planning.level-of-moulds-for", reason.Name(moulds[n].For[0]))
			if len(moulds[n].For) > 1 {
				name = reason.Of("planning.level-of-moulds-for-several", reason.Name(moulds[n].For[0]))
			}
		}
		at[string(t.ID)] = len(list)
		list = append(list, Level{Kind: "mould", ID: string(t.ID), Name: name, Holds: t.Count})
	}
	filled := make([][]plan.Filled, len(list))
	for _, f := range plan.Fill(&problem, &plan.Plan{Steps: planned}) {
		if n, known := at[cmp.Or(string(f.Place), string(f.Tool))]; known {
			filled[n] = append(filled[n], f)
		}
	}
	for n := range list {
		list[n].Fills = plan.FillLevels(filled[n], from, to)
	}
	return slices.DeleteFunc(list, func(l Level) bool {
		return l.Kind == "mould" && len(l.Fills) == 1 &&
			l.Fills[0].Amount == 0
	})
}
