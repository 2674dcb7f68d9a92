package handover

import (
	"context"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/route"
	"zestytin/core/si"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/roads"
	"zestytin/internal/platform/web"
)

// Choices is what somebody has settled of the drives of a day; the rest follows.
type Choices struct {
	Sequence []uuid.UUID              `json:"sequence" maxItems:"200" doc:"Orders in the order in which one drives to them; empty: the best"`
	Leaves   map[uuid.UUID]si.Minutes `json:"leaves" doc:"When the drive that has this order leaves, minute of the day; not given: at the best time"`
	Doors    map[uuid.UUID]si.Minutes `json:"doors" doc:"Minutes at the door, by order"`
	Stays    *bool                    `json:"stays,omitempty" doc:"Whoever drives must be at home for pickups; not given: where one person works that day"`
	Hand     int                      `json:"hand" minimum:"0" maximum:"8" doc:"Which person drives, from 0"`
	Warmest  *float64                 `json:"warmest,omitempty" minimum:"-40" maximum:"60" doc:"How warm it gets that day, C; not given: by the forecast"`
	Planned  bool                     `json:"planned" doc:"The plan leaves the time of the drives alone"`
}

// DriveDay is the drives of a day. Times are minutes of the day on the wall clock.
type DriveDay struct {
	Day      string          `json:"day" format:"date"`
	Home     string          `json:"home" doc:"The kitchen's address; empty where none is told"`
	HomeAt   *roads.Position `json:"homeAt,omitempty"`
	Drives   []Drive         `json:"drives"`
	Unknown  []Unknown       `json:"unknown" doc:"Addresses of which nobody has said where they are"`
	Pickups  []Pickup        `json:"pickups" doc:"For which somebody must be at home"`
	Setups   []Setup         `json:"setups" doc:"What is set up at events to which nothing is brought"`
	Choices  Choices         `json:"choices"`
	People   int             `json:"people" doc:"Who work that day"`
	Stays    bool            `json:"stays" doc:"Whoever drives must be at home for the pickups"`
	Stale    bool            `json:"stale" doc:"The plan has another time for them than they take now"`
	Proven   bool            `json:"proven" doc:"No order of drops is better; of many the best that was found"`
	Warmest  float64         `json:"warmest" doc:"C, in the shade"`
	Says     []reason.Reason `json:"says" doc:"On what it rests, and what to look at"`
	Tells    bool            `json:"tells" doc:"Customers are told when one is on the way to them"`
	Displace []reason.Reason `json:"displace" doc:"What finds no room in the plan any more; told when the drives are put into it"`
}

// Unknown address.
type Unknown struct {
	Order    *uuid.UUID `json:"order,omitempty" doc:"Not given: the kitchen itself"`
	Customer string     `json:"customer,omitempty"`
	Address  string     `json:"address"`
}

// Pickup at home.
type Pickup struct {
	Order    uuid.UUID  `json:"order"`
	Customer string     `json:"customer"`
	From     si.Minutes `json:"from"`
	To       si.Minutes `json:"to"`
}

// Drive from home and back.
type Drive struct {
	Leave    si.Minutes         `json:"leave"`
	Back     si.Minutes         `json:"back"`
	Road     si.Minutes         `json:"road" doc:"Minutes on the road"`
	Distance measure.Shown      `json:"distance"`
	Late     si.Minutes         `json:"late" doc:"By how much windows are missed, all together"`
	Drops    []Drop             `json:"drops"`
	Ways     [][]roads.Position `json:"ways" doc:"Along which one drives: to each drop, and home"`
	Says     []reason.Reason    `json:"says" doc:"Whether all is in time, and what would help where it is not"`
	Chests   []Chest            `json:"chests" doc:"Cool boxes that are needed"`
	Warmth   []Warmth           `json:"warmth"`
	Heat     []reason.Reason    `json:"heat" doc:"What the heat asks for"`
}

// Drop of a drive, or a pickup for which one comes home.
type Drop struct {
	Order    uuid.UUID       `json:"order"`
	Number   int             `json:"number"`
	Customer string          `json:"customer"`
	Phone    string          `json:"phone,omitempty"`
	Address  string          `json:"address"`
	AtHome   bool            `json:"atHome" doc:"A pickup: one is at home for it"`
	At       *roads.Position `json:"at,omitempty"`
	Geo      string          `json:"geo,omitempty" doc:"Its position as a geo URI (RFC 5870)"`
	From     si.Minutes      `json:"from"`
	To       si.Minutes      `json:"to"`
	Arrive   si.Minutes      `json:"arrive"`
	Go       si.Minutes      `json:"go" doc:"When one drives on"`
	Door     si.Minutes      `json:"door" doc:"Minutes at the door"`
	Road     si.Minutes      `json:"road" doc:"Minutes from the drop before"`
	Typed    *si.Minutes     `json:"typed,omitempty" doc:"Minutes that somebody has typed for that way, when roads are free"`
	Late     si.Minutes      `json:"late"`
	Pieces   int             `json:"pieces"`
	Lines    []DropLine      `json:"lines" doc:"What is handed over"`
	FreeFrom []string        `json:"freeFrom"`
	Notes    string          `json:"notes,omitempty"`
	State    order.State     `json:"state" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled"`
	Outcome  string          `json:"outcome,omitempty" enum:"handed over,in part,nobody there,brought back"`
	Note     string          `json:"note,omitempty" doc:"On the outcome"`
	Told     bool            `json:"told" doc:"They were told that one is on the way"`
	Care     []reason.Reason `json:"care" doc:"What the heat asks for at this door"`
}

// Chest is a cool box.
type Chest struct {
	Care  route.Care `json:"care" enum:"cold,cool,mild"`
	For   []string   `json:"for" doc:"Customers"`
	Packs int        `json:"packs" doc:"Ice packs of 400 g"`
	Lasts si.Minutes `json:"lasts" doc:"Until when they last"`
}

// Warmth at a time of a drive, C.
type Warmth struct {
	At  si.Minutes `json:"at"`
	Air float64    `json:"air" doc:"In the shade"`
	Car float64    `json:"car"`
}

// Placed is where an address is.
type Placed struct {
	Address string      `json:"address" minLength:"1" maxLength:"300"`
	At      string      `json:"at,omitempty" maxLength:"100" doc:"Its position as it was pasted: 46.01, -28.02, or a geo URI"`
	From    string      `json:"from,omitempty" maxLength:"300" doc:"With minutes: where the way begins; empty: at home"`
	Minutes *si.Minutes `json:"minutes,omitempty" minimum:"0" maximum:"600" doc:"In the place of a position: how long one drives"`
	Forget  bool        `json:"forget,omitempty" doc:"Forget the minutes that were typed for this way"`
}

// RoadMap is the map as it is drawn.
type RoadMap struct {
	Streets []roads.Street   `json:"streets"`
	Water   []roads.Position `json:"water"`
}

// OnDay is the path of a day.
type OnDay struct {
	Day string `path:"day" format:"date"`
}

func (o *Handover) registerDrive() {
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1/" + path, Summary: summary,
			Tags: []string{"Handover"}}
	}
	web.Register(o.Base, op("get-drives", "GET", "drives/{day}",
		"The drives of a day: in which order, when to leave, how much ice"), o.drives)
	web.Register(o.Base, op("get-drive-search", "GET", "drives/{day}/search",
		"How far the search for the best order of a day's drops has come"), o.search)
	web.Register(o.Base, op("put-drives", "PUT", "drives/{day}",
		"Settle the order of drops, when to leave, who drives; put the drives into the plan or take them out"), o.putDrives)
	web.Register(o.Base, op("put-drop", "PUT", "drives/{day}/drops/{id}", "What became of a drop; the order follows"),
		o.putDrop)
	web.Register(o.Base, op("delete-drop", "DELETE", "drives/{day}/drops/{id}", "It is still to be driven to after all"),
		o.deleteDrop)
	web.Register(o.Base, op("place-address", "PUT", "positions",
		"Say where an address is, or how long one drives there; it is remembered"), o.putPosition)
	web.Register(o.Base, op("get-road-map", "GET", "road-map", "The roads as they are drawn"), o.roadMap)
	file := op("get-drive-sheet", "GET", "drives/{day}/sheet.pdf", "The drives of a day on paper")
	file.Responses = web.FileOf("application/pdf", "A PDF")
	web.Register(o.Base, file, o.driveSheet)
}

func (o *Handover) drives(ctx context.Context, in *OnDay) (*web.Tagged[DriveDay], error) {
	var d *driving
	err := o.In(ctx, func(tx pgx.Tx) (err error) { d, err = o.shown(ctx, tx, in.Day); return err })
	if err != nil {
		return nil, err
	}
	return web.TaggedBy(d.revision, d.view), nil
}

func (o *Handover) putDrives(ctx context.Context, in *struct {
	OnDay
	web.IfMatch
	Body Choices
}) (*web.Tagged[DriveDay], error) {
	var d *driving
	err := o.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		was, err := loadChoices(ctx, tx, in.Day)
		if err != nil {
			return err
		}
		if err := in.Matches(was.revision, func() (any, error) {
			now, err := o.drive(ctx, tx, in.Day)
			if err != nil {
				return nil, err
			}
			return now.view, nil
		}); err != nil {
			return err
		}
		if err := in.Body.check(); err != nil {
			return err
		}
		if err := storeChoices(ctx, tx, in.Day, &in.Body); err != nil {
			return err
		}
		if d, err = o.drive(ctx, tx, in.Day); err != nil {
			return err
		}
		if !in.Body.Planned && !was.Planned {
			return nil
		}
		lost, err := o.intoPlan(ctx, tx, d)
		d.view.Displace, d.view.Stale = append(d.view.Displace, lost...), false
		return err
	})
	if err != nil {
		return nil, err
	}
	return web.TaggedBy(d.revision, d.view), nil
}

// intoPlan puts the drives of a day into the plan, or takes them out of it.
func (o *Handover) intoPlan(ctx context.Context, tx pgx.Tx, d *driving) ([]reason.Reason, error) {
	leaves := map[uuid.UUID]time.Time{}
	var list []plan.Errand
	if d.view.Choices.Planned {
		list = d.errands()
		for _, e := range list {
			for _, id := range e.Orders {
				leaves[uuid.MustParse(string(id))] = d.cal.Time(d.cal.At(d.day, e.From))
			}
		}
	}
	if err := o.Leaves(ctx, tx, d.cal.Time(d.cal.Begin(d.day)), d.cal.Time(d.cal.Begin(d.day+1)), leaves); err != nil {
		return nil, err
	}
	return o.SetErrands(ctx, tx, d.view.Day, list)
}

func (o *Handover) putPosition(ctx context.Context, in *struct{ Body Placed }) (*struct{}, error) {
	who, b := web.ActorOf(ctx), &in.Body
	address := roads.Key(b.Address)
	if address == "" {
		return nil, invalid.At("address", reason.Of("handover.name-the-address"))
	}
	return nil, o.In(ctx, func(tx pgx.Tx) error {
		if b.Minutes != nil || b.Forget {
			from := roads.Key(b.From)
			if from == "" {
				home, err := o.Home(ctx, tx)
				if err != nil {
					return err
				}
				if from = roads.Key(home); from == "" {
					from = unnamedHome
				}
			}
			if b.Forget { // typed one way, they hold for both
				_, err := tx.Exec(ctx, `delete from legs where from_place in ($1, $2) and to_place in ($1, $2)`, from, address)
				return err
			}
			_, err := tx.Exec(ctx, `insert into legs (kitchen_id, from_place, to_place, minutes) values ($1, $2, $3, $4)
				on conflict (kitchen_id, from_place, to_place) do update set minutes = excluded.minutes`,
				who.Kitchen, from, address, *b.Minutes)
			return err
		}
		at, ok := roads.Read(b.At)
		if !ok {
			return invalid.At("at", reason.Of("handover.not-a-position", reason.Name(b.At)))
		}
		_, err := tx.Exec(ctx, `insert into positions (kitchen_id, address, lat, lon) values ($1, $2, $3, $4)
			on conflict (kitchen_id, address) do update set lat = excluded.lat, lon = excluded.lon`,
			who.Kitchen, address, at.Lat, at.Lon)
		return err
	})
}

func (o *Handover) roadMap(context.Context, *struct{}) (*struct{ Body RoadMap }, error) {
	m := RoadMap{Streets: []roads.Street{}, Water: []roads.Position{}}
	if drawn, ok := o.Roads.(roads.Drawn); ok {
		m.Streets, m.Water = drawn.Drawing()
	}
	return &struct{ Body RoadMap }{m}, nil
}

// notADay is what a day of the address is that is none.
func notADay(day string) error {
	return web.Reject(http.StatusUnprocessableEntity, "planning.not-date-write-like", reason.Name(day))
}
