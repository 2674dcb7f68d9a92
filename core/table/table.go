// Package table reads CSV files (RFC 4180) that people have: with any of the usual marks between values, with rows that
// are broken, in any order of columns.
package table

import (
	"bytes"
	"encoding/csv"
	"errors"
	"strings"
	"unicode/utf8"

	"zestytin/core/reason"
)

// Table is a CSV file that can be read row by row.
type Table struct {
	Head   []string
	reader *csv.Reader
}

// ErrNotText says that a file holds no text.
var ErrNotText = reason.Of("table.this-not-csv-file-save")

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

// Open reads the head of a CSV file: in UTF-8, with or without a byte order mark, with commas, semicolons or tabs
// between values, whichever the first row has most of.
func Open(file []byte) (*Table, error) {
	file = bytes.TrimPrefix(file, []byte("\ufeff"))
	if !utf8.Valid(file) || bytes.IndexByte(file, 0) >= 0 {
		return nil, ErrNotText
	}
	if TooWide(file) {
		return nil, reason.Of("table.a-row-is-too-long", reason.Int(mostRow))
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
		return nil, reason.Of("table.file-empty-its-first-row")
	}
	return &Table{head, r}, nil
}

// BadRow is a row that cannot be taken.
type BadRow struct {
	Line int           `json:"line"`
	Text string        `json:"text"`
	Says reason.Reason `json:"says"`
}

// Each row below the head is given to take with its line, or to bad where a quotation mark breaks it. Blank rows are
// passed over. An error of take ends it.
func (t *Table) Each(take func(line int, record []string) error, bad func(BadRow)) error {
	for {
		record, err := t.reader.Read()
		var wrong *csv.ParseError
		if errors.As(err, &wrong) {
			says := reason.Of("table.quotation-mark-stands-where-none")
			if wrong.Line > wrong.StartLine {
				says = reason.Of("table.quotation-mark-opens-here-and", reason.Int(wrong.Line))
			}
			bad(BadRow{wrong.StartLine, "", says})
			continue
		}
		if err != nil {
			return nil // a reader of bytes fails only at its end
		}
		line, _ := t.reader.FieldPos(0)
		if strings.TrimSpace(strings.Join(record, "")) == "" {
			continue
		}
		if err := take(line, record); err != nil {
			return err
		}
	}
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

// At is the value in a column of a row, without the space around it; empty where there is none.
func At(record []string, column int) string {
	if column < 0 || column >= len(record) {
		return ""
	}
	return strings.TrimSpace(record[column])
}
