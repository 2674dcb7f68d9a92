package scratch

import (
	"context"

	"github.com/jackc/pgx/v5"

	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/recipe"
	"zestytin/internal/text"
)

// RecipeText is a recipe as it was written or kept: lines, or JSON-LD.
type RecipeText struct {
	Text   string `json:"text" maxLength:"4000000" doc:"One ingredient a line; or schema.org Recipe in JSON-LD"`
	Method bool   `json:"method,omitempty" doc:"The text is a method alone: each line is what is to be done"`
}

// Recipes that were read.
type Recipes struct {
	Result
	Recipes []ReadRecipe `json:"recipes" doc:"A file may hold several"`
}

// ReadRecipe is one recipe, read.
type ReadRecipe struct {
	Name         string       `json:"name,omitempty"`
	Yield        string       `json:"yield,omitempty"`
	Instructions []string     `json:"instructions"`
	Steps        []MethodStep `json:"steps" doc:"The method, read: minutes, where it waits, C"`
	Lines        []ReadLine   `json:"lines"`
	Doubtful     int          `json:"doubtful"`
}

// MethodStep is a step of the method, and how warm as the kitchen reads it.
type MethodStep struct {
	recipe.Step
	Warmth string `json:"warmth,omitempty"`
}

func stepsOf(w *text.Words, lines []string) []MethodStep {
	list := []MethodStep{}
	for _, s := range recipe.Method(lines) {
		step := MethodStep{Step: s}
		switch {
		case s.From != s.To:
			step.Warmth = w.Of("scratch.warmth", reason.Band{From: s.From, To: s.To})
		case s.To != 0:
			step.Warmth = w.Of("scratch.warmth", reason.Celsius(s.To))
		}
		list = append(list, step)
	}
	return list
}

// ReadLine is a line with the ingredients that it may mean, best first.
type ReadLine struct {
	measure.Line
	Part        string            `json:"part,omitempty" doc:"What it is for: shell, filling, top"`
	Suggestions []food.Suggestion `json:"suggestions"`
}

// open tells whether a person has to look at a line: it is doubtful, gives a range or no amount, or it is not sure which
// ingredient it means.
func (l *ReadLine) open() bool {
	return l.Doubt != nil || l.Amount == nil || l.Upto > 0 || len(l.Suggestions) == 0 || !l.Suggestions[0].Sure
}

func (p *Pad) readRecipe(ctx context.Context, in *struct{ Body RecipeText }) (*struct{ Body Recipes }, error) {
	refuse := func(err error) error {
		return &invalid.Error{Fields: []invalid.Field{{Path: "text", Err: err}}}
	}
	read := recipe.Of
	if in.Body.Method {
		read = recipe.OfMethod
	}
	list, err := read(in.Body.Text)
	if err != nil {
		return nil, refuse(err)
	}
	names, learned := map[string]string{}, map[string]string{}
	err = p.In(ctx, func(tx pgx.Tx) error {
		all, err := p.Ingredients(ctx, tx)
		if err != nil {
			return err
		}
		for id, i := range all {
			names[string(id)] = i.Name
		}
		learned, err = p.Names(ctx, tx)
		return err
	})
	if err != nil {
		return nil, err
	}
	r := Recipes{Recipes: []ReadRecipe{}}
	lines, doubtful := 0, 0
	for _, written := range list {
		one := ReadRecipe{Name: written.Name, Yield: written.Yield, Instructions: written.Instructions,
			Steps: stepsOf(text.Of(ctx), written.Instructions), Lines: []ReadLine{}}
		for i, line := range written.Lines {
			l := measure.ReadLine(line)
			if l.Amount != nil {
				*l.Amount = text.Of(ctx).Customs().Means(*l.Amount, line)
			}
			read := ReadLine{Line: l, Suggestions: food.Suggest(l.Ingredient, names, learned)}
			if i < len(written.Parts) {
				read.Part = written.Parts[i]
			}
			if read.open() {
				one.Doubtful++
			}
			one.Lines = append(one.Lines, read)
		}
		lines, doubtful = lines+len(one.Lines), doubtful+one.Doubtful
		r.Recipes = append(r.Recipes, one)
	}
	r.Text = text.Of(ctx).Of("scratch.lines-read", reason.Int(lines), reason.Int(doubtful))
	if len(list) > 1 {
		r.Text = text.Of(ctx).Of("scratch.recipes-read", reason.Int(len(list)), reason.Int(lines), reason.Int(doubtful))
	}
	return &struct{ Body Recipes }{r}, nil
}
