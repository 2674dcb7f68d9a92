package larder

import (
	"strconv"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"zestytin/core/measure"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/table"
)

func checkMoney(d decimal.Decimal, currency string) error {
	_, err := price.Read(d.String(), currency)
	return err
}

// DateOrders are in which order a date can be written.
func DateOrders() []string { return []string{"ymd", "dmy", "mdy"} }

// Columns tells in which column of a file each value stands, counted from 0; -1: in none.
type Columns struct {
	Name       int    `json:"name"`
	Packs      int    `json:"packs"`
	Size       int    `json:"size"`
	Unit       int    `json:"unit"`
	Paid       int    `json:"paid"`
	Shop       int    `json:"shop"`
	Day        int    `json:"day"`
	BestBefore int    `json:"bestBefore"`
	Dates      string `json:"dates"`
}

// Rows reads all rows below the head of a table: each is given to take, or to bad where it cannot be understood. Blank
// rows are passed over. An error of take ends it.
func (c Columns) Rows(t *table.Table, currency string, take func(line int, b Bought) error,
	bad func(table.BadRow)) error {
	return t.Each(func(line int, record []string) error {
		b, err := c.read(record, currency)
		if err != nil {
			bad(table.BadRow{Line: line, Text: strings.Join(record, " | "), Says: reason.Because(err)})
			return nil
		}
		return take(line, b)
	}, bad)
}

// read one row. The error says in one sentence what is wrong with it first.
func (c Columns) read(record []string, currency string) (b Bought, err error) {
	at := func(i int) string {
		if i < 0 || i >= len(record) {
			return ""
		}
		return strings.TrimSpace(record[i])
	}
	if b.Name = at(c.Name); b.Name == "" {
		return b, reason.Of("larder.does-not-say-what-was")
	}
	if len([]rune(b.Name)) > 200 || len([]rune(at(c.Shop))) > 100 {
		return b, reason.Of("larder.name-longer-than-letters-or")
	}
	b.Shop, b.Packs = at(c.Shop), 1
	if text := at(c.Packs); text != "" {
		if b.Packs, err = strconv.Atoi(text); err != nil || b.Packs < 1 || b.Packs > 10_000 {
			return b, reason.Of("larder.no-number-packs-write-whole", reason.Name(text))
		}
	}
	if text := strings.TrimSpace(at(c.Size) + " " + at(c.Unit)); text != "" {
		q, err := measure.Read(text)
		switch {
		case err != nil:
			return b, err
		case !(q.Amount > 0 && q.Amount < 1e9):
			return b, reason.Of("larder.not-size-write-more-than", reason.Name(text))
		}
		b.Size = &q
	}
	paid, err := ReadMoney(at(c.Paid), currency)
	if err != nil {
		return b, err
	}
	b.Paid = paid.String()
	if b.Day, err = c.date(at(c.Day)); err != nil {
		return b, err
	}
	b.BestBefore, err = c.date(at(c.BestBefore))
	return b, err
}

// date as 2026-09-03 from one written in the file's order with any marks between; empty stays empty.
func (c Columns) date(text string) (string, error) {
	if text == "" {
		return "", nil
	}
	parts := strings.FieldsFunc(text, func(r rune) bool { return r == '-' || r == '/' || r == '.' || r == ' ' })
	if len(parts) == 3 {
		y, m, d := parts[0], parts[1], parts[2]
		if len(y) != 4 { // an ISO date is read as such in any file
			switch c.Dates {
			case "dmy":
				d, m, y = parts[0], parts[1], parts[2]
			case "mdy":
				m, d, y = parts[0], parts[1], parts[2]
			}
		}
		if t, err := time.Parse("2006-1-2", y+"-"+m+"-"+d); err == nil && t.Year() > 1999 && t.Year() < 2200 {
			return t.Format(time.DateOnly), nil
		}
	}
	return "", reason.Of("larder.not-date-in-order-that", reason.Name(text))
}
