package pots

import (
	"cmp"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"math"
	mathrand "math/rand/v2"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Kind of a sensor.
type Kind string

const (
	Probe Kind = "probe"
	Scale Kind = "scale"
)

// Sensor is a thermometer or a scale of the kitchen.
type Sensor struct {
	ID        uuid.UUID  `json:"id"`
	Kind      Kind       `json:"kind" enum:"probe,scale"`
	Name      string     `json:"name"`
	Unit      string     `json:"unit" enum:"C,F,g,oz" doc:"In which it tells what it tells"`
	Simulated bool       `json:"simulated"`
	Pot       *uuid.UUID `json:"pot,omitempty" doc:"The bowl that it is at"`
	LastAt    *time.Time `json:"lastAt,omitempty" doc:"When it said something, of a real one"`
	Last      *float64   `json:"last,omitempty" doc:"What that was, °C or g"`
}

// SensorFields of one that is added.
type SensorFields struct {
	Kind      Kind   `json:"kind" enum:"probe,scale"`
	Name      string `json:"name" minLength:"1" maxLength:"60"`
	Unit      string `json:"unit" enum:"C,F,g,oz"`
	Simulated bool   `json:"simulated,omitempty" doc:"One that is not there, to try things with"`
}

// Linked is a sensor with the path to which it posts: it is told once.
type Linked struct {
	Sensor
	Path string `json:"path,omitempty" doc:"To which it posts; whoever has it can post. Not given of one that is simulated"`
}

// Sensors of a kitchen.
type Sensors struct {
	Sensors []Sensor `json:"sensors"`
}

func (p *Pots) sensors(op func(id, method, path, summary string, status int) huma.Operation) {
	web.Register(p.Base, op("list-sensors", "GET", "/sensors", "Thermometers and scales of the kitchen", 0), p.listSensors)
	web.Register(p.Base, op("add-sensor", "POST", "/sensors", "Add a thermometer or a scale", http.StatusCreated), p.addOne)
	web.Register(p.Base, op("renew-sensor-link", "POST", "/sensors/{id}/link",
		"A new link to post to: the one before is over", 0), p.renew)
	web.Register(p.Base, op("remove-sensor", "DELETE", "/sensors/{id}", "Take a thermometer or a scale away",
		http.StatusNoContent), p.remove)
	device := op("post-readings", "POST", "/devices/{secret}/readings",
		"What a thermometer or a scale says, posted by itself", 0)
	device.Security, device.Errors = web.Open, []int{http.StatusTooManyRequests}
	web.Register(p.Base, device, p.post)
}

const selectSensors = `select s.id, s.kind, s.name, s.unit, s.secret is null, p.id, s.last_at, s.last_value
	from sensors s left join pots p on p.kitchen_id = s.kitchen_id and s.id in (p.probe_id, p.scale_id)
		and p.ended_at is null where s.gone_at is null`

func (p *Pots) listSensors(ctx context.Context, _ *struct{}) (*struct{ Body Sensors }, error) {
	var out Sensors
	err := p.In(ctx, func(tx pgx.Tx) error {
		rows, err := tx.Query(ctx, selectSensors+` order by s.kind, s.name, s.id`)
		if err != nil {
			return err
		}
		out.Sensors, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Sensor])
		return err
	})
	return &struct{ Body Sensors }{out}, err
}

// most sensors of a kitchen.
const most = 20

// secret that a device knows, and the hash that is kept of it.
func secret() (path, hash string) {
	var b [24]byte
	_, _ = rand.Read(b[:]) // never fails, as its documentation says
	word := base64.RawURLEncoding.EncodeToString(b[:])
	return "/api/v1/devices/" + word + "/readings", hashOf(word)
}

func hashOf(word string) string {
	sum := sha256.Sum256([]byte(word))
	return hex.EncodeToString(sum[:])
}

func (p *Pots) addOne(ctx context.Context, in *struct {
	web.OnceKey
	Body SensorFields
}) (*struct{ Body Linked }, error) {
	var made Linked
	err := p.In(ctx, func(tx pgx.Tx) (err error) {
		made, err = web.Once(ctx, tx, in.OnceKey, "add-sensor", in.Body, func() (Linked, error) {
			return p.Add(ctx, tx, in.Body)
		})
		return err
	})
	return &struct{ Body Linked }{made}, err
}

// Add a thermometer or a scale.
func (p *Pots) Add(ctx context.Context, tx pgx.Tx, s SensorFields) (Linked, error) {
	if scale := s.Unit == "g" || s.Unit == "oz"; scale != (s.Kind == Scale) {
		return Linked{}, invalid.At("unit", reason.Of("pots.unit-of-another-kind"))
	}
	if err := db.LockKitchen(ctx, tx); err != nil {
		return Linked{}, err
	}
	var n int
	if err := tx.QueryRow(ctx, `select count(*) from sensors where gone_at is null`).Scan(&n); err != nil {
		return Linked{}, err
	}
	if n >= most {
		return Linked{}, web.Reject(http.StatusConflict, "pots.too-many-sensors", reason.Int(most))
	}
	made := Linked{Sensor: Sensor{ID: db.NewID(), Kind: s.Kind, Name: s.Name, Unit: s.Unit, Simulated: s.Simulated}}
	var hash *string
	if !s.Simulated {
		hash = new(string)
		made.Path, *hash = secret()
		if err := web.Note(ctx, tx, p.Clock(), web.LinkMade, s.Name); err != nil {
			return Linked{}, err
		}
	}
	_, err := tx.Exec(ctx, `insert into sensors (kitchen_id, id, kind, name, unit, secret, seed, made_at)
		values (zt_kitchen(), $1, $2, $3, $4, $5, $6, $7)`, made.ID, s.Kind, s.Name, s.Unit, hash, mathrand.Int64(),
		p.Clock())
	return made, err
}

func (p *Pots) renew(ctx context.Context, in *web.ID) (*struct{ Body Linked }, error) {
	var made Linked
	err := p.In(ctx, func(tx pgx.Tx) error {
		path, hash := secret()
		tag, err := tx.Exec(ctx, `update sensors set secret = $2 where id = $1 and secret is not null and gone_at is null`,
			in.ID, hash)
		if err == nil && tag.RowsAffected() == 0 {
			return web.NotFound("sensor")
		}
		if err != nil {
			return err
		}
		rows, err := tx.Query(ctx, selectSensors+` and s.id = $1`, in.ID)
		if err != nil {
			return err
		}
		made.Path = path
		if made.Sensor, err = pgx.CollectExactlyOneRow(rows, pgx.RowToStructByPos[Sensor]); err != nil {
			return err
		}
		return web.Note(ctx, tx, p.Clock(), web.LinkMade, made.Name)
	})
	return &struct{ Body Linked }{made}, err
}

// remove a sensor: its link is over, and it is out of the bowl that it was at.
func (p *Pots) remove(ctx context.Context, in *web.ID) (*struct{}, error) {
	return nil, p.In(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `update sensors set gone_at = $2, secret = null where id = $1 and gone_at is null`, in.ID,
			p.Clock())
		if err == nil && tag.RowsAffected() == 0 {
			return web.NotFound("sensor")
		}
		if err == nil {
			_, err = tx.Exec(ctx, `update pots set probe_id = nullif(probe_id, $1), scale_id = nullif(scale_id, $1)
				where ended_at is null and $1 in (probe_id, scale_id)`, in.ID)
		}
		return err
	})
}

// Reading of a sensor.
type Reading struct {
	At    *time.Time `json:"at,omitempty" doc:"When; now where it is not given"`
	Value float64    `json:"value" minimum:"-1000" maximum:"100000"`
	Unit  string     `json:"unit,omitempty" enum:"C,F,g,oz" doc:"The sensor's own where it is not given"`
}

// Posted readings.
type Posted struct {
	Readings []Reading `json:"readings" minItems:"1" maxItems:"100" doc:"In any order; of one second the first is kept"`
}

// Kept is what became of them.
type Kept struct {
	Kept int    `json:"kept" doc:"That belong to a bowl now"`
	Pot  string `json:"pot,omitempty" doc:"What that bowl is called; none: the sensor is at no bowl, and only the last reading is shown"`
}

// eldest reading that a device may bring after it has been without a network.
const eldest = 12 * time.Hour

// inSI is a value in °C or g.
func inSI(value float64, unit string) float64 {
	switch unit {
	case "F":
		return measure.Celsius(value)
	case "oz":
		return value * measure.GramsPerOunce
	}
	return value
}

// post what a device says, at the link that only it knows.
func (p *Pots) post(ctx context.Context, in *struct {
	Secret string `path:"secret" minLength:"32" maxLength:"32"`
	Body   Posted
}) (*struct{ Body Kept }, error) {
	var kitchen uuid.UUID
	var s Sensor
	err := db.Begin(ctx, p.Pool, func(tx pgx.Tx) error {
		hash := hashOf(in.Secret)
		if err := db.Set(ctx, tx, "zt.device_link", hash); err != nil {
			return err
		}
		return tx.QueryRow(ctx, `select kitchen_id, id, kind, unit from sensors where secret = $1`, hash).
			Scan(&kitchen, &s.ID, &s.Kind, &s.Unit)
	})
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, web.Reject(http.StatusNotFound, "pots.link-is-over")
	}
	if err != nil {
		return nil, err
	}
	now := p.Clock()
	for i, r := range in.Body.Readings {
		at := fmt.Sprintf("readings[%d]", i)
		scale := r.Unit == "g" || r.Unit == "oz"
		switch {
		case r.At != nil && r.At.After(now.Add(slack)):
			return nil, invalid.At(at+".at", reason.Of("pots.in-the-future"))
		case r.At != nil && r.At.Before(now.Add(-eldest)):
			return nil, invalid.At(at+".at", reason.Of("pots.too-long-ago", reason.Int(int(eldest.Hours()))))
		case math.IsNaN(r.Value) || r.Unit != "" && scale != (s.Kind == Scale):
			return nil, invalid.At(at+".unit", reason.Of("pots.unit-of-another-kind"))
		}
	}
	ctx = web.WithWho(ctx, web.Actor{Kitchen: kitchen})
	var kept Kept
	err = p.In(ctx, func(tx pgx.Tx) error {
		kept = Kept{}
		list, err := find(ctx, tx, `p.ended_at is null and $1 in (p.probe_id, p.scale_id)`, s.ID)
		if err != nil {
			return err
		}
		if err := p.last(ctx, tx, &s, in.Body.Readings, now); err != nil || len(list) == 0 {
			return err
		}
		kept.Pot = list[0].Name
		kept.Kept, err = p.keep(ctx, tx, list[0], &s, in.Body.Readings, now)
		return err
	})
	return &struct{ Body Kept }{kept}, err
}

// last is what a sensor said last, whether a bowl keeps it or not.
func (p *Pots) last(ctx context.Context, tx pgx.Tx, s *Sensor, list []Reading, now time.Time) error {
	at, value := time.Time{}, 0.0
	for _, r := range list {
		if x := timeOf(r, now); !x.Before(at) {
			at, value = x, inSI(r.Value, cmp.Or(r.Unit, s.Unit))
		}
	}
	_, err := tx.Exec(ctx, `update sensors set last_at = $2, last_value = $3 where id = $1
		and (last_at is null or last_at <= $2)`, s.ID, at, value)
	return err
}

func timeOf(r Reading, now time.Time) time.Time {
	if r.At == nil || r.At.After(now) {
		return now
	}
	return *r.At
}

// keep readings with a bowl, at most one a second, and tell the pages that show it.
func (p *Pots) keep(ctx context.Context, tx pgx.Tx, of *stored, s *Sensor, list []Reading, now time.Time) (int, error) {
	what := "temp"
	if s.Kind == Scale {
		what = "grams"
	}
	times, values := make([]time.Time, 0, len(list)), make([]float64, 0, len(list))
	for _, r := range list {
		if at := timeOf(r, now).Truncate(time.Second); !at.Before(of.Began.Truncate(time.Second)) {
			times, values = append(times, at), append(values, inSI(r.Value, cmp.Or(r.Unit, s.Unit)))
		}
	}
	var id *uuid.UUID
	if s.ID != uuid.Nil {
		id = &s.ID
	}
	tag, err := tx.Exec(ctx, `insert into readings (kitchen_id, pot_id, what, at, value, sensor_id)
		select zt_kitchen(), $1, $2, x.at, x.value, $5 from unnest($3::timestamptz[], $4::double precision[]) x(at, value)
		on conflict do nothing`, of.ID, what, times, values, id)
	if err != nil || tag.RowsAffected() == 0 {
		return 0, err
	}
	points := make([]Point, 0, len(times))
	for i, at := range times {
		points = append(points, Point{max(of.since(at), 0), values[i]})
	}
	u := Update{Pot: of.ID}
	if what == "temp" {
		u.Temps = points
	}
	w, beside, err := p.watch(ctx, tx, of, now)
	if err != nil {
		return 0, err
	}
	if what == "grams" {
		u.Grams = beside.at(points)
	}
	u.Advice, u.Now = adviceOf(w.Advise()), w.Now
	u.Advice.Scale = wrong(&beside.level)
	return int(tag.RowsAffected()), p.tell(ctx, tx, &u)
}

// typed is what somebody read off a thermometer or a scale.
func (p *Pots) typed(ctx context.Context, in *struct {
	web.ID
	web.OnceKey
	Body struct {
		Kind Kind `json:"kind" enum:"probe,scale"`
		Reading
	}
}) (*struct{}, error) {
	return nil, p.In(ctx, func(tx pgx.Tx) error {
		asked := in.Body
		asked.At = nil
		_, err := web.Once(ctx, tx, in.OnceKey, "note-reading "+in.ID.ID.String(), asked, func() (struct{}, error) {
			s, err := p.open(ctx, tx, in.ID.ID)
			if err != nil {
				return struct{}{}, err
			}
			at, err := p.when(s, in.Body.At)
			if err != nil {
				return struct{}{}, err
			}
			r := in.Body.Reading
			scale := r.Unit == "g" || r.Unit == "oz"
			if r.Unit != "" && scale != (in.Body.Kind == Scale) {
				return struct{}{}, invalid.At("unit", reason.Of("pots.unit-of-another-kind"))
			}
			if c := inSI(r.Value, r.Unit); in.Body.Kind == Probe && (c < -20 || c > 110) {
				return struct{}{}, invalid.At("value", reason.Of("pots.no-chocolate-is-so-warm"))
			}
			r.At = &at
			_, err = p.keep(ctx, tx, s, &Sensor{Kind: in.Body.Kind}, []Reading{r}, p.Clock())
			return struct{}{}, err
		})
		return err
	})
}
