package plan

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"zestytin/core/ident"
	"zestytin/core/si"
)

// Whatever stands, was ticked and was pinned, and however late it is: the present is a problem that makes sense, and
// what is settled from it is a valid plan in which what is done has stayed where it was, what is pinned stands where it
// is pinned, and nothing else begins before now.
func TestThePresentIsAlwaysAProblem(t *testing.T) {
	r := rand.New(rand.NewPCG(12, 5))
	done, pinned, out := 0, 0, 0
	for n := range 120 {
		p, promised, now := life(r)
		problem := CurrentProblem(p, now, promised)
		if err := problem.Check(); err != nil {
			t.Fatalf("case %d: %v", n, err)
		}
		made, err := Settle(context.Background(), problem, Options{Effort: 40})
		if err != nil {
			t.Fatalf("case %d: %v", n, err)
		}
		// Of batches that are stuck what is done is there still.
		left := *problem
		left.Batches = nil
		for _, b := range problem.Batches {
			if stuck := slices.ContainsFunc(made.Unplaced, func(u Unplaced) bool { return u.Batch == b.ID }) &&
				slices.ContainsFunc(b.Steps, func(s Operation) bool { return s.Pinned != nil }); stuck {
				b = past(b)
			}
			left.Batches = append(left.Batches, b)
		}
		plan := *made
		plan.Unplaced = slices.DeleteFunc(slices.Clone(made.Unplaced), func(u Unplaced) bool {
			return !slices.ContainsFunc(left.Batches, func(b Batch) bool { return b.ID == u.Batch })
		})
		_, broken := Check(&left, &plan)
		for _, v := range broken {
			// Which washdown cleared what, among steps that overlap in the past, can be read in two ways.
			if at := slices.IndexFunc(plan.Steps, func(s ScheduledOperation) bool {
				return s.Batch == v.Batch &&
					s.Step == v.Step
			}); (v.Rule == 6 || v.Rule == 7) && at >= 0 && plan.Steps[at].Start < now {
				continue
			}
			t.Errorf("case %d: %v", n, v)
		}
		out += len(made.Unplaced)
		for _, s := range made.Steps {
			b := left.Batches[slices.IndexFunc(left.Batches, func(b Batch) bool { return b.ID == s.Batch })]
			step := b.Steps[slices.IndexFunc(b.Steps, func(x Operation) bool { return x.ID == s.Step })]
			switch {
			case step.Pinned == nil && s.From() < now:
				t.Errorf("case %d: %s/%s begins at %d, and it is %d", n, s.Batch, s.Step, s.From(), now)
			case step.Pinned != nil && step.Pinned.Start < now:
				done++
			case step.Pinned != nil:
				pinned++
			}
		}
	}
	if done < 100 || pinned < 20 || out < 10 {
		t.Errorf("the test sees too little: %d done, %d pinned, %d without room", done, pinned, out)
	}
}

// life of a kitchen over some days: what was planned by the planner, and what became of it.
func life(r *rand.Rand) (Problem, []CommittedBatch, si.Minutes) {
	whole := busy(r.Uint64()%1000, 4+r.IntN(10), 5, 1+r.IntN(2))
	planned, err := Make(context.Background(), whole, Options{Effort: 20})
	if err != nil {
		panic(err)
	}
	const before = DayMinutes // the day before the first that is known
	empty := *whole
	empty.Batches, empty.Previous, empty.Sessions = nil, nil, slices.Clone(whole.Sessions)
	for i := range empty.Sessions {
		empty.Sessions[i].From += before
		empty.Sessions[i].To += before
	}
	now := before + si.Minutes(r.IntN(4*DayMinutes))
	var promised []CommittedBatch
	for _, b := range whole.Batches {
		x := CommittedBatch{b, map[ident.Step]Scheduled{}}
		x.ReleaseMin, x.DueMin = 0, b.DueMin+before
		ticking := r.IntN(3) > 0
		for _, s := range planned.Steps {
			if s.Batch != b.ID {
				continue
			}
			at := Scheduled{Start: s.Start + before, Hand: s.Hand, Changeover: s.Changeover, Washdown: s.Washdown,
				Pinned: r.IntN(8) == 0}
			switch at.Start < now && ticking {
			case true:
				when := min(at.Start+s.Hands+si.Minutes(r.IntN(200))-20, now)
				at.Done = &when
			default:
				ticking = false // who stopped has not done what comes after
			}
			x.At[s.Step] = at
		}
		if r.IntN(10) == 0 { // it has just been promised, and stands nowhere
			x.At = nil
		}
		promised = append(promised, x)
	}
	if r.IntN(4) == 0 && len(empty.Sessions) > 1 { // a day off that came later
		n := r.IntN(len(empty.Sessions))
		empty.Sessions = slices.Delete(empty.Sessions, n, n+1)
	}
	for i := range promised {
		promised[i].ID = ident.Batch(fmt.Sprint("p", i, "-", promised[i].ID))
	}
	return empty, promised, now
}
