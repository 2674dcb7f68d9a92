// Package orders keeps the orders, from enquiry to settled.
package orders

import (
	"context"
	"net/http"
	"reflect"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// Deps is what the orders need of other rooms.
type Deps struct {
	// Kitchen is what the estimate must know: with the versions of treats that pins names, and with all taken time and
	// stock but that of the order except.
	Kitchen func(ctx context.Context, tx pgx.Tx, except uuid.UUID, pins map[ident.Treat]int,
		scope order.Scope) (*order.Inputs, error)
	Plan Plan
	// Turn books what batches took that have been made, or puts it back where they no longer are.
	Turn func(ctx context.Context, tx pgx.Tx, id uuid.UUID) error
	// Pack takes the packaging of an order off the shelf, Unpack puts it back.
	Pack   func(ctx context.Context, tx pgx.Tx, id uuid.UUID) error
	Unpack func(ctx context.Context, tx pgx.Tx, id uuid.UUID) error
	// Settle notes that what is owed for an order was paid, Unsettle takes that note back.
	Settle   func(ctx context.Context, tx pgx.Tx, id uuid.UUID) error
	Unsettle func(ctx context.Context, tx pgx.Tx, id uuid.UUID) error
	// Tell the customer what has just happened to an order, where the seller wants that told.
	Tell func(ctx context.Context, tx pgx.Tx, id uuid.UUID) error
	// Logo of the kitchen, a PNG; nil where it has none.
	Logo func(ctx context.Context, tx pgx.Tx) ([]byte, error)
}

// Plan is where the work for orders is planned.
type Plan interface {
	// Save the days of an order, Unschedule them before others are saved in their place, Release them, or Cancel what
	// is still to be made.
	Save(ctx context.Context, tx pgx.Tx, id uuid.UUID, r *order.Estimate, w *order.PlanningContext) error
	// SaveAgain plans more pieces of a line beside those that were promised.
	SaveAgain(ctx context.Context, tx pgx.Tx, id uuid.UUID, line int, r *order.Estimate,
		w *order.PlanningContext) error
	Unschedule(ctx context.Context, tx pgx.Tx, id uuid.UUID) error
	Release(ctx context.Context, tx pgx.Tx, id uuid.UUID) error
	Cancel(ctx context.Context, tx pgx.Tx, id uuid.UUID) error
	// DeleteHistory of what was made for an order that begins anew after it was cancelled.
	DeleteHistory(ctx context.Context, tx pgx.Tx, id uuid.UUID) error
	// DoneSteps is how many steps of what is made for an order are done; MarkAllDone ticks the rest.
	// OrdersSharingBatches are the orders that are made together with it.
	DoneSteps(ctx context.Context, tx pgx.Tx, id uuid.UUID) (int, error)
	MarkAllDone(ctx context.Context, tx pgx.Tx, id uuid.UUID) error
	OrdersSharingBatches(ctx context.Context, tx pgx.Tx, id uuid.UUID) ([]uuid.UUID, error)
}

// Orders is the feature.
type Orders struct {
	web.Base
	Deps
}

// Register adds the operations.
func Register(h web.Base, needs Deps) *Orders {
	o := &Orders{h, needs}
	tags := []string{"Orders"}
	web.Register(h, huma.Operation{OperationID: "list-orders", Method: "GET", Path: "/api/v1/orders",
		Summary: "The orders by handover, a page at a time", Tags: tags}, o.list)
	web.Register(h, huma.Operation{OperationID: "create-order", Method: "POST", Path: "/api/v1/orders",
		Summary: "Write an order; it begins as an enquiry", Tags: tags, DefaultStatus: 201}, o.create)
	web.Register(h, huma.Operation{OperationID: "get-order", Method: "GET", Path: "/api/v1/orders/{id}",
		Summary: "An order with its days and its history", Tags: tags}, o.get)
	web.Register(h, huma.Operation{OperationID: "put-order", Method: "PUT", Path: "/api/v1/orders/{id}",
		Summary: "Change an order", Tags: tags}, o.put)
	web.Register(h, huma.Operation{OperationID: "blank-order", Method: "GET", Path: "/api/v1/orders/blank",
		Summary: "A new order as it is begun; nothing is saved", Tags: tags}, o.blank)
	web.Register(h, huma.Operation{OperationID: "move-order", Method: "POST", Path: "/api/v1/orders/{id}/moves",
		Summary: "Move an order on, back or out", Tags: tags}, o.move)
	web.Register(h, huma.Operation{OperationID: "estimate-order", Method: "POST", Path: "/api/v1/estimates",
		Summary: "All that follows from an order as it is typed; nothing is saved", Tags: []string{"Calculators"}},
		o.reckon)
	web.Register(h, huma.Operation{OperationID: "find-reliefs", Method: "POST", Path: "/api/v1/reliefs",
		Summary: "The single changes that would make an order fit as it is typed, each tried, smallest first; nothing is saved", Tags: []string{"Calculators"}}, o.reliefs)
	web.Register(h, huma.Operation{OperationID: "find-swaps", Method: "POST", Path: "/api/v1/swaps",
		Summary: "Other ingredients with which an order would suit its wishes, each tried; nothing is saved",
		Tags:    []string{"Calculators"}}, o.swaps)
	web.Register(h, huma.Operation{OperationID: "estimate-what-if", Method: "POST", Path: "/api/v1/what-ifs",
		Summary: "What an order would come to if some things were otherwise; nothing is saved",
		Tags:    []string{"Calculators"}}, o.whatIf)
	web.Register(h, huma.Operation{OperationID: "read-request", Method: "POST", Path: "/api/v1/calculators/request",
		Summary: "Read what a customer asks for into an order, as it is said; what is doubtful is told, nothing is saved",
		Tags:    []string{"Calculators"}}, o.readRequest)
	o.registerQuotes()
	o.registerPacking()
	o.registerPieces()
	o.registerLabels()
	return o
}

// Day is a batch of an order on its day.
type Day struct {
	Batch uuid.UUID `json:"batch"`
	Line  int       `json:"line"`
	Name  string    `json:"name"`
	Day   string    `json:"day" format:"date"`
	Hands int       `json:"hands"`
	Steps int       `json:"steps"`
	Done  int       `json:"done"`
	Short bool      `json:"short" doc:"It has no room in the plan any more"`
	Days  []string  `json:"days" doc:"All days on which it is worked on"`
	Count int       `json:"count" doc:"That the order takes of it"`
	Part  int       `json:"part" doc:"Of its line, from 1; 0: the whole of it"`
	All   int       `json:"all" doc:"How many are made in it: more than the order takes where it is made for others too"`
	With  []string  `json:"with" doc:"The customers for whom it is made as well"`
}

// Moved is a move in an order's history.
type Moved struct {
	From string    `json:"from,omitempty"`
	To   string    `json:"to,omitempty" doc:"Empty: what the order says was changed"`
	At   time.Time `json:"at"`
	Who  string    `json:"who"`
}

// Transition is where an order can go.
type Transition struct {
	To   order.State `json:"to" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled"`
	Back bool        `json:"back" doc:"It undoes a step"`
	Next bool        `json:"next" doc:"It is most likely next"`
}

// Order in full.
type Order struct {
	ID       uuid.UUID    `json:"id"`
	Number   int          `json:"number"`
	Revision int          `json:"revision"`
	State    order.State  `json:"state" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled"`
	Moves    []Transition `json:"moves" doc:"Where it can go from here"`
	Draft    order.Draft  `json:"draft"`
	Agreed   *price.Money `json:"agreed,omitempty" doc:"The price that was quoted: it stands until the order asks for another"`
	Days     []Day        `json:"days"`
	Quote    *QuoteState  `json:"quote,omitempty" doc:"The latest one"`
	History  []Moved      `json:"history"`
	Door     *AtDoor      `json:"door,omitempty" doc:"What became of it at the door, where it was on a drive"`
	Updated  time.Time    `json:"updated"`
}

// AtDoor is what was told of an order on a drive.
type AtDoor struct {
	Outcome string          `json:"outcome" enum:"handed over,in part,nobody there,brought back"`
	Note    string          `json:"note,omitempty"`
	At      time.Time       `json:"at"`
	Back    []reason.Reason `json:"back" doc:"Handed over in part: what was not"`
	Worth   *price.Money    `json:"worth,omitempty" doc:"The share of the price of what was not"`
}

// stored is an order's own row, locked or not.
type stored struct {
	Order
	pins     map[ident.Treat]int
	standing order.Commitments
}

func (o *Orders) get(ctx context.Context, in *web.ID) (*web.Tagged[Order], error) {
	var found Order
	err := o.In(ctx, func(tx pgx.Tx) (err error) { found, err = full(ctx, tx, in.ID); return err })
	return web.TaggedBy(found.Revision, found), err
}

// check a draft that is to be saved.
func check(d *order.Draft, known *order.Inputs, window bool) error {
	var f invalid.Faults
	f.Under("", d.CheckWords())
	if window {
		f.Under("", d.CheckWindow(known.Now))
	}
	f.Under("", d.CheckLines(known.Treats))
	f.Under("", d.CheckPrice(known.Rates.Currency))
	return f.Err()
}

func (o *Orders) create(ctx context.Context, in *struct {
	web.OnceKey
	Body order.Draft
}) (*web.Tagged[Order], error) {
	var made Order
	err := o.In(ctx, func(tx pgx.Tx) (err error) {
		made, err = web.Once(ctx, tx, in.OnceKey, "create-order", in.Body,
			func() (Order, error) { return o.Write(ctx, tx, in.Body) })
		return err
	})
	return web.TaggedBy(made.Revision, made), err
}

func (o *Orders) blank(ctx context.Context, _ *struct{}) (*struct{ Body order.Draft }, error) {
	var d order.Draft
	err := o.In(ctx, func(tx pgx.Tx) error {
		known, err := o.Kitchen(ctx, tx, uuid.Nil, nil, order.Scope{})
		if err == nil {
			d = order.Blank(known.Now, known.Calendar.Zero.Location())
			d.Address = text.Of(ctx).Of("orders.at-the-door")
		}
		return err
	})
	return &struct{ Body order.Draft }{d}, err
}

// Write a new enquiry.
func (o *Orders) Write(ctx context.Context, tx pgx.Tx, d order.Draft) (Order, error) {
	known, err := o.Kitchen(ctx, tx, uuid.Nil, nil, scopeOf(&d))
	if err != nil {
		return Order{}, err
	}
	if err := check(&d, known, true); err != nil {
		return Order{}, err
	}
	who, id := web.ActorOf(ctx), db.NewID()
	by, value := pricing(&d)
	_, err = tx.Exec(ctx, `with n as (update kitchens set next_order = next_order + 1
			returning next_order - 1 as number)
		insert into orders (kitchen_id, id, number, state, customer, phone, mail, occasion, way, place, from_at, to_at,
		free_from, notes, price_by, price_value, discount, distance, cash, created_at, updated_at, wishes, sets)
		select $1, $2, number, 'enquiry', $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14::text::numeric, $15, $16,
		$17, $18, $18, $19, coalesce($20::jsonb, '[]') from n`,
		who.Kitchen, id, d.Customer, d.Phone, d.Mail, d.Occasion, d.Way, d.Address, d.From, d.To, d.FreeFrom, d.Notes,
		by, value, d.Discount, d.Distance, d.Cash, o.Clock(), wishesOf(&d), d.Sets)
	if err != nil {
		return Order{}, err
	}
	if err := saveLines(ctx, tx, id, d.Lines, known); err != nil {
		return Order{}, err
	}
	if err := o.record(ctx, tx, id, nil, order.Enquiry); err != nil {
		return Order{}, err
	}
	return full(ctx, tx, id)
}

// wishesOf a draft, as they are stored: none is an empty list.
func wishesOf(d *order.Draft) []food.Diet {
	if d.Wishes == nil {
		return []food.Diet{}
	}
	return d.Wishes
}

func saveLines(ctx context.Context, tx pgx.Tx, id uuid.UUID, lines []order.Line, known *order.Inputs) error {
	batch := &pgx.Batch{}
	batch.Queue(`delete from order_lines where order_id = $1`, id)
	for i, l := range lines {
		batch.Queue(`insert into order_lines (kitchen_id, order_id, position, treat_id, treat_version, count, coating,
				note, free_from, wishes, boxes) values ($1, $2, $3, $4, $5, $6, $7, $8, coalesce($9::text[], '{}'),
				coalesce($10::text[], '{}'), coalesce($11::jsonb, '[]'))`,
			web.ActorOf(ctx).Kitchen, id, i, l.Treat, known.Treats[l.Treat].Version, l.Count, l.Coating, l.Note,
			l.FreeFrom, l.Wishes, l.Boxes)
	}
	return tx.SendBatch(ctx, batch).Close()
}

// saveNotes of the lines: what is made stays as it is planned.
func saveNotes(ctx context.Context, tx pgx.Tx, id uuid.UUID, lines []order.Line) error {
	batch := &pgx.Batch{}
	for i, l := range lines {
		batch.Queue(`update order_lines set note = $3 where order_id = $1 and position = $2 and note <> $3`, id, i, l.Note)
	}
	return tx.SendBatch(ctx, batch).Close()
}

func (o *Orders) record(ctx context.Context, tx pgx.Tx, id uuid.UUID, from *order.State, to order.State) error {
	who := web.ActorOf(ctx)
	person := &who.Person
	if who.Person == uuid.Nil { // the customer, by the quote
		person = nil
	}
	_, err := tx.Exec(ctx, `insert into order_moves (kitchen_id, id, order_id, from_state, to_state, at, person_id,
			by_customer) values ($1, $2, $3, $4, $5, $6, $7, $8)`,
		who.Kitchen, db.NewID(), id, from, to, o.Clock(), person, person == nil)
	return err
}

// recordEdit that somebody changed what an order says. It is saved as it is typed: what follows within an hour is one.
func (o *Orders) recordEdit(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	now, who := o.Clock(), web.ActorOf(ctx).Person
	tag, err := tx.Exec(ctx, `update order_edits set at = $3 where id = (select id from order_edits
			where order_id = $1 order by id desc limit 1) and person_id = $2 and at > $4`, id, who, now,
		now.Add(-time.Hour))
	if err == nil && tag.RowsAffected() == 0 {
		_, err = tx.Exec(ctx, `insert into order_edits (kitchen_id, id, order_id, person_id, at)
			values (zt_kitchen(), $1, $2, $3, $4)`, db.NewID(), id, who, now)
	}
	return err
}

func (o *Orders) put(ctx context.Context, in *struct {
	web.ID
	web.IfMatch
	Body order.Draft
}) (*web.Tagged[Order], error) {
	var changed Order
	err := o.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		s, err := load(ctx, tx, in.ID.ID, "for no key update")
		if err != nil {
			return err
		}
		if err := in.Matches(s.Revision, func() (any, error) { return full(ctx, tx, s.ID) }); err != nil {
			return err
		}
		if err := o.change(ctx, tx, s, &in.Body); err != nil {
			return err
		}
		after, err := load(ctx, tx, s.ID, "")
		if err != nil {
			return err
		}
		if !reflect.DeepEqual(s.Draft, after.Draft) {
			if err := o.recordEdit(ctx, tx, s.ID); err != nil {
				return err
			}
		}
		changed, err = full(ctx, tx, s.ID)
		return err
	})
	return web.TaggedBy(changed.Revision, changed), err
}

func (o *Orders) change(ctx context.Context, tx pgx.Tx, s *stored, d *order.Draft) error {
	known, err := o.kitchenOf(ctx, tx, s, d)
	if err != nil {
		return err
	}
	moved := !d.From.Equal(s.Draft.From) || !d.To.Equal(s.Draft.To)
	if err := check(d, known, moved); err != nil {
		return err
	}
	work := moved || len(d.Lines) != len(s.Draft.Lines)
	work = work || !slices.EqualFunc(d.Sets, s.Draft.Sets, order.BoxSet.Same)
	for i := range d.Lines {
		work = work || !d.Lines[i].Same(s.Draft.Lines[i])
	}
	if work && !s.State.Ahead() || work && s.State == order.Packed {
		return web.Reject(http.StatusConflict, "orders.cannot-change-any-more", reason.Word(s.State))
	}
	by, value := pricing(d)
	// Another window is another drive: until that is in the plan, the order is to be ready for its window.
	if _, err := tx.Exec(ctx, `update orders set customer = $2, phone = $3, mail = $4, occasion = $5, way = $6,
			place = $7, from_at = $8, to_at = $9, free_from = $10, notes = $11,
		price_by = $12, price_value = $13::text::numeric, discount = $14, distance = $15, cash = $16, updated_at = $17,
		revision = revision + 1, wishes = $18, sets = coalesce($19::jsonb, '[]'),
		leaves_at = case when from_at = $8 and way = $6 then leaves_at end where id = $1`,
		s.ID, d.Customer, d.Phone, d.Mail, d.Occasion, d.Way, d.Address, d.From, d.To, d.FreeFrom, d.Notes, by, value,
		d.Discount, d.Distance, d.Cash, o.Clock(), wishesOf(d), d.Sets); err != nil {
		return err
	}
	if s.standing.Agreed != nil && known.Commitments.Agreed == nil {
		if err := o.agree(ctx, tx, s.ID, d, known); err != nil {
			return err
		}
	}
	if !work && s.State != order.Enquiry {
		return saveNotes(ctx, tx, s.ID, d.Lines)
	}
	if s.State.Planned() {
		if err := o.Plan.Unschedule(ctx, tx, s.ID); err != nil {
			return err
		}
	}
	if err := saveLines(ctx, tx, s.ID, d.Lines, known); err != nil {
		return err
	}
	if s.State.Planned() {
		return o.promise(ctx, tx, s.ID, d, known)
	}
	return nil
}
