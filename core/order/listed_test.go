package order

import (
	"errors"
	"strings"
	"testing"

	"zestytin/core/ident"
	"zestytin/core/invalid"
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

// A price of a list is above nothing, for a count that can be sold, and is kept with the currency's decimals.
func TestListPriceIsChecked(t *testing.T) {
	for _, c := range []struct {
		list     ListPrice
		currency string
		want     string // that is kept, or the fields that are wrong
	}{
		{ListPrice{"24", 12}, "USD", "24.00"},
		{ListPrice{"1980", 6}, "JPY", "1980"},
		{ListPrice{"0", 12}, "USD", "price"},
		{ListPrice{"-3", 0}, "USD", "price count"},
		{ListPrice{"a lot", 10_001}, "USD", "price count"},
		{ListPrice{"9.5", 12}, "JPY", "price"}, // there are no parts of a yen (ISO 4217)
	} {
		l := c.list
		var bad *invalid.Error
		if err := l.Check(c.currency); errors.As(err, &bad) {
			var fields []string
			for _, f := range bad.Fields {
				fields = append(fields, f.Path)
			}
			if got := strings.Join(fields, " "); got != c.want {
				t.Errorf("%+v: %q is wrong, want %q", c.list, got, c.want)
			}
		} else if err != nil || string(l.Price) != c.want {
			t.Errorf("%+v: %v, %v; want %s", c.list, l, err, c.want)
		}
	}
}
