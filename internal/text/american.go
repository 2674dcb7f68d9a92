package text

import (
	"strings"

	"golang.org/x/text/language"

	"zestytin/core/reason"
)

// Spelling is how what the application says is spelt in the United States, where that differs; in small letters.
// The front end has the same list.
func Spelling() [][2]string {
	return [][2]string{
		{"mould", "mold"}, {"colour", "color"}, {"flavour", "flavor"}, {"centre", "center"}, {"litre", "liter"},
		{"metre", "meter"}, {"cancelled", "canceled"}, {"grey", "gray"}, {"favourite", "favorite"},
		{"spelt", "spelled"},
	}
}

// american is English as it is spelt in the United States. Names that a person typed stay as they are: only the
// sentences around them are spelt anew.
var american = func() tongue {
	var pairs []string
	for _, s := range Spelling() {
		for _, upper := range []bool{false, true} {
			from, to := s[0], s[1]
			if upper {
				from, to = strings.ToUpper(from[:1])+from[1:], strings.ToUpper(to[:1])+to[1:]
			}
			pairs = append(pairs, from, to)
		}
	}
	spell := strings.NewReplacer(pairs...)
	t := en
	t.tag = language.AmericanEnglish
	t.sentences = make(map[string]string, len(en.sentences))
	for code, sentence := range en.sentences {
		t.sentences[code] = spell.Replace(sentence)
	}
	t.words = make(map[reason.Word][2]string, len(en.words))
	for word, forms := range en.words {
		t.words[word] = [2]string{spell.Replace(forms[0]), spell.Replace(forms[1])}
	}
	return t
}()
