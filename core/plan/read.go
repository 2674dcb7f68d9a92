package plan

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"

	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// MaxSteps of a problem: more is taken for a mistake.
const MaxSteps = 5000

// maxNumber that a document may hold: some 1900 years in minutes.
const maxNumber = 1_000_000_000

// Read a problem from its JSON text. The error is an *invalid.Error with the JSON path of each fault; a document that
// is not JSON has one with an empty path.
func Read(text []byte) (*Problem, error) {
	r := &reader{}
	decoder := json.NewDecoder(bytes.NewReader(text))
	decoder.UseNumber()
	var tree any
	if err := decoder.Decode(&tree); err != nil {
		return nil, fault("", reason.Of("plan.this-not-json", reason.Name(err.Error())))
	}
	if !json.Valid(text) {
		return nil, fault("", reason.Of("plan.something-follows-document-give-one"))
	}
	root, ok := tree.(map[string]any)
	if !ok {
		return nil, fault("", reason.Of("plan.problem-json-object-with-sessions"))
	}
	p := r.problem(node{root, ""})
	if err := r.faults.Err(); err != nil {
		return nil, err
	}
	return p, p.Check()
}

func fault(path string, says reason.Reason) error {
	return &invalid.Error{Fields: []invalid.Field{{Path: path, Err: says}}}
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
	p := &Problem{Schema: r.text(n, "schema", ProblemSchema1), Washdown: si.Minutes(r.number(n, "washdown", 0))}
	if r.first = p.Schema == ProblemSchema1; !r.first && p.Schema != ProblemSchema {
		r.faults.Add("schema", reason.Of("plan.this-problem-or-as-before", reason.Name(p.Schema),
			reason.Name(ProblemSchema), reason.Name(ProblemSchema1)))
	}
	p.Sessions = list(r, n, "sessions", func(n node) Session {
		return Session{r.minutes(n, "from"), r.minutes(n, "to"), r.number(n, "hands", 1)}
	})
	p.Places = list(r, n, "places", func(n node) StorageResource {
		return StorageResource{ID: ident.Spot(r.name(n, "id")), Trays: r.needed(n, "trays")}
	})
	p.Tools = list(r, n, "tools", func(n node) MouldResource {
		return MouldResource{ident.Mould(r.name(n, "id")),
			r.needed(n, "count")}
	})
	if !r.first && n.fields["pots"] != nil {
		r.faults.Add("pots", reason.Of("plan.from-version-on-each-step"))
		return p
	}
	p.Pots = list(r, n, "pots", func(n node) Pot {
		return Pot{ident.Pot(r.name(n, "id")), r.minutes(n, "changeover"), r.minutes(n, "holds")}
	})
	p.Batches = list(r, n, "batches", r.batch)
	if previous, ok := r.object(n, "previous"); ok {
		p.Previous = &Plan{Schema: PlanSchema, Steps: list(r, previous, "steps", func(n node) ScheduledOperation {
			return ScheduledOperation{Batch: ident.Batch(r.name(n, "batch")), Step: ident.Step(r.name(n, "step")),
				Start: r.minutes(n, "start"), Hand: r.needed(n, "hand")}
		})}
	}
	return p
}

func (r *reader) batch(n node) Batch {
	b := Batch{
		ID: ident.Batch(r.name(n, "id")), Penalty: r.number(n, "worth", 1),
		ReleaseMin: si.Minutes(r.number(n, "not_before", 0)), DueMin: r.minutes(n, "ready_by"),
		FreshFrom: ident.Step(r.text(n, "fresh_from", "")), Contains: r.texts(n, "contains"),
		FreeFrom: r.texts(n, "free_from"),
	}
	b.ShelfLifeMin = (*si.Minutes)(r.optional(n, "keeps"))
	b.Steps = list(r, n, "steps", r.step)
	return b
}

func (r *reader) step(n node) Operation {
	s := Operation{ID: ident.Step(r.name(n, "id")), HandsOnMin: r.minutes(n, "hands"),
		PassiveMin: si.Minutes(r.number(n, "wait", 0)), Storage: ident.Spot(r.text(n, "place", "")),
		Trays: r.number(n, "trays", 0)}
	if r.first {
		s.Pot = ident.Pot(r.text(n, "pot", ""))
	} else {
		if n.fields["pot"] != nil {
			r.faults.Add(n.at("pot"), reason.Of("plan.from-version-on-step-has"))
		}
		s.Pots = list(r, n, "pots", func(n node) Use {
			return Use{ident.Pot(r.name(n, "pot")), r.minutes(n, "changeover"), r.minutes(n, "holds")}
		})
	}
	s.Takes = list(r, n, "takes", func(n node) Take {
		return Take{ident.Mould(r.name(n, "tool")), r.number(n, "count", 1),
			ident.Step(r.text(n, "until", string(s.ID)))}
	})
	s.After = list(r, n, "after", func(n node) After {
		return After{ident.Step(r.name(n, "step")), si.Minutes(r.number(n, "min", 0)),
			(*si.Minutes)(r.optional(n, "max")), !r.first && r.flag(n, "alone")}
	})
	if pinned, ok := r.object(n, "pinned"); ok {
		s.Pinned = &Pinned{r.minutes(pinned, "start"), r.number(pinned, "hand", 0)}
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
		r.faults.Add(n.at(key), reason.Of("plan.this-must-be-list"))
		return all
	}
	for i, item := range items {
		path := fmt.Sprintf("%s[%d]", n.at(key), i)
		if fields, ok := item.(map[string]any); ok {
			all = append(all, read(node{fields, path}))
		} else {
			r.faults.Add(path, reason.Of("plan.this-must-be-object"))
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
		r.faults.Add(n.at(key), reason.Of("plan.this-must-be-object"))
	}
	return node{fields, n.at(key)}, ok
}

// minutes must be there.
func (r *reader) minutes(n node, key string) si.Minutes { return si.Minutes(r.needed(n, key)) }

func (r *reader) text(n node, key, otherwise string) string {
	switch v := n.fields[key].(type) {
	case nil:
		return otherwise
	case string:
		return v
	}
	r.faults.Add(n.at(key), reason.Of("plan.this-must-be-text"))
	return otherwise
}

func (r *reader) flag(n node, key string) bool {
	yes, ok := n.fields[key].(bool)
	if n.fields[key] != nil && !ok {
		r.faults.Add(n.at(key), reason.Of("plan.this-must-be-true-or"))
	}
	return yes
}

func (r *reader) name(n node, key string) string {
	name := r.text(n, key, "")
	if _, ok := n.fields[key].(string); (ok || n.fields[key] == nil) && name == "" {
		r.faults.Add(n.at(key), reason.Of("plan.give-name"))
	}
	return name
}

func (r *reader) texts(n node, key string) []string {
	if n.fields[key] == nil {
		return nil
	}
	items, ok := n.fields[key].([]any)
	if !ok {
		r.faults.Add(n.at(key), reason.Of("plan.this-must-be-list-texts"))
		return nil
	}
	var all []string
	for i, item := range items {
		if text, ok := item.(string); ok {
			all = append(all, text)
		} else {
			r.faults.Add(fmt.Sprintf("%s[%d]", n.at(key), i), reason.Of("plan.this-must-be-text"))
		}
	}
	return all
}

func (r *reader) needed(n node, key string) int {
	if n.fields[key] == nil {
		r.faults.Add(n.at(key), reason.Of("plan.this-number-missing"))
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
		r.faults.Add(n.at(key), reason.Of("plan.this-must-be-whole-number"))
		return otherwise
	}
	x, err := number.Float64()
	switch {
	case err != nil || x != math.Trunc(x):
		r.faults.Add(n.at(key), reason.Of("plan.not-whole-number", reason.Name(number)))
	case x < 0:
		r.faults.Add(n.at(key), reason.Of("plan.negative-give-number-from-on", reason.Name(number)))
	case x > maxNumber:
		r.faults.Add(n.at(key), reason.Of("plan.too-large-give-at-most", reason.Name(number), reason.Int(maxNumber)))
	default:
		return int(x)
	}
	return otherwise
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
		return nil, fault("", reason.Of("plan.this-not-plan", reason.Name(err.Error())))
	}
	if p.Schema != PlanSchema && p.Schema != PlanSchema1 {
		return nil, fault("schema", reason.Of("plan.plan-has-schema-or-as", reason.Name(PlanSchema),
			reason.Name(PlanSchema1)))
	}
	return &p, nil
}
