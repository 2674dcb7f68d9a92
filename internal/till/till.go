// Package till tells what was earned, and takes the orders out and in as CSV.
package till

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"io"
	"net/http"
	"reflect"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/danielgtaylor/huma/v2"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/table"
	"zestytin/core/till"
	"zestytin/internal/platform/web"
)

// Deps is what the till needs of other rooms.
type Deps struct {
	Kitchen func(context.Context, pgx.Tx) (*order.Inputs, error)
	// Write a new enquiry.
	Write func(context.Context, pgx.Tx, order.Draft) error
	// Context is what the till must know of the kitchen.
	Context func(context.Context, pgx.Tx) (Context, error)
	// Logo of the kitchen, a PNG; nil where it has none.
	Logo func(context.Context, pgx.Tx) ([]byte, error)
}

// Shapes are the API's words on what core hands out.
func Shapes() web.Shapes {
	return web.Shapes{
		reflect.TypeFor[PaymentFields](): {"kind": {Enum: web.OneOf(till.Kinds())}},
		reflect.TypeFor[Proposal]():      {"kind": {Enum: web.OneOf(till.Kinds())}},
		reflect.TypeFor[Payments]():      {"stands": {Enum: web.OneOf(till.Standings())}},
		reflect.TypeFor[Owed]():          {"stands": {Enum: web.OneOf(till.Standings())}},
	}
}

// Context is the kitchen's currency, clock, rate of hands and usual deposit.
type Context struct {
	Currency string
	Zone     *time.Location
	Hourly   decimal.Decimal
	Terms    price.Terms
}

// Till is the feature.
type Till struct {
	web.Base
	Deps
}

// Register adds the operations.
func Register(h web.Base, needs Deps) *Till {
	t := &Till{h, needs}
	tags := []string{"Till"}
	web.Register(h, web.GivesAway(huma.Operation{OperationID: "export-orders", Method: "GET",
		Path: "/api/v1/orders.csv", Summary: "All orders as CSV", Tags: tags,
		Responses: web.FileOf("text/csv", "A CSV file")}), t.export)
	web.Register(h, huma.Operation{OperationID: "import-orders", Method: "POST", Path: "/api/v1/orders.csv",
		Summary: "Bring orders in from CSV, as enquiries: all of them or none", Tags: tags}, t.importOrders)
	t.registerReport(tags)
	t.registerPayments(tags)
	t.registerInvoices(tags)
	return t
}

// columns of the CSV file, the same out and in.
var columns = []string{"number", "state", "customer", "phone", "mail", "occasion", "way", "place", "from", "to",
	"free from", "treats", "asked", "currency", "notes", "agreed", "suits"}

func (t *Till) export(ctx context.Context, _ *struct{}) (*web.File, error) {
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	w.UseCRLF = true // RFC 4180
	err := t.In(ctx, func(tx pgx.Tx) error {
		known, err := t.Kitchen(ctx, tx)
		if err != nil {
			return err
		}
		zone := known.Calendar.Zero.Location()
		rows, err := tx.Query(ctx, `select o.number, o.state, o.customer, o.phone, o.mail, o.occasion, o.way, o.place,
			o.from_at, o.to_at, o.free_from, o.wishes, o.notes,
			coalesce(case when o.price_by = 'price' then o.price_value end::text, ''), coalesce(o.agreed::text, ''),
			coalesce((select string_agg(l.count || ' ' || t.name || case when cardinality(l.wishes || l.free_from) > 0 then
			' {' || array_to_string(l.wishes || (select array_agg('-' || a) from unnest(l.free_from) a), ', ') || '}' else ''
			end, '; ' order by l.position) from order_lines l
			join treats t on t.kitchen_id = l.kitchen_id and t.id = l.treat_id where l.kitchen_id = o.kitchen_id
			and l.order_id = o.id), '')
			from orders o order by o.number`)
		if err != nil {
			return err
		}
		if err := w.Write(columns); err != nil {
			return err
		}
		_, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (struct{}, error) {
			var number int
			var state, treats, asked, agreed string
			var d order.Draft
			if err := row.Scan(&number, &state, &d.Customer, &d.Phone, &d.Mail, &d.Occasion, &d.Way, &d.Address,
				&d.From, &d.To, &d.FreeFrom, &d.Wishes, &d.Notes, &asked, &agreed, &treats); err != nil {
				return struct{}{}, err
			}
			record := []string{strconv.Itoa(number), state, d.Customer, d.Phone, d.Mail, d.Occasion, string(d.Way),
				d.Address,
				d.From.In(zone).Format(time.RFC3339), d.To.In(zone).Format(time.RFC3339),
				strings.Join(d.FreeFrom, "; "), treats, asked, known.Rates.Currency, d.Notes, agreed,
				joined(d.Wishes)}
			for i := range record {
				record[i] = web.Cell(record[i])
			}
			return struct{}{}, w.Write(record)
		})
		return err
	})
	w.Flush()
	return web.Download("zesty-tin-orders.csv", "text/csv; charset=utf-8", out.Bytes()), err
}

// ImportResult is what came of an import.
type ImportResult struct {
	Orders int `json:"orders" doc:"Enquiries written"`
}

const mostRows = 2000

func (t *Till) importOrders(ctx context.Context, in *struct {
	RawBody []byte `contentType:"text/csv"`
}) (*struct{ Body ImportResult }, error) {
	var b ImportResult
	err := t.In(ctx, func(tx pgx.Tx) error {
		known, err := t.Kitchen(ctx, tx)
		if err != nil {
			return err
		}
		drafts, err := read(in.RawBody, known)
		if err != nil {
			return err
		}
		var faults invalid.Faults
		for i, d := range drafts {
			if err := t.Write(ctx, tx, d); err != nil {
				if _, ok := err.(*invalid.Error); !ok {
					return err
				}
				faults.Under(fmt.Sprintf("rows[%d]", i+2), err) // as a spreadsheet numbers them: the head is row 1
			}
		}
		b.Orders = len(drafts)
		return faults.Err()
	})
	return &struct{ Body ImportResult }{b}, err
}

// read the rows of a CSV file. Lines of treats are matched by name.
func read(file []byte, known *order.Inputs) ([]order.Draft, error) {
	file = bytes.TrimPrefix(file, []byte("\ufeff"))
	kind := http.DetectContentType(file)
	if !strings.HasPrefix(kind, "text/plain") || !utf8.Valid(file) {
		return nil, web.Reject(http.StatusUnsupportedMediaType, "till.not-a-csv-file",
			reason.Name(strings.Split(kind, ";")[0]))
	}
	if table.TooWide(file) {
		return nil, web.Reject(http.StatusUnprocessableEntity, "till.a-row-is-too-long")
	}
	r := csv.NewReader(bytes.NewReader(file))
	r.FieldsPerRecord = -1
	if head, _, _ := bytes.Cut(file, []byte("\n")); bytes.Count(head, []byte(";")) > bytes.Count(head, []byte(",")) {
		r.Comma = ';'
	}
	head, err := r.Read()
	if err != nil {
		return nil, web.Reject(http.StatusUnprocessableEntity, "till.no-first-row")
	}
	at := map[string]int{}
	for i, name := range head {
		at[strings.ToLower(strings.TrimSpace(name))] = i
	}
	for _, needed := range []string{"customer", "from", "to", "treats"} {
		if _, ok := at[needed]; !ok {
			return nil, web.Reject(http.StatusUnprocessableEntity, "till.no-column", reason.Name(needed))
		}
	}
	names := map[string]ident.Treat{}
	for id, known := range known.Treats {
		names[strings.ToLower(known.Name)] = id
	}
	var drafts []order.Draft
	var faults invalid.Faults
	for row := 2; ; row++ {
		record, err := r.Read()
		if err == io.EOF {
			break
		}
		if err != nil {
			return nil, web.Reject(http.StatusUnprocessableEntity, "till.row-cannot-be-read", reason.Int(row))
		}
		if row > mostRows {
			return nil, web.Reject(http.StatusUnprocessableEntity, "till.more-rows-than", reason.Int(mostRows))
		}
		field := func(name string) string {
			if i, ok := at[name]; ok && i < len(record) {
				return strings.TrimPrefix(strings.TrimSpace(record[i]), "'")
			}
			return ""
		}
		d, err := draftOf(field, names)
		faults.Under(fmt.Sprintf("rows[%d]", row), err)
		drafts = append(drafts, d)
	}
	if len(drafts) == 0 {
		return nil, web.Reject(http.StatusUnprocessableEntity, "till.no-orders-in-the-file")
	}
	return drafts, faults.Err()
}

func draftOf(field func(string) string, treats map[string]ident.Treat) (order.Draft, error) {
	var f invalid.Faults
	d := order.Draft{Customer: field("customer"), Phone: field("phone"), Mail: field("mail"),
		Occasion: field("occasion"), Way: order.Fulfilment(field("way")),
		Address: field("place"), Notes: field("notes"), FreeFrom: list(field("free from")), Lines: []order.Line{}}
	if d.Way == "" {
		d.Way = order.Pickup
	}
	for _, w := range list(field("suits")) {
		d.Wishes = append(d.Wishes, food.Diet(w))
	}
	if asked := field("asked"); asked != "" {
		d.Pricing = &order.Pricing{By: price.ByPrice, Value: asked}
	}
	for name, to := range map[string]*time.Time{"from": &d.From, "to": &d.To} {
		var err error
		if *to, err = time.Parse(time.RFC3339, field(name)); err != nil {
			f.Add(name, reason.Of("till.not-time-write-like-t", reason.Name(field(name))))
		}
	}
	for _, text := range list(field("treats")) {
		number, name, _ := strings.Cut(text, " ")
		line, asked := order.Line{}, ""
		if at := strings.LastIndex(name, " {"); at >= 0 && strings.HasSuffix(name, "}") { // what this line is to suit
			name, asked = name[:at], name[at+2:]
		}
		for _, a := range strings.Split(strings.TrimSuffix(strings.TrimSpace(asked), "}"), ",") {
			switch a = strings.TrimSpace(a); {
			case strings.HasPrefix(a, "-"):
				line.FreeFrom = append(line.FreeFrom, a[1:])
			case a != "":
				line.Wishes = append(line.Wishes, food.Diet(a))
			}
		}
		count, err := strconv.Atoi(number)
		id, known := treats[strings.ToLower(strings.TrimSpace(name))]
		switch {
		case err != nil:
			f.Add("treats", reason.Of("till.does-not-start-with-count", reason.Name(text)))
		case !known:
			f.Add("treats", reason.Of("till.not-in-your-book-write", reason.Name(strings.TrimSpace(name))))
		default:
			line.Treat, line.Count = id, count
			d.Lines = append(d.Lines, line)
		}
	}
	return d, f.Err()
}

func joined(wishes []food.Diet) string {
	parts := make([]string, len(wishes))
	for i, w := range wishes {
		parts[i] = string(w)
	}
	return strings.Join(parts, "; ")
}

func list(text string) []string {
	parts := []string{}
	for _, p := range strings.Split(text, ";") {
		if p = strings.TrimSpace(p); p != "" {
			parts = append(parts, p)
		}
	}
	return parts
}
