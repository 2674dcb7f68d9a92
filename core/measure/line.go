package measure

import (
	"regexp"
	"strings"

	"zestytin/core/reason"
)

// Line is a line of a recipe, read. What is doubtful is left to a person: Doubt then says what to settle, and Original
// is what was written.
type Line struct {
	Original   string         `json:"original"`
	Amount     *Quantity      `json:"amount,omitempty"`
	Upto       float64        `json:"upto,omitempty"`
	Measure    string         `json:"measure,omitempty"`
	Packs      float64        `json:"packs,omitempty"`
	Ingredient string         `json:"ingredient"`
	Note       string         `json:"note,omitempty"`
	Doubt      *reason.Reason `json:"doubt,omitempty"`
}

var numberWords = map[string]string{
	"a": "1", "an": "1", "one": "1", "two": "2", "three": "3", "four": "4", "five": "5", "six": "6", "seven": "7",
	"eight": "8", "nine": "9", "ten": "10", "eleven": "11", "twelve": "12", "half": "1/2",
}

// named measures count something whose weight is the ingredient's own.
var named = regexp.MustCompile(
	`^(pinch|pinche|shot|sprinkle|splash|splashe|knob|dash|dashe|drop|clove|stick|packet|package|pkg|can|tin|jar|bag|box|boxe|bottle|bar|block|sheet|slice|handful|punnet|sprig|leaf|leave|scoop|square|tub)(s?)\b\.?\s*`)

// singular of the named measures that change in the plural.
var singular = map[string]string{"pinche": "pinch", "dashe": "dash", "splashe": "splash", "boxe": "box",
	"leave": "leaf"}

var (
	bullet    = regexp.MustCompile(`^\s*(?:[-*•·–]|\[ ?\])\s+`)
	footnote  = regexp.MustCompile(`\s*[*†‡§¹²³]+\s*$`)
	bracketed = regexp.MustCompile(`^\s*\(([^()0-9]*)\)\s*(.+)$`) // a remark before the amount
	roughly   = regexp.MustCompile(`(?i)^(about|around|roughly|approximately|approx\.?|ca\.?|circa|~)\s*`)
	joined    = regexp.MustCompile(
		`(?i)^([0-9]+)\s*(?:-|&|\band\b|\+)\s*([0-9]+/[0-9]+|[½⅓⅔¼¾⅛⅜⅝⅞])(\s|$)`) // 1-1/2, 1 and 1/2
	andAHalf = regexp.MustCompile(
		`(?i)^([0-9]+|a|an|one|two|three|four|five|six|seven|eight|nine|ten)\s+and\s+a\s+half\s+`)
	either = regexp.MustCompile(
		`([A-Za-z.])\s*/\s*([0-9])`) // 200g/7oz
	heaped = regexp.MustCompile(
		`(?i)^\s*((?:lightly|firmly|loosely|tightly|well)\s+packed|heaped|heaping|level|levelled|scant|generous|rounded|good|packed|big)\s+`) // how a measure is filled
	sized      = regexp.MustCompile(`(?i)^\s*(small|medium|large|big)\s+`) // how large a container is
	rangeMark  = regexp.MustCompile(`^\s*(?:-|–|—|\bto\b|\bor\b)\s*`)
	timesMark  = regexp.MustCompile(`^\s*[x×]\s*`)
	packInside = regexp.MustCompile(`^\s*\(\s*([^()]*?)\s*(?:each)?\s*\)\s*`)
	open       = regexp.MustCompile(
		`(?i)\b(to taste|as needed|as required|as desired|optional|for serving|for dusting|for greasing)\b`)
	unknown = regexp.MustCompile(
		`(?i)^(a few|few|several|some|a couple|a little|a bit)\b|\bor so\b|^(minus|less)\b`) // no number that can be told
	digits    = regexp.MustCompile(`[0-9½⅓⅔¼¾⅛]`)
	strength  = regexp.MustCompile(`[0-9]+([.,][0-9]+)?\s*%`) // of a chocolate: part of its name
	plus      = regexp.MustCompile(`^\s*(?:\+|plus|and)\s+`)
	noteMark  = regexp.MustCompile(`\s*[,;]\s*|\s+[-–—]\s+`)
	thousands = regexp.MustCompile(`^[1-9][0-9]{0,2}\.[0-9]{3}(\D|$)`)
	liquid    = regexp.MustCompile(`(?i)\b(milk|cream|water|juice|oil|liqueur|rum|whisk(?:e)?y|brandy|coffee|syrup)\b`)
	// solid is what has the name of a liquid in its own.
	solid = regexp.MustCompile(
		`(?i)\b(chocolate|couverture|coating|chips?|powder(ed)?|malt|beans?|grounds?|cheese|crackers?|biscuits?|cookies?|cand(y|ies)|fudge|wafers?|dried|instant|ground)\b`)
	parted = regexp.MustCompile(
		`(?i)^(one|two|three|a)[ -](quarter|third)s?\s+(?:of\s+an?\s+|an?\s+|of\s+)?`) // three quarters of a cup
	foreign = regexp.MustCompile(
		`^(dag|dkg|F|°\s?[CFcf]|gills?|cc|stone|bushels?|firkins?)\b`) // units that are none of ours
	makes   = regexp.MustCompile(`(?i)^\s*(makes|yields?|serves|for)\b[:\s]`) // not an ingredient
	degrees = regexp.MustCompile(`^C\b`)
	// vague are named measures of which nobody knows how much they are.
	vague = map[string]bool{"shot": true, "sprinkle": true, "splash": true, "knob": true}
	// prepared are words for how something is, which alone do not say what it is.
	prepared = regexp.MustCompile(
		`(?i)^(?:(?:finely|coarsely|roughly|freshly|lightly|very|well|and|or)\s+)*(?:chopped|toasted|roasted|melted|softened|sifted|grated|ground|crushed|diced|sliced|packed|dried|washed|warm|hot|cold|soft|cooled|fresh|large|small|medium)(?:\s+(?:and|or)\s+\w+)?$`)
)

// ReadLine reads one line of a recipe as people write it: "1 1/2 cups semi-sweet chips, chopped", "2-3 tbsp butter
// (melted)", "one 14-oz can condensed milk", "2 x 125 g cream", "pinch of salt", "3/4 c. sugar", "salt, to taste". It
// never guesses silently: where there is more than one reading it takes none of them for sure and says so in Doubt.
func ReadLine(text string) Line {
	l := Line{Original: text}
	rest := strings.TrimSpace(footnote.ReplaceAllString(bullet.ReplaceAllString(text, ""), ""))
	rest = strings.ReplaceAll(rest, "⁄", "/")
	if rest == "" {
		l.doubt("line-empty")
		return l
	}
	if m := bracketed.FindStringSubmatch(rest); m != nil {
		l.note(m[1])
		rest = m[2]
	}
	if m := roughly.FindStringSubmatch(rest); m != nil {
		l.note(m[1])
		rest = rest[len(m[0]):]
	}
	if makes.MatchString(rest) {
		l.doubt("yield")
	}
	if unknown.MatchString(rest) {
		l.doubt("how-much")
	}
	if thousands.MatchString(rest) {
		l.doubt("thousands")
	}
	rest = joined.ReplaceAllString(rest, "$1 $2$3")
	if m := parted.FindStringSubmatch(rest); m != nil {
		of := map[string]string{"quarter": "4", "third": "3"}[strings.ToLower(m[2])]
		rest = numberWords[strings.ToLower(m[1])] + "/" + of + " " + rest[len(m[0]):]
	}
	if m := andAHalf.FindStringSubmatch(rest); m != nil {
		whole := m[1]
		if digits, known := numberWords[strings.ToLower(whole)]; known {
			whole = digits
		}
		rest = whole + " 1/2 " + rest[len(m[0]):]
	}
	rest = either.ReplaceAllString(rest, "$1 / $2")
	amount, after, ok := leadingNumber(rest)
	if each, container, sized := leadingPack(rest); sized { // 14-oz can of it: one
		l.packs(1, each)
		l.words(l.takeMeasure(container))
		return l
	}
	switch {
	case ok:
		rest = l.amounts(amount, after)
	case l.measured(rest, 1):
		rest = l.takeMeasure(rest)
	case heaped.MatchString(rest): // heaping cup of sugar: one
		rest = l.amounts(1, rest)
	case !open.MatchString(rest):
		l.doubt("amount-missing")
	}
	l.words(rest)
	if l.Amount != nil {
		if d, known := l.Amount.Unit.Dimension(); known && d == Length {
			l.doubt("length")
		}
	}
	return l
}

// doubt is kept, unless there is another already.
func (l *Line) doubt(code string, of ...reason.Value) {
	if l.Doubt == nil {
		l.Doubt = new(reason.Of("measure."+code, of...))
	}
}

func (l *Line) note(text string) {
	if text = strings.Join(strings.Fields(text), " "); text == "" {
		return
	}
	if l.Note != "" {
		l.Note += "; "
	}
	l.Note += text
}

// leadingNumber reads digits, fractions or a number word at the start.
func leadingNumber(s string) (float64, string, bool) {
	if x, rest, ok := readNumber(s); ok {
		return x, rest, true
	}
	if strings.HasPrefix(s, ".") && len(s) > 1 && isDigit(s[1]) {
		return readNumber("0" + s)
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
	} else if each, after, ok := l.inside(rest); ok { // 2 (14 oz) cans
		l.packs(amount, each)
		return l.takeMeasure(after)
	} else if each, after, ok := leadingPack(rest); ok { // one 14-oz can
		l.packs(amount, each)
		return l.takeMeasure(after)
	}
	if mark := rangeMark.FindString(rest); mark != "" {
		if high, after, ok := leadingNumber(rest[len(mark):]); ok {
			l.Upto, rest = high, after
			if high <= amount {
				l.doubt("range-falls")
			}
		}
	}
	if m := heaped.FindStringSubmatch(rest); m != nil {
		l.note(m[1])
		rest = rest[len(m[0]):]
	}
	if m := sized.FindStringSubmatch(rest); m != nil && named.MatchString(strings.ToLower(rest[len(m[0]):])) {
		l.note(m[1])
		rest = rest[len(m[0]):]
	}
	unit, after, known := leadingUnit(rest)
	if unit == Cup && amount > 12 && degrees.MatchString(strings.TrimLeft(rest, " ")) {
		l.doubt("cups-or-degrees")
	}
	l.Amount = &Quantity{amount, unit}
	if m := foreign.FindString(strings.TrimLeft(rest, " ")); m != "" {
		l.doubt("unit-unknown", reason.Name(m))
	}
	if !known {
		rest = l.takeMeasure(rest)
		if each, after, ok := l.inside(rest); ok && l.Measure != "" { // 1 can (14 oz)
			l.packs(amount, each)
			return after
		}
		return rest
	}
	if l.Packs != 0 { // 3 x 100 g bars
		after = l.takeMeasure(after)
	}
	return l.sum(l.alternative(after))
}

// packs of so much each.
func (l *Line) packs(n float64, each Quantity) {
	l.Packs = n
	l.Amount = &Quantity{n * each.Amount, each.Unit}
}

// inside reads "(14 oz)" or "(12-ounce)": the size of what was counted before it.
func (l *Line) inside(s string) (Quantity, string, bool) {
	m := packInside.FindStringSubmatch(s)
	if m == nil {
		return Quantity{}, s, false
	}
	each, err := Read(strings.Replace(m[1], "-", " ", 1))
	if err != nil || each.Unit == Each {
		return Quantity{}, s, false
	}
	return each, s[len(m[0]):], true
}

// alternative takes the same amount in another unit as a note: 200 g / 7 oz.
func (l *Line) alternative(s string) string {
	rest, found := strings.CutPrefix(strings.TrimLeft(s, " "), "/")
	if !found {
		return s
	}
	rest = strings.TrimLeft(rest, " ")
	_, after, ok := readNumber(rest)
	if !ok {
		return s
	}
	_, after, known := leadingUnit(after)
	if !known {
		return s
	}
	l.note(strings.TrimSpace(rest[:len(rest)-len(after)]))
	return after
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
		unit, known := unitOf(name)
		if known && unit != Drop { // of an ingredient with drops of its own
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
		l.doubt("two-amounts")
		return rest
	}
	l.Amount.Amount += extra
	return after
}

// isTopping tells sprinkles from a sprinkle of something.
func isTopping(m []string, s string) bool {
	return m[1] == "sprinkle" && !strings.HasPrefix(strings.ToLower(s[len(m[0]):]), "of ")
}

func (l *Line) measured(s string, n float64) bool {
	if m := named.FindStringSubmatch(strings.ToLower(s)); m == nil || isTopping(m, s) {
		return false
	}
	l.Amount = &Quantity{n, Each}
	return true
}

// takeMeasure takes a named measure from the start, if there is one.
func (l *Line) takeMeasure(s string) string {
	s = strings.TrimLeft(s, " ")
	m := named.FindStringSubmatch(strings.ToLower(s))
	if m == nil || isTopping(m, s) {
		return s
	}
	l.Measure = m[1]
	if one, changes := singular[m[1]]; changes {
		l.Measure = one
	}
	if vague[l.Measure] {
		l.doubt("how-much")
	}
	return s[len(m[0]):]
}

// words takes ingredient and note from what is left.
func (l *Line) words(rest string) {
	rest = strings.TrimSpace(rest)
	if len(rest) > 3 && strings.EqualFold(rest[:3], "of ") {
		rest = strings.TrimSpace(rest[3:])
	}
	for {
		from := strings.IndexByte(rest, '(')
		if from < 0 {
			break
		}
		length := strings.IndexByte(rest[from:], ')')
		if length < 0 {
			l.doubt("bracket")
			rest = strings.Replace(rest, "(", " ", 1)
			continue
		}
		l.note(rest[from+1 : from+length])
		rest = rest[:from] + " " + rest[from+length+1:]
	}
	name, note := rest, ""
	if at := noteMark.FindStringIndex(rest); at != nil {
		name, note = rest[:at[0]], rest[at[1]:]
	}
	if at := open.FindStringIndex(name); at != nil && at[0] > 0 {
		note = name[at[0]:] + " " + note
		name = name[:at[0]]
	}
	l.Ingredient = strings.Join(strings.Fields(name), " ")
	l.note(note)
	switch {
	case l.Ingredient == "":
		l.doubt("ingredient-missing")
	case digits.MatchString(strength.ReplaceAllString(l.Ingredient, "")):
		l.doubt("another-number", reason.Name(l.Ingredient))
	case unknown.MatchString(l.Ingredient):
		l.doubt("how-much")
	case prepared.MatchString(l.Ingredient):
		l.doubt("how-not-what", reason.Name(l.Ingredient))
	case l.Amount != nil && l.Amount.Unit == Ounce && liquid.MatchString(l.Ingredient) &&
		!solid.MatchString(l.Ingredient) && l.Measure == "":
		l.doubt("ounces-of-liquid")
	}
}
