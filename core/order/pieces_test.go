package order

import (
	"slices"
	"testing"

	"zestytin/core/ident"
)

// By hand: 13 truffles are begun for Anouk (6, on Friday) and Wren (6, on Saturday); 3 break. Of the 10 that are left
// Anouk has her 6, and Wren 4 of 6. Two more are made for Wren, of which one breaks again: one is missing.
func TestShortfallsServeTheNextHandoverFirst(t *testing.T) {
	share := func(order ident.Order, count int) Share {
		return Share{ShareOwner: ShareOwner{Order: order, Count: count}, State: Making}
	}
	lines := []PromisedLine{{Order: "anouk", Wanted: 6}, {Order: "wren", Wanted: 6}}
	batch := Output{Started: 13, Counted: true, Shares: Shares{share("anouk", 6), share("wren", 6)}}
	good := func(n int) *int { return &n }
	cancelled := share("anouk", 6)
	cancelled.State = Cancelled
	for _, c := range []struct {
		name  string
		lines []PromisedLine
		made  []Output
		want  []int // missing, by line
	}{
		{"one broke, one was to spare", lines, []Output{with(batch, 1, nil)}, nil},
		{"three broke", lines, []Output{with(batch, 3, nil)}, []int{2}},
		{"nine broke", lines, []Output{with(batch, 9, nil)}, []int{2, 6}},
		{"more broke than there were", lines, []Output{with(batch, 20, nil)}, []int{6, 6}},
		{"recorded as fewer than were counted", lines, []Output{with(batch, 0, good(11))}, []int{1}},
		{"recorded as more than were counted", lines, []Output{with(batch, 5, good(12))}, nil},
		{"two more are made", lines, []Output{with(batch, 3, nil),
			{Started: 2, Counted: true, Shares: Shares{share("wren", 2)}}}, nil},
		{"and one of them breaks", lines, []Output{with(batch, 3, nil),
			{Started: 2, Counted: true, Broken: 1, Shares: Shares{share("wren", 2)}}}, []int{1}},
		{"the other order is cancelled: its pieces are free", lines[1:],
			[]Output{{Started: 13, Counted: true, Broken: 6, Shares: Shares{cancelled, share("wren", 6)}}}, nil},
		{"bags of a sheet come out as promised", lines,
			[]Output{{Started: 1, Shares: Shares{share("anouk", 6), share("wren", 6)}}}, nil},
		{"but for those that were counted", lines,
			[]Output{{Started: 1, Good: good(9), Shares: Shares{share("anouk", 6), share("wren", 6)}}}, []int{3}},
		{"an order that takes fewer now", []PromisedLine{lines[0], {Order: "wren", Wanted: 4}},
			[]Output{with(batch, 3, nil)}, nil},
		{"nothing is made of it here", []PromisedLine{{Order: "other", Wanted: 3}}, []Output{batch}, nil},
	} {
		var got []int
		for _, s := range Shortfalls(c.lines, c.made) {
			got = append(got, s.Missing)
			if s.Good+s.Missing != s.Wanted {
				t.Errorf("%s: %d good and %d missing of %d", c.name, s.Good, s.Missing, s.Wanted)
			}
		}
		if !slices.Equal(got, c.want) {
			t.Errorf("%s: missing %v, want %v", c.name, got, c.want)
		}
	}
}

func with(o Output, broken int, good *int) Output {
	o.Broken, o.Good = broken, good
	return o
}
