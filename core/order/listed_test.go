package order

import (
	"testing"

	"zestytin/core/ident"
)

// By hand: 18 strawberries at 24.00 a dozen and 2 bags of bark at 9.00 are 36 + 18 = 54.00.
func TestListed(t *testing.T) {
	treats := map[ident.Treat]Treat{
		"berry": {List: &ListPrice{Price: "24", Count: 12}},
		"bark":  {List: &ListPrice{Price: "9.00", Count: 1}},
		"fudge": {},
	}
	for _, c := range []struct {
		lines    []Line
		currency string
		want     string
	}{
		{[]Line{{Treat: "berry", Count: 18}, {Treat: "bark", Count: 2}}, "USD", "54.00"},
		{[]Line{{Treat: "berry", Count: 1}}, "USD", "2.00"},
		{[]Line{{Treat: "berry", Count: 7}}, "JPY", "14"},
		{[]Line{{Treat: "berry", Count: 12}, {Treat: "fudge", Count: 1}}, "USD", ""}, // the list does not have all of it
		{nil, "USD", ""},
	} {
		got := Listed(c.lines, treats, c.currency)
		if (got == nil) != (c.want == "") || got != nil && got.Amount != c.want {
			t.Errorf("%+v: %v, want %v", c.lines, got, c.want)
		}
	}
}
