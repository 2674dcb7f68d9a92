// Package recipe reads recipes as people keep them, as text or as schema.org Recipe in JSON-LD, and writes the latter.
package recipe

import (
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
)

// Recipe as it was written, before anything is made of it.
type Recipe struct {
	Name         string   `json:"name"`
	Yield        string   `json:"yield,omitempty"`
	Lines        []string `json:"lines"`
	Parts        []string `json:"parts,omitempty"` // what each line is for: shell, filling; none: all for one
	Instructions []string `json:"instructions"`
}

// MostLines of one recipe.
const MostLines = 1000

// Of reads recipes from text: JSON-LD where it is that, else the lines of one recipe. Errors are plain sentences.
func Of(text string) ([]Recipe, error) {
	if err := invalid.Text([]byte(text)); err != nil {
		return nil, err
	}
	if trimmed := strings.TrimSpace(strings.TrimPrefix(text, "\ufeff")); strings.HasPrefix(trimmed, "{") ||
		strings.HasPrefix(trimmed, "[{") {
		return Linked([]byte(trimmed))
	}
	r := Recipe{Lines: []string{}, Instructions: []string{}}
	var lines []string
	for _, line := range strings.Split(strings.TrimPrefix(text, "\ufeff"), "\n") {
		if line = strings.TrimSpace(line); line != "" {
			lines = append(lines, line)
		}
	}
	r.sections(lines)
	if err := r.check(); err != nil {
		return nil, err
	}
	return []Recipe{r}, nil
}

// OfMethod reads a text that is a method alone: each line is what is to be done.
func OfMethod(text string) ([]Recipe, error) {
	if err := invalid.Text([]byte(text)); err != nil {
		return nil, err
	}
	r := Recipe{Lines: []string{}, Instructions: []string{}}
	for _, line := range strings.Split(strings.TrimPrefix(text, "\ufeff"), "\n") {
		if line = strings.TrimSpace(line); line != "" {
			r.Instructions = append(r.Instructions, line)
		}
	}
	if len(r.Instructions) > MostLines {
		return nil, reason.Of("recipe.recipe-has-at-most-lines", reason.Int(MostLines))
	}
	return []Recipe{r}, nil
}

func (r *Recipe) check() error {
	if len(r.Lines)+len(r.Instructions) > MostLines {
		return reason.Of("recipe.recipe-has-at-most-lines", reason.Int(MostLines))
	}
	for i, l := range r.Lines {
		if len([]rune(l)) > 1000 {
			return reason.Of("recipe.line-has-letters-line-recipe", reason.Int(i+1), reason.Int(len([]rune(l))))
		}
	}
	return nil
}

// Linked reads all recipes of a JSON-LD document: one recipe, an array, or a graph, however deep; what is of another
// type is passed over. None is an error.
func Linked(data []byte) ([]Recipe, error) {
	var document any
	if err := json.Unmarshal(data, &document); err != nil {
		var syntax *json.SyntaxError
		if errors.As(err, &syntax) {
			return nil, reason.Of("recipe.this-not-json-breaks-off", reason.Int(syntax.Offset))
		}
		return nil, reason.Of("recipe.this-not-json-that-can")
	}
	list := []Recipe{}
	find(document, 0, &list)
	if len(list) == 0 {
		return nil, reason.Of("recipe.there-no-recipe-in-this")
	}
	for i := range list {
		if err := list[i].check(); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// deepest nesting that is looked into.
const deepest = 20

func find(v any, depth int, list *[]Recipe) {
	if depth > deepest {
		return
	}
	switch v := v.(type) {
	case []any:
		for _, each := range v {
			find(each, depth+1, list)
		}
	case map[string]any:
		if is(v["@type"], "Recipe") {
			*list = append(*list, Recipe{Name: word(v["name"]), Yield: strings.Join(texts(v["recipeYield"]), ", "),
				Lines: texts(v["recipeIngredient"]), Instructions: steps(v["recipeInstructions"])})
			return
		}
		for _, key := range []string{"@graph", "mainEntity", "itemListElement", "item", "hasPart"} {
			find(v[key], depth+1, list)
		}
	}
}

func is(t any, want string) bool {
	for _, s := range texts(t) {
		if s == want || strings.HasSuffix(s, "/"+want) || strings.HasSuffix(s, ":"+want) {
			return true
		}
	}
	return false
}

func word(v any) string { return strings.Join(texts(v), " ") }

// texts of a value that may be one or several, as strings, numbers or objects with a name or a value.
func texts(v any) []string {
	switch v := v.(type) {
	case string:
		if v = strings.Join(strings.Fields(v), " "); v != "" {
			return []string{v}
		}
	case float64:
		return []string{measure.Number(v)}
	case []any:
		list := []string{}
		for _, each := range v {
			list = append(list, texts(each)...)
		}
		return list
	case map[string]any:
		for _, key := range []string{"@value", "text", "name", "value"} {
			if t := texts(v[key]); len(t) > 0 {
				return t
			}
		}
	}
	return []string{}
}

// steps of instructions: a text, a list of texts, steps, or sections of steps.
func steps(v any) []string {
	switch v := v.(type) {
	case []any:
		list := []string{}
		for _, each := range v {
			list = append(list, steps(each)...)
		}
		return list
	case map[string]any:
		if inner, ok := v["itemListElement"]; ok {
			return steps(inner)
		}
	case string:
		list := []string{}
		for _, line := range strings.Split(v, "\n") {
			list = append(list, texts(line)...)
		}
		return list
	}
	return texts(v)
}

// linked is schema.org's Recipe as it is written.
type linked struct {
	Context      string   `json:"@context"`
	Type         string   `json:"@type"`
	Name         string   `json:"name"`
	Yield        string   `json:"recipeYield,omitempty"`
	Category     string   `json:"recipeCategory,omitempty"`
	TotalTime    string   `json:"totalTime,omitempty"`
	Ingredients  []string `json:"recipeIngredient"`
	Instructions []step   `json:"recipeInstructions"`
}

type step struct {
	Type string `json:"@type"`
	Text string `json:"text"`
}

// Write a recipe as JSON-LD. minutes is the whole time that it takes, 0 when it is not known.
func Write(r Recipe, category string, minutes int) ([]byte, error) {
	l := linked{Context: "https://schema.org", Type: "Recipe", Name: r.Name, Yield: r.Yield, Category: category,
		Ingredients: r.Lines, Instructions: []step{}}
	if minutes > 0 {
		l.TotalTime = fmt.Sprintf("PT%dM", minutes) // ISO 8601
	}
	for _, text := range r.Instructions {
		l.Instructions = append(l.Instructions, step{"HowToStep", text})
	}
	return json.MarshalIndent(l, "", "  ")
}
