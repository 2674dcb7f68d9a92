package ledger

import (
	"math"
	"math/rand/v2"
	"testing"

	"zestytin/core/chocolate"
	"zestytin/core/si"
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
		d := Draw{Pot: pot, Pool: si.Grams(float64(r.IntN(4)) * 60), Least: chocolate.LeastMelt, Seed: seed}
		switch r.IntN(4) {
		case 0:
			n := 1 + r.IntN(60)
			d.Fill = &Fill{Cavities: n, Mould: 1 + r.IntN(24), Pour: si.Grams(20 + r.Float64()*60)}
			d.Applied = si.Grams(n) * d.Fill.Pour * si.Grams(r.Float64())
		case 1:
			d.Trimmed = si.Grams(stayed * r.Float64() * 0.1)
			stayed -= float64(d.Trimmed)
		default:
			d.Applied, d.Tops = si.Grams(r.Float64()*300), r.IntN(3) == 0
		}
		if pot.Tint != "" {
			d.Colour = float64(i/3) * 0.004
		}
		stayed += float64(d.Applied)
		draws[i] = d
	}
	return draws
}

// Whatever is worked from a bowl: in = out + left to 1 mg, of all and of each ingredient; what is put in, trimmings and
// drips included, is at least what stays with tools and the largest standing need; the bowl never holds less than
// nothing, and before every mould holds its fill.
func TestTheAccountIsClosed(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 8))
	for n := range 3000 {
		draws := randomDraws(r)
		b := Open(draws)
		tint := 0.0
		for _, l := range b.Lines() {
			if l.Kind == Stirred {
				tint += float64(l.Grams)
			}
			if l.Holds < -1e-6 && l.Kind != Filled {
				t.Fatalf("%d: the bowl holds %v after %s", n, l.Holds, l.Kind)
			}
		}
		if gone := b.In() + si.Grams(tint) - b.Used - b.Left; math.Abs(float64(gone)) > 0.001 {
			t.Fatalf("%d: %v g are nowhere: %+v", n, gone, b)
		}
		parts := 0.0
		for _, p := range b.Parts {
			parts += float64(p.In)
			if math.Abs(float64(p.In-p.Used-p.Left)) > 0.001 {
				t.Fatalf("%d: %+v", n, p)
			}
		}
		if math.Abs(float64(si.Grams(parts)-b.In()-si.Grams(tint))) > 0.001 {
			t.Fatalf("%d: the parts weigh %v of %v", n, parts, b.In()+si.Grams(tint))
		}
		standing := b.Pool
		for i := range draws {
			if d := &draws[i]; d.Fill != nil {
				standing = si.Grams(math.Max(float64(standing),
					float64(si.Grams(min(d.Fill.Mould, d.Fill.Cavities))*(d.Fill.Pour-d.Keep()))))
			}
		}
		if put := b.In() + si.Grams(tint) + b.Trimmed + b.Drained; put < b.Applied+b.Tools+standing-1e-6 {
			t.Fatalf("%d: %v are put in, %v stay and %v must stand", n, put, b.Applied+b.Tools, standing)
		}
		holds, topped := b.Melted, 0.0
		for i := range draws {
			d := &draws[i]
			holds, topped = holds+b.TopUps[i], float64(si.Grams(topped)+b.TopUps[i])
			if d.Fill != nil {
				for cavities := range d.Fill.fillings {
					if pours := si.Grams(cavities) * d.Fill.Pour; holds < pours-1e-6-si.Grams(tint)-0.02*d.Applied {
						t.Fatalf("%d: a mould takes %v and the bowl holds %v", n, pours, holds)
					}
					holds -= si.Grams(cavities) * d.Keep() * (1 + OnTools)
				}
			} else {
				holds -= d.takes()
			}
			holds += d.Trimmed
		}
		if holds < b.Pool-si.Grams(tint)-1e-6 {
			t.Fatalf("%d: %v are left of a pool of %v", n, holds, b.Pool)
		}
	}
}

// What is carried from bowl to bowl is neither made nor lost, never more than the melted part, and never what may not
// touch.
func TestWhatIsLeftGoesRound(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 10))
	days := []string{"2026-09-10", "2026-09-11", "2026-09-12"}
	for range 1000 {
		var melts []Melt
		in, used, thrown := 0.0, 0.0, 0.0
		for _, day := range days {
			for range r.IntN(4) {
				d := Draw{Pot: dark, Applied: si.Grams(r.Float64() * 300), Pool: si.Grams(r.Float64() * 300),
					Least: 115, Seed: seed, Damp: r.IntN(3) == 0}
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
			in, used = float64(si.Grams(in)+m.Fresh()), float64(si.Grams(used)+m.Used)
			var poured si.Grams
			for _, p := range m.From {
				poured += p.Grams
				carried[p.Of] += float64(p.Grams)
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
				thrown += float64(m.Left - si.Grams(carried[m.Of]))
			}
		}
		rest := 0.0
		for _, x := range left {
			rest += float64(x.Grams)
		}
		if gone := in - used - rest - thrown; math.Abs(gone) > 0.001 {
			t.Fatalf("%v g are nowhere", gone)
		}
	}
}

func BenchmarkOpen(b *testing.B) {
	draws := make([]Draw, 200)
	for i := range draws {
		draws[i] = Draw{Pot: dark, Applied: 600, Fill: &Fill{Cavities: 24, Mould: 12, Pour: brim}, Pool: 200,
			Least: 115, Seed: seed}
	}
	for b.Loop() {
		Open(draws)
	}
}
