// Package pots is the bowl on the counter: how it is begun, what is done to it, what thermometer and scale say of it,
// and what to do next.
package pots

import (
	"context"
	"errors"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgerrcode"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/pot"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/temper"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/live"
	"zestytin/internal/platform/web"
)

// Pots is the feature.
type Pots struct {
	web.Base
	Deps
	feed *feed
}

// Deps is what it needs of other rooms.
type Deps struct {
	// House is the kitchen's clock, and how warm it is there, in °C.
	House func(context.Context, pgx.Tx) (zone *time.Location, room float64, err error)
	// Live is the hub that pages hear.
	Live *live.Hub
	// Simulate the counter of a bowl whose thermometer is not there.
	Simulate func(b temper.Bowl, seed uint64, deeds []temper.Deed) Counter
}

// Counter is where a bowl stands with a thermometer in it and a scale beside it: it tells what they say (°C, g) of each
// second that has not been told yet, up to a time in s.
type Counter interface {
	Until(seconds float64, tell func(temp, grams pot.Sample))
}

// Register adds the operations.
func Register(h web.Base, needs Deps) *Pots {
	p := &Pots{Base: h, Deps: needs}
	p.feed = newFeed(p)
	op := func(id, method, path, summary string, status int) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1" + path, Summary: summary,
			DefaultStatus: status, Tags: []string{"Bench"}}
	}
	web.Register(h, op("list-pots", "GET", "/pots", "Bowls that are on the counter, and those of a day", 0), p.list)
	web.Register(h, op("begin-pot", "POST", "/pots", "Begin a bowl", http.StatusCreated), p.begin)
	web.Register(h, op("get-pot", "GET", "/pots/{id}", "A bowl, its curve, and what to do next", 0), p.get)
	web.Register(h, op("note-deed", "POST", "/pots/{id}/deeds", "Say what was done to a bowl", http.StatusCreated),
		p.note)
	web.Register(h, op("undo-deed", "DELETE", "/pots/{id}/deeds/{was}", "Take back what was not done after all",
		http.StatusNoContent), p.undo)
	web.Register(h, op("note-reading", "POST", "/pots/{id}/readings",
		"Say what a thermometer or a scale shows that is not connected", http.StatusNoContent), p.typed)
	web.Register(h, op("put-pot-instruments", "PUT", "/pots/{id}/instruments",
		"Which thermometer is in the bowl, and which scale beside it", http.StatusNoContent), p.instruments)
	web.Register(h, op("end-pot", "PUT", "/pots/{id}/end", "The bowl is over: how it came out, and what is left",
		http.StatusNoContent), p.end)
	web.Register(h, op("resume-pot", "DELETE", "/pots/{id}/end", "It is not over after all", http.StatusNoContent),
		p.resume)
	p.sensors(op)
	practise := op("practise", "POST", "/calculators/practice",
		"A bowl to practise on, as it follows from what was done to it", 0)
	practise.Tags = []string{"Calculators"}
	web.Register(h, practise, p.practise)
	return p
}

// Begin of a bowl.
type Begin struct {
	ID        *uuid.UUID       `json:"id,omitempty" format:"uuid" doc:"That a device gave it, which could not reach the kitchen: begun twice it is one"`
	At        *time.Time       `json:"at,omitempty" doc:"When; now where it is not given"`
	Name      string           `json:"name" minLength:"1" maxLength:"120" doc:"What it is called: the chocolate"`
	Day       string           `json:"day,omitempty" format:"date" doc:"Whose run sheet it belongs to; today where it is not given"`
	Chocolate food.Chocolate   `json:"chocolate"`
	Method    chocolate.Method `json:"method" enum:"none,gentle,seed,three-point"`
	Source    chocolate.Source `json:"source" enum:"microwave,bath"`
	Grams     float64          `json:"grams" minimum:"0" maximum:"20000" doc:"Of all, what is held back as seed included"`
	Pieces    int              `json:"pieces,omitempty" minimum:"0" maximum:"10000" doc:"That are to be dipped in it"`
	Coat      float64          `json:"coat,omitempty" minimum:"0" maximum:"1000" doc:"g that each carries away"`
	Pool      float64          `json:"pool,omitempty" minimum:"0" maximum:"20000" doc:"g that must stay to work from"`
	Instruments
}

// Instruments at a bowl.
type Instruments struct {
	Probe *uuid.UUID `json:"probe,omitempty" format:"uuid" doc:"The thermometer that is in it; none: somebody types what one says"`
	Scale *uuid.UUID `json:"scale,omitempty" format:"uuid"`
}

// Brief of a bowl.
type Brief struct {
	ID     uuid.UUID  `json:"id"`
	Name   string     `json:"name"`
	Day    string     `json:"day" format:"date"`
	Began  time.Time  `json:"began"`
	Ended  *time.Time `json:"ended,omitempty"`
	Result string     `json:"result" enum:",good,poor"`

	Chocolate food.Chocolate `json:"chocolate"`
	Weighs    bool           `json:"weighs" doc:"A scale stands beside it"`
}

// List of bowls.
type List struct {
	Pots []Brief `json:"pots" doc:"Those on the counter first"`
}

func (p *Pots) list(ctx context.Context, in *struct {
	Day string `query:"day" format:"date" doc:"Also those of this day that are over"`
}) (*struct{ Body List }, error) {
	out := List{Pots: []Brief{}}
	err := p.In(ctx, func(tx pgx.Tx) error {
		rows, err := tx.Query(ctx, `select id, name, to_char(day, 'YYYY-MM-DD'), began_at, ended_at, result, chocolate,
				scale_id is not null
			from pots where ended_at is null or day = nullif($1, '')::date
			order by ended_at is not null, began_at desc limit 200`, in.Day)
		if err != nil {
			return err
		}
		out.Pots, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Brief])
		return err
	})
	return &struct{ Body List }{out}, err
}

func (p *Pots) begin(ctx context.Context, in *struct {
	web.OnceKey
	Body Begin
}) (*struct{ Body Brief }, error) {
	var made Brief
	err := p.In(ctx, func(tx pgx.Tx) (err error) {
		asked := in.Body
		asked.At = nil // told again it is told with its time
		made, err = web.Once(ctx, tx, in.OnceKey, "begin-pot", asked, func() (Brief, error) {
			return p.write(ctx, tx, &in.Body)
		})
		return err
	})
	return &struct{ Body Brief }{made}, err
}

// least that can be watched: in less the probe is half of the bowl (memory; rules 3.4 melt 30 g in a cup).
const least = 30

func (b *Begin) check() error {
	var f invalid.Faults
	if !b.Method.Fits(b.Chocolate.Kind) {
		f.Add("method", reason.Of("pots.method-does-not-fit"))
	}
	if b.Grams < least {
		f.Add("grams", reason.Of("pots.too-little", measure.ShowGrams(least)))
	}
	if err := b.Chocolate.Temperatures().Check(); err != nil {
		f.Add("chocolate.bands", reason.Because(err))
	}
	if b.Pool > 0 && b.Pool >= b.Grams {
		f.Add("pool", reason.Of("pots.pool-is-all", measure.ShowGrams(si.Grams(b.Grams))))
	}
	return f.Err()
}

func (p *Pots) write(ctx context.Context, tx pgx.Tx, b *Begin) (Brief, error) {
	if err := b.check(); err != nil {
		return Brief{}, err
	}
	zone, room, err := p.House(ctx, tx)
	if err != nil {
		return Brief{}, err
	}
	began, err := p.began(b.At)
	if err != nil {
		return Brief{}, err
	}
	if b.Day == "" {
		b.Day = began.In(zone).Format(time.DateOnly)
	}
	bowl := temper.Bowl{Kind: b.Chocolate.Kind, Colour: b.Chocolate.Colour, Bands: b.Chocolate.Temperatures(),
		Method: b.Method, Source: b.Source, Mass: si.Grams(b.Grams), Room: room, Pieces: b.Pieces,
		Coat: si.Grams(b.Coat), Pool: si.Grams(b.Pool)}
	if bowl.Watts, err = learned(ctx, tx, b.Source); err != nil {
		return Brief{}, err
	}
	made := Brief{ID: db.NewID(), Name: b.Name, Day: b.Day, Began: began, Chocolate: b.Chocolate,
		Weighs: b.Scale != nil}
	if b.ID != nil {
		made.ID = *b.ID
	}
	tag, err := tx.Exec(ctx, `insert into pots (kitchen_id, id, day, name, chocolate, bowl, probe_id, scale_id, began_at,
			began_by) values (zt_kitchen(), $1, $2::text::date, $3, $4, $5, $6, $7, $8, $9)
			on conflict (kitchen_id, id) do nothing`, made.ID, b.Day, b.Name, b.Chocolate, bowl, b.Probe, b.Scale, began,
		web.ActorOf(ctx).Person)
	if err != nil || tag.RowsAffected() > 0 {
		return made, p.taken(err)
	}
	was, err := p.load(ctx, tx, made.ID, "")
	if err != nil {
		return Brief{}, err
	}
	return was.Brief, nil
}

// began is when a bowl was, by a device that has been without a network.
func (p *Pots) began(at *time.Time) (time.Time, error) {
	now := p.Clock()
	switch {
	case at == nil:
		return now, nil
	case at.After(now.Add(slack)):
		return now, invalid.At("at", reason.Of("pots.in-the-future"))
	case at.Before(now.Add(-eldest)):
		return now, invalid.At("at", reason.Of("pots.begun-too-long-ago", reason.Int(int(eldest.Hours()))))
	case at.After(now):
		return now, nil
	}
	return *at, nil
}

// taken is why a sensor cannot be had.
func (p *Pots) taken(err error) error {
	var refused *pgconn.PgError
	if !errors.As(err, &refused) {
		return err
	}
	at := func(field string) string {
		if strings.Contains(refused.ConstraintName, "scale_id") {
			return "scale"
		}
		return field
	}
	switch refused.Code {
	case pgerrcode.UniqueViolation:
		return invalid.At(at("probe"), reason.Of("pots.sensor-is-at-another-bowl"))
	case pgerrcode.ForeignKeyViolation:
		return invalid.At(at("probe"), reason.Of("pots.no-such-sensor"))
	}
	return err
}

// learned is what the last bowls have shown of a source, in W; 0 where none has: the median of the last seven.
func learned(ctx context.Context, tx pgx.Tx, source chocolate.Source) (watts float64, err error) {
	err = tx.QueryRow(ctx, `select coalesce(percentile_cont(0.5) within group (order by watts), 0) from (
			select watts from pots where watts is not null and bowl->>'source' = $1 order by ended_at desc limit 7) x`,
		string(source)).Scan(&watts)
	return watts, err
}

// DeedFields of something that was done.
type DeedFields struct {
	What    temper.What `json:"what" enum:"burst,on,chill,off,seeded,added,took,dipped,weigh,smear,good,dull,anew"`
	At      *time.Time  `json:"at,omitempty" doc:"When; now where it is not given"`
	Seconds float64     `json:"seconds,omitempty" minimum:"0" maximum:"600" doc:"Of a burst"`
	Low     bool        `json:"low,omitempty" doc:"Of a burst: at the lowest power"`
	Grams   float64     `json:"grams,omitempty" minimum:"0" maximum:"20000"`
	Pieces  int         `json:"pieces,omitempty" minimum:"0" maximum:"10000"`
}

// Deed that was noted.
type Deed struct {
	ID uuid.UUID `json:"id"`
	DeedFields
	Who string `json:"who,omitempty"`
}

// slack is by how much a device's clock may be ahead.
const slack = time.Minute

// when something was: not before the bowl was begun, not in the future.
func (p *Pots) when(s *stored, at *time.Time) (time.Time, error) {
	now := p.Clock()
	switch {
	case at == nil:
		return now, nil
	case at.Before(s.Began):
		return now, invalid.At("at", reason.Of("pots.before-it-was-begun"))
	case at.After(now.Add(slack)):
		return now, invalid.At("at", reason.Of("pots.in-the-future"))
	}
	return *at, nil
}

func (p *Pots) note(ctx context.Context, in *struct {
	web.ID
	web.OnceKey
	Body DeedFields
}) (*struct{ Body Deed }, error) {
	var d Deed
	err := p.In(ctx, func(tx pgx.Tx) (err error) {
		asked := in.Body
		asked.At = nil
		d, err = web.Once(ctx, tx, in.OnceKey, "note-deed "+in.ID.ID.String(), asked, func() (Deed, error) {
			s, err := p.open(ctx, tx, in.ID.ID)
			if err != nil {
				return Deed{}, err
			}
			at, err := p.when(s, in.Body.At)
			if err != nil {
				return Deed{}, err
			}
			d := Deed{ID: db.NewID(), DeedFields: in.Body}
			d.At = &at
			_, err = tx.Exec(ctx, `insert into pot_deeds (kitchen_id, id, pot_id, at, what, seconds, low, grams, pieces,
					by_id) values (zt_kitchen(), $1, $2, $3, $4, $5, $6, $7, $8, $9)`, d.ID, in.ID.ID, at, d.What,
				d.Seconds, d.Low, d.Grams, d.Pieces, web.ActorOf(ctx).Person)
			return d, err
		})
		return err
	})
	return &struct{ Body Deed }{d}, err
}

func (p *Pots) undo(ctx context.Context, in *struct {
	web.ID
	Deed uuid.UUID `path:"was" format:"uuid"`
}) (*struct{}, error) {
	return nil, p.In(ctx, func(tx pgx.Tx) error {
		if _, err := p.open(ctx, tx, in.ID.ID); err != nil {
			return err
		}
		// What is taken back twice, after an answer that was lost, is taken back.
		_, err := tx.Exec(ctx, `delete from pot_deeds where pot_id = $1 and id = $2`, in.ID.ID, in.Deed)
		return err
	})
}

func (p *Pots) instruments(ctx context.Context, in *struct {
	web.ID
	Body Instruments
}) (*struct{}, error) {
	return nil, p.In(ctx, func(tx pgx.Tx) error {
		if _, err := p.open(ctx, tx, in.ID.ID); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `update pots set probe_id = $2, scale_id = $3 where id = $1`, in.ID.ID, in.Body.Probe,
			in.Body.Scale)
		return p.taken(err)
	})
}

// Ended is how a bowl came out.
type Ended struct {
	Result  string   `json:"result" enum:",good,poor" doc:"As it looked when it had set"`
	Remains *float64 `json:"remains,omitempty" minimum:"0" maximum:"20000" doc:"g that are left in it"`
	Note    string   `json:"note,omitempty" maxLength:"1000"`
}

// end a bowl: its curve is kept, and what its bursts brought.
func (p *Pots) end(ctx context.Context, in *struct {
	web.ID
	Body Ended
}) (*struct{}, error) {
	return nil, p.In(ctx, func(tx pgx.Tx) error {
		s, err := p.load(ctx, tx, in.ID.ID, " for update of p")
		if err != nil {
			return err
		}
		now := p.Clock()
		if s.Ended != nil { // only how it came out is said anew
			now = *s.Ended
		}
		w, beside, err := p.watch(ctx, tx, s, now)
		if err != nil {
			return err
		}
		var watts *float64
		found, bursts := w.Power()
		if bursts > 0 && s.Ended == nil {
			watts = &found
		}
		if s.Ended != nil {
			_, err = tx.Exec(ctx, `update pots set result = $2, remains = $3, note = $4 where id = $1`, s.ID,
				in.Body.Result, in.Body.Remains, in.Body.Note)
			return err
		}
		_, err = tx.Exec(ctx, `update pots set ended_at = $2, result = $3, remains = $4, note = $5, watts = $6, bursts = $7,
				curve = $8 where id = $1`, s.ID, now, in.Body.Result, in.Body.Remains, in.Body.Note, watts, bursts,
			Curve{thin(w.Said, fewPoints), thin(beside.grams, fewPoints)})
		return err
	})
}

func (p *Pots) resume(ctx context.Context, in *web.ID) (*struct{}, error) {
	return nil, p.In(ctx, func(tx pgx.Tx) error {
		if _, err := p.load(ctx, tx, in.ID, " for update of p"); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `update pots set ended_at = null, curve = null, watts = null, bursts = 0 where id = $1`,
			in.ID)
		return p.taken(err)
	})
}
