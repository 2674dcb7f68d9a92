package ledger

import (
	"math"
	"math/rand/v2"
	"testing"

	"zestytin/core/chocolate"
)

// randomDraws of one pot.
func randomDraws(r *rand.Rand) []Draw {
	pot := dark
	if r.IntN(3) == 0 {
		pot.Flavour = Stir{"mint", r.Float64() * 0.02}
	}
	if r.IntN(3) == 0 {
		pot.Tint = "blue"
	}
	draws := make([]Draw, 1+r.IntN(7))
	stayed := 0.0
	for i := range draws {
		d := Draw{Pot: pot, Pool: float64(r.IntN(4)) * 60, Least: chocolate.LeastMelt, Seed: seed}
		switch r.IntN(4) {
		case 0:
			n := 1 + r.IntN(60)
			d.Fill = &Fill{Cavities: n, Mould: 1 + r.IntN(24), Pour: 20 + r.Float64()*60}
			d.Applied = float64(n) * d.Fill.Pour * r.Float64()
		case 1:
			d.Trimmed = stayed * r.Float64() * 0.1
			stayed -= d.Trimmed
		default:
			d.Applied, d.Tops = r.Float64()*300, r.IntN(3) == 0
		}
		if pot.Tint != "" {
			d.Colour = float64(i/3) * 0.004
		}
		stayed += d.Applied
		draws[i] = d
	}
	return draws
}

// Whatever is worked from a bowl: in = out + left to 1 mg, of all and of each ingredient; what is put in, trimmings and drips included, is at least what stays with tools
// and the largest standing need; the bowl never holds less than nothing, and before every mould holds its fill.
func TestTheAccountIsClosed(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 8))
	for n := range 3000 {
		draws := randomDraws(r)
		b := Open(draws)
		tint := 0.0
		for _, l := range b.Lines() {
			if l.Kind == Stirred {
				tint += l.Grams
			}
			if l.Holds < -1e-6 && l.Kind != Filled {
				t.Fatalf("%d: the bowl holds %v after %s", n, l.Holds, l.Kind)
			}
		}
		if gone := b.In() + tint - b.Used - b.Left; math.Abs(gone) > 0.001 {
			t.Fatalf("%d: %v g are nowhere: %+v", n, gone, b)
		}
		parts := 0.0
		for _, p := range b.Parts {
			parts += p.In
			if math.Abs(p.In-p.Used-p.Left) > 0.001 {
				t.Fatalf("%d: %+v", n, p)
			}
		}
		if math.Abs(parts-b.In()-tint) > 0.001 {
			t.Fatalf("%d: the parts weigh %v of %v", n, parts, b.In()+tint)
		}
		standing := b.Pool
		for i := range draws {
			if d := &draws[i]; d.Fill != nil {
				standing = math.Max(standing, float64(min(d.Fill.Mould, d.Fill.Cavities))*(d.Fill.Pour-d.Keep()))
			}
		}
		if put := b.In() + tint + b.Trimmed + b.Drained; put < b.Applied+b.Tools+standing-1e-6 {
			t.Fatalf("%d: %v are put in, %v stay and %v must stand", n, put, b.Applied+b.Tools, standing)
		}
		holds, topped := b.Melted, 0.0
		for i := range draws {
			d := &draws[i]
			holds, topped = holds+b.TopUps[i], topped+b.TopUps[i]
			if d.Fill != nil {
				for cavities := range d.Fill.fillings {
					if pours := float64(cavities) * d.Fill.Pour; holds < pours-1e-6-tint-0.02*d.Applied {
						t.Fatalf("%d: a mould takes %v and the bowl holds %v", n, pours, holds)
					}
					holds -= float64(cavities) * d.Keep() * (1 + OnTools)
				}
			} else {
				holds -= d.takes()
			}
			holds += d.Trimmed
		}
		if holds < b.Pool-tint-1e-6 {
			t.Fatalf("%d: %v are left of a pool of %v", n, holds, b.Pool)
		}
	}
}

// What is carried from bowl to bowl is neither made nor lost, never more than the melted part, and never what may not touch.
func TestWhatIsLeftGoesRound(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 10))
	days := []string{"2026-09-10", "2026-09-11", "2026-09-12"}
	for range 1000 {
		var melts []Melt
		in, used, thrown := 0.0, 0.0, 0.0
		for _, day := range days {
			for range r.IntN(4) {
				d := Draw{Pot: dark, Applied: r.Float64() * 300, Pool: r.Float64() * 300, Least: 115, Seed: seed, Damp: r.IntN(3) == 0}
				if r.IntN(3) == 0 {
					d.Touches = []string{"peanut"}
				}
				m := Melt{Bowl: Open([]Draw{d}), Of: string(rune('a' + len(melts))), Day: day}
				if d.Touches == nil && r.IntN(2) == 0 {
					m.FreeFrom = []string{"peanut"}
				}
				melts = append(melts, m)
			}
		}
		left := Carry(melts, nil)
		carried := map[string]float64{}
		for i := range melts {
			m := &melts[i]
			in, used = in+m.Fresh(), used+m.Used
			poured := 0.0
			for _, p := range m.From {
				poured += p.Grams
				carried[p.Of] += p.Grams
			}
			if poured > m.Melted-m.Seed+1e-9 {
				t.Fatalf("%v of what was left goes into a melted part of %v", poured, m.Melted-m.Seed)
			}
			if len(m.FreeFrom) > 0 && len(m.Touched) > 0 {
				t.Fatalf("what must be free from %v has touched %v", m.FreeFrom, m.Touched)
			}
		}
		last := ""
		for i := range melts {
			last = max(last, melts[i].Day)
		}
		for i := range melts {
			if m := &melts[i]; m.Damp && m.Day != last {
				thrown += m.Left - carried[m.Of]
			}
		}
		rest := 0.0
		for _, x := range left {
			rest += x.Grams
		}
		if gone := in - used - rest - thrown; math.Abs(gone) > 0.001 {
			t.Fatalf("%v g are nowhere", gone)
		}
	}
}

func BenchmarkOpen(b *testing.B) {
	draws := make([]Draw, 200)
	for i := range draws {
		draws[i] = Draw{Pot: dark, Applied: 600, Fill: &Fill{Cavities: 24, Mould: 12, Pour: brim}, Pool: 200, Least: 115, Seed: seed}
	}
	for b.Loop() {
		Open(draws)
	}
}
