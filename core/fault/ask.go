package fault

import (
	"cmp"
	"math"
	"slices"

	"zestytin/core/reason"
)

// Most is how many questions a person is asked.
const Most = 3

// speaks is how many times likelier a fact is where a cause goes with it than where it does not (memory).
const speaks = 5.0

// enough is from which share on a cause needs no further question, and worth the bits that a question must be expected
// to bring (memory).
const (
	enough = 0.85
	worth  = 0.04
)

// setBelow is where chocolate sets well, °C (rules 3.5).
const setBelow = 20

// Question that a fact is asked for with.
func (f Fact) Question() reason.Reason {
	return reason.Of("fault.ask-"+string(f), reason.Celsius(warmRoom))
}

// Named is what a sign looks like.
func (s Sign) Named() reason.Reason { return reason.Of("fault.sign-" + string(s)) }

// Cause that may be behind a sign, with what to do about it.
type Cause struct {
	Code   string
	Why    reason.Reason
	Likely float64 // share; those of all causes come to 1
	Fixes  []Fix   // what is usually done first
	Next   reason.Reason
}

// Answer to what is seen.
type Answer struct {
	Causes []Cause // the likely one first
	Ask    Fact    // to be asked next; empty: enough is known, or nothing more would help
}

// behind a sign are the causes that can be, with their shares by what is known.
func (s *Scene) behind(sign Sign) []Cause {
	n := slices.IndexFunc(signs, func(x seen) bool { return x.sign == sign })
	if n < 0 {
		return nil
	}
	var list []Cause
	all := 0.0
	for _, c := range signs[n].causes {
		if c.when != nil && !c.when(s) {
			continue
		}
		likely := c.share
		for fact, is := range s.Facts {
			likely *= c.goesWith(fact, is)
		}
		all += likely
		why, next := Said(sign, c.code)
		list = append(list, Cause{Code: c.code, Likely: likely, Why: why, Next: next})
	}
	for i := range list {
		list[i].Likely /= all
	}
	return list
}

// goesWith a fact is how probable it is where the cause is behind the sign.
func (c *cause) goesWith(fact Fact, is bool) float64 {
	told, tells := c.tells[fact]
	switch {
	case !tells:
		return 0.5
	case told == is:
		return speaks / (speaks + 1)
	}
	return 1 / (speaks + 1)
}

// Ask what is behind a sign. A person has been asked so many questions about it already; skipped are those that they
// could not answer. A sign that there is not has no causes.
func Ask(sign Sign, s *Scene, asked int, skipped []Fact) Answer {
	a := Answer{Causes: s.behind(sign)}
	slices.SortStableFunc(a.Causes, func(x, y Cause) int { return cmp.Compare(y.Likely, x.Likely) })
	for i := range a.Causes {
		c := &a.Causes[i]
		for _, r := range find(sign, c.Code).fixes {
			if f, can := r(s); can {
				c.Fixes = append(c.Fixes, f)
			}
		}
	}
	if len(a.Causes) < 2 || asked >= Most || a.Causes[0].Likely >= enough {
		return a
	}
	best := worth
	for _, fact := range asks(sign) {
		if _, known := s.Facts[fact]; known || slices.Contains(skipped, fact) {
			continue
		}
		if bits := s.brings(sign, fact); bits > best+1e-9 {
			best, a.Ask = bits, fact
		}
	}
	return a
}

// find a cause of a sign.
func find(sign Sign, code string) *cause {
	for i := range signs {
		for k := range signs[i].causes {
			if c := &signs[i].causes[k]; signs[i].sign == sign && c.code == code {
				return c
			}
		}
	}
	return &cause{}
}

// asks are the facts that tell the causes of a sign apart, in a fixed order.
func asks(sign Sign) []Fact {
	var list []Fact
	for _, s := range signs {
		if s.sign != sign {
			continue
		}
		for _, c := range s.causes {
			for fact := range c.tells {
				if !slices.Contains(list, fact) {
					list = append(list, fact)
				}
			}
		}
	}
	slices.Sort(list)
	return list
}

// brings is how many bits of what is not known about the causes an answer is expected to take away (Shannon 1948;
// memory): H(causes) - H(causes | fact).
func (s *Scene) brings(sign Sign, fact Fact) float64 {
	causes := s.behind(sign)
	bits := entropy(causes)
	for _, is := range []bool{true, false} {
		chance := 0.0
		then := make([]Cause, len(causes))
		for i, c := range causes {
			p := c.Likely * find(sign, c.Code).goesWith(fact, is)
			chance += p
			then[i].Likely = p
		}
		for i := range then {
			then[i].Likely /= chance
		}
		bits -= chance * entropy(then)
	}
	return bits
}

func entropy(causes []Cause) (bits float64) {
	for _, c := range causes {
		if c.Likely > 0 {
			bits -= c.Likely * math.Log2(c.Likely)
		}
	}
	return bits
}

// Tells whether a fact says something about a sign.
func Tells(sign Sign, fact Fact) bool { return slices.Contains(asks(sign), fact) }

// Said is how a cause of a sign is said that was noted, and what to do otherwise next time.
func Said(sign Sign, code string) (why, next reason.Reason) {
	c := find(sign, code)
	return reason.Of("fault.cause-" + code), reason.Of("fault.next-"+c.next, reason.Celsius(setBelow))
}
