package web

import (
	"net/http"
	"reflect"
	"strconv"
	"strings"

	"github.com/danielgtaylor/huma/v2"
)

// Shapes says what the fields of types mean that are no part of a feature but stand in what it asks and answers, by the
// type that declares them and their name in JSON. Core computes them and knows nothing of the API.
type Shapes map[reflect.Type]map[string]Shape

// Shape of a field: what stands in the API's document of it, and what it is checked for.
type Shape struct {
	Doc       string
	Format    string
	Example   any
	Enum      []any
	MaxLength int
	Min, Max  *float64
}

// OneOf a list of core.
func OneOf[T ~string](list []T) []any {
	all := make([]any, len(list))
	for i, x := range list {
		all[i] = string(x)
	}
	return all
}

// Describe the fields of all types that operations have been registered with.
func Describe(api huma.API, shapes ...Shapes) {
	registry := api.OpenAPI().Components.Schemas
	for name, schema := range registry.Map() {
		describe(schema, registry.TypeFromRef("#/components/schemas/"+name), shapes)
		schema.PrecomputeMessages()
	}
}

func describe(schema *huma.Schema, t reflect.Type, shapes []Shapes) {
	if t == nil || t.Kind() != reflect.Struct {
		return
	}
	for i := range t.NumField() {
		f := t.Field(i)
		if f.Anonymous {
			inner := f.Type
			if inner.Kind() == reflect.Pointer {
				inner = inner.Elem()
			}
			describe(schema, inner, shapes)
			continue
		}
		name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		for _, s := range shapes {
			if shape, known := s[t][name]; known && schema.Properties[name] != nil {
				shape.put(schema.Properties[name])
			}
		}
	}
}

func (s *Shape) put(of *huma.Schema) {
	if s.Doc != "" {
		of.Description = s.Doc
	}
	if s.Format != "" {
		of.Format = s.Format
	}
	if s.Example != nil {
		of.Examples = []any{s.Example}
	}
	if s.Enum != nil {
		of.Enum = s.Enum
	}
	if s.MaxLength > 0 {
		of.MaxLength = &s.MaxLength
	}
	if s.Min != nil {
		of.Minimum = s.Min
	}
	if s.Max != nil {
		of.Maximum = s.Max
	}
	of.PrecomputeMessages()
}

// ShareRefusals keeps what operations answer when they say no in one place of the document, by the status.
func ShareRefusals(api huma.API) {
	doc := api.OpenAPI()
	shared := map[string]*huma.Response{}
	for _, item := range doc.Paths {
		for _, op := range []*huma.Operation{item.Get, item.Put, item.Post, item.Delete, item.Patch} {
			if op == nil {
				continue
			}
			for code, answer := range op.Responses {
				status, _ := strconv.Atoi(code)
				if status < 400 || len(answer.Content) != 1 {
					continue
				}
				name := strings.ReplaceAll(http.StatusText(status), " ", "")
				shared[name] = answer
				op.Responses[code] = &huma.Response{Ref: "#/components/responses/" + name}
			}
		}
	}
	doc.Components.Responses = shared
}
