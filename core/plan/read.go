package plan

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"

	"zestytin/core/invalid"
)

// MaxSteps of a problem: more is taken for a mistake.
const MaxSteps = 5000

// maxNumber that a document may hold: some 1900 years in minutes.
const maxNumber = 1_000_000_000

// Read a problem from its JSON text. The error is an *invalid.Error with the JSON path of each fault; a document that is not JSON has one with
// an empty path.
func Read(text []byte) (*Problem, error) {
	r := &reader{}
	decoder := json.NewDecoder(bytes.NewReader(text))
	decoder.UseNumber()
	var tree any
	if err := decoder.Decode(&tree); err != nil {
		return nil, fault("", "This is not JSON: "+err.Error()+".")
	}
	if !json.Valid(text) {
		return nil, fault("", "Something follows the document: give one problem only.")
	}
	root, ok := tree.(map[string]any)
	if !ok {
		return nil, fault("", "A problem is a JSON object with sessions and batches.")
	}
	p := r.problem(node{root, ""})
	if err := r.faults.Err(); err != nil {
		return nil, err
	}
	return p, p.Check()
}

func fault(path, says string) error {
	return &invalid.Error{Fields: []invalid.Field{{Path: path, Says: says}}}
}

// reader turns a JSON tree into a problem and notes what it does not understand.
type reader struct {
	faults invalid.Faults
	first  bool // the document is of version 1
}

// node is a JSON object and its path.
type node struct {
	fields map[string]any
	path   string
}

func (n node) at(key string) string {
	if n.path == "" {
		return key
	}
	return n.path + "." + key
}

func (r *reader) problem(n node) *Problem {
	p := &Problem{Schema: r.text(n, "schema", ProblemSchema1), Washdown: r.number(n, "washdown", 0)}
	if r.first = p.Schema == ProblemSchema1; !r.first && p.Schema != ProblemSchema {
		r.faults.Add("schema", fmt.Sprintf("This is %q; a problem is %q, or %q as before.", p.Schema, ProblemSchema, ProblemSchema1))
	}
	p.Sessions = list(r, n, "sessions", func(n node) Session {
		return Session{r.needed(n, "from"), r.needed(n, "to"), r.number(n, "hands", 1)}
	})
	p.Places = list(r, n, "places", func(n node) Place { return Place{r.name(n, "id"), r.needed(n, "trays")} })
	p.Tools = list(r, n, "tools", func(n node) Tool { return Tool{r.name(n, "id"), r.needed(n, "count")} })
	if !r.first && n.fields["pots"] != nil {
		r.faults.Add("pots", "From version 2 on each step says which pots it needs, with their changeover and how long they hold: take the list out.")
		return p
	}
	p.Pots = list(r, n, "pots", func(n node) Pot { return Pot{r.name(n, "id"), r.needed(n, "changeover"), r.needed(n, "holds")} })
	p.Batches = list(r, n, "batches", r.batch)
	if previous, ok := r.object(n, "previous"); ok {
		p.Previous = &Plan{Schema: PlanSchema, Steps: list(r, previous, "steps", func(n node) Placed {
			return Placed{Batch: r.name(n, "batch"), Step: r.name(n, "step"), Start: r.needed(n, "start"), Hand: r.needed(n, "hand")}
		})}
	}
	return p
}

func (r *reader) batch(n node) Batch {
	b := Batch{
		ID: r.name(n, "id"), Worth: r.number(n, "worth", 1), NotBefore: r.number(n, "not_before", 0), ReadyBy: r.needed(n, "ready_by"),
		FreshFrom: r.text(n, "fresh_from", ""), Contains: r.texts(n, "contains"), FreeFrom: r.texts(n, "free_from"),
	}
	b.Keeps = r.optional(n, "keeps")
	b.Steps = list(r, n, "steps", r.step)
	return b
}

func (r *reader) step(n node) Step {
	s := Step{ID: r.name(n, "id"), Hands: r.needed(n, "hands"), Wait: r.number(n, "wait", 0), Place: r.text(n, "place", ""), Trays: r.number(n, "trays", 0)}
	if r.first {
		s.Pot = r.text(n, "pot", "")
	} else {
		if n.fields["pot"] != nil {
			r.faults.Add(n.at("pot"), "From version 2 on a step has a list of pots.")
		}
		s.Pots = list(r, n, "pots", func(n node) Use {
			return Use{r.name(n, "pot"), r.needed(n, "changeover"), r.needed(n, "holds")}
		})
	}
	s.Takes = list(r, n, "takes", func(n node) Take {
		return Take{r.name(n, "tool"), r.number(n, "count", 1), r.text(n, "until", s.ID)}
	})
	s.After = list(r, n, "after", func(n node) After {
		return After{r.name(n, "step"), r.number(n, "min", 0), r.optional(n, "max"), !r.first && r.flag(n, "alone")}
	})
	if pinned, ok := r.object(n, "pinned"); ok {
		s.Pinned = &Pinned{r.needed(pinned, "start"), r.number(pinned, "hand", 0)}
	}
	return s
}

// list of objects; what is missing or null is an empty one.
func list[T any](r *reader, n node, key string, read func(node) T) []T {
	all := []T{}
	if n.fields[key] == nil {
		return all
	}
	items, ok := n.fields[key].([]any)
	if !ok {
		r.faults.Add(n.at(key), "This must be a list.")
		return all
	}
	for i, item := range items {
		path := fmt.Sprintf("%s[%d]", n.at(key), i)
		if fields, ok := item.(map[string]any); ok {
			all = append(all, read(node{fields, path}))
		} else {
			r.faults.Add(path, "This must be an object.")
		}
	}
	return all
}

func (r *reader) object(n node, key string) (node, bool) {
	if n.fields[key] == nil {
		return node{}, false
	}
	fields, ok := n.fields[key].(map[string]any)
	if !ok {
		r.faults.Add(n.at(key), "This must be an object.")
	}
	return node{fields, n.at(key)}, ok
}

func (r *reader) text(n node, key, otherwise string) string {
	switch v := n.fields[key].(type) {
	case nil:
		return otherwise
	case string:
		return v
	}
	r.faults.Add(n.at(key), "This must be a text.")
	return otherwise
}

func (r *reader) flag(n node, key string) bool {
	yes, ok := n.fields[key].(bool)
	if n.fields[key] != nil && !ok {
		r.faults.Add(n.at(key), "This must be true or false.")
	}
	return yes
}

func (r *reader) name(n node, key string) string {
	name := r.text(n, key, "")
	if _, ok := n.fields[key].(string); (ok || n.fields[key] == nil) && name == "" {
		r.faults.Add(n.at(key), "Give it a name.")
	}
	return name
}

func (r *reader) texts(n node, key string) []string {
	if n.fields[key] == nil {
		return nil
	}
	items, ok := n.fields[key].([]any)
	if !ok {
		r.faults.Add(n.at(key), "This must be a list of texts.")
		return nil
	}
	var all []string
	for i, item := range items {
		if text, ok := item.(string); ok {
			all = append(all, text)
		} else {
			r.faults.Add(fmt.Sprintf("%s[%d]", n.at(key), i), "This must be a text.")
		}
	}
	return all
}

func (r *reader) needed(n node, key string) int {
	if n.fields[key] == nil {
		r.faults.Add(n.at(key), "This number is missing.")
		return 0
	}
	return r.number(n, key, 0)
}

func (r *reader) optional(n node, key string) *int {
	if n.fields[key] == nil {
		return nil
	}
	v := r.number(n, key, 0)
	return &v
}

func (r *reader) number(n node, key string, otherwise int) int {
	if n.fields[key] == nil {
		return otherwise
	}
	number, ok := n.fields[key].(json.Number)
	if !ok {
		r.faults.Add(n.at(key), "This must be a whole number.")
		return otherwise
	}
	x, err := number.Float64()
	switch {
	case err != nil || x != math.Trunc(x):
		r.faults.Add(n.at(key), fmt.Sprintf("%s is not a whole number.", number))
	case x < 0:
		r.faults.Add(n.at(key), fmt.Sprintf("%s is negative: give a number from 0 on.", number))
	case x > maxNumber:
		r.faults.Add(n.at(key), fmt.Sprintf("%s is too large: give at most %d.", number, maxNumber))
	default:
		return int(x)
	}
	return otherwise
}

// Check that a problem makes sense: the error is an *invalid.Error with the JSON path of each fault.
func (p *Problem) Check() error {
	c := &checking{places: map[string]bool{}, tools: map[string]bool{}, pots: map[string]bool{}}
	c.numbers(p)
	c.sessions(p.Sessions)
	for i, x := range p.Places {
		c.once(c.places, x.ID, fmt.Sprintf("places[%d].id", i))
	}
	for i, x := range p.Tools {
		c.once(c.tools, x.ID, fmt.Sprintf("tools[%d].id", i))
	}
	for i, x := range p.Pots {
		c.once(c.pots, x.ID, fmt.Sprintf("pots[%d].id", i))
	}
	batches := map[string]bool{}
	for i := range p.Batches {
		c.once(batches, p.Batches[i].ID, fmt.Sprintf("batches[%d].id", i))
	}
	if steps := p.Size(); steps > MaxSteps {
		c.Add("batches", fmt.Sprintf("These are %d steps; give at most %d, a part of the time or of the batches.", steps, MaxSteps))
		return c.Err() // nobody reads ten thousand faults
	}
	for i := range p.Batches {
		c.batch(&p.Batches[i], fmt.Sprintf("batches[%d]", i))
	}
	c.pinned(p)
	return c.Err()
}

type checking struct {
	invalid.Faults
	places, tools, pots map[string]bool
}

func (c *checking) once(seen map[string]bool, id, path string) {
	if seen[id] {
		c.Add(path, fmt.Sprintf("There is another %q: give it a name of its own.", id))
	}
	seen[id] = true
}

// numbers that a caller in Go may get wrong; a document's are checked as they are read.
func (c *checking) numbers(p *Problem) {
	low := func(path string, x int) {
		if x < 0 || x > maxNumber {
			c.Add(path, fmt.Sprintf("%d is not from 0 to %d.", x, maxNumber))
		}
	}
	low("washdown", p.Washdown)
	for i, b := range p.Batches {
		at := fmt.Sprintf("batches[%d].", i)
		low(at+"worth", b.Worth)
		low(at+"not_before", b.NotBefore)
		low(at+"ready_by", b.ReadyBy)
		for j, s := range b.Steps {
			at := fmt.Sprintf("%ssteps[%d].", at, j)
			low(at+"hands", s.Hands)
			low(at+"wait", s.Wait)
			low(at+"trays", s.Trays)
			for k, u := range s.Pots {
				low(fmt.Sprintf("%spots[%d].changeover", at, k), u.Changeover)
				low(fmt.Sprintf("%spots[%d].holds", at, k), u.Holds)
			}
		}
	}
}

func (c *checking) sessions(sessions []Session) {
	order := make([]int, len(sessions))
	for i, s := range sessions {
		if order[i] = i; s.To <= s.From {
			c.Add(fmt.Sprintf("sessions[%d].to", i), fmt.Sprintf("The session ends at %d, before it starts at %d.", s.To, s.From))
		}
		if s.Hands < 1 || s.Hands > 100 {
			c.Add(fmt.Sprintf("sessions[%d].hands", i), fmt.Sprintf("%d people cannot work there: give a number from 1 to 100.", s.Hands))
		}
	}
	slices.SortStableFunc(order, func(a, b int) int { return sessions[a].From - sessions[b].From })
	for i := 1; i < len(order); i++ {
		if a, b := sessions[order[i-1]], sessions[order[i]]; a.To > b.From && a.From < a.To && b.From < b.To {
			c.Add(fmt.Sprintf("sessions[%d].from", order[i]), fmt.Sprintf("The session from %d overlaps the one from %d to %d: make one of both.", b.From, a.From, a.To))
		}
	}
}

func (c *checking) batch(b *Batch, path string) {
	steps := map[string]int{}
	for i, s := range b.Steps {
		if _, there := steps[s.ID]; there {
			c.Add(fmt.Sprintf("%s.steps[%d].id", path, i), fmt.Sprintf("The batch has another step %q: give it a name of its own.", s.ID))
		}
		steps[s.ID] = i
	}
	if len(b.Steps) == 0 {
		c.Add(path+".steps", "A batch has at least one step.")
	}
	known := func(at, step string) {
		if _, there := steps[step]; !there {
			c.Add(at, fmt.Sprintf("The batch has no step %q.", step))
		}
	}
	if b.FreshFrom != "" {
		known(path+".fresh_from", b.FreshFrom)
	}
	for i, s := range b.Steps {
		at := fmt.Sprintf("%s.steps[%d]", path, i)
		if s.Place != "" && !c.places[s.Place] {
			c.Add(at+".place", fmt.Sprintf("There is no place %q.", s.Place))
		}
		if s.Pot != "" && !c.pots[s.Pot] {
			c.Add(at+".pot", fmt.Sprintf("There is no pot %q.", s.Pot))
		}
		if len(s.Pots) > mostPots {
			c.Add(at+".pots", fmt.Sprintf("A step needs at most %d pots, not %d.", mostPots, len(s.Pots)))
		}
		for j, u := range s.Pots {
			if slices.ContainsFunc(s.Pots[:j], func(x Use) bool { return x.Pot == u.Pot }) {
				c.Add(fmt.Sprintf("%s.pots[%d].pot", at, j), fmt.Sprintf("The step needs the pot %q twice: name it once.", u.Pot))
			}
		}
		for j, t := range s.Takes {
			if !c.tools[t.Tool] {
				c.Add(fmt.Sprintf("%s.takes[%d].tool", at, j), fmt.Sprintf("There is no tool %q.", t.Tool))
			}
			known(fmt.Sprintf("%s.takes[%d].until", at, j), t.Until)
		}
		for j, a := range s.After {
			known(fmt.Sprintf("%s.after[%d].step", at, j), a.Step)
		}
	}
	if around := b.circle(steps); around != nil {
		first := steps[around[0]]
		c.Add(fmt.Sprintf("%s.steps[%d].after", path, first), fmt.Sprintf("The steps wait for each other in a circle: %s. Take one of these out.", strings.Join(around, " after ")))
	}
}

// circle of steps that come after each other, with the first again at its end; nil when there is none.
func (b *Batch) circle(steps map[string]int) []string {
	const fresh, open, done = 0, 1, 2
	state := make([]int, len(b.Steps))
	var path []string
	var visit func(i int) []string
	visit = func(i int) []string {
		path, state[i] = append(path, b.Steps[i].ID), open
		for _, a := range b.Steps[i].After {
			j, there := steps[a.Step]
			switch {
			case !there || state[j] == done:
			case state[j] == open:
				return append(slices.Clone(path[slices.Index(path, a.Step):]), a.Step)
			default:
				if around := visit(j); around != nil {
					return around
				}
			}
		}
		path, state[i] = path[:len(path)-1], done
		return nil
	}
	for i := range b.Steps {
		if state[i] == fresh {
			if around := visit(i); around != nil {
				return around
			}
		}
	}
	return nil
}

// pinned steps lie in a session that there is, and a person does one of them at a time.
func (c *checking) pinned(p *Problem) {
	type pin struct {
		path     string
		from, to int
	}
	type hand struct{ session, hand int }
	byHand := map[hand][]pin{}
	for i, b := range p.Batches {
		for j, s := range b.Steps {
			if s.Pinned == nil {
				continue
			}
			at := fmt.Sprintf("batches[%d].steps[%d].pinned", i, j)
			from, to := s.Pinned.Start, s.Pinned.Start+s.Hands
			n := slices.IndexFunc(p.Sessions, func(s Session) bool { return s.From <= from && to <= s.To })
			if n < 0 {
				c.Add(at+".start", fmt.Sprintf("No session has the span from %d to %d.", from, to))
				continue
			}
			if s.Pinned.Hand < 0 || s.Pinned.Hand >= p.Sessions[n].Hands {
				c.Add(at+".hand", fmt.Sprintf("Person %d does not work in the session from %d: its people are numbered 0 to %d.", s.Pinned.Hand, p.Sessions[n].From, p.Sessions[n].Hands-1))
				continue
			}
			of := hand{n, s.Pinned.Hand}
			for _, other := range byHand[of] {
				if from < other.to && other.from < to {
					c.Add(at, fmt.Sprintf("Person %d does %s from %d to %d: nobody does two steps at a time.", s.Pinned.Hand, strings.TrimSuffix(other.path, ".pinned"), other.from, other.to))
				}
			}
			byHand[of] = append(byHand[of], pin{at, from, to})
		}
	}
}

// Write a plan or a problem as JSON.
func Write(document any) ([]byte, error) {
	text, err := json.MarshalIndent(document, "", " ")
	return append(text, '\n'), err
}

// ReadPlan reads a plan that Write has written.
func ReadPlan(text []byte) (*Plan, error) {
	var p Plan
	if err := json.Unmarshal(text, &p); err != nil {
		return nil, fault("", "This is not a plan: "+err.Error()+".")
	}
	if p.Schema != PlanSchema && p.Schema != PlanSchema1 {
		return nil, fault("schema", fmt.Sprintf("A plan has the schema %q, or %q as before.", PlanSchema, PlanSchema1))
	}
	return &p, nil
}
