package food

import (
	_ "embed"
	"encoding/csv"
	"fmt"
	"strconv"
	"strings"

	"zestytin/core/chocolate"
	"zestytin/core/measure"
	"zestytin/core/si"
)

//go:embed starting.csv
var startingCSV string

// Starter is an ingredient of the starting set: common values, each with where it comes from. What a seller has
// measured with their own goods is better.
type Starter struct {
	Fields
	Source string `json:"source"`
}

// Starting set of common ingredients. It is read once for each call; the data ships with the program.
func Starting() ([]Starter, error) {
	r := csv.NewReader(strings.NewReader(startingCSV))
	r.Comment, r.FieldsPerRecord = '#', 14
	rows, err := r.ReadAll()
	if err != nil {
		return nil, err
	}
	var list []Starter
	for _, row := range rows[1:] {
		s, err := starter(row)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", row[0], err)
		}
		list = append(list, s)
	}
	return list, nil
}

// columns: name, kind, chocolate, g a cup, g each, measures, fit, allergens, vegan, no gelatine, low sugar, made of,
// source, days fresh.
func starter(row []string) (Starter, error) {
	s := Starter{Fields: Fields{Name: row[0], Kind: Kind(row[1]), Unit: measure.Gram, UsableShare: 1,
		Measures: []Measure{}, Diets: []Diet{}, Allergens: list(row[7], "|"), MadeOf: list(row[11], "|")},
		Source: row[12]}
	if row[2] != "" {
		kind, colour, _ := strings.Cut(row[2], " ")
		s.Chocolate = &Chocolate{Kind: chocolate.Kind(kind), Colour: chocolate.Colour(colour)}
	}
	var err error
	number := func(text string) (x float64) {
		if text != "" && err == nil {
			x, err = strconv.ParseFloat(text, 64)
		}
		return x
	}
	cup, _ := measure.Of(1, measure.Cup).In(measure.Millilitre, measure.Substance{})
	if grams := number(row[3]); grams > 0 {
		density := round(grams / cup)
		s.Density = &density
	}
	if grams := si.Grams(number(row[4])); grams > 0 {
		s.GramsEach = &grams
	}
	if fit := number(row[6]); fit > 0 {
		s.UsableShare = fit
	}
	if days := int(number(row[13])); days > 0 {
		s.StorageDays = &days
	}
	for _, m := range list(row[5], "|") {
		name, grams, _ := strings.Cut(m, "=")
		s.Measures = append(s.Measures, Measure{name, si.Grams(number(grams))})
	}
	for i, d := range []Diet{Vegan, NoGelatine, LowSugar} {
		if row[8+i] == "y" {
			s.Diets = append(s.Diets, d)
		}
	}
	if s.Kind != KindAlcohol && !strings.Contains(s.Source, "contains alcohol") {
		s.Diets = append(s.Diets, NoAlcohol)
	}
	return s, err
}

// round a density to what a cup on a scale can tell.
func round(x float64) float64 { return float64(int(x*10000+0.5)) / 10000 }

func list(text, by string) []string {
	if text == "" {
		return []string{}
	}
	return strings.Split(text, by)
}
