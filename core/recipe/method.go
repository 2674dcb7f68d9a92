package recipe

import (
	"regexp"
	"strings"

	"zestytin/core/measure"
	"zestytin/core/si"
)

// Step is a line of a method, read: what is to be done, for how many minutes somebody's hands are at it or it waits, and
// how warm something is. Of a range the longer time is taken. Place is where it waits: the name of a spot that every
// kitchen begins with; empty where the line does not say.
type Step struct {
	Text    string     `json:"text"`
	Minutes si.Minutes `json:"minutes,omitempty"`
	Waits   bool       `json:"waits,omitempty"` // nobody is at it meanwhile
	Place   string     `json:"place,omitempty"`
	From    float64    `json:"from,omitempty"` // C
	To      float64    `json:"to,omitempty"`   // C
}

const (
	number = `([0-9]+(?:[.,][0-9]+)?(?:\s+[0-9]/[0-9])?|[0-9]/[0-9]|[½¼¾]|an?|half an?|` +
		`one|two|three|four|five|six|eight|ten|twelve)`
	degree = `(?:°|º|degrees?|deg\.?)`
)

var (
	times = regexp.MustCompile(`(?i)\b` + number + `(?:\s*(?:-|–|to|or)\s*` + number +
		`)?\s*(seconds?|secs?\b|s\b|minutes?|mins?\b|hours?|hrs?\b|h\b|days?|nights?)`)
	overnight = regexp.MustCompile(`(?i)\bovernight\b`)
	warmth    = regexp.MustCompile(`(?i)([0-9]+(?:[.,][0-9]+)?)\s*` + degree +
		`?\s*[CF]?\s*(?:-|–|to)?\s*([0-9]+(?:[.,][0-9]+)?)?\s*` + degree + `\s*([CF])\b`)
	bare    = regexp.MustCompile(`\b([0-9]{2,3})(?:\s*(?:-|–|to)\s*([0-9]{2,3}))?\s*([CF])\b`)
	waiting = regexp.MustCompile(`(?i)\b(chill|refrigerat\w*|fridge|freez\w*|set|rest|stand|cool|soak|dry|harden|firm|` +
		`bake|leave|overnight|steep|proof)\b`)
	freezer = regexp.MustCompile(`(?i)\bfreez`)
	fridge  = regexp.MustCompile(`(?i)\b(fridge|refrigerat|chill)`)
	words   = map[string]float64{"a": 1, "an": 1, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6,
		"eight": 8, "ten": 10, "twelve": 12, "half a": 0.5, "half an": 0.5, "½": 0.5, "¼": 0.25, "¾": 0.75}
	numbered = regexp.MustCompile(`(?i)^\s*(?:step\s*)?[0-9]{1,2}\s*[.):]\s+`)
	sentence = regexp.MustCompile(`[.!]\s+`)
)

// ReadStep reads a line of a method.
func ReadStep(text string) Step {
	s := Step{Text: strings.TrimSpace(numbered.ReplaceAllString(text, ""))}
	longest := 0.0
	for _, m := range times.FindAllStringSubmatch(s.Text, -1) {
		n := max(value(m[1]), value(m[2]))
		switch unit := strings.ToLower(m[3]); unit[0] {
		case 's':
			n /= 60
		case 'h':
			n *= 60
		case 'd', 'n':
			n *= 24 * 60
		}
		longest = max(longest, n)
	}
	if longest == 0 && overnight.MatchString(s.Text) {
		longest = 12 * 60
	}
	if longest > 0 {
		s.Minutes = si.WholeMinutes(min(longest, 14*24*60))
	}
	s.Waits = s.Minutes > 0 && waiting.MatchString(s.Text)
	switch {
	case !s.Waits:
	case freezer.MatchString(s.Text):
		s.Place = "freezer"
	case fridge.MatchString(s.Text):
		s.Place = "fridge"
	default:
		s.Place = "counter"
	}
	for _, pattern := range []*regexp.Regexp{warmth, bare} {
		if m := pattern.FindStringSubmatch(s.Text); m != nil {
			s.From, s.To = celsius(m[1], m[3]), celsius(m[1], m[3])
			if m[2] != "" {
				s.To = celsius(m[2], m[3])
			}
			break
		}
	}
	return s
}

func value(text string) float64 {
	if n, ok := words[strings.ToLower(text)]; ok {
		return n
	}
	q, err := measure.Read(strings.Replace(text, ",", ".", 1) + " g")
	if err != nil {
		return 0
	}
	return q.Amount
}

func celsius(text, unit string) float64 {
	n := value(text)
	if strings.EqualFold(unit, "F") {
		return (n - 32) * 5 / 9
	}
	return n
}

// Method reads the lines of a method; a line of several sentences with times of their own is several steps.
func Method(lines []string) []Step {
	list := []Step{}
	for _, line := range lines {
		parts := sentence.Split(line, -1)
		timed := 0
		for _, p := range parts {
			if ReadStep(p).Minutes > 0 {
				timed++
			}
		}
		if timed < 2 {
			if s := ReadStep(line); s.Text != "" {
				list = append(list, s)
			}
			continue
		}
		// Sentences without a time of their own belong to the one before them.
		for n, p := range parts {
			s := ReadStep(p)
			if s.Text == "" {
				continue
			}
			if n > 0 && s.Minutes == 0 && len(list) > 0 {
				list[len(list)-1].Text += ". " + s.Text
				continue
			}
			list = append(list, s)
		}
	}
	return list
}

// What a heading of a recipe says: where its method begins, how much it makes, or for which part the lines below are.
var (
	methodHead = regexp.MustCompile(`(?i)^(method|directions|instructions|preparation|procedure|` +
		`how to (?:make|do)\b.*|steps|what to do)\s*[:.]?\s*$`)
	yieldLine = regexp.MustCompile(`(?i)^(?:makes|yields?|serves)\b[:\s]+(.{1,80})$`)
	listHead  = regexp.MustCompile(`(?i)^(ingredients|you(?:'|’)?ll need|what you need)\s*[:.]?\s*$`)
	partHead  = regexp.MustCompile(`(?i)^(?:for\s+)?(?:the\s+)?([\p{L}][\p{L} '’&-]{1,40}?)\s*:\s*$|` +
		`^for\s+the\s+([\p{L}][\p{L} '’&-]{1,40})$`)
)

// sections sorts the lines of a text: ingredients under the part that they are for, the yield, the method.
func (r *Recipe) sections(lines []string) {
	part, method := "", false
	for _, line := range lines {
		switch {
		case methodHead.MatchString(line):
			method = true
		case listHead.MatchString(line):
			part, method = "", false
		case method:
			r.Instructions = append(r.Instructions, line)
		case yieldLine.MatchString(line):
			r.Yield = yieldLine.FindStringSubmatch(line)[1]
		case partHead.MatchString(line):
			m := partHead.FindStringSubmatch(line)
			part = strings.TrimSpace(m[1] + m[2])
		case numbered.MatchString(line) && len(r.Lines) > 0: // steps without a heading
			method = true
			r.Instructions = append(r.Instructions, line)
		default:
			r.Lines, r.Parts = append(r.Lines, line), append(r.Parts, part)
		}
	}
	for _, p := range r.Parts {
		if p != "" {
			return
		}
	}
	r.Parts = nil // all for one
}
