package request

import (
	"regexp"
	"strconv"
	"strings"
	"time"

	"zestytin/core/reason"
)

const (
	weekdays = `mon(?:day)?|tue(?:s|sday)?|wed(?:s|nesday)?|thu(?:r|rs|rsday)?|fri(?:day)?|sat(?:urday)?|sun(?:day)?`
	months   = `jan(?:uary)?|feb(?:ruary)?|mar(?:ch)?|apr(?:il)?|may|june?|july?|aug(?:ust)?|sept?(?:ember)?|oct(?:ober)?|nov(?:ember)?|dec(?:ember)?`
	lead     = `(?i)(?:\b(?:on|for|by|this coming|the|until|due) )*`
)

var (
	isoDay   = regexp.MustCompile(lead + `\b(\d{4})-(\d{1,2})-(\d{1,2})\b`)
	dayMonth = regexp.MustCompile(lead + `(?:(?:` + weekdays +
		`)\.?,? )?(?:the )?\b(\d{1,2})(?:st|nd|rd|th)?\.? (?:of )?(` + months + `)\b\.?(?:,? (\d{4}))?`)
	monthDay = regexp.MustCompile(lead + `(?:(?:` + weekdays + `)\.?,? )?\b(` + months +
		`)\.? (?:the )?(\d{1,2})(?:st|nd|rd|th)?\b(?:,? (\d{4}))?`)
	figures = regexp.MustCompile(lead + `(?:(?:` + weekdays +
		`)\.?,? )?(?:\b(\d{1,2})/(\d{1,2})(?:/(\d{2,4}))?\b|\b(\d{1,2})\.(\d{1,2})\.(\d{4}|\d{2})?(?:[ ,;]|$))`)
	inDays   = regexp.MustCompile(lead + `\bin (\d+|a|one|two|three|four) (days?|weeks?)(?: time)?\b`)
	relative = regexp.MustCompile(lead + `\b(today|tonight|tomorrow|the day after tomorrow|day after tomorrow)\b`)
	weekOn   = regexp.MustCompile(lead + `\b(?:a )?week (?:on|from) (` + weekdays + `)\b|` + lead + `\b(` + weekdays +
		`) week\b`)
	weekday    = regexp.MustCompile(lead + `\b(next |this )?(` + weekdays + `)\b\.?`)
	dayOfMonth = regexp.MustCompile(lead + `\bthe (\d{1,2})(?:st|nd|rd|th)\b`)
)

// day reads the first day that is named, in the way that says most.
func (r *reader) day() {
	today := r.k.Calendar.Date(0)
	switch {
	case r.on(isoDay, func(m []string) string { return date(m[1], m[2], m[3]) }):
	case r.on(dayMonth, func(m []string) string { return r.coming(m[3], month(m[2]), m[1]) }):
	case r.on(monthDay, func(m []string) string { return r.coming(m[3], month(m[1]), m[2]) }):
	case r.on(inDays, func(m []string) string {
		n, _ := number(strings.ToLower(m[1]))
		if strings.HasPrefix(strings.ToLower(m[2]), "week") {
			n *= 7
		}
		return r.k.Calendar.Date(min(int(n), 400))
	}):
	case r.on(weekOn, func(m []string) string { return r.k.Calendar.Date(r.next(m[1]+m[2]) + 7) }):
	case r.on(relative, func(m []string) string {
		switch word := strings.ToLower(m[1]); {
		case strings.HasSuffix(word, "after tomorrow"):
			return r.k.Calendar.Date(2)
		case word == "tomorrow":
			return r.k.Calendar.Date(1)
		case word == "tonight":
			r.From, r.To = 17*60, 20*60
		}
		return today
	}):
	case r.on(figures, r.inFigures):
	case r.on(weekday, func(m []string) string {
		ahead := r.next(m[2])
		if strings.EqualFold(strings.TrimSpace(m[1]), "next") {
			// Some say next for the coming one, some for the one after it.
			soon := r.k.Calendar.Date(ahead)
			if ahead < 7 {
				ahead += 7
			}
			r.doubt("next-weekday", reason.Day(r.k.Calendar.Date(ahead)), reason.Day(soon))
		}
		return r.k.Calendar.Date(ahead)
	}):
	case r.on(dayOfMonth, func(m []string) string { return r.coming("", "", m[1]) }):
	}
	if r.Day != "" && r.Day < today {
		r.doubt("day-is-past", reason.Day(r.Day))
	}
}

// on takes a day by a pattern; what is no date is left as it stands.
func (r *reader) on(pattern *regexp.Regexp, day func([]string) string) bool {
	m := pattern.FindStringSubmatch(r.text)
	if m == nil {
		return false
	}
	of := day(m)
	if of == "" {
		return false
	}
	r.take(pattern)
	r.Day = of
	return true
}

// next is how many days ahead a weekday is: today counts, unless its day is over.
func (r *reader) next(name string) int {
	for n := range 7 {
		if strings.HasPrefix(strings.ToLower(r.k.Calendar.Weekday(n).String()), strings.ToLower(name[:3])) {
			return n
		}
	}
	return 0
}

// date of figures; empty where there is no such day.
func date(year, month, day string) string {
	if len(year) == 2 {
		year = "20" + year
	}
	y, _ := strconv.Atoi(year)
	m, _ := strconv.Atoi(month)
	d, _ := strconv.Atoi(day)
	t := time.Date(y, time.Month(m), d, 0, 0, 0, 0, time.UTC)
	if t.Day() != d || int(t.Month()) != m {
		return ""
	}
	return t.Format(time.DateOnly)
}

// month as figures, of its name.
func month(name string) string {
	for m := time.January; m <= time.December; m++ {
		if strings.EqualFold(m.String()[:3], name[:3]) {
			return strconv.Itoa(int(m))
		}
	}
	return ""
}

// coming is the next such day, where no year is said; without a month, in this month or the next.
func (r *reader) coming(year, month, day string) string {
	if year != "" {
		return date(year, month, day)
	}
	today, _ := time.Parse(time.DateOnly, r.k.Calendar.Date(0))
	for n := range 13 {
		first := time.Date(today.Year(), today.Month()+time.Month(n), 1, 0, 0, 0, 0, time.UTC)
		if month != "" && strconv.Itoa(int(first.Month())) != month {
			continue
		}
		of := date(strconv.Itoa(first.Year()), strconv.Itoa(int(first.Month())), day)
		if of >= r.k.Calendar.Date(0) {
			return of
		}
	}
	return ""
}

// inFigures reads 9/12 in the kitchen's order; where the other order is a day too, that is a doubt.
func (r *reader) inFigures(m []string) string {
	m = []string{m[0], m[1] + m[4], m[2] + m[5], m[3] + m[6]}
	of := func(day, month string) string {
		month = strings.TrimLeft(month, "0")
		if m[3] != "" {
			return date(m[3], month, day)
		}
		if n, _ := strconv.Atoi(month); n < 1 || n > 12 {
			return ""
		}
		return r.coming("", month, day)
	}
	first, other := of(m[1], m[2]), of(m[2], m[1])
	if r.k.Dates == "mdy" {
		first, other = other, first
	}
	switch {
	case first == "":
		return other
	case other != "" && other != first:
		r.doubt("day-or-month-first", reason.Day(first), reason.Day(other))
	}
	return first
}

const hour = `(\d{1,2})(?:[:.h](\d{2}))?\s?(am|pm|a\.m\.?|p\.m\.?|o'clock|h\b)?`

var (
	between = regexp.MustCompile(`(?i)\b(?:between|from) ` + hour + ` (?:and|to|-|until) ` + hour + `(?:[ ,;]|$)`)
	spanned = regexp.MustCompile(
		`(?i)\b(?:at )?(\d{1,2})(?:[:.h](\d{2}))?\s?(am|pm)?\s?(?:-|to)\s?(\d{1,2})(?:[:.h](\d{2}))?\s?(am|pm)\b`)
	spanned24 = regexp.MustCompile(`(?i)\b(?:at )?(\d{1,2}):(\d{2})()\s?(?:-|to)\s?(\d{1,2}):(\d{2})()(?:[ ,;]|$)`)
	byThen    = regexp.MustCompile(`(?i)\b(by|before|until|after|from|at|around|about|ca\.?) ` + hour + `(?:[ ,;.]|$)`)
	clockOnly = regexp.MustCompile(`(?i)\b(\d{1,2})(?:[:.](\d{2}))?\s?(am|pm|a\.m\.?|p\.m\.?|o'clock|h)(?:[ ,;.]|$)`)
	clock24   = regexp.MustCompile(`(?i)\b([01]?\d|2[0-3])[:h]([0-5]\d)()\b`)
	noon      = regexp.MustCompile(`(?i)\b(?:(by|before|after|at|around)\s)?\b(noon|midday|lunchtime|midnight)\b`)
	partOfDay = regexp.MustCompile(`(?i)\b(?:in the |during the )?(morning|afternoon|evening)\b`)
)

var partsOfDay = map[string][2]int{"morning": {9 * 60, 12 * 60}, "afternoon": {13 * 60, 17 * 60},
	"evening": {17 * 60, 20 * 60}}

// time reads the window in which it is handed over.
func (r *reader) time() {
	window := func(m []string) bool {
		to, sure := minute(m[4], m[5], m[6])
		from, _ := minute(m[1], m[2], m[3])
		if m[3] == "" && m[6] != "" && from < to-12*60 { // 2-3 pm
			from += 12 * 60
		}
		if from < 0 || to < 0 || to > 24*60 || to <= from {
			return false
		}
		r.From, r.To = from, to
		if !sure && m[2] == "" && m[5] == "" {
			r.afternoon()
		}
		return true
	}
	for _, p := range []*regexp.Regexp{between, spanned, spanned24} {
		if m := p.FindStringSubmatch(r.text); m != nil && window(m) {
			r.take(p)
			return
		}
	}
	if m := r.take(noon); m != nil {
		at := 12 * 60
		if strings.EqualFold(m[2], "midnight") {
			at = 23 * 60
		}
		r.around(strings.ToLower(m[1]), at)
		return
	}
	if m := byThen.FindStringSubmatch(r.text); m != nil {
		if at, sure := minute(m[2], m[3], m[4]); at >= 0 && (sure || m[3] != "" || at <= 12*60) {
			r.take(byThen)
			r.around(strings.ToLower(m[1]), at)
			if !sure && m[3] == "" {
				r.afternoon()
			}
			return
		}
	}
	for _, p := range []*regexp.Regexp{clockOnly, clock24} {
		if m := p.FindStringSubmatch(r.text); m != nil {
			if at, sure := minute(m[1], m[2], m[3]); at >= 0 {
				r.take(p)
				r.around("at", at)
				if !sure && m[2] == "" {
					r.afternoon()
				}
				return
			}
		}
	}
	if m := r.take(partOfDay); m != nil {
		span := partsOfDay[strings.ToLower(m[1])]
		r.From, r.To = span[0], span[1]
	}
}

// around a time: an hour from it on, or before it where it is wanted by then.
func (r *reader) around(how string, at int) {
	if how == "by" || how == "before" || how == "until" {
		r.From, r.To = max(at-60, 0), max(at, 60)
		return
	}
	r.From = min(at, 23*60) // the last hour of a day
	r.To = r.From + 60
}

// afternoon is meant by 2, where nobody said.
func (r *reader) afternoon() {
	if r.From < 7*60 {
		r.From, r.To = r.From+12*60, min(r.To+12*60, 24*60)
	}
	r.doubt("am-or-pm", reason.Clock(r.From))
}

// minute of a day; sure where its half was said, or it can be but one.
func minute(hour, minutes, half string) (at int, sure bool) {
	h, _ := strconv.Atoi(hour)
	m := 0
	if minutes != "" {
		m, _ = strconv.Atoi(minutes)
	}
	if h*60+m > 24*60 || m > 59 || hour == "" {
		return -1, false
	}
	switch half = strings.ToLower(strings.ReplaceAll(half, ".", "")); half {
	case "pm", "am":
		if h > 12 || h == 0 {
			return h*60 + m, true
		}
		h %= 12
		if half == "pm" {
			h += 12
		}
		return h*60 + m, true
	case "h":
		return h*60 + m, true
	}
	return h*60 + m, h > 12 || h == 0
}
