package till

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"

	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"
	"github.com/xuri/excelize/v2"

	"zestytin/core/price"
	"zestytin/core/till"
	"zestytin/internal/platform/web"
)

// Entry is an order in the book for the tax adviser.
type entry struct {
	number                                       int
	day, customer, occasion, state               string
	net, tax, gross, paid, owed, cost, materials decimal.Decimal
	minutes                                      int
}

var entryHead = []string{"number", "handed over", "customer", "occasion", "state", "price without tax", "tax",
	"price with tax", "paid", "owed", "cost reckoned", "of it materials", "minutes of hands", "currency"}

func (t *Till) entries(ctx context.Context) (list []entry, house Context, err error) {
	err = t.In(ctx, func(tx pgx.Tx) error {
		if house, err = t.Context(ctx, tx); err != nil {
			return err
		}
		rows, err := tx.Query(ctx, `select o.number, (o.from_at at time zone $1)::date::text, o.customer, o.occasion,
			o.state, o.gross - o.tax, o.tax, o.gross,
				coalesce((select sum(case when p.kind = 'refund' then -p.amount else p.amount end) from payments p
				where p.kitchen_id = o.kitchen_id and p.order_id = o.id), 0), o.cost, o.materials, o.minutes
			from orders o where `+done+` order by o.from_at, o.number`, house.Zone.String())
		if err != nil {
			return err
		}
		list, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (e entry, err error) {
			err = row.Scan(&e.number, &e.day, &e.customer, &e.occasion, &e.state, &e.net, &e.tax, &e.gross, &e.paid,
				&e.cost, &e.materials, &e.minutes)
			e.owed = till.Account{Agreed: &e.gross, Paid: e.paid}.Owed()
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
	w.UseCRLF = true // RFC 4180
	_ = w.Write(entryHead)
	text := func(d decimal.Decimal) string { return price.In(house.Currency, d).Amount }
	for _, e := range list {
		_ = w.Write([]string{fmt.Sprint(e.number), e.day, web.Cell(e.customer), web.Cell(e.occasion), e.state,
			text(e.net), text(e.tax), text(e.gross), text(e.paid), text(e.owed), text(e.cost), text(e.materials),
			fmt.Sprint(e.minutes), house.Currency})
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
		rows = append(rows, []any{e.number, e.day, e.customer, e.occasion, e.state, number(e.net), number(e.tax),
			number(e.gross), number(e.paid), number(e.owed), number(e.cost), number(e.materials), e.minutes,
			house.Currency})
	}
	if err := f.SetSheetName("Sheet1", "Orders"); err != nil {
		return nil, err
	}
	if err := fillSheet(f, "Orders", entryHead, rows, house.Currency); err != nil {
		return nil, err
	}
	head := []string{"", "orders", "pieces", "price without tax", "cost reckoned", "left over", "minutes of hands",
		"an hour paid", "loss expected", "loss recorded"}
	for _, part := range []struct {
		name string
		sums []Sum
	}{{"Months", report.Months}, {"Treats", report.Treats}, {"Occasions", report.Occasions}} {
		head[0] = part.name
		rows := [][]any{}
		for _, s := range part.sums {
			money := func(m price.Money) float64 { return decimal.RequireFromString(m.Amount).InexactFloat64() }
			row := []any{s.Name, s.Orders, s.Pieces, money(s.Asked), money(s.Cost), money(s.Left), int(s.Minutes), nil,
				nil, nil}
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
	return web.Download("zesty-tin-till.xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
		out.Bytes()), nil
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
