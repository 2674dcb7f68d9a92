package invalid

import (
	"errors"
	"testing"
)

func TestFaultsKeepTheirPlaces(t *testing.T) {
	var inner Faults
	inner.Add("count", errors.New("too many"))
	inner.Add("[2].unit", errors.New("unknown"))
	var f Faults
	f.Under("lines[0]", inner.Err())
	f.Under("", inner.Err())
	f.Under("price", errors.New("not money"))
	f.Under("fine", nil)
	got := f.Err().Error()
	want := "lines[0].count: too many; lines[0][2].unit: unknown; count: too many; [2].unit: unknown; price: not money"
	if got != want {
		t.Errorf("got  %s\nwant %s", got, want)
	}
	if (&Faults{}).Err() != nil {
		t.Error("no fault is an error")
	}
}
