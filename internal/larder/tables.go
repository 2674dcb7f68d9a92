package larder

import (
	"cmp"
	"context"
	"maps"
	"net/http"
	"reflect"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/food"
	"zestytin/core/larder"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/table"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

func (l *Larder) registerTables(op func(id, method, path, summary string) huma.Operation) {
	head := op("read-receipt-columns", "POST", "receipts.csv/columns",
		"The columns of a CSV file of receipts and its first rows, to say which is which")
	head.MaxBodyBytes = mostTable
	web.Register(l.Base, head, l.columns)
	importReceipts := op("import-receipts", "POST", "receipts.csv",
		"Book receipts from a CSV file. The answer is a line of JSON for every step of the way; the last one says what came of it")
	importReceipts.MaxBodyBytes, importReceipts.BodyReadTimeout = mostTable, time.Minute
	step := l.API.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[ImportProgress](), true, "Step")
	importReceipts.Responses = map[string]*huma.Response{"200": {Description: "Lines of JSON: how far it has come, at last the result", Content: map[string]*huma.MediaType{"application/x-ndjson": {Schema: step}}}}
	web.Register(l.Base, importReceipts, l.bring)
}

// mostTable is the largest CSV file in bytes, mostTableRows how many rows it may have.
const (
	mostTable     = 16 << 20
	mostTableRows = 100_000
)

// Head is the head of a table.
type Head struct {
	Columns []string       `json:"columns"`
	Rows    [][]string     `json:"rows" doc:"The first few"`
	Guess   larder.Columns `json:"guess" doc:"Which column may be which, by its name; -1: none"`
}

// words that columns are called by.
var columnWords = map[string][]string{
	"name":  {"name", "item", "ingredient", "what", "article", "product"},
	"packs": {"packs", "count", "quantity", "qty", "number"}, "size": {"size", "amount", "weight", "content"},
	"unit": {"unit"}, "paid": {"paid", "price", "total", "cost"}, "shop": {"shop", "store", "where"},
	"day": {"day", "date", "bought", "when"}, "until": {"best before", "until", "expires", "bestbefore"},
}

func (l *Larder) columns(ctx context.Context, in *struct {
	RawBody []byte `contentType:"text/csv"`
}) (*struct{ Body Head }, error) {
	file, err := table.Open(in.RawBody)
	if err != nil {
		return nil, web.Because(http.StatusUnsupportedMediaType, reason.Because(err))
	}
	h := Head{Columns: file.Head, Rows: file.First(5)}
	find := func(what string) int {
		return slices.IndexFunc(h.Columns, func(c string) bool {
			return slices.Contains(columnWords[what],
				strings.ToLower(strings.TrimSpace(c)))
		})
	}
	h.Guess = larder.Columns{Name: find("name"), Packs: find("packs"), Size: find("size"), Unit: find("unit"),
		Paid: find("paid"), Shop: find("shop"), Day: find("day"), BestBefore: find("until"), Dates: "ymd"}
	return &struct{ Body Head }{h}, nil
}

// Matching says how a table is to be read.
type Matching struct {
	Name  int    `query:"name" required:"true"`
	Packs int    `query:"packs" default:"-1"`
	Size  int    `query:"size" default:"-1"`
	Unit  int    `query:"unit" default:"-1"`
	Paid  int    `query:"paid" required:"true"`
	Shop  int    `query:"shop" default:"-1"`
	Day   int    `query:"day" default:"-1"`
	Until int    `query:"until" default:"-1"`
	Dates string `query:"dates" enum:"ymd,dmy,mdy" default:"ymd"`
	Keep  string `query:"keep" enum:"none,all,good" default:"none" doc:"none: only look; all: book it when every row is good; good: book the good rows"`
}

// ImportProgress of an import.
type ImportProgress struct {
	Row    int     `json:"row"`
	Of     int     `json:"of"`
	Result *Result `json:"result,omitempty"`
	Says   string  `json:"says,omitempty" doc:"Why it failed"`
}

// Result of an import.
type Result struct {
	Booked  int            `json:"booked" doc:"Rows that were booked"`
	Good    int            `json:"good"`
	Bad     int            `json:"bad"`
	Rows    []table.BadRow `json:"rows" doc:"The first of the bad ones"`
	Unknown []UnknownName  `json:"unknown" doc:"Names that are not in the larder"`
	Notes   []string       `json:"notes"`
}

// UnknownName is a name that is not in the larder.
type UnknownName struct {
	Name        string            `json:"name"`
	Rows        int               `json:"rows"`
	Suggestions []food.Suggestion `json:"suggestions"`
}

// entry is a row that can be booked.
type entry struct {
	of         named
	amount     float64
	size       float64
	paid       decimal.Decimal
	each       decimal.Decimal // price of a pack
	shop       string
	day, until string
}

func (l *Larder) bring(ctx context.Context, in *struct {
	Matching
	RawBody []byte `contentType:"text/csv"`
}) (*huma.StreamResponse, error) {
	file, err := table.Open(in.RawBody)
	if err != nil {
		return nil, web.Because(http.StatusUnsupportedMediaType, reason.Because(err))
	}
	rows := strings.Count(string(in.RawBody), "\n")
	if rows > mostTableRows {
		return nil, web.Reject(http.StatusUnprocessableEntity, "larder.more-rows-than", reason.Int(mostTableRows))
	}
	return &huma.StreamResponse{Body: func(h huma.Context) {
		h.SetHeader("Content-Type", "application/x-ndjson")
		words := text.Of(ctx)
		flusher, _ := h.BodyWriter().(http.Flusher)
		say := func(s ImportProgress) {
			_ = words.JSON(h.BodyWriter(), s)
			if flusher != nil {
				flusher.Flush()
			}
		}
		t := &importing{Larder: l, Matching: in.Matching, of: rows,
			say:    func(row int) { say(ImportProgress{Row: row, Of: rows}) },
			result: Result{Rows: []table.BadRow{}, Unknown: []UnknownName{}, Notes: []string{}}}
		if err := l.In(ctx, func(tx pgx.Tx) error { return t.run(ctx, tx, file) }); err != nil {
			say(ImportProgress{Row: t.row, Of: rows, Says: web.Sentence(ctx, err)})
			return
		}
		say(ImportProgress{Row: rows, Of: rows, Result: &t.result})
	}}, nil
}

// importing is the state of an import.
type importing struct {
	*Larder
	Matching
	of, row int
	say     func(row int)
	result  Result
	unknown map[string]int
	house   Context
	names   *knownNames
	entries []entry
}

// mostNamed is how many bad rows are told one by one.
const mostNamed = 200

func (t *importing) run(ctx context.Context, tx pgx.Tx, file *table.Table) (err error) {
	if t.house, err = t.Context(ctx, tx); err != nil {
		return err
	}
	if t.names, err = t.Larder.names(ctx, tx); err != nil {
		return err
	}
	t.unknown = map[string]int{}
	bad := func(r table.BadRow) {
		if t.result.Bad++; len(t.result.Rows) < mostNamed {
			t.result.Rows = append(t.result.Rows, r)
		}
	}
	columns := larder.Columns{Name: t.Name, Packs: t.Packs, Size: t.Size, Unit: t.Unit, Paid: t.Paid, Shop: t.Shop,
		Day: t.Day, BestBefore: t.Until, Dates: t.Dates}
	err = columns.Rows(file, t.house.Currency, func(line int, b larder.Bought) error {
		if t.row = line; line%2500 == 0 {
			t.say(line / 2)
			if err := ctx.Err(); err != nil {
				return err
			}
		}
		e, err := t.entry(b)
		if err != nil {
			bad(table.BadRow{Line: line, Text: b.Name, Says: reason.Because(err)})
			return nil
		}
		t.entries = append(t.entries, e)
		return nil
	}, bad)
	if err != nil {
		return err
	}
	t.result.Good = len(t.entries)
	// Those that most rows have are asked about first; what to suggest takes its time.
	names := slices.SortedFunc(maps.Keys(t.unknown), func(a,
		b string) int {
		return cmp.Or(cmp.Compare(t.unknown[b], t.unknown[a]), strings.Compare(a, b))
	})
	for _, name := range names[:min(len(names), mostNamed)] {
		t.result.Unknown = append(t.result.Unknown, UnknownName{name, t.unknown[name], t.names.suggest(name)})
	}
	slices.SortFunc(t.result.Unknown, func(a, b UnknownName) int { return strings.Compare(a.Name, b.Name) })
	if len(t.entries) == 0 || t.Keep == "none" || t.Keep == "all" && t.result.Bad > 0 {
		return nil
	}
	return t.book(ctx, tx)
}

// entry of a row, or why it is none.
func (t *importing) entry(b larder.Bought) (e entry, err error) {
	id, ok := t.names.exact[food.Words(b.Name)]
	if !ok {
		t.unknown[b.Name]++
		return e, reason.Of("larder.not-in-your-larder", reason.Name(b.Name))
	}
	e = entry{of: t.names.byID[id], shop: b.Shop, until: b.BestBefore, paid: decimal.RequireFromString(b.Paid)}
	if e.day = b.Day; e.day == "" {
		e.day = t.house.Today()
	}
	if e.day > t.house.Today() {
		return e, reason.Of("larder.day-lies-ahead", reason.Name(e.day))
	}
	size := measure.Of(e.of.paidFor, e.of.Unit)
	if b.Size != nil {
		size = *b.Size
	}
	if e.size, err = e.of.amount(size); err != nil {
		return e, err
	}
	e.amount = e.size * float64(b.Packs)
	e.each = e.paid.DivRound(decimal.NewFromInt(int64(b.Packs)), 4)
	return e, nil
}

// book the entries, many at a time.
func (t *importing) book(ctx context.Context, tx pgx.Tx) error {
	b, err := newBook(ctx, t.Base, tx)
	if err != nil {
		return err
	}
	ids := map[uuid.UUID]bool{}
	for _, e := range t.entries {
		ids[e.of.ID] = true
	}
	list := make([]uuid.UUID, 0, len(ids))
	for id := range ids {
		list = append(list, id)
	}
	things, err := b.lock(list...)
	if err != nil {
		return err
	}
	fresh := map[uuid.UUID][]uuid.UUID{}
	first := map[uuid.UUID]string{}
	latest := map[uuid.UUID]entry{}
	type pack struct {
		of   uuid.UUID
		shop string
		size float64
	}
	packs := map[pack]entry{}
	// The next part is prepared while the database books the one before.
	parts, who := make(chan prepared, 1), web.ActorOf(ctx)
	ctx, stop := context.WithCancel(ctx)
	defer stop()
	go func() {
		defer close(parts)
		for part := range slices.Chunk(t.entries, 2500) {
			select {
			case parts <- t.prepare(who, part):
			case <-ctx.Done():
				return
			}
		}
	}()
	for next := range parts {
		if _, err := tx.Exec(ctx, insertLots, next.args...); err != nil {
			return err
		}
		for i, e := range next.part {
			fresh[e.of.ID] = append(fresh[e.of.ID], next.lots[i])
			if l, ok := latest[e.of.ID]; !ok || e.day >= l.day {
				latest[e.of.ID] = e
			}
			if d, ok := first[e.of.ID]; !ok || e.day < d {
				first[e.of.ID] = e.day
			}
			if p, ok := packs[pack{e.of.ID, strings.ToLower(e.shop), e.size}]; !ok || e.day >= p.day {
				packs[pack{e.of.ID, strings.ToLower(e.shop), e.size}] = e
			}
		}
		t.result.Booked += len(next.part)
		t.say(t.of/2 + t.result.Booked*t.of/len(t.entries)/2)
	}
	if err := ctx.Err(); err != nil {
		return err // stopped between two parts
	}
	for id, e := range latest {
		if err := b.latest(things[id], e.each, e.size, e.day); err != nil {
			return err
		}
	}
	offers := &pgx.Batch{}
	for p, e := range packs {
		b.queueOffer(offers, things[p.of], e.shop, e.size, e.each, e.day)
	}
	if err := tx.SendBatch(ctx, offers).Close(); err != nil {
		return err
	}
	for id, lots := range fresh {
		before, err := b.settle(things[id], first[id], lots...)
		if err != nil {
			return err
		}
		if before > 0 {
			t.result.Notes = append(t.result.Notes, text.Of(ctx).Say(reason.Of("larder.used-before-it-was-entered",
				things[id].show(before), reason.Name(things[id].Name))))
		}
	}
	return nil
}

// prepared is a part of the entries as the arguments of one statement.
type prepared struct {
	part []entry
	lots []uuid.UUID
	args []any
}

func (t *importing) prepare(who web.Actor, part []entry) prepared {
	n := len(part)
	lots, ingredients, supplies := make([]uuid.UUID, n), make([]*uuid.UUID, n), make([]*uuid.UUID, n)
	amounts, paid, shops, days, untils := make([]float64, n), make([]string, n), make([]string, n), make([]string, n),
		make([]string, n)
	for i, e := range part {
		lots[i] = db.NewID()
		if id := e.of.ID; e.of.Packaging {
			supplies[i] = &id
		} else {
			ingredients[i] = &id
		}
		amounts[i], paid[i], shops[i], days[i], untils[i] = e.amount, e.paid.String(), e.shop, e.day, e.until
	}
	return prepared{part, lots, []any{who.Kitchen, lots, ingredients, supplies, amounts, paid, shops, days, untils,
		t.Clock(), who.Person}}
}

// insertLots of prepared entries.
const insertLots = `insert into lots (kitchen_id, id, ingredient_id, supply_id, origin, amount, remaining, paid, shop,
			bought_on, best_before, at, person_id)
	select $1, id, i, s, 'bought', a, a, p::numeric, w, d::date, nullif(u, '')::date, $10, $11
	from unnest($2::uuid[], $3::uuid[], $4::uuid[], $5::float8[], $6::text[], $7::text[], $8::text[],
	$9::text[]) as r(id, i, s, a, p, w, d, u)`
