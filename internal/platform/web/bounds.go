package web

import (
	"slices"

	"github.com/danielgtaylor/huma/v2"
)

// What an input holds at most where its operation says nothing else: generous for a person, and little for a machine.
const (
	mostLetters = 2_000
	mostItems   = 1_000
	mostNumber  = 1e9
)

// noNUL is what every text is: PostgreSQL holds no character with the code 0.
const noNUL = "^[^\\x00]*$"

// Bound every string, list and number that an operation takes, in the document and so in what is checked, where its
// shape has no bound of its own.
func Bound(api huma.API) {
	doc := api.OpenAPI()
	b := &bounding{doc.Components.Schemas, map[*huma.Schema]bool{}}
	for _, item := range doc.Paths {
		for _, op := range []*huma.Operation{item.Get, item.Put, item.Post, item.Delete, item.Patch} {
			if op == nil {
				continue
			}
			for _, p := range op.Parameters {
				b.bound(p.Schema)
			}
			if op.RequestBody != nil {
				for _, content := range op.RequestBody.Content {
					b.bound(content.Schema)
				}
			}
		}
	}
	for s := range b.seen { // what lies within is bounded by now
		s.PrecomputeMessages()
	}
}

type bounding struct {
	registry huma.Registry
	seen     map[*huma.Schema]bool
}

func (b *bounding) bound(s *huma.Schema) {
	if s == nil {
		return
	}
	if s.Ref != "" {
		s = b.registry.SchemaFromRef(s.Ref)
	}
	if s == nil || b.seen[s] {
		return
	}
	b.seen[s] = true
	switch s.Type {
	case huma.TypeString:
		if len(s.Enum) == 0 && s.MaxLength == nil {
			s.MaxLength = new(mostLetters)
		}
		if len(s.Enum) == 0 && s.Pattern == "" && s.Format == "" {
			s.Pattern = noNUL
		}
	case huma.TypeArray:
		if s.MaxItems == nil {
			s.MaxItems = new(mostItems)
		}
		b.bound(s.Items)
	case huma.TypeInteger, huma.TypeNumber:
		if s.Minimum == nil && s.ExclusiveMinimum == nil {
			s.Minimum = new(-mostNumber)
		}
		if s.Maximum == nil && s.ExclusiveMaximum == nil {
			s.Maximum = new(mostNumber)
		}
	}
	for _, of := range s.Properties {
		b.bound(of)
	}
	if of, ok := s.AdditionalProperties.(*huma.Schema); ok {
		if s.MaxProperties == nil {
			s.MaxProperties = new(mostItems)
		}
		b.bound(of)
	}
	for _, of := range slices.Concat(s.OneOf, s.AnyOf, s.AllOf) {
		b.bound(of)
	}
}
