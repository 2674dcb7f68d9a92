package treats

import (
	"context"
	"fmt"
	"net/http"
	"strings"

	"github.com/jackc/pgx/v5"

	"zestytin/core/batch"
	"zestytin/core/chocolate"
	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// FamilyList is all families, and what is known of chocolate.
type FamilyList struct {
	Families []FamilyInfo                         `json:"families"`
	Methods  map[chocolate.Kind][]Method          `json:"methods" doc:"Ways to temper, by the kind of chocolate, the default first"`
	Bands    map[chocolate.Colour]chocolate.Bands `json:"bands" doc:"Temperatures of real chocolate in C, by its colour"`
}

// FamilyInfo is a family with the choices where people differ.
type FamilyInfo struct {
	Family  treat.Family `json:"family"`
	Choices []Choice     `json:"choices"`
	Traits  Traits       `json:"traits" doc:"What the family is like: what is counted, what amounts are for, what its formula has"`
	Roles   []treat.Role `json:"roles" doc:"That its chocolates can have"`
}

// Traits are what a family is like, in words.
type Traits struct {
	Word    string `json:"word" doc:"For one of them"`
	Plural  string `json:"plural" doc:"As a heading"`
	Drawn   string `json:"drawn" doc:"How it is drawn when it is cut open: ball, fruit, rod, sphere, sheet, pan, cavity; empty: by its glyph"`
	One     string `json:"one" doc:"What is counted in an order"`
	Unit    string `json:"unit" doc:"What amounts are for: piece, sheet, pan"`
	Units   string `json:"units" doc:"Of several"`
	Rounds  string `json:"rounds" doc:"How it is counted by what it is made in; empty where it is not"`
	Centre  string `json:"centre" doc:"What its centre is called; empty where it has none"`
	Lost    string `json:"lost" doc:"What is lost is called"`
	Picked  bool   `json:"picked" doc:"Its centres are counted, and more are bought than are fit to use"`
	Inside  bool   `json:"inside" doc:"Something can go inside"`
	Designs bool   `json:"designs"`
	Thick   bool   `json:"thick" doc:"Its coat can be given by its thickness"`
	Bagged  bool   `json:"bagged" doc:"It is counted in bags, by weight: what is begun are sheets"`
}

// TraitsOf a family that there is, in words.
func TraitsOf(w *text.Words, f treat.Family) Traits {
	law, _ := family.Of(f)
	is, several := law.Traits(), w.Several(reason.Several(family.Term(f)))
	return Traits{Word: w.Word(family.Term(f)), Plural: strings.ToUpper(several[:1]) + several[1:], Drawn: is.Drawn,
		One: w.Word(is.One), Unit: w.Word(is.Unit), Units: w.Several(reason.Several(is.Unit)), Rounds: is.Rounds,
		Centre: w.Word(is.Centre), Lost: w.Word(is.Lost), Picked: is.Picked, Inside: is.Inside, Designs: is.Designs,
		Thick: is.Thick, Bagged: is.Bagged}
}

func families(ctx context.Context, _ *struct{}) (*struct{ Body FamilyList }, error) {
	list := FamilyList{Methods: map[chocolate.Kind][]Method{}, Bands: map[chocolate.Colour]chocolate.Bands{}}
	for _, f := range family.All() {
		law, _ := family.Of(f)
		list.Families = append(list.Families, FamilyInfo{f, choices(text.Of(ctx), f, law.Choices(nil)),
			TraitsOf(text.Of(ctx), f), law.Roles()})
	}
	for _, k := range chocolate.Kinds() {
		for _, m := range chocolate.Offers(k) {
			list.Methods[k] = append(list.Methods[k], Method{m, text.Of(ctx).Word(methodName(m, k)), m.Why(k)})
		}
	}
	for _, c := range chocolate.Colours() {
		list.Bands[c] = chocolate.BandsOf(c)
	}
	return &struct{ Body FamilyList }{list}, nil
}

func (b *Book) begin(ctx context.Context, in *struct {
	Family treat.Family `path:"family"`
}) (*struct{ Body *treat.Formula }, error) {
	var f *treat.Formula
	err := b.In(ctx, func(tx pgx.Tx) error {
		known, err := b.Known(ctx, tx)
		if err != nil {
			return err
		}
		if f, err = family.Begin(in.Family, &known.Inputs, text.Of(ctx).Step); err != nil {
			return web.Because(http.StatusConflict, reason.Because(err))
		}
		return nil
	})
	return &struct{ Body *treat.Formula }{f}, err
}

// StepsQuestion is a formula, and what it was before a change.
type StepsQuestion struct {
	Before *treat.Formula `json:"before,omitempty"`
	After  treat.Formula  `json:"after"`
}

// Proposal is the steps of a formula.
type Proposal struct {
	Steps []treat.StepTemplate `json:"steps"`
}

func proposeSteps(ctx context.Context, in *struct{ Body StepsQuestion }) (*struct{ Body Proposal }, error) {
	if in.Body.Before == nil {
		return &struct{ Body Proposal }{Proposal{family.Proposed(&in.Body.After, text.Of(ctx).Step)}}, nil
	}
	return &struct{ Body Proposal }{Proposal{family.Follow(in.Body.Before.Steps, in.Body.Before, &in.Body.After,
		text.Of(ctx).Step)}}, nil
}

// BatchQuestion is a formula and a count.
type BatchQuestion struct {
	Formula treat.Formula `json:"formula"`
	Want    batch.Want    `json:"want"`
}

// Batch is a batch card, and how its count came about.
type Batch struct {
	Card     *batch.Card `json:"card"`
	CountWhy batch.Why   `json:"countWhy,omitempty"`
	Choices  []Choice    `json:"choices" doc:"Where people differ, for the choices that are made"`
}

// checked is the kitchen, after the formula has been checked in it.
func (b *Book) checked(ctx context.Context, tx pgx.Tx, f *treat.Formula) (*treat.Inputs, error) {
	known, err := b.Known(ctx, tx)
	if err != nil {
		return nil, err
	}
	var faults invalid.Faults
	faults.Under("formula", family.Check(f, &known.Inputs, known.Packaging()))
	return &known.Inputs, faults.Err()
}

func (b *Book) card(ctx context.Context, in *struct{ Body BatchQuestion }) (*struct{ Body Batch }, error) {
	q, batch := &in.Body, Batch{}
	err := b.In(ctx, func(tx pgx.Tx) error {
		k, err := b.checked(ctx, tx, &q.Formula)
		if err != nil {
			return err
		}
		batch.Choices = choices(text.Of(ctx), q.Formula.Family, family.Choices(&q.Formula))
		batch.Card, batch.CountWhy, err = cardOf(&q.Formula, q.Want, k)
		return err
	})
	return &struct{ Body Batch }{batch}, err
}

// cardOf a formula that has been checked, for a count as people say it.
func cardOf(f *treat.Formula, want batch.Want, k *treat.Inputs) (*batch.Card, batch.Why, error) {
	var faults invalid.Faults
	good, why, err := want.Good(f, k)
	faults.Under("want", err)
	if err := faults.Err(); err != nil {
		return nil, nil, err
	}
	card, err := batch.Compute(f, good, k)
	return card, why, err
}

// SaidQuestion is a formula, and what a recipe says of it.
type SaidQuestion struct {
	Formula treat.Formula  `json:"formula"`
	Say     *family.Saying `json:"say,omitempty" doc:"Not given, it is only told what a recipe would say"`
}

// AsSaid is a formula as a recipe says it.
type AsSaid struct {
	As     []family.As     `json:"as" doc:"The ways in which a recipe can say its amounts"`
	Recipe []reason.Reason `json:"recipe" doc:"What a recipe would say of it as it is"`
	Solved *family.Solved  `json:"solved,omitempty"`
}

func (b *Book) asSaid(ctx context.Context, in *struct{ Body SaidQuestion }) (*struct{ Body AsSaid }, error) {
	var said AsSaid
	err := b.In(ctx, func(tx pgx.Tx) error {
		k, err := b.checked(ctx, tx, &in.Body.Formula)
		if err != nil {
			return err
		}
		f := &in.Body.Formula
		if in.Body.Say != nil {
			solved, err := family.Solve(f, k, *in.Body.Say, text.Of(ctx).Step)
			var faults invalid.Faults
			faults.Under("say", err)
			if err := faults.Err(); err != nil {
				return err
			}
			said.Solved, f = solved, solved.Formula
		}
		said.As, said.Recipe = family.SaidAs(f, k), family.Recipe(f, k)
		return nil
	})
	return &struct{ Body AsSaid }{said}, err
}

// HaveQuestion is a formula and what one has.
type HaveQuestion struct {
	Formula treat.Formula `json:"formula"`
	Have    []HaveText    `json:"have"`
}

// HaveText is what one has of an ingredient, as one types it.
type HaveText struct {
	Ingredient ident.Ingredient `json:"ingredient"`
	Text       string           `json:"text" maxLength:"100" example:"900 g"`
}

func (b *Book) makeable(ctx context.Context, in *struct{ Body HaveQuestion }) (*struct{ Body *batch.Makeable }, error) {
	var m *batch.Makeable
	err := b.In(ctx, func(tx pgx.Tx) error {
		k, err := b.checked(ctx, tx, &in.Body.Formula)
		if err != nil {
			return err
		}
		var faults invalid.Faults
		have := make([]batch.Have, len(in.Body.Have))
		for i, h := range in.Body.Have {
			q, err := measure.ReadOf(h.Text, k.Ingredients[h.Ingredient].Substance)
			q = text.Of(ctx).Customs().Means(q, h.Text)
			faults.Under(fmt.Sprintf("have[%d].text", i), err)
			have[i] = batch.Have{Ingredient: h.Ingredient, Amount: q}
		}
		if err := faults.Err(); err != nil {
			return err
		}
		m, err = batch.Make(&in.Body.Formula, have, k)
		faults.Under("have", err)
		return faults.Err()
	})
	return &struct{ Body *batch.Makeable }{m}, err
}

func (b *Book) weigh(ctx context.Context, in *struct{ Body MixQuestion }) (*struct{ Body Weighed }, error) {
	var w Weighed
	err := b.In(ctx, func(tx pgx.Tx) error {
		known, err := b.Known(ctx, tx)
		if err != nil {
			return err
		}
		m := in.Body.MixFields.mix(in.Body.ID)
		if err := m.Check(&known.Inputs); err != nil {
			return err
		}
		of := m.Weigh(&known.Inputs)
		if w = weighed(of); in.Body.Out != nil {
			w.Lost = new(of.LossOf(si.Grams(*in.Body.Out)))
		}
		return nil
	})
	return &struct{ Body Weighed }{w}, err
}
