package family

import (
	"fmt"
	"slices"
	"strings"

	"zestytin/core/measure"
	"zestytin/core/treat"
)

// Change is one thing that differs between two versions of a formula.
type Change struct {
	What   string `json:"what"`
	Before string `json:"before,omitempty"`
	After  string `json:"after,omitempty"`
}

// Version of a formula with the mixes that it was written with.
type Version struct {
	Formula *treat.Formula
	Mixes   map[string]treat.Mix
}

// Changes from one version to another, in the order of the formula, in kitchen language. The names of ingredients are those of
// the kitchen; supplies names packaging by id.
func Changes(from, to Version, k *treat.Kitchen, supplies map[string]string) []Change {
	before := from.facts(k.With(from.Mixes), supplies)
	after := to.facts(k.With(to.Mixes), supplies)
	value := func(list []fact, what string) string {
		for _, f := range list {
			if f.what == what {
				return f.value
			}
		}
		return ""
	}
	changes := []Change{}
	for _, f := range after {
		if was := value(before, f.what); was != f.value {
			changes = append(changes, Change{f.what, was, f.value})
		}
	}
	for _, f := range before {
		if !slices.ContainsFunc(after, func(a fact) bool { return a.what == f.what }) {
			changes = append(changes, Change{f.what, f.value, ""})
		}
	}
	return changes
}

// fact is one number or choice of a formula, named so that the same thing has the same name in every version.
type fact struct{ what, value string }

type facts struct {
	list []fact
	k    *treat.Kitchen
}

func (f *facts) add(what, value string) {
	if value != "" {
		f.list = append(f.list, fact{what, value})
	}
}

func (f *facts) atMost(n int) {
	if n > 0 {
		f.add("Moulds at a time", fmt.Sprint(n))
	}
}

func (f *facts) quantity(what string, q *measure.Quantity) {
	if q != nil {
		f.add(what, measure.Number(q.Amount)+" "+string(q.Unit))
	}
}

func (v Version) facts(k *treat.Kitchen, supplies map[string]string) []fact {
	all := &facts{k: k}
	f := v.Formula
	if f == nil {
		return nil
	}
	all.add("Lost on the way", measure.Percent(f.Loss))
	if f.Whole {
		all.add("Designs", "each whole")
	}
	all.add("Keeps", fmt.Sprintf("%d h", f.Keeps))
	for _, choice := range Choices(f) {
		for _, o := range choice.Options {
			if o.ID == Chosen(f, choice.ID) {
				all.add(choice.Name, o.Name)
			}
		}
	}
	if s := f.Shell; s != nil {
		all.quantity("Shell, across", &s.Across)
		all.quantity("Shell, across at the foot", s.Base)
		all.quantity("Shell, height", s.Height)
		all.quantity("Wall", s.Wall)
		all.quantity("Chocolate of a shell", s.Mass)
		all.quantity("For a mug of", s.Mug)
		all.add("Moulds", fmt.Sprintf("%d of %d", s.Moulds, s.Cavities))
		all.atMost(s.AtMost)
	}
	if m := f.Mould; m != nil {
		all.quantity("Cavity", &m.Volume)
		all.add("Moulds", fmt.Sprintf("%d of %d", m.Moulds, m.Cavities))
		all.atMost(m.AtMost)
		all.add("Shell", measure.Percent(m.Shell))
		all.add("Cap", measure.Percent(m.Cap))
		all.quantity("Trimmed off the rim", m.Trim)
	}
	if s := f.Centre; s != nil {
		all.add("Centre", k.Name(s.Of))
		if s.Share > 0 {
			all.add("Fit to dip", measure.Percent(s.Share))
		}
		all.add("Size", string(s.Size))
		all.quantity("Centre, weight", s.Each)
		all.quantity("Centre, across", s.Across)
		all.quantity("Centre, length", s.Length)
	}
	if s := f.Sheet; s != nil {
		all.quantity("Length", &s.Length)
		all.quantity("Width", &s.Width)
		all.quantity("Depth", &s.Depth)
		all.quantity("Bag", s.Bag)
		if s.Rows > 0 {
			all.add("Cut into", fmt.Sprintf("%d x %d", s.Rows, s.Columns))
		}
		all.quantity("Trim", s.Trim)
	}
	all.coatings("", f.Coatings)
	all.portions("", f.Portions)
	for _, d := range f.Finishes {
		all.add("Design "+d.Name, fmt.Sprintf("%d parts", d.Parts))
		all.coatings(d.Name+": ", d.Coatings)
		all.portions(d.Name+": ", d.Portions)
	}
	for _, p := range f.Packs {
		name := supplies[p.Supply]
		if name == "" {
			name = "packaging that is gone"
		}
		all.add(name, fmt.Sprintf("%s %s for %d", measure.Number(p.Amount.Amount), p.Amount.Unit, p.Per))
	}
	for _, w := range f.Steps {
		all.work(w)
	}
	ids := []string{}
	for id := range v.Mixes {
		ids = append(ids, id)
	}
	slices.SortFunc(ids, func(a, b string) int { return strings.Compare(v.Mixes[a].Name, v.Mixes[b].Name) })
	for _, id := range ids {
		m := v.Mixes[id]
		if m.Loss > 0 {
			all.add(m.Name+": loss", measure.Percent(m.Loss))
		}
		for _, p := range m.Parts {
			all.quantity(m.Name+": "+k.Name(p.Of), &p.Amount)
		}
	}
	return all.list
}

func (f *facts) coatings(of string, list []treat.Coating) {
	for _, c := range list {
		name := of + string(c.Role)
		f.add(name, f.k.Name(c.Ingredient))
		f.quantity(name+", on one", c.Each)
		f.quantity(name+", thick", c.Thick)
		if c.Share > 0 {
			f.add(name+", share", measure.Percent(c.Share))
		}
		f.add(name+", method", string(c.Method))
		f.quantity(name+", left in the bowl", &c.Pool)
		f.add(name+", melted with", string(c.Source))
		if c.Minutes != nil {
			f.add(name+", minutes to melt", fmt.Sprint(*c.Minutes))
		}
		for _, s := range []struct {
			what string
			of   *treat.Stirred
		}{{"tint", c.Tint}, {"flavour", c.Flavour}, {"thinner", c.Thinner}} {
			if s.of != nil {
				f.add(name+", "+s.what, fmt.Sprintf("%s %s %s to %s %s", measure.Number(s.of.Amount.Amount), s.of.Amount.Unit, f.k.Name(s.of.Ingredient), measure.Number(s.of.To.Amount), s.of.To.Unit))
			}
		}
	}
}

func (f *facts) portions(of string, list []treat.Portion) {
	for _, p := range list {
		f.quantity(of+f.k.Name(p.Ingredient)+" "+string(p.Where), &p.Each)
	}
}

func (f *facts) work(w treat.Work) {
	minutes := func(what string, x float64) string {
		if x == 0 {
			return ""
		}
		return ", " + measure.Number(x) + " min " + what
	}
	text := w.Name + minutes("once", w.PerBatch) + minutes("a round", w.PerRound) + minutes("a piece", w.PerPiece)
	if w.Wait > 0 {
		text += fmt.Sprintf(", waits %d min %s", w.Wait, w.Place)
	}
	if w.Earliest > 0 {
		text += fmt.Sprintf(", at least %d min after", w.Earliest)
	}
	if w.Latest != nil {
		text += fmt.Sprintf(", at most %d min after", *w.Latest)
	}
	if w.Loss > 0 {
		text += ", " + measure.Percent(w.Loss) + " lost"
	}
	if w.Part > 0 {
		text += ", " + measure.Percent(w.Part) + " of its chocolate"
	}
	f.add("Step "+w.ID, text)
}
