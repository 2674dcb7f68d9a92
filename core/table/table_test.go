package table

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"

	"zestytin/core/reason"
	"zestytin/internal/text/said"
)

// read a file whole: the head, the rows with their lines, and what is said of those that are broken.
func read(t *testing.T, file string) (head []string, rows, bad []string) {
	t.Helper()
	table, err := Open([]byte(file))
	if err != nil {
		t.Fatal(err)
	}
	if err := table.Each(func(line int, record []string) error {
		rows = append(rows, fmt.Sprint(line, " ", strings.Join(record, "|")))
		return nil
	}, func(r BadRow) { bad = append(bad, fmt.Sprint(r.Line, " ", said.Of(r.Says))) }); err != nil {
		t.Fatal(err)
	}
	return table.Head, rows, bad
}

func TestTables(t *testing.T) {
	for _, c := range []struct {
		name, file      string
		head, rows, bad []string
	}{
		{"commas", "a,b\n1,2\n", []string{"a", "b"}, []string{"2 1|2"}, nil},
		{"semicolons and a byte order mark", "\ufeffa;b\n1,5;2\n", []string{"a", "b"}, []string{"2 1,5|2"}, nil},
		{"tabs", "a\tb, c\td\n1\t2\t3\n", []string{"a", "b, c", "d"}, []string{"2 1|2|3"}, nil},
		{"lines of Windows", "a,b\r\n1,2\r\n", []string{"a", "b"}, []string{"2 1|2"}, nil},
		{"blank rows", "a,b\n\n , \n1,2\n", []string{"a", "b"}, []string{"4 1|2"}, nil},
		{"quoted, over two lines", "a,b\n\"x, y\n\"\"z\"\"\",2\n3,4\n", []string{"a", "b"},
			[]string{"2 x, y\n\"z\"|2", "4 3|4"}, nil},
		{"ragged", "a,b\n1\n1,2,3\n", []string{"a", "b"}, []string{"2 1", "3 1|2|3"}, nil},
		{"a stray mark", "a,b\n1,2\nx\"y,3\n4,5\n", []string{"a", "b"}, []string{"2 1|2", "4 4|5"},
			[]string{"3 There is a stray quotation mark"}},
		{"no row", "a,b", []string{"a", "b"}, nil, nil},
	} {
		head, rows, bad := read(t, c.file)
		if !slices.Equal(head, c.head) || !slices.Equal(rows, c.rows) || len(bad) != len(c.bad) {
			t.Errorf("%s: %q, %q, bad %q", c.name, head, rows, bad)
			continue
		}
		for i := range bad {
			if !strings.HasPrefix(bad[i], c.bad[i]) {
				t.Errorf("%s: %q, want %q", c.name, bad[i], c.bad[i])
			}
		}
	}
}

func TestWhatIsNoTable(t *testing.T) {
	for file, says := range map[string]string{"": "The file is empty", "\xff\xfea": "not a CSV file",
		"a\x00b": "not a CSV file", "a,b\n" + strings.Repeat("x", mostRow+1) + "\n": "longer than"} {
		if _, err := Open([]byte(file)); err == nil || !strings.Contains(said.Of(reason.Because(err)), says) {
			t.Errorf("%.20q: %v, want … %s …", file, err, says)
		}
	}
}

// An error of whoever takes the rows ends the reading, and is theirs.
func TestTakingEnds(t *testing.T) {
	table, err := Open([]byte("a\n1\n2\n3\n"))
	if err != nil {
		t.Fatal(err)
	}
	full, n := errors.New("full"), 0
	if err := table.Each(func(int, []string) error {
		if n++; n == 2 {
			return full
		}
		return nil
	}, func(BadRow) {}); err != full || n != 2 {
		t.Errorf("%v after %d rows", err, n)
	}
	if rows := table.First(5); len(rows) != 1 || rows[0][0] != "3" {
		t.Errorf("the rest is %q", rows)
	}
}

func TestAt(t *testing.T) {
	row := []string{" a ", ""}
	for column, want := range map[int]string{0: "a", 1: "", 2: "", -1: ""} {
		if got := At(row, column); got != want {
			t.Errorf("column %d: %q, want %q", column, got, want)
		}
	}
}
