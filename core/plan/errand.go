package plan

import (
	"fmt"
	"strings"

	"zestytin/core/ident"
	"zestytin/core/si"
)

// Errand is time of a person in which nothing is made: somebody is on the road. Times are minutes of the day on the
// wall clock.
type Errand struct {
	Day    string        `json:"day"`
	From   si.Minutes    `json:"from"`
	To     si.Minutes    `json:"to"`
	Hand   int           `json:"hand"`
	Orders []ident.Order `json:"orders"`
}

// errandID begins the ids of batches that stand for errands: nobody makes them.
const errandID = "errand "

// IsErrand tells whether a batch stands for an errand.
func IsErrand(id ident.Batch) bool { return strings.HasPrefix(string(id), errandID) }

// Busy is an errand of a calendar's day as the planner sees it: steps that are pinned, one in each session of its
// person that it takes from, after the minute now. What of it lies outside of the sessions takes from nothing. It
// counts as so much to leave it out.
func (e *Errand) Busy(cal Calendar, day int, sessions []Session, now si.Minutes, penalty int) CommittedBatch {
	span := Span{cal.At(day, e.From), cal.At(day, e.To)}
	b := CommittedBatch{Batch: Batch{ID: ident.Batch(fmt.Sprint(errandID, e.Day, " ", e.From)), Penalty: penalty,
		DueMin: span.To}, At: map[ident.Step]Scheduled{}}
	for _, s := range sessions {
		from, to := max(span.From, s.From, now), min(span.To, s.To)
		if from >= to || e.Hand >= s.People {
			continue
		}
		id := ident.Step(fmt.Sprint(len(b.Steps)))
		b.Steps = append(b.Steps, Operation{ID: id, HandsOnMin: to - from})
		b.At[id] = Scheduled{Start: from, Hand: e.Hand, Pinned: true}
	}
	return b
}

// BusySteps of a batch that stands for an errand.
func BusySteps(b CommittedBatch) []ScheduledOperation {
	steps := make([]ScheduledOperation, len(b.Steps))
	for i, s := range b.Steps {
		at := b.At[s.ID]
		steps[i] = ScheduledOperation{Batch: b.ID, Step: s.ID, Start: at.Start, Hand: at.Hand, Hands: s.HandsOnMin}
	}
	return steps
}
