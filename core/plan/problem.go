// Package plan answers which step of which batch is done when, and by whom. Times are whole minutes counted from the
// problem's own minute 0; intervals are half open. Problem and Plan have the shape of the plan format, whose rules are numbered 1 to 9:
// Check proves that a plan keeps them and computes its score, Make makes one.
package plan

import "cmp"

// Problem is all that a plan depends on.
type Problem struct {
	Schema   string    `json:"schema"` // ProblemSchema
	Sessions []Session `json:"sessions"`
	Places   []Place   `json:"places"`
	Tools    []Tool    `json:"tools"`
	Pots     []Pot     `json:"pots"`
	Washdown int       `json:"washdown"` // minutes of cleaning before work that must be free from what was worked with
	Batches  []Batch   `json:"batches"`
	// Previous is a plan of which as little as possible is to change: among plans with the same unplaced and setup the one that moves
	// the fewest of its steps is preferred. Steps that are not in the problem, or whose place is no longer possible, do not matter.
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

// The schemas of the two documents.
const (
	ProblemSchema = "zestytin.plan-problem/1"
	PlanSchema    = "zestytin.plan/1"
)

// Place is where things wait, and how many trays it holds.
type Place struct {
	ID    string `json:"id"`
	Trays int    `json:"trays"`
}

// Session is a span in which Hands people work.
type Session struct {
	From  int `json:"from"`
	To    int `json:"to"`
	Hands int `json:"hands"`
}

// Pot is a chocolate: Changeover minutes of hands make it ready, and it stays so for Holds minutes after its last use.
type Pot struct {
	ID         string `json:"id"`
	Changeover int    `json:"changeover"`
	Holds      int    `json:"holds"`
}

// Tool is equipment that steps hold, such as a mould, and how many of it there are.
type Tool struct {
	ID    string `json:"id"`
	Count int    `json:"count"`
}

// Take holds Count of a tool from the start of a step until the hands of the step named in Until are done; where that is the
// step itself, until its own end.
type Take struct {
	Tool  string `json:"tool"`
	Count int    `json:"count"`
	Until string `json:"until"`
}

// After says that a step starts at least Min minutes after the end of another of its batch, and at most Max where given.
type After struct {
	Step string `json:"step"`
	Min  int    `json:"min"`
	Max  *int   `json:"max,omitempty"`
}

// Pinned is where a step must be: it has happened, or a person has said so.
type Pinned struct {
	Start int `json:"start"`
	Hand  int `json:"hand"`
}

// Step is Hands minutes of work, then Wait minutes of waiting, which fill Trays of a place.
type Step struct {
	ID     string  `json:"id"`
	Hands  int     `json:"hands"`
	Wait   int     `json:"wait"`
	Place  string  `json:"place,omitempty"`
	Trays  int     `json:"trays,omitempty"`
	Pot    string  `json:"pot,omitempty"`
	Takes  []Take  `json:"takes,omitempty"`
	After  []After `json:"after,omitempty"`
	Pinned *Pinned `json:"pinned,omitempty"`
}

// Batch is what is made in one go.
type Batch struct {
	ID        string   `json:"id"`
	Worth     int      `json:"worth"` // what it costs to leave it out; 1 where a document does not say
	NotBefore int      `json:"not_before"`
	ReadyBy   int      `json:"ready_by"`
	Keeps     *int     `json:"keeps,omitempty"`      // nil: for ever
	FreshFrom string   `json:"fresh_from,omitempty"` // the step whose start begins the keeping time; empty: the end of the step that ends last
	Contains  []string `json:"contains,omitempty"`   // allergens
	FreeFrom  []string `json:"free_from,omitempty"`  // allergens that must not touch it
	Steps     []Step   `json:"steps"`
}

// keeps is how long it keeps, as good as for ever where it does not spoil.
func (b *Batch) keeps() int {
	if b.Keeps == nil {
		return 1 << 40
	}
	return *b.Keeps
}

// Placed is a step with its time and the person that does it; Changeover minutes of melting come immediately before Start, and before
// these Washdown minutes of cleaning.
type Placed struct {
	Batch      string `json:"batch"`
	Step       string `json:"step"`
	Start      int    `json:"start"`
	Hand       int    `json:"hand"`
	Changeover int    `json:"changeover,omitempty"`
	Washdown   int    `json:"washdown,omitempty"`
	Hands      int    `json:"-"`
	Wait       int    `json:"-"`
	Pot        string `json:"-"`
}

// From is when the person is first busy with the step, set-up included; To is when the hands are free again.
func (p Placed) From() int { return p.Start - p.Changeover - p.Washdown }
func (p Placed) To() int   { return p.Start + p.Hands }

// End is when the step and its waiting are over.
func (p Placed) End() int { return p.To() + p.Wait }

// Unplaced is a batch that found no room, and what stood in its way most.
type Unplaced struct {
	Batch   string `json:"batch"`
	Short   string `json:"short"`   // hands, place:ID, tool:ID, or window: not possible even in an empty kitchen
	Minutes int    `json:"minutes"` // by how much: of hands, or for how long the place or the tool is taken
	From    int    `json:"from"`    // the span in which it is short
	To      int    `json:"to"`
	Why     string `json:"why"`
}

// Score of a plan; less is better, compared in this order. Moved stands between Setup and Age where there is a previous plan.
type Score struct {
	Unplaced int `json:"unplaced"` // worth of the batches that are not placed
	Setup    int `json:"setup"`    // minutes of changeover and washdown
	Age      int `json:"age"`      // how long before their handover the placed batches are fresh, in minutes, summed
	Moved    int `json:"-"`        // steps that are not where the previous plan had them
}

// Less tells whether s is better than t.
func (s Score) Less(t Score) bool {
	return cmp.Or(cmp.Compare(s.Unplaced, t.Unplaced), cmp.Compare(s.Setup, t.Setup), cmp.Compare(s.Moved, t.Moved), cmp.Compare(s.Age, t.Age)) < 0
}

// Plan is the answer to a problem.
type Plan struct {
	Schema   string     `json:"schema"` // PlanSchema
	Steps    []Placed   `json:"steps"`
	Unplaced []Unplaced `json:"unplaced"`
	Score    Score      `json:"score"`
}

// DayMinutes in a day.
const DayMinutes = 1440
