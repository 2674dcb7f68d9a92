package reason

import (
	"encoding/json"
	"fmt"
)

// AsWritten is the code of a reason that a version before has kept as a sentence; its value is the sentence.
const AsWritten = "as-written"

// stored is a reason as it is kept beside the figures that it explains.
type stored struct {
	Code string  `json:"code"`
	With []typed `json:"with,omitempty"`
}

// typed is a value with the name of its type.
type typed struct {
	As string          `json:"as"`
	Is json.RawMessage `json:"is"`
}

// MarshalJSON keeps a reason with figures that are stored; an API answers in sentences instead.
func (r Reason) MarshalJSON() ([]byte, error) {
	if r.None() {
		return []byte(`""`), nil
	}
	s := stored{Code: r.Code}
	for _, v := range r.With {
		t, err := typedOf(v)
		if err != nil {
			return nil, err
		}
		s.With = append(s.With, t)
	}
	return json.Marshal(s)
}

// UnmarshalJSON reads a reason back, or a sentence that an earlier version has kept.
func (r *Reason) UnmarshalJSON(data []byte) error {
	*r = Reason{}
	if len(data) > 0 && data[0] == '"' {
		var text string
		if err := json.Unmarshal(data, &text); err != nil || text == "" {
			return err
		}
		*r = Of(AsWritten, Name(text))
		return nil
	}
	var s stored
	if err := json.Unmarshal(data, &s); err != nil {
		return err
	}
	r.Code = s.Code
	for _, t := range s.With {
		v, err := t.value()
		if err != nil {
			return err
		}
		r.With = append(r.With, v)
	}
	return nil
}

// UnmarshalJSON reads reasons back, or the sentences that an earlier version has kept in one string.
func (t *Text) UnmarshalJSON(data []byte) error {
	*t = nil
	if len(data) > 0 && data[0] == '"' {
		var r Reason
		if err := r.UnmarshalJSON(data); err != nil || r.None() {
			return err
		}
		*t = Text{r}
		return nil
	}
	return json.Unmarshal(data, (*[]Reason)(t))
}

func typedOf(v Value) (typed, error) {
	switch v := v.(type) {
	case List:
		return listed("list", v)
	case Any:
		return listed("any", v)
	case Series:
		return listed("series", v)
	case Chain:
		return listed("chain", v)
	}
	for _, k := range kinds {
		if k.is(v) {
			data, err := json.Marshal(v)
			return typed{k.name, data}, err
		}
	}
	return typed{}, fmt.Errorf("a value of type %T cannot be kept", v)
}

func listed(as string, list []Value) (typed, error) {
	all := make([]typed, len(list))
	for i, v := range list {
		var err error
		if all[i], err = typedOf(v); err != nil {
			return typed{}, err
		}
	}
	data, err := json.Marshal(all)
	return typed{as, data}, err
}

func (t typed) value() (Value, error) {
	if t.As == "list" || t.As == "any" || t.As == "series" || t.As == "chain" {
		var all []typed
		if err := json.Unmarshal(t.Is, &all); err != nil {
			return nil, err
		}
		values := make([]Value, len(all))
		for i := range all {
			var err error
			if values[i], err = all[i].value(); err != nil {
				return nil, err
			}
		}
		switch t.As {
		case "any":
			return Any(values), nil
		case "series":
			return Series(values), nil
		case "chain":
			return Chain(values), nil
		}
		return List(values), nil
	}
	for _, k := range kinds {
		if k.name == t.As {
			return k.read(t.Is)
		}
	}
	return nil, fmt.Errorf("a value cannot be %q", t.As)
}

// Keep makes a type of another package a value that is kept under a name of its own. It is for the package's variables,
// before anything runs.
func Keep[T Value](name string) struct{} {
	kinds = append(kinds, kindOf[T](name))
	return struct{}{}
}

type kind struct {
	name string
	is   func(Value) bool
	read func(json.RawMessage) (Value, error)
}

func kindOf[T Value](name string) kind {
	return kind{name, func(v Value) bool { _, ok := v.(T); return ok }, func(data json.RawMessage) (Value, error) {
		var v T
		err := json.Unmarshal(data, &v)
		return v, err
	}}
}

// kinds of values by the names that they are kept under: a name is never given to another.
var kinds = []kind{
	kindOf[Reason]("reason"), kindOf[Text]("text"), kindOf[Name]("name"), kindOf[Word]("word"),
	kindOf[Several]("several"), kindOf[Int]("int"), kindOf[Number]("number"), kindOf[Share]("share"),
	kindOf[Minutes]("minutes"), kindOf[Celsius]("celsius"), kindOf[Band]("band"),
	kindOf[Warmer]("warmer"), kindOf[Money]("money"), kindOf[Day]("day"), kindOf[Date]("date"), kindOf[Clock]("clock"),
	kindOf[Count]("count"), kindOf[Moment]("moment"), kindOf[Hours]("hours"),
}
