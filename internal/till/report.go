package till

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"
	"github.com/xuri/excelize/v2"

	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/treat"
	"zestytin/internal/platform/web"
)

func (t *Till) registerReport(tags []string) {
	op := func(id, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: "GET", Path: "/api/v1/" + path, Summary: summary, Tags: tags}
	}
	file := func(o huma.Operation, kind, what string) huma.Operation {
		o.Responses = web.FileOf(kind, what)
		return o
	}
	web.Register(t.Home, op("get-till", "till", "What was earned, by month of handover, by treat and by occasion, and who owes what"), t.report)
	web.Register(t.Home, file(op("export-till-csv", "till.csv", "All orders that are handed over, with price, tax, payments and cost, as CSV"), "text/csv", "A CSV file"), t.csv)
	web.Register(t.Home, file(op("export-till-xlsx", "till.xlsx", "The same with sums by month, treat and occasion, as a workbook"), "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "An XLSX file"), t.workbook)
}

// Sum over some orders, or over some lines of orders.
type Sum struct {
	Name    string       `json:"name" doc:"2026-09; or the treat's or occasion's name"`
	Family  treat.Family `json:"family,omitempty"`
	Orders  int          `json:"orders"`
	Pieces  int          `json:"pieces" doc:"That were promised"`
	Asked   price.Money  `json:"asked" doc:"Without tax"`
	Cost    price.Money  `json:"cost" doc:"As it was reckoned when it was promised"`
	Left    price.Money  `json:"left"`
	Minutes int          `json:"minutes"`
	PerHour *price.Money `json:"perHour,omitempty" doc:"What an hour of hands brought after everything else"`
	Loss    *float64     `json:"loss,omitempty" doc:"Share of the pieces that was expected to be lost"`
	Real    Real         `json:"real"`
}

// Real is what the bench and the larder recorded, of what was recorded.
type Real struct {
	Batches   int          `json:"batches" doc:"Of which it was recorded how they came out"`
	Loss      *float64     `json:"loss,omitempty"`
	Minutes   int          `json:"minutes,omitempty" doc:"Of batches with recorded minutes"`
	Expected  int          `json:"expected,omitempty" doc:"Minutes that were reckoned for the same batches"`
	Materials *price.Money `json:"materials,omitempty" doc:"What the ingredients that left the larder were paid for"`
}

// Report is the till.
type Report struct {
	Months    []Sum  `json:"months" doc:"Latest first"`
	Treats    []Sum  `json:"treats"`
	Occasions []Sum  `json:"occasions"`
	Owed      []Owed `json:"owed" doc:"Of orders that are promised or further: what is still to be paid, or to be given back"`
}

// Owed is what a customer owes.
type Owed struct {
	Order    uuid.UUID   `json:"order"`
	Number   int         `json:"number"`
	Customer string      `json:"customer"`
	State    order.State `json:"state" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled"`
	From     time.Time   `json:"from"`
	Gross    price.Money `json:"gross"`
	Paid     price.Money `json:"paid"`
	Owed     price.Money `json:"owed" doc:"Below zero: to be given back"`
	Late     bool        `json:"late" doc:"It is handed over already"`
}

// done are the orders that count: handed over or settled, with a price and a cost.
const done = `o.state in ('handed over', 'settled') and o.agreed is not null and o.cost is not null`

// lines of the orders that count, each with its share of price and cost as they were when it was promised, and what was recorded.
const selectLines = `select to_char(o.from_at at time zone $1, 'YYYY-MM') as month, coalesce(nullif(o.occasion, ''), 'no occasion') as occasion, o.id, t.name, b.sheet -> 'card' ->> 'family' as family, (b.sheet ->> 'count')::int as pieces,
		coalesce((b.sheet -> 'price' ->> 'amount')::numeric * (o.gross - o.tax) / nullif(o.agreed, 0), o.agreed / nullif((select count(*) from batches x where x.kitchen_id = o.kitchen_id and x.order_id = o.id), 0)) as asked,
		coalesce((b.sheet -> 'cost' ->> 'amount')::numeric, o.cost / nullif((select count(*) from batches x where x.kitchen_id = o.kitchen_id and x.order_id = o.id), 0)) as cost,
		(b.sheet -> 'card' ->> 'hands')::int as minutes, (v.formula ->> 'loss')::float8 as loss, case when b.sheet -> 'card' ->> 'family' = 'bark' then (b.sheet ->> 'count')::int else (b.sheet -> 'card' ->> 'start')::int end as started, case when b.sheet -> 'card' ->> 'family' <> 'bark' then b.good end as good, b.minutes as worked
	from orders o join batches b on b.kitchen_id = o.kitchen_id and b.order_id = o.id join order_lines l on l.kitchen_id = b.kitchen_id and l.order_id = b.order_id and l.position = b.position
	join treats t on t.kitchen_id = l.kitchen_id and t.id = l.treat_id join treat_versions v on v.kitchen_id = l.kitchen_id and v.treat_id = l.treat_id and v.version = l.treat_version
	where ` + done

func (t *Till) report(ctx context.Context, _ *struct{}) (*struct{ Body Report }, error) {
	r, _, err := t.sums(ctx)
	return &struct{ Body Report }{r}, err
}

func (t *Till) sums(ctx context.Context) (r Report, zone *time.Location, err error) {
	err = t.In(ctx, func(tx pgx.Tx) error {
		house, err := t.House(ctx, tx)
		if err != nil {
			return err
		}
		zone = house.Zone
		if r.Months, err = sumBy(ctx, tx, "month", "''", "1 desc", house); err != nil {
			return err
		}
		if r.Treats, err = sumBy(ctx, tx, "name", "max(family)", "5 desc, 1", house); err != nil {
			return err
		}
		if r.Occasions, err = sumBy(ctx, tx, "occasion", "''", "5 desc, 1", house); err != nil {
			return err
		}
		r.Owed, err = t.owed(ctx, tx, house)
		return err
	})
	return r, zone, err
}

// sumBy sums the lines by one of their columns. Months and occasions take price, cost and minutes of whole orders, so that what was shared
// between the lines is counted as it was.
func sumBy(ctx context.Context, tx pgx.Tx, by, family, order string, h House) ([]Sum, error) {
	rows, err := tx.Query(ctx, `with lines as (`+selectLines+`),
		used as (select order_id, sum(used) as materials from (
				select m.order_id, -m.change * (l.paid / nullif(l.amount, 0)::numeric)::float8 as used from stock_moves m join lots l on l.kitchen_id = m.kitchen_id and l.id = m.lot_id
					where m.order_id is not null and m.batch_id is not null and l.ingredient_id is not null and l.amount > 0
				union all select order_id, -paid::float8 from lots where order_id is not null and origin = 'reclaimed') x group by 1),
		whole as (select x.`+by+` as key, count(distinct x.id)::int as orders, sum(o.gross - o.tax) as asked, sum(o.cost) as cost, sum(o.cost - o.materials) as hands, sum(o.minutes)::int as minutes, sum(u.materials) as used
			from (select distinct y.`+by+`, y.id from lines y) x join orders o on o.id = x.id left join used u on u.order_id = o.id group by 1)
		select l.`+by+`, `+family+`, max(w.orders), sum(l.pieces)::int,
			case when $2 then sum(l.asked) else max(w.asked) end, case when $2 then sum(l.cost) else max(w.cost) end, case when $2 then sum(l.minutes)::int else max(w.minutes) end,
			case when $2 then null else max(w.hands) end::text, (sum(l.loss * l.started) / nullif(sum(l.started), 0))::float8, count(l.good)::int,
			(1 - sum(l.good)::float8 / nullif(sum(l.started) filter (where l.good is not null), 0))::float8, coalesce(sum(l.worked), 0)::int, coalesce(sum(l.minutes) filter (where l.worked is not null), 0)::int, case when $2 then null else max(w.used) end
		from lines l join whole w on w.key = l.`+by+` group by 1 order by `+order, h.Zone.String(), by == "name")
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (Sum, error) {
		var s Sum
		var asked, cost decimal.Decimal
		var hands *string
		var used *float64
		if err := row.Scan(&s.Name, (*string)(&s.Family), &s.Orders, &s.Pieces, &asked, &cost, &s.Minutes, &hands, &s.Loss, &s.Real.Batches, &s.Real.Loss, &s.Real.Minutes, &s.Real.Expected, &used); err != nil {
			return s, err
		}
		s.Asked, s.Cost, s.Left = price.In(h.Currency, asked), price.In(h.Currency, cost), price.In(h.Currency, asked.Sub(cost))
		pay := h.Hourly.Mul(decimal.NewFromInt(int64(s.Minutes))).Div(decimal.NewFromInt(60))
		if hands != nil {
			pay = decimal.RequireFromString(*hands)
		}
		if s.Minutes > 0 {
			hour := price.In(h.Currency, asked.Sub(cost).Add(pay).Mul(decimal.NewFromInt(60)).Div(decimal.NewFromInt(int64(s.Minutes))))
			s.PerHour = &hour
		}
		if used != nil {
			m := price.In(h.Currency, decimal.NewFromFloat(*used))
			s.Real.Materials = &m
		}
		return s, nil
	})
}

// Entry is an order in the book for the tax adviser.
type entry struct {
	number                                       int
	day, customer, occasion, state               string
	net, tax, gross, paid, owed, cost, materials decimal.Decimal
	minutes                                      int
}

var entryHead = []string{"number", "handed over", "customer", "occasion", "state", "price without tax", "tax", "price with tax", "paid", "owed", "cost reckoned", "of it materials", "minutes of hands", "currency"}

func (t *Till) entries(ctx context.Context) (list []entry, house House, err error) {
	err = t.In(ctx, func(tx pgx.Tx) error {
		if house, err = t.House(ctx, tx); err != nil {
			return err
		}
		rows, err := tx.Query(ctx, `select o.number, (o.from_at at time zone $1)::date::text, o.customer, o.occasion, o.state, o.gross - o.tax, o.tax, o.gross,
				coalesce((select sum(case when p.kind = 'refund' then -p.amount else p.amount end) from payments p where p.kitchen_id = o.kitchen_id and p.order_id = o.id), 0), o.cost, o.materials, o.minutes
			from orders o where `+done+` order by o.from_at, o.number`, house.Zone.String())
		if err != nil {
			return err
		}
		list, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (e entry, err error) {
			err = row.Scan(&e.number, &e.day, &e.customer, &e.occasion, &e.state, &e.net, &e.tax, &e.gross, &e.paid, &e.cost, &e.materials, &e.minutes)
			e.owed = e.gross.Sub(e.paid)
			return e, err
		})
		return err
	})
	return list, house, err
}

func (t *Till) csv(ctx context.Context, _ *struct{}) (*web.File, error) {
	list, house, err := t.entries(ctx)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	_ = w.Write(entryHead)
	text := func(d decimal.Decimal) string { return price.In(house.Currency, d).Amount }
	for _, e := range list {
		_ = w.Write([]string{fmt.Sprint(e.number), e.day, web.Cell(e.customer), web.Cell(e.occasion), e.state, text(e.net), text(e.tax), text(e.gross), text(e.paid), text(e.owed), text(e.cost), text(e.materials), fmt.Sprint(e.minutes), house.Currency})
	}
	w.Flush()
	return web.Download("zesty-tin-till.csv", "text/csv; charset=utf-8", out.Bytes()), w.Error()
}

func (t *Till) workbook(ctx context.Context, _ *struct{}) (*web.File, error) {
	list, house, err := t.entries(ctx)
	if err != nil {
		return nil, err
	}
	report, _, err := t.sums(ctx)
	if err != nil {
		return nil, err
	}
	f := excelize.NewFile()
	defer f.Close()
	number := func(d decimal.Decimal) float64 { return d.Round(price.Decimals(house.Currency)).InexactFloat64() }
	rows := [][]any{}
	for _, e := range list {
		rows = append(rows, []any{e.number, e.day, e.customer, e.occasion, e.state, number(e.net), number(e.tax), number(e.gross), number(e.paid), number(e.owed), number(e.cost), number(e.materials), e.minutes, house.Currency})
	}
	if err := f.SetSheetName("Sheet1", "Orders"); err != nil {
		return nil, err
	}
	if err := fillSheet(f, "Orders", entryHead, rows, house.Currency); err != nil {
		return nil, err
	}
	head := []string{"", "orders", "pieces", "price without tax", "cost reckoned", "left over", "minutes of hands", "an hour paid", "loss expected", "loss recorded"}
	for _, part := range []struct {
		name string
		sums []Sum
	}{{"Months", report.Months}, {"Treats", report.Treats}, {"Occasions", report.Occasions}} {
		head[0] = part.name
		rows := [][]any{}
		for _, s := range part.sums {
			money := func(m price.Money) float64 { return decimal.RequireFromString(m.Amount).InexactFloat64() }
			row := []any{s.Name, s.Orders, s.Pieces, money(s.Asked), money(s.Cost), money(s.Left), s.Minutes, nil, nil, nil}
			if s.PerHour != nil {
				row[7] = money(*s.PerHour)
			}
			if s.Loss != nil {
				row[8] = *s.Loss
			}
			if s.Real.Loss != nil {
				row[9] = *s.Real.Loss
			}
			rows = append(rows, row)
		}
		if _, err := f.NewSheet(part.name); err != nil {
			return nil, err
		}
		if err := fillSheet(f, part.name, head, rows, house.Currency); err != nil {
			return nil, err
		}
	}
	out, err := f.WriteToBuffer()
	if err != nil {
		return nil, err
	}
	return web.Download("zesty-tin-till.xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", out.Bytes()), nil
}

// fillSheet writes a head in bold and rows below it. Text stays text: a cell never becomes a formula.
func fillSheet(f *excelize.File, sheet string, head []string, rows [][]any, currency string) error {
	bold, err := f.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: true}})
	if err != nil {
		return err
	}
	format := "#,##0." + "000"[:price.Decimals(currency)]
	if price.Decimals(currency) == 0 {
		format = "#,##0"
	}
	money, err := f.NewStyle(&excelize.Style{CustomNumFmt: &format})
	if err != nil {
		return err
	}
	top := make([]any, len(head))
	for i, h := range head {
		top[i] = h
	}
	if err := f.SetSheetRow(sheet, "A1", &top); err != nil {
		return err
	}
	for i, row := range rows {
		at, err := excelize.CoordinatesToCellName(1, i+2)
		if err != nil {
			return err
		}
		if err := f.SetSheetRow(sheet, at, &row); err != nil {
			return err
		}
		for j, v := range row {
			if _, ok := v.(float64); !ok || head[j] == "loss expected" || head[j] == "loss recorded" {
				continue
			}
			cell, err := excelize.CoordinatesToCellName(j+1, i+2)
			if err != nil {
				return err
			}
			if err := f.SetCellStyle(sheet, cell, cell, money); err != nil {
				return err
			}
		}
	}
	last, err := excelize.ColumnNumberToName(len(head))
	if err != nil {
		return err
	}
	if err := f.SetColWidth(sheet, "A", last, 17); err != nil {
		return err
	}
	if err := f.SetCellStyle(sheet, "A1", last+"1", bold); err != nil {
		return err
	}
	return f.SetPanes(sheet, &excelize.Panes{Freeze: true, YSplit: 1, TopLeftCell: "A2", ActivePane: "bottomLeft"})
}
