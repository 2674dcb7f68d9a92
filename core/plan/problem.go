// Package plan answers which step of which batch is done when, and by whom. Times are whole minutes counted from the
// problem's own minute 0; intervals are half open. The types have the shape of the plan format, so that a better planner
// can take the place of the simple rule in Latest without anything else noticing.
package plan

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

// Step is Hands minutes of work, then Wait minutes of waiting.
type Step struct {
	ID    string  `json:"id"`
	Hands int     `json:"hands"`
	Wait  int     `json:"wait"`
	Place string  `json:"place,omitempty"`
	Trays int     `json:"trays,omitempty"`
	Pot   string  `json:"pot,omitempty"`
	Takes []Take  `json:"takes,omitempty"`
	After []After `json:"after,omitempty"`
}

// Batch is what is made in one go for one order line.
type Batch struct {
	ID        string `json:"id"`
	NotBefore int    `json:"not_before"`
	ReadyBy   int    `json:"ready_by"`
	Keeps     int    `json:"keeps"`
	FreshFrom string `json:"fresh_from"` // the step whose start begins the keeping time
	Steps     []Step `json:"steps"`      // in an order that respects After
}

// Placed is a step with its time and the person that does it; Changeover minutes of melting come immediately before Start.
type Placed struct {
	Batch      string `json:"batch"`
	Step       string `json:"step"`
	Start      int    `json:"start"`
	Hand       int    `json:"hand"`
	Changeover int    `json:"changeover,omitempty"`
	Hands      int    `json:"-"`
	Wait       int    `json:"-"`
	Pot        string `json:"-"`
}

// From is when the person is first busy with the step, set-up included; To is when the hands are free again.
func (p Placed) From() int { return p.Start - p.Changeover }
func (p Placed) To() int   { return p.Start + p.Hands }

// End is when the step and its waiting are over.
func (p Placed) End() int { return p.To() + p.Wait }

// DayMinutes in a day.
const DayMinutes = 1440
