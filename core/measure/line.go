package measure

import (
	"fmt"
	"regexp"
	"strings"
)

// Line is a line of a recipe, read. What is doubtful is left to a person: Doubt then says what to settle, and Original is
// what was written.
type Line struct {
	Original   string    `json:"original"`
	Amount     *Quantity `json:"amount,omitempty" doc:"None where the recipe gives none, as with salt to taste"`
	Upto       float64   `json:"upto,omitempty" doc:"The upper end of a range, in the same unit"`
	Measure    string    `json:"measure,omitempty" doc:"A named measure that the amount counts: pinch, packet, stick"`
	Packs      float64   `json:"packs,omitempty" doc:"In how many packs: two in 2 x 125 g"`
	Ingredient string    `json:"ingredient"`
	Note       string    `json:"note,omitempty"`
	Doubt      string    `json:"doubt,omitempty"`
}

var numberWords = map[string]string{
	"a": "1", "an": "1", "one": "1", "two": "2", "three": "3", "four": "4", "five": "5", "six": "6", "seven": "7", "eight": "8", "nine": "9", "ten": "10", "eleven": "11", "twelve": "12", "half": "1/2",
}

// named measures count something whose weight is the ingredient's own.
var named = regexp.MustCompile(`^(pinch|pinche|dash|dashe|drop|clove|stick|packet|package|pkg|can|tin|jar|bag|box|boxe|bottle|bar|block|sheet|slice|handful|punnet|sprig|leave|scoop|square|tub)(s?)\b\.?\s*`)

var (
	bullet     = regexp.MustCompile(`^\s*(?:[-*•·–]|\[ ?\])\s+`)
	rangeMark  = regexp.MustCompile(`^\s*(?:-|–|—|\bto\b|\bor\b)\s*`)
	timesMark  = regexp.MustCompile(`^\s*[x×]\s*`)
	packInside = regexp.MustCompile(`^\s*\(\s*([^()]*?)\s*(?:each)?\s*\)\s*`)
	open       = regexp.MustCompile(`(?i)\b(to taste|as needed|as required|as desired|optional|for serving|for dusting|for greasing)\b`)
	digits     = regexp.MustCompile(`[0-9½⅓⅔¼¾⅛]`)
	strength   = regexp.MustCompile(`[0-9]+([.,][0-9]+)?\s*%`) // of a chocolate: part of its name
	plus       = regexp.MustCompile(`^\s*(?:\+|plus|and)\s+`)
	liquid     = regexp.MustCompile(`(?i)\b(milk|cream|water|juice|oil|liqueur|rum|whisk(?:e)?y|brandy|coffee|syrup)\b`)
)

// ReadLine reads one line of a recipe as people write it: "1 1/2 cups semi-sweet chips, chopped", "2-3 tbsp butter (melted)",
// "one 14-oz can condensed milk", "2 x 125 g cream", "pinch of salt", "3/4 c. sugar", "salt, to taste". It never guesses
// silently: where there is more than one reading it takes none of them for sure and says so in Doubt.
func ReadLine(text string) Line {
	l := Line{Original: text}
	rest := strings.TrimSpace(bullet.ReplaceAllString(text, ""))
	rest = strings.ReplaceAll(rest, "⁄", "/")
	if rest == "" {
		l.Doubt = "The line is empty."
		return l
	}
	amount, after, ok := leadingNumber(rest)
	switch {
	case ok:
		rest = l.amounts(amount, after)
	case l.measured(rest, 1):
		rest = l.takeMeasure(rest)
	case !open.MatchString(rest):
		l.doubt("There is no amount at the start: write one, or \"to taste\".")
	}
	l.words(rest)
	return l
}

func (l *Line) doubt(says string) {
	if l.Doubt == "" {
		l.Doubt = says
	}
}

// leadingNumber reads digits, fractions or a number word at the start.
func leadingNumber(s string) (float64, string, bool) {
	if x, rest, ok := readNumber(s); ok {
		return x, rest, true
	}
	word, rest, _ := strings.Cut(s, " ")
	if digits, known := numberWords[strings.ToLower(word)]; known && rest != "" {
		rest = strings.TrimPrefix(strings.TrimPrefix(rest, "of "), "a ")
		if strings.HasPrefix(strings.ToLower(rest), "half ") && digits == "1" {
			digits, rest = "1/2", strings.TrimPrefix(rest[len("half "):], "a ")
		}
		x, _, _ := readNumber(digits)
		return x, " " + rest, true
	}
	return 0, s, false
}

// amounts reads what follows the first number: packs, a range, the unit; and returns the rest.
func (l *Line) amounts(amount float64, rest string) string {
	if mark := timesMark.FindString(rest); mark != "" {
		if each, after, ok := readNumber(rest[len(mark):]); ok {
			l.Packs, amount, rest = amount, amount*each, after
		}
	} else if inside := packInside.FindStringSubmatch(rest); inside != nil {
		if each, err := Read(inside[1]); err == nil && each.Unit != Each { // 2 (14 oz) cans
			l.Packs = amount
			l.Amount = &Quantity{amount * each.Amount, each.Unit}
			return l.takeMeasure(rest[len(inside[0]):])
		}
	} else if each, after, ok := leadingPack(rest); ok { // one 14-oz can
		l.Packs = amount
		l.Amount = &Quantity{amount * each.Amount, each.Unit}
		return l.takeMeasure(after)
	}
	if mark := rangeMark.FindString(rest); mark != "" {
		if high, after, ok := leadingNumber(rest[len(mark):]); ok {
			l.Upto, rest = high, after
			if high <= amount {
				l.doubt("The range ends below its start: which of the two is meant?")
			}
		}
	}
	unit, after, known := leadingUnit(rest)
	l.Amount = &Quantity{amount, unit}
	if !known {
		return l.takeMeasure(rest)
	}
	return l.sum(after)
}

// leadingPack reads "14-oz can" or "14 oz. can": a size that is followed by a container.
func leadingPack(s string) (Quantity, string, bool) {
	s = strings.TrimLeft(s, " ")
	size, rest, ok := readNumber(s)
	if !ok {
		return Quantity{}, "", false
	}
	unit, after, known := leadingUnit(strings.TrimPrefix(rest, "-"))
	if !known || !named.MatchString(strings.ToLower(strings.TrimLeft(after, " -"))) {
		return Quantity{}, "", false
	}
	return Quantity{size, unit}, strings.TrimLeft(after, " -"), true
}

// leadingUnit takes a unit from the start: the longest spelling that is one, whole words only.
func leadingUnit(s string) (Unit, string, bool) {
	s = strings.TrimLeft(s, " ")
	words := strings.Fields(s)
	for n := min(3, len(words)); n > 0; n-- {
		written := strings.Join(words[:n], " ")
		name := strings.Trim(strings.ReplaceAll(written, ".", ""), ",")
		if name == "" || name == "x" || name == "a" {
			continue
		}
		unit, known := Unit(""), false
		if name == "T" { // by custom T is a tablespoon and t a teaspoon
			unit, known = Tablespoon, true
		} else if unit, known = spellings[strings.ToLower(name)]; !known {
			unit, known = spellings[strings.TrimSuffix(strings.ToLower(name), "s")]
		}
		if known {
			at := 0
			for _, w := range words[:n] {
				at += strings.Index(s[at:], w) + len(w)
			}
			return unit, strings.TrimLeft(s[at:], " "), true
		}
	}
	return Each, s, false
}

// sum adds "1 cup plus 2 tbsp" where both are of one kind.
func (l *Line) sum(rest string) string {
	mark := plus.FindString(rest)
	if mark == "" {
		return rest
	}
	more, after, ok := readNumber(rest[len(mark):])
	if !ok {
		return rest
	}
	unit, after, known := leadingUnit(after)
	extra, err := Quantity{more, unit}.In(l.Amount.Unit, Substance{})
	if !known || err != nil || l.Upto != 0 {
		l.doubt("Two amounts stand here that cannot be added: write them as two lines.")
		return rest
	}
	l.Amount.Amount += extra
	return after
}

func (l *Line) measured(s string, n float64) bool {
	if !named.MatchString(strings.ToLower(s)) {
		return false
	}
	l.Amount = &Quantity{n, Each}
	return true
}

// takeMeasure takes a named measure from the start, if there is one.
func (l *Line) takeMeasure(s string) string {
	s = strings.TrimLeft(s, " ")
	m := named.FindStringSubmatch(strings.ToLower(s))
	if m == nil {
		return s
	}
	l.Measure = m[1]
	if strings.HasSuffix(m[1], "e") && m[2] == "s" { // pinches, dashes, boxes
		l.Measure = strings.TrimSuffix(m[1], "e")
	}
	if m[1] == "leave" {
		l.Measure = "leaf"
	}
	return s[len(m[0]):]
}

// words takes ingredient and note from what is left.
func (l *Line) words(rest string) {
	rest = strings.TrimSpace(rest)
	if len(rest) > 3 && strings.EqualFold(rest[:3], "of ") {
		rest = strings.TrimSpace(rest[3:])
	}
	notes := []string{}
	for {
		from := strings.IndexByte(rest, '(')
		if from < 0 {
			break
		}
		length := strings.IndexByte(rest[from:], ')')
		if length < 0 {
			l.doubt("A bracket is not closed.")
			rest = strings.Replace(rest, "(", " ", 1)
			continue
		}
		notes = append(notes, strings.TrimSpace(rest[from+1:from+length]))
		rest = rest[:from] + " " + rest[from+length+1:]
	}
	name, note, _ := strings.Cut(rest, ",")
	if at := open.FindStringIndex(name); at != nil && at[0] > 0 {
		note = name[at[0]:] + " " + note
		name = name[:at[0]]
	}
	l.Ingredient = strings.Join(strings.Fields(name), " ")
	if note = strings.Join(strings.Fields(note), " "); note != "" {
		notes = append(notes, note)
	}
	l.Note = strings.Join(notes, "; ")
	switch {
	case l.Ingredient == "":
		l.doubt("There is no ingredient: write what it is.")
	case digits.MatchString(strength.ReplaceAllString(l.Ingredient, "")):
		l.doubt(fmt.Sprintf("Another number stands in %q: is it part of the amount?", l.Ingredient))
	case l.Amount != nil && l.Amount.Unit == Ounce && liquid.MatchString(l.Ingredient) && l.Measure == "":
		l.doubt("Ounces of a liquid: by weight (oz), or by volume (fl oz)?")
	}
}
