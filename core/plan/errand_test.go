package plan

import (
	"context"
	"math/rand/v2"
	"testing"
	"time"

	"zestytin/core/ident"
	"zestytin/core/si"
)

// One person works from 9:00 to 12:00 and from 13:00 to 17:00, and is on the road from 11:30 to 14:00: half an hour of
// the morning and an hour of the afternoon are taken, and what takes 170 minutes does not begin before 14:00.
func TestNobodyDipsWhileDriving(t *testing.T) {
	cal := CalendarFrom(time.Date(2026, 9, 5, 6, 0, 0, 0, time.UTC), time.UTC)
	sessions := []Session{{540, 720, 1}, {780, 1020, 1}}
	drive := &Errand{Day: "2026-09-05", From: 690, To: 840}
	busy := drive.Busy(cal, 0, sessions, 0, 1000)
	steps := BusySteps(busy)
	if len(steps) != 2 || steps[0].Start != 690 || steps[0].Hands != 30 || steps[1].Start != 780 || steps[1].Hands != 60 ||
		!IsErrand(steps[0].Batch) {
		t.Fatalf("%+v", steps)
	}
	work := CommittedBatch{Batch: Batch{ID: "bark", Penalty: 1000, DueMin: 1020,
		Steps: []Operation{{ID: "spread", HandsOnMin: 170}}}, At: map[ident.Step]Scheduled{}}
	p := CurrentProblem(Problem{Sessions: sessions}, 0, []CommittedBatch{busy, work})
	p.Batches[1].ReleaseMin = 600 // 90 minutes before the drive are too few
	made, err := Settle(context.Background(), p, Options{Effort: 2000})
	if err != nil {
		t.Fatal(err)
	}
	for _, s := range made.Steps {
		if s.Batch == "bark" && s.Start < 840 {
			t.Errorf("bark at %d", s.Start)
		}
	}
	if len(made.Steps) != 3 {
		t.Errorf("%+v", made)
	}
	// A second person is not bound by the drive of the first, and one who does not work that day takes nothing.
	drive.Hand = 1
	if got := drive.Busy(cal, 0, sessions, 0, 1000); len(got.Steps) != 0 {
		t.Errorf("%+v", got.Steps)
	}
	// Half of it has gone by: only the rest is still taken.
	drive.Hand = 0
	if got := drive.Busy(cal, 0, sessions, 800, 1000); len(got.Steps) != 1 || got.At["0"].Start != 800 ||
		got.Steps[0].HandsOnMin != 40 {
		t.Errorf("%+v", got)
	}
}

// In busy weeks with drives at odd times nobody is asked to make anything while driving, and the plan keeps all rules.
func TestNothingOverlapsADrive(t *testing.T) {
	for seed := range uint64(8) {
		p := busy(seed, 7, 5, 2)
		p.Schema, p.Pots = ProblemSchema, nil
		var promised []CommittedBatch
		for i := range p.Batches {
			for j := range p.Batches[i].Steps {
				p.Batches[i].Steps[j].Pot = ""
			}
			promised = append(promised, CommittedBatch{Batch: p.Batches[i], At: map[ident.Step]Scheduled{}})
		}
		cal := CalendarFrom(time.Date(2026, 9, 7, 0, 0, 0, 0, time.UTC), time.UTC)
		r := rand.New(rand.NewPCG(seed, 12))
		var drives []Errand
		for day := range 5 {
			from := si.Minutes(480 + r.IntN(700))
			drives = append(drives, Errand{Day: cal.Date(day), From: from, To: from + si.Minutes(20+r.IntN(180)),
				Hand: r.IntN(2)})
			promised = append(promised, drives[day].Busy(cal, day, p.Sessions, 0, 1000))
		}
		problem := CurrentProblem(*p, 0, promised)
		made, err := Settle(context.Background(), problem, Options{Effort: 3000})
		if err != nil {
			t.Fatalf("week %d: %v", seed, err)
		}
		if _, wrong := Check(problem, made); len(wrong) > 0 {
			t.Errorf("week %d: %v", seed, wrong)
		}
		for _, s := range made.Steps {
			for day, d := range drives {
				from, to := cal.At(day, d.From), cal.At(day, d.To)
				if !IsErrand(s.Batch) && s.Hand == d.Hand && s.From() < to && from < s.To() {
					t.Errorf("week %d: %s of %s from %d to %d, and a drive from %d to %d", seed, s.Step, s.Batch, s.From(),
						s.To(), from, to)
				}
			}
		}
	}
}
