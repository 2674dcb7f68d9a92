package food

import (
	"cmp"
	"slices"
	"strings"
	"unicode"
)

// Suggestion is an ingredient that a written name may mean.
type Suggestion struct {
	ID    string  `json:"id"`
	Name  string  `json:"name"`
	Score float64 `json:"score"`
	Sure  bool    `json:"sure"`
}

// unsureBelow this likeness a name is not worth suggesting (a starting value: it separates "semi-sweet chips" from
// "chilli").
const unsureBelow = 0.3

// Words is a written name in the form in which it is remembered: lower case, without punctuation, plurals taken off.
func Words(written string) string {
	// 60 % and 60% are the same.
	fields := strings.FieldsFunc(strings.ReplaceAll(strings.ToLower(written), " %", "%"), func(r rune) bool {
		return !unicode.IsLetter(r) && !unicode.IsDigit(r) && r != '%'
	})
	for i, w := range fields {
		switch {
		case len(w) > 4 && strings.HasSuffix(w, "ies"):
			fields[i] = w[:len(w)-3] + "y"
		case len(w) > 3 && strings.HasSuffix(w, "s") && !strings.HasSuffix(w, "ss"):
			fields[i] = w[:len(w)-1]
		}
	}
	return strings.Join(fields, " ")
}

// Suggest the ingredients that a written name may mean, best first, at most five. names are by id; learned holds, by
// Words of a name, the id that a person settled on before. A suggestion is Sure only for the name itself or what was
// learned.
func Suggest(written string, names map[string]string, learned map[string]string) []Suggestion {
	words := Words(written)
	list := []Suggestion{}
	if words == "" {
		return list
	}
	for id, name := range names {
		own := Words(name)
		s := Suggestion{ID: id, Name: name, Score: likeness(words, own)}
		if own == words || learned[words] == id {
			s.Score, s.Sure = 1, true
		}
		if s.Score >= unsureBelow {
			list = append(list, s)
		}
	}
	slices.SortFunc(list, func(a, b Suggestion) int {
		return cmp.Or(cmp.Compare(b.Score, a.Score), cmp.Compare(a.Name, b.Name), cmp.Compare(a.ID, b.ID))
	})
	// What was learned wins over another one that bears the very name.
	if id := learned[words]; id != "" {
		slices.SortStableFunc(list, func(a, b Suggestion) int { return boolFirst(a.ID == id, b.ID == id) })
	}
	return list[:min(len(list), 5)]
}

func boolFirst(a, b bool) int {
	switch {
	case a == b:
		return 0
	case a:
		return -1
	default:
		return 1
	}
}

// likeness of two names: how many of their pairs of neighbouring letters they share (Dice's coefficient, 1945), within
// words, so that the order of the words does not matter; and as much again for whole words of the shorter one.
func likeness(a, b string) float64 {
	dice := share(pairs(a), pairs(b), 0)
	whole := share(strings.Fields(a), strings.Fields(b), min(len(strings.Fields(a)), len(strings.Fields(b))))
	return (dice + whole) / 2
}

// share of common members: twice their number by the sum of both lengths, or, with of given, their number by of.
func share(a, b []string, of int) float64 {
	left, common := map[string]int{}, 0
	for _, x := range a {
		left[x]++
	}
	for _, x := range b {
		if left[x] > 0 {
			left[x]--
			common++
		}
	}
	switch {
	case common == 0:
		return 0
	case of > 0:
		return float64(common) / float64(of)
	default:
		return 2 * float64(common) / float64(len(a)+len(b))
	}
}

func pairs(s string) (list []string) {
	for _, word := range strings.Fields(s) {
		r := []rune(word)
		if len(r) == 1 {
			list = append(list, word)
		}
		for i := 0; i+1 < len(r); i++ {
			list = append(list, string(r[i:i+2]))
		}
	}
	return list
}
