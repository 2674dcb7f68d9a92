package plan

import (
	"bytes"
	"context"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"testing"
	"time"

	"zestytin/core/si"
)

// data of a problem for testdata/exact.mzn, in units of so many minutes.
func data(p *Problem, unit int) string {
	var out strings.Builder
	ints := func(name string, all ...int) {
		fmt.Fprintf(&out, "%s = %s;\n", name, strings.ReplaceAll(fmt.Sprint(all), " ", ", "))
	}
	column := func(name string, n int, of func(int) int) {
		all := make([]int, n)
		for i := range all {
			all[i] = of(i)
		}
		ints(name, all...)
	}
	number := func(name string, x int) { fmt.Fprintf(&out, "%s = %d;\n", name, x) }
	number("S", len(p.Sessions))
	column("from", len(p.Sessions), func(i int) int { return int(p.Sessions[i].From / si.Minutes(unit)) })
	column("to", len(p.Sessions), func(i int) int { return int(p.Sessions[i].To / si.Minutes(unit)) })
	column("hands", len(p.Sessions), func(i int) int { return p.Sessions[i].People })
	number("P", len(p.Places))
	column("trays", len(p.Places), func(i int) int { return p.Places[i].Trays })
	number("T", len(p.Tools))
	column("tools", len(p.Tools), func(i int) int { return p.Tools[i].Count })
	number("B", len(p.Batches))
	number("washdown", int(p.Washdown/si.Minutes(unit)))
	type row struct {
		Operation
		batch int
	}
	var steps []row
	at := map[ref]int{}
	for b := range p.Batches {
		for _, s := range p.Batches[b].Steps {
			steps = append(steps, row{s, b + 1})
			at[ref{p.Batches[b].ID, s.ID}] = len(steps)
		}
	}
	of := func(b int) *Batch { return &p.Batches[b-1] }
	column("worth", len(p.Batches), func(i int) int { return p.Batches[i].Penalty })
	column("notBefore", len(p.Batches), func(i int) int { return int(p.Batches[i].ReleaseMin / si.Minutes(unit)) })
	column("readyBy", len(p.Batches), func(i int) int { return int(p.Batches[i].DueMin / si.Minutes(unit)) })
	column("keeps", len(p.Batches), func(i int) int {
		if p.Batches[i].ShelfLifeMin == nil {
			return -1
		}
		return int(*p.Batches[i].ShelfLifeMin / si.Minutes(unit))
	})
	column("fresh", len(p.Batches), func(i int) int { return at[ref{p.Batches[i].ID, p.Batches[i].FreshFrom}] })
	var clash []string
	for f := range p.Batches {
		for c := range p.Batches {
			clash = append(clash, fmt.Sprint(allergensConflict(&p.Batches[f], &p.Batches[c])))
		}
	}
	fmt.Fprintf(&out, "clash = array2d(1..B, 1..B, [%s]);\n", strings.Join(clash, ", "))
	number("N", len(steps))
	column("batch", len(steps), func(i int) int { return steps[i].batch })
	column("dur", len(steps), func(i int) int { return int(steps[i].HandsOnMin / si.Minutes(unit)) })
	column("wait", len(steps), func(i int) int { return int(steps[i].PassiveMin / si.Minutes(unit)) })
	pot := func(i int) int { return slices.IndexFunc(p.Pots, func(x Pot) bool { return x.ID == steps[i].Pot }) }
	column("pot", len(steps), func(i int) int { return pot(i) + 1 })
	column("changeover", len(steps), func(i int) int {
		if pot(i) < 0 {
			return 0
		}
		return int(p.Pots[pot(i)].Changeover / si.Minutes(unit))
	})
	column("holds", len(steps), func(i int) int {
		if pot(i) < 0 {
			return 0
		}
		return int(p.Pots[pot(i)].Holds / si.Minutes(unit))
	})
	column("place", len(steps), func(i int) int {
		return 1 + slices.IndexFunc(p.Places, func(x StorageResource) bool { return x.ID == steps[i].Storage })
	})
	column("fills", len(steps), func(i int) int { return steps[i].Trays })
	var before, after, least, most, taker, tool, count, until []int
	for i, s := range steps {
		for _, a := range s.After {
			before, after, least = append(before, at[ref{of(s.batch).ID, a.Step}]), append(after, i+1),
				append(least, int(a.Min/si.Minutes(unit)))
			if a.Max == nil {
				most = append(most, -1)
			} else {
				most = append(most, int(*a.Max/si.Minutes(unit)))
			}
		}
		for _, t := range s.Takes {
			taker, until, count = append(taker, i+1), append(until, at[ref{of(s.batch).ID, t.Until}]),
				append(count, t.Count)
			tool = append(tool, 1+slices.IndexFunc(p.Tools, func(x MouldResource) bool { return x.ID == t.Tool }))
		}
	}
	number("A", len(before))
	ints("before", before...)
	ints("after", after...)
	ints("least", least...)
	ints("most", most...)
	number("K", len(taker))
	ints("taker", taker...)
	ints("tool", tool...)
	ints("count", count...)
	ints("until", until...)
	return out.String()
}

// small problem of a few batches of few steps over two or three evenings, in which much collides.
func small(seed uint64) *Problem {
	r := rand.New(rand.NewPCG(seed, 12))
	p := kitchen(2+r.IntN(2), 1+r.IntN(2))
	p.Places = []StorageResource{{ID: "fridge", Trays: 1}, {ID: "freezer", Trays: 1}, {ID: "counter", Trays: 2}}
	for n := 0; len(p.Batches) < 3 && p.Size() < 7; n++ {
		b := made(r, fmt.Sprint("b", n), (1+r.IntN(len(p.Sessions)-1))*day+[]int{0, 1110, 1200, 1320}[r.IntN(4)])
		if len(b.Steps) <= 4 && p.Size()+len(b.Steps) <= 8 {
			p.Batches = append(p.Batches, b)
		}
	}
	return p
}

// The answer of an independent solver (MiniZinc with Gecode, from Debian), which proves that there is none better, on a
// dozen small problems.
func TestAgainstAnExactSolver(t *testing.T) {
	if _, err := exec.LookPath("minizinc"); err != nil {
		t.Fatal("minizinc is missing: tools/setup test installs it")
	}
	const unit = 5
	for _, seed := range []uint64{0, 1, 2, 3, 4, 5, 7, 8, 10, 11, 19, 32, 33, 45} {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			t.Parallel()
			p := small(seed)
			got := checked(t, p, Options{}).Score
			file := filepath.Join(t.TempDir(), "problem.dzn")
			if err := os.WriteFile(file, []byte(data(p, unit)), 0o600); err != nil {
				t.Fatal(err)
			}
			ctx, stop := context.WithTimeout(context.Background(), 30*time.Second)
			defer stop()
			var says bytes.Buffer
			cmd := exec.CommandContext(ctx, "minizinc", "--solver", "gecode", "testdata/exact.mzn", file)
			cmd.Stderr = &says
			cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true} // the solver is a child of its own
			cmd.Cancel = func() error { return syscall.Kill(-cmd.Process.Pid, syscall.SIGKILL) }
			text, err := cmd.Output()
			if err != nil || !strings.Contains(string(text), "==========") {
				t.Fatalf("%v %s %s", err, text, says.String())
			}
			lines := strings.Split(strings.TrimSpace(string(text)), "\n")
			var want Score
			if _, err := fmt.Sscan(lines[len(lines)-3], &want.Unplaced, &want.Setup, &want.AgeAtHandover); err != nil {
				t.Fatal(err, string(text))
			}
			want.Setup, want.AgeAtHandover = want.Setup*unit, want.AgeAtHandover*unit
			if got != want {
				t.Errorf("%+v, the solver has %+v", got, want)
			}
			t.Logf("%+v, %d steps", want, p.Size())
		})
	}
}
