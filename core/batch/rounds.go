package batch

import (
	"math"

	"zestytin/core/family"
	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/core/treat"
)

// MostRounds of moulds, sheets or pans that a card is made for.
const MostRounds = 2000

// rounds is what is made in one go: fillings of the moulds, sheets or pans.
type rounds struct {
	*starts
	rounds  int     // 0 where it is made piece by piece
	filling int     // cavities of a full round, 0 without moulds
	ends    [][]int // cavities that are filled up to the end of each round, by design: one design after the other
}

func (s *starts) layOut() (*rounds, error) {
	r := &rounds{starts: s}
	switch {
	case s.lay.Sheet != nil:
		r.rounds = int(math.Ceil(math.Min(s.units, MostRounds+1) - 1e-9))
	case s.lay.Moulds != nil:
		cells := 0
		for _, n := range s.cells {
			cells += n
		}
		r.filling = s.lay.Moulds.Cavities * s.moulds.Used
		r.rounds = (cells + r.filling - 1) / r.filling
	}
	if r.rounds > MostRounds {
		return nil, invalid.At("", reason.Of("batch.come-to-more-than-check", reason.Count{N: s.good, Of: s.is.One},
			reason.Int(MostRounds), reason.Word(s.is.Rounds)))
	}
	if r.filling > 0 {
		r.ends = make([][]int, r.rounds)
		for n := range r.ends {
			r.ends[n] = make([]int, len(s.cells))
			left := (n + 1) * r.filling
			for d, cells := range s.cells {
				r.ends[n][d] = min(left, cells)
				left -= r.ends[n][d]
			}
		}
	}
	return r, nil
}

// cellsIn a round, by design.
func (r *rounds) cellsIn(round, design int) int {
	n := r.ends[round][design]
	if round > 0 {
		n -= r.ends[round-1][design]
	}
	return n
}

// turn is a part of a step: one round of it where it goes by rounds, one chocolate of it where the designs have
// several.
type turn struct {
	step          int // of the formula
	round, rounds int
	again         bool // the first step of a group, come round again: the gap to the step before it holds but once
}

// unitsIn a turn, by design: whole pieces where it is one of several rounds.
func (r *rounds) unitsIn(t turn) []float64 {
	all := r.at(t.step)
	if t.rounds <= 1 {
		return all
	}
	units := make([]float64, len(all))
	for d := range all {
		if r.filling == 0 {
			units[d] = all[d] / float64(t.rounds)
			continue
		}
		if r.cells[d] == 0 {
			continue
		}
		upTo := func(round int) float64 {
			if round < 0 {
				return 0
			}
			cells := r.ends[round][d]
			if full := float64(r.cells[d]) / float64(r.lay.Moulds.Each); all[d] == full {
				return float64(cells) / float64(r.lay.Moulds.Each)
			}
			return math.Round(all[d] * float64(cells) / float64(r.cells[d]))
		}
		units[d] = upTo(t.round) - upTo(t.round-1)
	}
	return units
}

// turns of all steps, in the order in which they are worked. Steps through which the moulds are held go round together:
// the moulds must set before they are filled again. What is done beside them is done once.
func (r *rounds) turns(yield func(turn) bool) {
	steps := r.f.Steps
	for i := 0; i < len(steps); {
		end, n := r.group(i), 1
		if steps[i].Rounds {
			n = max(r.rounds, 1)
		}
		for round := range n {
			for j := i; j < end; j++ {
				if steps[j].Beside != "" {
					if round == 0 && !yield(turn{step: j, rounds: 1}) {
						return
					}
					continue
				}
				if !yield(turn{step: j, round: round, rounds: n, again: round > 0 && j == i}) {
					return
				}
			}
		}
		i = end
	}
}

// group is the index behind the last of the steps that go round together with the i-th: those until its moulds are
// free.
func (r *rounds) group(i int) int {
	end := i + 1
	if !r.f.Steps[i].Rounds {
		return end
	}
	for j := i; j < end; j++ {
		w := r.f.Steps[j]
		for until := end; w.Moulds && r.lay.Moulds.Once == "" && until < len(r.f.Steps); until++ {
			if r.f.Steps[until].ID == w.Until {
				end = until + 1
			}
		}
	}
	return end
}

// sum of units.
func sum(units []float64) float64 {
	all := 0.0
	for _, u := range units {
		all += u
	}
	return all
}

// each is what goes into or onto one unit of a design of an addition, in the unit that its ingredient is kept in.
func (r *rounds) each(d treat.Design, p treat.Addition) float64 {
	base, _ := r.item(p.Ingredient).Base(family.Each(r.f, r.k, &d, p))
	return base
}
