package order

import (
	"errors"
	"testing"

	"github.com/shopspring/decimal"

	"zestytin/core/invalid"
	"zestytin/internal/text/said"
)

// By hand: of 24 truffles for 36.00 six came back, 9.00, and of 7 bombs for 25.00 one, 3.57: 12.57.
func TestCameBack(t *testing.T) {
	list, worth := CameBack([]Given{{"Truffles", 24, 18, decimal.NewFromInt(36)},
		{"Berries", 12, 12, decimal.NewFromInt(20)}, {"Bombs", 7, 6, decimal.NewFromInt(25)}}, "USD")
	if worth.Amount != "12.57" || len(list) != 2 || said.Of(list[0]) != "6 of 24 Truffles" ||
		said.Of(list[1]) != "1 of 7 Bombs" {
		t.Errorf("%v %v", worth, list)
	}
}

func TestCheckGiven(t *testing.T) {
	counts := []int{24, 12}
	for _, given := range [][]int{{24, 0}, {0, 1}, {23, 12}} {
		if err := CheckGiven(counts, given); err != nil {
			t.Errorf("%v: %s", given, said.Error(err))
		}
	}
	for _, x := range []struct {
		given []int
		path  string
	}{{[]int{24, 12}, ""}, {[]int{0, 0}, ""}, {[]int{24}, ""}, {nil, ""}, {[]int{25, 0}, "[0]"},
		{[]int{24, -1}, "[1]"}} {
		var faults *invalid.Error
		if err := CheckGiven(counts, x.given); !errors.As(err, &faults) || faults.Fields[0].Path != x.path {
			t.Errorf("%v: %v", x.given, err)
		}
	}
}
