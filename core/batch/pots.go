package batch

import (
	"zestytin/core/chocolate"
	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// Pot is one melt of one chocolate, for the batch alone.
type Pot struct {
	Key        ident.Pot           `json:"key"`
	Roles      []treat.Role        `json:"roles"`
	Ingredient ident.Ingredient    `json:"ingredient"`
	Name       string              `json:"name"`
	Chocolate  food.Chocolate      `json:"chocolate"`
	Melted     measure.Shown       `json:"melted"`
	TopUp      *measure.Shown      `json:"topUp,omitempty"`
	OnPieces   measure.Shown       `json:"onPieces"`
	Used       measure.Shown       `json:"used"`
	Drained    measure.Shown       `json:"drained"`
	Trimmed    *measure.Shown      `json:"trimmed,omitempty"`
	Pool       measure.Shown       `json:"pool"`
	Reclaimed  measure.Shown       `json:"reclaimed"`
	Damp       bool                `json:"damp,omitempty"`
	Touches    []string            `json:"touches,omitempty"`
	Stirred    []Stirred           `json:"stirred,omitempty"`
	Seed       *measure.Shown      `json:"seed,omitempty"`
	Method     chocolate.Method    `json:"method"`
	Tempering  chocolate.Tempering `json:"tempering"`
	Minutes    si.Minutes          `json:"minutes"`
	Holds      si.Minutes          `json:"holds"`
	Rewarm     *Rewarm             `json:"rewarm,omitempty"`
	Advice     reason.Text         `json:"advice"`
	Additions  reason.Text         `json:"additions"`
	Why        Why                 `json:"why"`
}

// Stirred is what is stirred into a pot.
type Stirred struct {
	Ingredient ident.Ingredient `json:"ingredient"`
	Name       string           `json:"name"`
	Amount     measure.Shown    `json:"amount"`
	Later      *measure.Shown   `json:"later,omitempty"`
	Watery     bool             `json:"watery,omitempty"`
}

// Rewarm is when a bowl that pieces are dipped in needs warmth.
type Rewarm struct {
	Pieces int  `json:"pieces"`
	Why    Why  `json:"why"`
	Cooled bool `json:"cooled"`
}

func shown(g si.Grams) measure.Shown { return measure.Show(measure.Grams(g), measure.Substance{}) }

// some of it, or nothing.
func some(g si.Grams) *measure.Shown {
	if g < 1e-9 {
		return nil
	}
	s := shown(g)
	return &s
}

// pots of the card: the bowls of the account.
func (s *steps) pots() []Pot {
	list := make([]Pot, len(s.bowls))
	for i := range s.bowls {
		list[i] = s.potOf(i)
	}
	return list
}

func (s *steps) potOf(i int) Pot {
	b, k := &s.bowls[i], s.worked[s.uses[i][0]].kind
	of := *k.food.Chocolate
	p := Pot{
		Key: b.Pot.Key(), Ingredient: b.Pot.Ingredient, Name: s.item(b.Pot.Ingredient).Name, Chocolate: of,
		Melted: shown(b.Melted), TopUp: some(b.In() - b.Melted), OnPieces: shown(b.Applied - b.Trimmed),
		Used: shown(b.Used), Drained: shown(b.Drained), Trimmed: some(b.Trimmed),
		Pool: shown(b.Pool), Reclaimed: shown(b.Left), Damp: b.Damp, Touches: b.Touched, Seed: some(b.Seed),
		Method:    b.Pot.Method,
		Tempering: chocolate.Temper(b.Pot.Method, of.Kind, of.Temperatures(), b.Pot.Source, b.Melted, s.k.AirTemp),
		Minutes:   si.WholeMinutes(k.minutes(b.Melted)), Holds: k.hold.Minutes(b.Melted),
		Additions: additions(of.Kind, b.Melted), Why: s.potWhy(i),
	}
	for _, part := range b.Parts[1:] {
		known := s.item(part.Of)
		base, _ := measure.Grams(part.In).In(known.Unit, known.Substance)
		in := Stirred{part.Of, known.Name, known.Show(base), nil, known.Food.Watery()}
		if part.Of == b.Pot.Tint && k.later > 0 {
			later := known.Show(base * k.later)
			in.Amount, in.Later = known.Show(base*(1-k.later)), &later
		}
		p.Stirred = append(p.Stirred, in)
	}
	if k.shade != "" {
		p.Chocolate.Tint = k.shade
	}
	for _, use := range s.uses[i] {
		if role := s.f.Steps[s.worked[use].step].Pot; role != "" {
			p.Roles = treat.Union(p.Roles, []treat.Role{role})
		}
	}
	p.Rewarm = s.rewarm(i)
	p.Advice = advice(&p)
	return p
}

// rewarm works out how many pieces go into the bowl before it thickens (rules 4.4); nil where none do.
func (s *steps) rewarm(i int) *Rewarm {
	b, k := &s.bowls[i], s.worked[s.uses[i][0]].kind
	var dip family.Dip
	var coat si.Grams
	pieces, dips := 0.0, false
	for _, use := range s.uses[i] {
		w := &s.worked[use]
		if w.kind == nil {
			continue
		}
		d, ok := s.law.Dips(s.f, s.k, s.f.Steps[w.step].Pot)
		if !ok {
			continue
		}
		dip, dips = d, true
		if units := sum(w.units); units > 0 && (units > pieces || coat == 0) {
			pieces, coat = units, w.draw.Applied.By(units)
		}
	}
	if !dips || pieces == 0 {
		return nil
	}
	work := b.Pot.Work
	n, cooled := chocolate.Bowl{Mass: b.Melted, From: work.To, Until: work.From, Coat: coat, Piece: dip.Piece}.Dips()
	r := &Rewarm{Pieces: min(n, int(pieces)), Cooled: cooled && n < int(pieces)}
	r.Why = rewarmWhy(r, dip.Piece, shown(b.Melted), work, tempered(k))
	return r
}

// tempered tells whether the chocolate loses something when it is warmed too much.
func tempered(k *kind) bool { return k.pot.Method != chocolate.NoTemper }
