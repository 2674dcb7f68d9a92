package family

import (
	"maps"
	"slices"
	"strings"

	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/treat"
)

// Change is one thing that differs between two versions of a formula.
type Change struct {
	What   reason.Reason `json:"what"`
	Before reason.Reason `json:"before,omitzero"`
	After  reason.Reason `json:"after,omitzero"`
}

// Version of a formula with the mixes that it was written with.
type Version struct {
	Formula *treat.Formula
	Mixes   map[ident.Ingredient]treat.Mix
}

// Changes from one version to another, in the order of the formula. The names of ingredients are those of
// the kitchen; supplies names packaging by id.
func Changes(from, to Version, k *treat.Inputs, supplies map[ident.Supply]treat.FileSupply) []Change {
	before := from.facts(k.With(from.Mixes), supplies)
	after := to.facts(k.With(to.Mixes), supplies)
	value := func(list []fact, what reason.Reason) (reason.Reason, bool) {
		for _, f := range list {
			if f.what.String() == what.String() {
				return f.value, true
			}
		}
		return reason.Reason{}, false
	}
	changes := []Change{}
	for _, f := range after {
		if was, _ := value(before, f.what); was.String() != f.value.String() {
			changes = append(changes, Change{f.what, was, f.value})
		}
	}
	for _, f := range before {
		if _, there := value(after, f.what); !there {
			changes = append(changes, Change{f.what, f.value, reason.Reason{}})
		}
	}
	return changes
}

// fact is one number or choice of a formula, named so that the same thing has the same name in every version.
type fact struct{ what, value reason.Reason }

type facts struct {
	list []fact
	k    *treat.Inputs
	of   reason.Value // what the next facts are of: a design, a mix; nil: the treat
}

// add a fact: what it is by a code, the values that tell which, and its own value.
func (f *facts) add(what reason.Reason, value reason.Value) {
	if f.of != nil {
		what = reason.Of("fact.of", f.of, what)
	}
	f.list = append(f.list, fact{what, reason.Of("fact.value", value)})
}

func (f *facts) atMost(n int) {
	if n > 0 {
		f.add(reason.Of("fact.moulds-at-a-time"), reason.Int(n))
	}
}

func (f *facts) once(supply ident.Supply, supplies map[ident.Supply]treat.FileSupply) {
	if supply != "" {
		f.add(reason.Of("fact.moulds-used-up"), reason.Name(supplies[supply].Name))
	}
}

// quantity as it is written: in the unit that was chosen for it.
func (f *facts) quantity(what reason.Reason, q *measure.Quantity) {
	if q != nil {
		f.add(what, written(*q))
	}
}

func written(q measure.Quantity) reason.Reason {
	return reason.Of("fact.quantity", reason.Number(q.Amount), reason.Name(q.Unit))
}

func (v Version) facts(k *treat.Inputs, supplies map[ident.Supply]treat.FileSupply) []fact {
	all := &facts{k: k}
	f := v.Formula
	if f == nil {
		return nil
	}
	all.add(reason.Of("fact.lost-on-the-way"), reason.Share(f.Loss))
	if f.Whole {
		all.add(reason.Of("fact.designs"), reason.Of("fact.each-whole"))
	}
	all.add(reason.Of("fact.keeps"), reason.Minutes(f.ShelfLifeHours*60))
	for _, choice := range Choices(f) {
		all.add(reason.Of(ChoiceCode(f.Family, choice.ID)), reason.Of(ChoiceCode(f.Family, choice.ID)+"."+
			Chosen(f, choice.ID)))
	}
	if s := f.Shell; s != nil {
		all.quantity(reason.Of("fact.shell-across"), &s.Across)
		all.quantity(reason.Of("fact.shell-across-at-the-foot"), s.Base)
		all.quantity(reason.Of("fact.shell-height"), s.Height)
		all.quantity(reason.Of("fact.wall"), s.Wall)
		all.quantity(reason.Of("fact.chocolate-of-a-shell"), s.Mass)
		all.quantity(reason.Of("fact.for-a-mug-of"), s.Mug)
		all.add(reason.Of("fact.moulds"), reason.Of("fact.n-of-m", reason.Int(s.Moulds), reason.Int(s.Cavities)))
		all.atMost(s.AtMost)
		all.once(s.Once, supplies)
	}
	if m := f.Mould; m != nil {
		all.quantity(reason.Of("fact.cavity"), m.Volume)
		if c := m.Cavity; c != nil {
			all.add(reason.Of("fact.cavity-shape"), reason.Word("shape."+c.Shape))
			all.quantity(reason.Of("fact.cavity-across"), &c.Across)
			all.quantity(reason.Of("fact.cavity-width"), c.Width)
			all.quantity(reason.Of("fact.cavity-foot"), c.Foot)
			all.quantity(reason.Of("fact.cavity-depth"), c.Depth)
		}
		all.once(m.Once, supplies)
		all.add(reason.Of("fact.moulds"), reason.Of("fact.n-of-m", reason.Int(m.Moulds), reason.Int(m.Cavities)))
		all.atMost(m.AtMost)
		all.add(reason.Of("fact.shell"), reason.Share(m.Shell))
		all.add(reason.Of("fact.cap"), reason.Share(m.Cap))
		all.quantity(reason.Of("fact.trimmed-off-the-rim"), m.Trim)
	}
	all.centre(f.Centre)
	if s := f.Sheet; s != nil {
		all.quantity(reason.Of("fact.length"), &s.Length)
		all.quantity(reason.Of("fact.width"), &s.Width)
		all.quantity(reason.Of("fact.depth"), &s.Depth)
		all.quantity(reason.Of("fact.bag"), s.Bag)
		if s.Rows > 0 {
			all.add(reason.Of("fact.cut-into"), reason.Of("fact.n-by-m", reason.Int(s.Rows), reason.Int(s.Columns)))
		}
		all.quantity(reason.Of("fact.trim"), s.Trim)
	}
	all.coatings(f.Coatings)
	all.portions(f.Portions)
	for _, d := range f.Finishes {
		all.of = nil
		all.add(reason.Of("fact.design", reason.Name(d.Name)), reason.Of("fact.parts", reason.Int(d.Parts)))
		all.of = reason.Name(d.Name)
		all.centre(d.Centre)
		if d.Minutes > 0 {
			all.add(reason.Of("fact.minutes-more"), reason.Number(d.Minutes))
		}
		if len(d.FreeFrom)+len(d.Wishes) > 0 {
			all.add(reason.Of("fact.is-to-suit"), reason.Names(append(slices.Clone(d.FreeFrom), asTexts(d.Wishes)...)))
		}
		all.coatings(d.Coatings)
		all.portions(d.Portions)
	}
	all.of = nil
	for _, p := range f.Packs {
		all.add(reason.Of("fact.packaging", reason.Name(supplies[p.Supply].Name)),
			reason.Of("fact.quantity-for", written(p.Amount), reason.Int(p.Per)))
	}
	names := map[ident.Step]string{}
	for _, w := range f.Steps {
		names[w.ID] = w.Name
	}
	for _, w := range f.Steps {
		all.work(w, names)
	}
	if kept := f.Kept; kept != nil {
		if kept.Where != "" {
			all.add(reason.Of("fact.kept"), reason.Word("kept."+string(kept.Where)))
		}
		if kept.Frozen > 0 {
			all.add(reason.Of("fact.kept-frozen"), reason.Int(kept.Frozen))
		}
		if kept.Thaw > 0 {
			all.add(reason.Of("fact.thaws"), reason.Minutes(kept.Thaw))
		}
	}
	if f.Note != "" {
		all.add(reason.Of("fact.note"), reason.Name(f.Note))
	}
	ids := slices.SortedFunc(maps.Keys(v.Mixes), func(a, b ident.Ingredient) int {
		return strings.Compare(
			v.Mixes[a].Name, v.Mixes[b].Name)
	})
	for _, id := range ids {
		m := v.Mixes[id]
		all.of = reason.Name(m.Name)
		if m.Loss > 0 {
			all.add(reason.Of("fact.loss"), reason.Share(m.Loss))
		}
		if m.Keeps != nil {
			all.add(reason.Of("fact.keeps"), reason.Minutes(*m.Keeps*60))
		}
		for _, p := range m.Parts {
			all.quantity(reason.Of("fact.part", reason.Name(k.Name(p.Of))), &p.Amount)
		}
	}
	return all.list
}

func (f *facts) centre(s *treat.Centre) {
	if s == nil {
		return
	}
	f.add(reason.Of("fact.centre"), reason.Name(f.k.Name(s.Of)))
	if s.Share > 0 {
		f.add(reason.Of("fact.fit-to-dip"), reason.Share(s.Share))
	}
	if s.Size != "" {
		f.add(reason.Of("fact.size"), reason.Name(s.Size))
	}
	f.quantity(reason.Of("fact.centre-weight"), s.Each)
	f.quantity(reason.Of("fact.centre-across"), s.Across)
	f.quantity(reason.Of("fact.centre-length"), s.Length)
}

func (f *facts) coatings(list []treat.ChocolateLayer) {
	seen := map[treat.Role]int{}
	for _, c := range list {
		seen[c.Role]++
		nth := seen[c.Role]
		what := func(code string) reason.Reason {
			if is := reason.Of("fact.chocolate-"+code, reason.Word(c.Role)); nth == 1 {
				return is
			} else {
				return reason.Of("fact.nth", is, reason.Int(nth))
			}
		}
		f.add(what("itself"), reason.Name(f.k.Name(c.Ingredient)))
		f.quantity(what("on-one"), c.Each)
		f.quantity(what("thick"), c.Thick)
		if c.Share > 0 {
			f.add(what("share"), reason.Share(c.Share))
		}
		if c.Method != "" {
			f.add(what("method"), reason.Word(c.Method))
		}
		f.quantity(what("pool"), &c.Pool)
		if c.Source != "" {
			f.add(what("source"), reason.Word(c.Source))
		}
		if c.Minutes != nil {
			f.add(what("minutes"), reason.Int(*c.Minutes))
		}
		for i, s := range c.Stirs() {
			if s != nil {
				f.add(what(treat.Stirrings[i]), reason.Of("fact.stirred", written(s.Amount),
					reason.Name(f.k.Name(s.Ingredient)), written(s.To)))
			}
		}
		if t := c.Tint; t != nil {
			f.quantity(what("tint-more"), t.More)
			if t.Colour != "" {
				f.add(what("tint-colour"), reason.Name(t.Colour))
			}
		}
	}
}

func (f *facts) portions(list []treat.Addition) {
	for _, p := range list {
		is := reason.Of("fact.portion-"+string(p.Where), reason.Name(f.k.Name(p.Ingredient)))
		if p.Rest {
			f.add(is, reason.Of("fact.fills-the-rest"))
		} else {
			f.quantity(is, &p.Each)
		}
		f.quantity(reason.Of("fact.bed", reason.Name(f.k.Name(p.Ingredient))), p.Bed)
	}
}

func (f *facts) work(w treat.StepTemplate, names map[ident.Step]string) {
	is := reason.Series{reason.Name(w.Name)}
	add := func(code string, there bool, with ...reason.Value) {
		if there {
			is = append(is, reason.Of("fact.step-"+code, with...))
		}
	}
	add("once", w.PerBatch != 0, reason.Number(w.PerBatch))
	add("a-round", w.PerRound != 0, reason.Number(w.PerRound))
	add("a-piece", w.PerPiece != 0, reason.Number(w.PerPiece))
	add("waits", w.Wait > 0, reason.Int(w.Wait), reason.Word(w.Spot))
	add("earliest", w.Earliest > 0, reason.Int(w.Earliest))
	if w.Latest != nil {
		add("latest", true, reason.Int(*w.Latest))
	}
	add("lost", w.Loss > 0, reason.Share(w.Loss))
	add("part", w.Part > 0, reason.Share(w.Part))
	add("beside", w.Beside != "", reason.Name(names[w.Beside]))
	for _, p := range w.Prepare {
		of := reason.Value(reason.Of("fact.centre"))
		if p.Of != "" {
			of = reason.Name(f.k.Name(p.Of))
		}
		add("prepares", true, reason.Word("prepare."+string(p.How)), of)
	}
	add("note", w.Note != "", reason.Name(w.Note))
	add("look", w.Look != "", reason.Name(w.Look))
	f.add(reason.Of("fact.step", reason.Name(w.ID)), is)
}

func asTexts[T ~string](list []T) []string {
	texts := make([]string, len(list))
	for i, x := range list {
		texts[i] = string(x)
	}
	return texts
}
