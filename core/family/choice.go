package family

import (
	"slices"

	"zestytin/core/treat"
)

// Choice is one on which people differ: the ids of what can be chosen. The first option is the default.
type Choice struct {
	ID      string
	Options []string
}

// first is the choice with another option as its default.
func (c Choice) first(id string) Choice {
	c.Options = append([]string{id}, slices.DeleteFunc(slices.Clone(c.Options),
		func(o string) bool { return o == id })...)
	return c
}

// Choices that several families have.
var (
	coat    = Choice{"coat", []string{"spoon", "drain", "turn"}}
	coats   = Choice{"coats", []string{"one", "two"}}
	lines   = Choice{"lines", []string{"after", "wet"}}
	last    = Choice{"last", []string{"part", "whole"}}
	setting = Choice{"set", []string{"fridge", "room", "freezer"}}
	tools   = Choice{"mould", []string{"any", "hard", "soft"}}
)

// wholeSheets is the choice of what is made on sheets: a begun one is mostly filled up.
func wholeSheets() Choice { return last.first("whole") }

// ChoiceCode is the code of a choice of a family; with a point and an option, that of the option.
func ChoiceCode(of treat.Family, choice string) string { return "choice." + string(of) + "." + choice }

// Choices of a formula's family, for what it has chosen.
func Choices(f *treat.Formula) []Choice { return LawOf(f).Choices(f.Choices) }

// Chosen is what a formula chooses, or its family's default; empty where there is no such choice.
func Chosen(f *treat.Formula, id string) string {
	if made := f.Choices[id]; made != "" {
		return made
	}
	for _, c := range LawOf(f).Choices(f.Choices) {
		if c.ID == id {
			return c.Options[0]
		}
	}
	return ""
}
