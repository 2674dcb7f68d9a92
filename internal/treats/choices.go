package treats

import (
	"zestytin/core/chocolate"
	"zestytin/core/family"
	"zestytin/core/reason"
	"zestytin/core/treat"
	"zestytin/internal/text"
)

// Method is a way to temper, with the reason to choose it.
type Method struct {
	Method chocolate.Method `json:"method"`
	Name   string           `json:"name"`
	Why    reason.Reason    `json:"why"`
}

// methodName is the word for a method: compound is not said to be untempered.
func methodName(m chocolate.Method, k chocolate.Kind) reason.Word {
	if k == chocolate.Compound {
		return "method.compound"
	}
	return reason.Word("method." + m)
}

// Choice is one on which people differ: what can be chosen, with the reasons. The first option is the default.
type Choice struct {
	ID      string   `json:"id"`
	Name    string   `json:"name"`
	Options []Option `json:"options"`
}

// Option of a choice.
type Option struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Why  string `json:"why"`
}

// choices of a family, in words.
func choices(w *text.Words, of treat.Family, list []family.Choice) []Choice {
	told := make([]Choice, len(list))
	for i, c := range list {
		code := family.ChoiceCode(of, c.ID)
		told[i] = Choice{ID: c.ID, Name: w.Say(reason.Of(code)), Options: make([]Option, len(c.Options))}
		for n, o := range c.Options {
			told[i].Options[n] = Option{ID: o, Name: w.Say(reason.Of(code + "." + o)),
				Why: w.Say(reason.Of(code + "." + o + ".why"))}
		}
	}
	return told
}
