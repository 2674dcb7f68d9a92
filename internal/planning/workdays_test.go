package planning

import (
	"errors"
	"slices"
	"testing"

	"zestytin/core/invalid"
)

// Ten thousand spans that all overlap are one fault, not fifty million: a request must not take the memory of the server.
func TestTooManySpansAreOneFault(t *testing.T) {
	var f invalid.Faults
	checkSpans(&f, "week[0]", slices.Repeat([]Span{{From: "08:00", To: "10:00", Hands: 1}}, 10_000))
	var faults *invalid.Error
	if !errors.As(f.Err(), &faults) || len(faults.Fields) != 1 || faults.Fields[0].Path != "week[0]" {
		t.Fatalf("%d faults", len(faults.Fields))
	}
	var few invalid.Faults
	checkSpans(&few, "week[0]", slices.Repeat([]Span{{From: "08:00", To: "10:00", Hands: 1}}, 5))
	if errors.As(few.Err(), &faults); len(faults.Fields) != 4 {
		t.Errorf("%d faults of five that overlap, want one for each but the first", len(faults.Fields))
	}
}
