// Package plan answers which step of which batch is done when, and by whom. Times are whole minutes counted from the
// problem's own minute 0; intervals are half open. Problem and Plan have the shape of the plan format, whose rules are
// numbered 1 to 9: Check proves that a plan keeps them and computes its score, Make makes one.
package plan

import (
	"cmp"
	"fmt"

	"zestytin/core/ident"
	"zestytin/core/si"
)

// Problem is all that a plan depends on.
type Problem struct {
	Schema   string            `json:"schema"` // ProblemSchema
	Sessions []Session         `json:"sessions"`
	Places   []StorageResource `json:"places"`
	Tools    []MouldResource   `json:"tools"`
	Pots     []Pot             `json:"pots,omitempty"` // of version 1
	Washdown si.Minutes        `json:"washdown"`       // minutes of cleaning before work that must be free from what was worked with
	Batches  []Batch           `json:"batches"`
	// Previous is a plan of which as little as possible is to change: among plans with the same unplaced and setup the
	// one that moves the fewest of its steps is preferred. Steps that are not in the problem, or whose place is no
	// longer possible, do not matter.
	Previous *Plan `json:"previous,omitempty"`
}

// Size is the number of steps.
func (p *Problem) Size() int {
	n := 0
	for _, b := range p.Batches {
		n += len(b.Steps)
	}
	return n
}

// The schemas of the two documents. A problem of version 1 has its pots in a list, one for a step at most; a washdown
// leaves the pots as they are, and its plan tells reasons as sentences.
const (
	ProblemSchema  = "zestytin.plan-problem/2"
	ProblemSchema1 = "zestytin.plan-problem/1"
	PlanSchema     = "zestytin.plan/2"
	PlanSchema1    = "zestytin.plan/1"
)

// first tells whether a problem is of version 1.
func (p *Problem) first() bool { return p.Schema == ProblemSchema1 }

// planSchema of the plan for a problem.
func (p *Problem) planSchema() string {
	if p.first() {
		return PlanSchema1
	}
	return PlanSchema
}

// uses are the pots that a step must have ready.
func (p *Problem) uses(s *Operation) []Use {
	if s.Pot == "" {
		return s.Pots
	}
	for _, x := range p.Pots {
		if x.ID == s.Pot {
			return []Use{{x.ID, x.Changeover, x.Holds}}
		}
	}
	return s.Pots
}

// StorageResource is where things wait, and how many trays it holds.
type StorageResource struct {
	ID    ident.Spot `json:"id"`
	Trays int        `json:"trays"`
	Name  string     `json:"-"` // for people
}

// StorageName is what a storage resource is called; its id where it has no name.
func (p *Problem) StorageName(id ident.Spot) string {
	for _, s := range p.Places {
		if s.ID == id && s.Name != "" {
			return s.Name
		}
	}
	return string(id)
}

// Session is a span in which Hands people work.
type Session struct {
	From   si.Minutes `json:"from"`
	To     si.Minutes `json:"to"`
	People int        `json:"hands"`
}

// Pot is a chocolate of a problem of version 1: Changeover minutes of hands make it ready, and it stays so for Holds
// minutes after its last use.
type Pot struct {
	ID         ident.Pot  `json:"id"`
	Changeover si.Minutes `json:"changeover"`
	Holds      si.Minutes `json:"holds"`
}

// mostPots that a step may need: more is a mistake, and the search counts them in bits.
const mostPots = 16

// Use is a pot that a step must have ready: Changeover minutes of hands make it so for this step and those that go on
// in it, and it is still ready when at most Holds minutes have passed since its last use.
type Use struct {
	Pot        ident.Pot  `json:"pot"`
	Changeover si.Minutes `json:"changeover"`
	Holds      si.Minutes `json:"holds"`
}

// MouldResource is equipment that steps hold, such as a mould, and how many of it there are.
type MouldResource struct {
	ID    ident.Mould `json:"id"`
	Count int         `json:"count"`
}

// Take holds Count of a tool from the start of a step until the hands of the step named in Until are done; where that
// is the step itself, until its own end.
type Take struct {
	Tool  ident.Mould `json:"tool"`
	Count int         `json:"count"`
	Until ident.Step  `json:"until"`
}

// After says that a step starts at least Min minutes after the end of another of its batch, and at most Max where
// given. Alone, the same person does both, and nothing else between them.
type After struct {
	Step  ident.Step  `json:"step"`
	Min   si.Minutes  `json:"min"`
	Max   *si.Minutes `json:"max,omitempty"`
	Alone bool        `json:"alone,omitempty"`
}

// Pinned is where a step must be: it has happened, or a person has said so.
type Pinned struct {
	Start si.Minutes `json:"start"`
	Hand  int        `json:"hand"`
}

// Operation is Hands minutes of work, then Wait minutes of waiting, which fill Trays of a place.
type Operation struct {
	ID         ident.Step `json:"id"`
	HandsOnMin si.Minutes `json:"hands"`
	PassiveMin si.Minutes `json:"wait"`
	Storage    ident.Spot `json:"place,omitempty"`
	Trays      int        `json:"trays,omitempty"`
	Pot        ident.Pot  `json:"pot,omitempty"`  // of version 1
	Pots       []Use      `json:"pots,omitempty"` // all are ready before it begins
	Takes      []Take     `json:"takes,omitempty"`
	After      []After    `json:"after,omitempty"`
	Pinned     *Pinned    `json:"pinned,omitempty"`
}

// Batch is what is made in one go.
type Batch struct {
	ID           ident.Batch `json:"id"`
	Penalty      int         `json:"worth"` // what it costs to leave it out; 1 where a document does not say
	ReleaseMin   si.Minutes  `json:"not_before"`
	DueMin       si.Minutes  `json:"ready_by"`
	ShelfLifeMin *si.Minutes `json:"keeps,omitempty"`      // nil: for ever
	FreshFrom    ident.Step  `json:"fresh_from,omitempty"` // the step whose start begins the keeping time; empty: the end of the step that ends last
	Contains     []string    `json:"contains,omitempty"`   // allergens
	FreeFrom     []string    `json:"free_from,omitempty"`  // allergens that must not touch it
	Steps        []Operation `json:"steps"`
}

// keeps is how long it keeps, as good as for ever where it does not spoil.
func (b *Batch) keeps() si.Minutes {
	if b.ShelfLifeMin == nil {
		return 1 << 40
	}
	return *b.ShelfLifeMin
}

// ScheduledOperation is a step with its time and the person that does it; Changeover minutes of melting come
// immediately before Start, and before these Washdown minutes of cleaning.
type ScheduledOperation struct {
	Batch      ident.Batch `json:"batch"`
	Step       ident.Step  `json:"step"`
	Start      si.Minutes  `json:"start"`
	Hand       int         `json:"hand"`
	Changeover si.Minutes  `json:"changeover,omitempty"`
	Washdown   si.Minutes  `json:"washdown,omitempty"`
	Melts      []ident.Pot `json:"melts,omitempty"` // the pots that are melted in the changeover; version 1 does not tell
	Hands      si.Minutes  `json:"-"`
	Wait       si.Minutes  `json:"-"`
	Pots       []Use       `json:"-"`
}

// From is when the person is first busy with the step, set-up included; To is when the hands are free again.
func (p ScheduledOperation) From() si.Minutes { return p.Start - p.Changeover - p.Washdown }
func (p ScheduledOperation) To() si.Minutes   { return p.Start + p.Hands }

// End is when the step and its waiting are over.
func (p ScheduledOperation) End() si.Minutes { return p.To() + p.Wait }

// Unplaced is a batch that found no room, and what stood in its way most.
type Unplaced struct {
	Batch   ident.Batch `json:"batch"`
	Reason  Reason      `json:"reason,omitempty"`
	Of      string      `json:"of,omitempty"` // id of the place or the tool
	Minutes si.Minutes  `json:"minutes"`      // by how much: of hands, or for how long the place or the tool is taken
	From    si.Minutes  `json:"from"`         // the span in which it is short
	To      si.Minutes  `json:"to"`
	Short   string      `json:"short,omitempty"` // of version 1: hands, place:ID, tool:ID, window
	Why     string      `json:"why,omitempty"`   // of version 1
}

// Reason is what stands in the way of a batch.
type Reason string

const (
	Hands     Reason = "hands"     // a session that goes on for Minutes would let it in
	Scattered Reason = "scattered" // no single thing would: Minutes of hands are missing in sum
	Full      Reason = "place"     // the place Of is full
	Taken     Reason = "tool"      // all of the tool Of are taken
	Window    Reason = "window"    // its steps find no time even in an empty kitchen
	Begun     Reason = "begun"     // what is done or pinned of it leaves the rest no time
)

// Reasons that there are.
func Reasons() []Reason { return []Reason{Hands, Scattered, Full, Taken, Window, Begun} }

// withCause has a reason as version 1 has it.
func (u *Unplaced) withCause() {
	switch u.Reason {
	case Hands:
		u.Short, u.Why = "hands", fmt.Sprintf(
			"%s is short of hands: the session from minute %d to minute %d would have to go on for %d minutes.",
			u.Batch, u.From, u.To, u.Minutes)
	case Scattered:
		u.Short, u.Why = "hands", fmt.Sprintf(
			"%s is short of hands by %d minutes between minute %d and minute %d: what is free there is scattered.",
			u.Batch, u.Minutes, u.From, u.To)
	case Full, Taken:
		u.Short = string(u.Reason) + ":" + u.Of
		u.Why = fmt.Sprintf("%s finds the %s %s full: %d minutes from minute %d to minute %d are missing.", u.Batch,
			u.Reason, u.Of, u.Minutes, u.From, u.To)
	default:
		u.Short, u.Why = "window", fmt.Sprintf(
			"%s does not fit into an empty kitchen either: there is no time between minute %d and minute %d in which its steps could follow each other, fresh enough, in the sessions that there are.", u.Batch, u.From, u.To)
	}
	u.Reason, u.Of = "", ""
}

// Score of a plan; less is better, compared in this order. Moved stands between Setup and Age where there is a previous
// plan.
type Score struct {
	Unplaced      int        `json:"unplaced"` // worth of the batches that are not placed
	Setup         si.Minutes `json:"setup"`    // minutes of changeover and washdown
	AgeAtHandover si.Minutes `json:"age"`      // how long before their handover the placed batches are fresh, in minutes, summed
	Moved         int        `json:"-"`        // steps that are not where the previous plan had them
}

// Less tells whether s is better than t.
func (s Score) Less(t Score) bool {
	return cmp.Or(cmp.Compare(s.Unplaced, t.Unplaced), cmp.Compare(s.Setup, t.Setup), cmp.Compare(s.Moved, t.Moved),
		cmp.Compare(s.AgeAtHandover, t.AgeAtHandover)) < 0
}

// Plan is the answer to a problem.
type Plan struct {
	Schema   string               `json:"schema"` // PlanSchema
	Steps    []ScheduledOperation `json:"steps"`
	Unplaced []Unplaced           `json:"unplaced"`
	Score    Score                `json:"score"`
}

// DayMinutes in a day.
const DayMinutes = 1440
