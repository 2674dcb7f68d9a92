package label

import (
	"cmp"
	"slices"
	"strings"

	"zestytin/core/reason"
	"zestytin/core/table"
)

// Guest whose name stands on a tag.
type Guest struct {
	Name  string `json:"name"`
	Table string `json:"table,omitempty"`
}

// MostGuests of a list, and letters of a name.
const (
	MostGuests  = 2000
	mostLetters = 80
)

var (
	nameHeads  = []string{"name", "guest", "guests", "who", "full name"}
	tableHeads = []string{"table", "table no", "table number", "seat", "place"}
)

// Guests of a list as people have it: a CSV file with a column for names and one for tables, under their heads or
// without, or a name a line; by table, and at a table as they stand. A name that stands there twice is there twice. bad
// are the rows that cannot be taken.
func Guests(text string) (list []Guest, bad []table.BadRow, err error) {
	list, bad = []Guest{}, []table.BadRow{}
	file, err := table.Open([]byte(text))
	if err != nil {
		return nil, nil, err
	}
	find := func(heads []string) int {
		return slices.IndexFunc(file.Head, func(h string) bool {
			return slices.Contains(heads, strings.ToLower(strings.Trim(strings.TrimSpace(h), ".#:")))
		})
	}
	name, at := find(nameHeads), find(tableHeads)
	take := func(line int, record []string) error {
		g := Guest{strings.Join(strings.Fields(table.At(record, name)), " "),
			strings.Join(strings.Fields(table.At(record, at)), " ")}
		switch {
		case g.Name == "":
			bad = append(bad, table.BadRow{Line: line, Text: strings.Join(record, " | "),
				Says: reason.Of("label.guest-without-name")})
		case len([]rune(g.Name)) > mostLetters || len([]rune(g.Table)) > mostLetters:
			bad = append(bad, table.BadRow{Line: line, Text: g.Name, Says: reason.Of("label.guest-too-long",
				reason.Int(mostLetters))})
		case len(list) == MostGuests:
			return reason.Of("label.too-many-guests", reason.Int(MostGuests))
		default:
			list = append(list, g)
		}
		return nil
	}
	if name < 0 { // the first row is a guest already
		name, at = 0, 1
		if err := take(1, file.Head); err != nil {
			return nil, nil, err
		}
	}
	if err := file.Each(take, func(r table.BadRow) { bad = append(bad, r) }); err != nil {
		return nil, nil, err
	}
	slices.SortStableFunc(list, func(a, b Guest) int { return byTable(a.Table, b.Table) })
	return list, bad, nil
}

// byTable: table 2 comes before table 10, and who has none comes last.
func byTable(a, b string) int {
	if a == "" || b == "" {
		return cmp.Compare(len(b), len(a))
	}
	return cmp.Or(cmp.Compare(numberIn(a), numberIn(b)), strings.Compare(a, b))
}

// numberIn a name of a table; 0 where there is none.
func numberIn(s string) (n int) {
	for _, r := range s {
		if r >= '0' && r <= '9' && n < 1e6 {
			n = n*10 + int(r-'0')
		}
	}
	return n
}
