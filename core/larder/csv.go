package larder

import (
	"bytes"
	"encoding/csv"
	"errors"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/shopspring/decimal"

	"zestytin/core/measure"
	"zestytin/core/price"
	"zestytin/core/reason"
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

// Table is a CSV file that can be read row by row.
type Table struct {
	Head   []string
	reader *csv.Reader
}

// ErrNotText says that a file holds no text.
var ErrNotText = reason.Of("larder.this-not-csv-file-save")

// mostRow is how many bytes a row of a file has at most.
const mostRow = 20_000

// TooWide tells whether a row of a file is longer than that: it would be split into columns beyond all measure.
func TooWide(file []byte) bool {
	for len(file) > 0 {
		n := bytes.IndexByte(file, '\n')
		if n < 0 {
			n = len(file) - 1
		}
		if n > mostRow {
			return true
		}
		file = file[n+1:]
	}
	return false
}

// OpenTable reads the head of a CSV file: in UTF-8, with or without a byte order mark, with commas, semicolons or tabs
// between values, whichever the first row has most of.
func OpenTable(file []byte) (*Table, error) {
	file = bytes.TrimPrefix(file, []byte("\ufeff"))
	if !utf8.Valid(file) || bytes.IndexByte(file, 0) >= 0 {
		return nil, ErrNotText
	}
	if TooWide(file) {
		return nil, reason.Of("larder.a-row-is-too-long", reason.Int(mostRow))
	}
	first, _, _ := bytes.Cut(file, []byte("\n"))
	r := csv.NewReader(bytes.NewReader(file))
	r.FieldsPerRecord, r.TrimLeadingSpace = -1, true
	most := 0
	for _, mark := range ",;\t" {
		if n := bytes.Count(first, []byte(string(mark))); n > most {
			r.Comma, most = mark, n
		}
	}
	head, err := r.Read()
	if err != nil {
		return nil, reason.Of("larder.file-empty-its-first-row")
	}
	return &Table{head, r}, nil
}

// BadRow is a row that cannot be taken.
type BadRow struct {
	Line int           `json:"line"`
	Text string        `json:"text"`
	Says reason.Reason `json:"says"`
}

// Rows reads all rows below the head: each is given to take, or to bad where it cannot be understood. Blank rows are
// passed over. An error of take ends it.
func (t *Table) Rows(c Columns, currency string, take func(line int, b Bought) error, bad func(BadRow)) error {
	for {
		record, err := t.reader.Read()
		var wrong *csv.ParseError
		if errors.As(err, &wrong) {
			says := reason.Of("larder.quotation-mark-stands-where-none")
			if wrong.Line > wrong.StartLine {
				says = reason.Of("larder.quotation-mark-opens-here-and", reason.Int(wrong.Line))
			}
			bad(BadRow{wrong.StartLine, "", says})
			continue
		}
		if err != nil {
			return nil // a reader of bytes fails only at its end
		}
		line, _ := t.reader.FieldPos(0)
		text := strings.Join(record, " | ")
		if strings.TrimSpace(strings.Join(record, "")) == "" {
			continue
		}
		b, err := c.read(record, currency)
		if err != nil {
			bad(BadRow{line, text, reason.Because(err)})
			continue
		}
		if err := take(line, b); err != nil {
			return err
		}
	}
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

// First rows of the table, at most n, as they stand; they are not read again by Rows.
func (t *Table) First(n int) [][]string {
	rows := [][]string{}
	for len(rows) < n {
		record, err := t.reader.Read()
		if record == nil && err != nil {
			break
		}
		rows = append(rows, record)
	}
	return rows
}
