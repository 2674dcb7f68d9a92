package pots

import (
	"context"
	"math"
	"net/http"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/chocolate"
	"zestytin/core/measure"
	"zestytin/core/pot"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/temper"
	"zestytin/internal/platform/web"
)

// Pot is a bowl with its curve and what to do next. Times of its curve are s from when it was begun, temperatures °C.
type Pot struct {
	Brief
	Method  chocolate.Method `json:"method" enum:"none,gentle,seed,three-point"`
	Source  chocolate.Source `json:"source" enum:"microwave,bath"`
	Mass    measure.Shown    `json:"mass" doc:"Of all"`
	Bands   chocolate.Bands  `json:"bands" doc:"°C"`
	Room    float64          `json:"room" doc:"°C"`
	Pieces  int              `json:"pieces" doc:"That are to be dipped in it; 0 where nobody said"`
	Probe   *Instrument      `json:"probe,omitempty"`
	Scale   *Instrument      `json:"scale,omitempty"`
	Remains *float64         `json:"remains,omitempty" doc:"g that were left in it"`
	Note    string           `json:"note"`
	Deeds   []Deed           `json:"deeds"`
	Curve   Curve            `json:"curve"`
	Advice  *Advice          `json:"advice,omitempty" doc:"As long as it is on the counter"`
	Learned *Learned         `json:"learned,omitempty" doc:"What its bursts brought"`
	Now     float64          `json:"now" doc:"s since it was begun"`
}

// Learned of bursts.
type Learned struct {
	Watts  float64 `json:"watts"`
	Bursts int     `json:"bursts" doc:"From how many"`
}

// Instrument at a bowl.
type Instrument struct {
	ID        uuid.UUID `json:"id"`
	Name      string    `json:"name"`
	Simulated bool      `json:"simulated"`
}

// Curve of a bowl: pairs of a time in s and a value.
type Curve struct {
	Temps []Point `json:"temps" doc:"°C"`
	Grams []Point `json:"grams"`
}

// Point of a curve.
type Point struct {
	At    float64 `json:"at"`
	Value float64 `json:"value"`
}

// Advice of what to do next. Times are s from when the bowl was begun.
type Advice struct {
	Stage   temper.Stage    `json:"stage" enum:"melting,seeding,cooling,warming,testing,working,lost,cold"`
	Do      reason.Reason   `json:"do"`
	Then    []reason.Reason `json:"then"`
	Touches []Touch         `json:"touches" doc:"What one touch says was done, the likely one first"`
	Aim     chocolate.Range `json:"aim" doc:"°C to be in"`
	Never   float64         `json:"never" doc:"°C not to go above"`
	Temp    *float64        `json:"temp,omitempty" doc:"°C that is believed"`
	Read    float64         `json:"read" doc:"When that was read"`
	Due     *Due            `json:"due,omitempty" doc:"When something is to be done"`
	Ends    float64         `json:"ends,omitempty" doc:"When a burst, its stirring or a smear is over"`
	In      measure.Shown   `json:"in" doc:"What is in the bowl, by what was said to be put in and taken"`
	Left    *int            `json:"left,omitempty" doc:"Pieces that can still be dipped"`
	TopUp   *measure.Shown  `json:"topUp,omitempty" doc:"To be melted for the pieces that are left"`
	Weigh   float64         `json:"weigh,omitempty" doc:"g that are being weighed out"`
	Trouble temper.Trouble  `json:"trouble,omitempty" enum:"silent,absurd,jumping" doc:"Of the thermometer"`
	Scale   *reason.Reason  `json:"scale,omitempty" doc:"What is wrong with the scale, and what was done about it"`
	Urgent  bool            `json:"urgent"`
}

// Due is when something is to be done.
type Due struct {
	What reason.Reason `json:"what"`
	At   float64       `json:"at"`
	From float64       `json:"from" doc:"In nine of ten cases not before"`
	To   float64       `json:"to" doc:"And not after"`
}

// Touch says that something was done.
type Touch struct {
	What    temper.What    `json:"what" enum:"burst,on,chill,off,seeded,added,took,dipped,weigh,smear,good,dull,anew"`
	Seconds float64        `json:"seconds,omitempty"`
	Low     bool           `json:"low,omitempty"`
	Grams   float64        `json:"grams,omitempty"`
	Amount  *measure.Shown `json:"amount,omitempty" doc:"The same, to be read"`
}

// adviceOf core, as it is shown.
func adviceOf(a temper.Advice) *Advice {
	out := &Advice{Stage: a.Stage, Do: a.Do, Then: a.Then, Aim: a.Aim, Never: a.Never, Temp: a.Temp, Read: a.Read,
		Ends: a.Ends, In: measure.ShowGrams(a.In), Left: a.Left, Weigh: float64(a.Weigh), Trouble: a.Trouble,
		Urgent: a.Urgent, Touches: make([]Touch, len(a.Touches))}
	for i, t := range a.Touches {
		out.Touches[i] = Touch{What: t.What, Seconds: t.Seconds, Low: t.Low, Grams: float64(t.Grams)}
		if t.Grams > 0 {
			out.Touches[i].Amount = new(measure.ShowGrams(t.Grams))
		}
	}
	if a.Due != nil {
		out.Due = &Due{a.What, a.Due.At, a.Due.From, a.Due.To}
	}
	if a.TopUp > 0 {
		out.TopUp = new(measure.ShowGrams(a.TopUp))
	}
	return out
}

// stored is a bowl as it stands in the database.
type stored struct {
	Brief
	Bowl    temper.Bowl
	Probe   *Instrument
	Scale   *Instrument
	Seed    int64
	Remains *float64
	Note    string
	Curve   *Curve
	Watts   *float64
	Bursts  int
	deeds   []Deed
}

// load a bowl with what was done to it.
func (p *Pots) load(ctx context.Context, tx pgx.Tx, id uuid.UUID, suffix string) (*stored, error) {
	list, err := find(ctx, tx, `p.id = $1`+suffix, id)
	if err != nil {
		return nil, err
	}
	if len(list) == 0 {
		return nil, web.NotFound("bowl")
	}
	return list[0], nil
}

// open is a bowl that is not over.
func (p *Pots) open(ctx context.Context, tx pgx.Tx, id uuid.UUID) (*stored, error) {
	s, err := p.load(ctx, tx, id, " for no key update of p")
	if err == nil && s.Ended != nil {
		return nil, web.Reject(http.StatusConflict, "pots.is-over", reason.Name(s.Name))
	}
	return s, err
}

// find bowls.
func find(ctx context.Context, tx pgx.Tx, where string, args ...any) ([]*stored, error) {
	rows, err := tx.Query(ctx, `select p.id, p.name, to_char(p.day, 'YYYY-MM-DD'), p.began_at, p.ended_at, p.result,
			p.chocolate, p.bowl, p.remains, p.note, p.curve, p.watts, p.bursts, t.id, t.name, t.secret is null, t.seed,
			s.id, s.name, s.secret is null from pots p
		left join sensors t on t.kitchen_id = p.kitchen_id and t.id = p.probe_id
		left join sensors s on s.kitchen_id = p.kitchen_id and s.id = p.scale_id where `+where, args...)
	if err != nil {
		return nil, err
	}
	list, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (*stored, error) {
		var s stored
		var probe, scale struct {
			id        *uuid.UUID
			name      *string
			simulated *bool
		}
		var seed *int64
		err := row.Scan(&s.ID, &s.Name, &s.Day, &s.Began, &s.Ended, &s.Result, &s.Chocolate, &s.Bowl, &s.Remains, &s.Note,
			&s.Curve, &s.Watts, &s.Bursts, &probe.id, &probe.name, &probe.simulated, &seed, &scale.id, &scale.name,
			&scale.simulated)
		if probe.id != nil {
			s.Probe, s.Seed = &Instrument{*probe.id, *probe.name, *probe.simulated}, *seed
		}
		if scale.id != nil {
			s.Scale, s.Weighs = &Instrument{*scale.id, *scale.name, *scale.simulated}, true
		}
		return &s, err
	})
	if err != nil {
		return nil, err
	}
	for _, s := range list {
		if err := s.done(ctx, tx); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// done to it, in the order of its time.
func (s *stored) done(ctx context.Context, tx pgx.Tx) error {
	rows, err := tx.Query(ctx, `select d.id, d.what, d.at, d.seconds, d.low, d.grams, d.pieces, coalesce(p.name, '')
		from pot_deeds d left join people p on p.id = d.by_id where d.pot_id = $1 order by d.at, d.id`, s.ID)
	if err != nil {
		return err
	}
	s.deeds, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (d Deed, err error) {
		var at time.Time
		err = row.Scan(&d.ID, &d.What, &at, &d.Seconds, &d.Low, &d.Grams, &d.Pieces, &d.Who)
		d.At = &at
		return d, err
	})
	return err
}

// since it was begun, in s.
func (s *stored) since(at time.Time) float64 { return at.Sub(s.Began).Seconds() }

// simulated says whether its probe is.
func (s *stored) simulated() bool { return s.Probe != nil && s.Probe.Simulated }

// told are its deeds as core takes them.
func (s *stored) told() []temper.Deed {
	list := make([]temper.Deed, len(s.deeds))
	for i, d := range s.deeds {
		list[i] = temper.Deed{At: s.since(*d.At), What: d.What, Seconds: d.Seconds, Low: d.Low, Grams: si.Grams(d.Grams),
			Pieces: d.Pieces}
	}
	return list
}

// counter on which it stands, where its probe is simulated.
func (p *Pots) counter(s *stored) Counter { return p.Simulate(s.Bowl, uint64(s.Seed), s.told()) }

// beside a bowl: what a scale tells, less what it has crept by itself.
type beside struct {
	level pot.Level
	grams []pot.Sample
}

func (b *beside) hear(x pot.Sample) { b.grams = append(b.grams, b.level.Hear(x)) }

// at the times of points that were said just now, as they are told.
func (b *beside) at(points []Point) []Point {
	list := make([]Point, 0, len(points))
	for _, x := range b.grams {
		if slices.ContainsFunc(points, func(p Point) bool { return p.At == max(x.At, 0) }) {
			list = append(list, Point{max(x.At, 0), x.Value})
		}
	}
	return list
}

// least that a scale has crept when it is told, in g: that much is in the way at the smallest amounts that are weighed.
const leastCreep = 2.0

// wrong with the scale, where something is.
func wrong(l *pot.Level) *reason.Reason {
	off := l.Off()
	if math.Abs(off) < leastCreep {
		return nil
	}
	return new(reason.Of("pots.scale-creeps", measure.ShowGrams(si.Grams(math.Abs(l.Rate()))),
		measure.ShowGrams(si.Grams(math.Abs(off)))))
}

// watch is all that is known of a bowl at a time, and what the scale said beside it.
func (p *Pots) watch(ctx context.Context, tx pgx.Tx, s *stored, now time.Time) (temper.Watch, *beside, error) {
	w, b := temper.Watch{Bowl: s.Bowl, Probe: s.Probe != nil, Deeds: s.told(), Now: s.since(now)}, &beside{}
	temps, grams, err := s.readings(ctx, tx)
	if err != nil {
		return w, nil, err
	}
	for _, x := range grams {
		b.hear(x)
	}
	if s.simulated() {
		simulated := s.Scale != nil && s.Scale.Simulated
		p.counter(s).Until(w.Now, func(temp, weight pot.Sample) {
			w.Said = append(w.Said, temp)
			if simulated {
				b.hear(weight)
			}
		})
		return w, b, nil
	}
	w.Said = temps
	return w, b, nil
}

// readings that were posted or typed.
func (s *stored) readings(ctx context.Context, tx pgx.Tx) (temps, grams []pot.Sample, err error) {
	rows, err := tx.Query(ctx, `select what, at, value from readings where pot_id = $1 order by at`, s.ID)
	if err != nil {
		return nil, nil, err
	}
	var what string
	var at time.Time
	var value float64
	_, err = pgx.ForEachRow(rows, []any{&what, &at, &value}, func() error {
		x := pot.Sample{At: s.since(at), Value: value}
		if what == "temp" {
			temps = append(temps, x)
		} else {
			grams = append(grams, x)
		}
		return nil
	})
	return temps, grams, err
}

// Points that a curve has on the screen, and when it is kept.
const (
	manyPoints = 1500
	fewPoints  = 400
)

// thin a curve to at most so many points, evenly: the last one stays.
func thin(said []pot.Sample, most int) []Point {
	list := make([]Point, 0, min(len(said), most+1))
	every := max((len(said)+most-1)/most, 1)
	for i, s := range said {
		if !s.Gone && (i%every == 0 || i == len(said)-1) {
			list = append(list, Point{s.At, s.Value})
		}
	}
	return list
}

// curveOf what was said of a bowl with a probe, as far as it can be believed.
func curveOf(said []pot.Sample, now float64) Curve {
	believed, _ := temper.Heard(said, now, true)
	return Curve{thin(believed, manyPoints), []Point{}}
}

func (p *Pots) get(ctx context.Context, in *web.ID) (*struct{ Body Pot }, error) {
	var out Pot
	err := p.In(ctx, func(tx pgx.Tx) error {
		s, err := p.load(ctx, tx, in.ID, "")
		if err != nil {
			return err
		}
		out = s.shown()
		now := p.Clock()
		if s.Ended != nil {
			now = *s.Ended
			out.Curve = *s.Curve
			if s.Watts != nil {
				out.Learned = &Learned{*s.Watts, s.Bursts}
			}
			out.Now = s.since(now)
			return nil
		}
		w, beside, err := p.watch(ctx, tx, s, now)
		if err != nil {
			return err
		}
		believed, _ := temper.Heard(w.Said, w.Now, w.Probe)
		out.Curve, out.Advice, out.Now = Curve{thin(believed, manyPoints), thin(beside.grams, manyPoints)},
			adviceOf(w.Advise()), w.Now
		out.Advice.Scale = wrong(&beside.level)
		if watts, bursts := w.Power(); bursts > 0 {
			out.Learned = &Learned{watts, bursts}
		}
		return nil
	})
	return &struct{ Body Pot }{out}, err
}

func (s *stored) shown() Pot {
	return Pot{Brief: s.Brief, Method: s.Bowl.Method, Source: s.Bowl.Source, Mass: measure.ShowGrams(s.Bowl.Mass),
		Bands: s.Bowl.Bands, Room: s.Bowl.Room, Pieces: s.Bowl.Pieces, Probe: s.Probe, Scale: s.Scale,
		Remains: s.Remains, Note: s.Note, Deeds: s.deeds}
}
