// Package request reads what a customer asks for, as it is said on the phone or written in a message: "24 strawberries,
// 12 bombs Sat 2pm". It never guesses silently: what can be read in more than one way is read in the likeliest one and
// told as a doubt, and what is not understood is told word by word.
package request

import (
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"zestytin/core/ident"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
)

// Treat that can be asked for.
type Treat struct {
	ID     ident.Treat
	Name   string
	Family []string // words for what it is: drink, bombs
	Sold   int      // orders of it so far: of several that fit, the one that is asked for most is meant
}

// Kitchen is what must be known to read a request.
type Kitchen struct {
	Treats   []Treat
	Calendar plan.Calendar // of today
	Now      time.Time
	Dates    string // the order in which a date is written in figures: dmy, mdy, ymd
}

// Read is a request as it was understood. What was not said is the zero value.
type Read struct {
	Lines    []order.Line
	Day      string // date
	From, To int    // minutes from midnight, To after From; both 0 where no time was said
	Customer string
	Phone    string
	Way      order.Fulfilment
	Address  string
	FreeFrom []string
	Doubts   []reason.Reason
	Unread   []string
}

// Found tells whether there is anything in it to make an order of.
func (r *Read) Found() bool { return len(r.Lines) > 0 }

// reader goes through a text; what has been understood is struck out with a line's end.
type reader struct {
	k    Kitchen
	text string
	Read
}

// take the first match of a pattern, struck out of the text; nil where there is none.
func (r *reader) take(pattern *regexp.Regexp) []string {
	at := pattern.FindStringSubmatchIndex(r.text)
	if at == nil {
		return nil
	}
	found := make([]string, len(at)/2)
	for i := range found {
		if at[2*i] >= 0 {
			found[i] = r.text[at[2*i]:at[2*i+1]]
		}
	}
	r.text = r.text[:at[0]] + " ; " + r.text[at[1]:]
	return found
}

func (r *reader) doubt(code string, with ...reason.Value) {
	r.Doubts = append(r.Doubts, reason.Of("request."+code, with...))
}

var spaces = regexp.MustCompile(`[\s\x{a0}\x{202f}]+`)

// Longest request that is read, in characters; what comes after is left unread.
const Longest = 1000

// Parse a request.
func Parse(text string, k Kitchen) Read {
	var rest string
	if all := []rune(text); len(all) > Longest {
		text, rest = string(all[:Longest]), string(all[Longest:min(len(all), Longest+40)])+"…"
	}
	r := &reader{k: k, text: " " + spaces.ReplaceAllString(strings.ReplaceAll(text, "\n", " ; "), " ") + " "}
	r.text = strings.NewReplacer("–", "-", "—", "-", "’", "'").Replace(r.text)
	r.day()
	r.phone()
	r.time()
	r.free()
	r.way()
	r.customer()
	r.lines()
	if rest != "" {
		r.Unread = append(r.Unread, rest)
	}
	return r.Read
}

var phonePattern = regexp.MustCompile(`(?i)(?:\b(?:tel|phone|call|mobile|ph)\b[.:]?\s*)?(\+?\d[\d ().-]{5,}\d)`)

// phone is seven to fifteen digits with nothing but signs between them (ITU-T E.164 allows fifteen).
func (r *reader) phone() {
	m := phonePattern.FindStringSubmatch(r.text)
	if m == nil {
		return
	}
	digits := 0
	for _, c := range m[1] {
		if c >= '0' && c <= '9' {
			digits++
		}
	}
	// A bare run of digits may be a count.
	signs := strings.ContainsAny(m[1], "+ ().-") || strings.TrimSpace(m[0]) != m[1]
	if digits >= 7 && digits <= 15 && (digits >= 9 || signs) {
		r.Phone = strings.TrimSpace(r.take(phonePattern)[1])
	}
}

var (
	freePattern = regexp.MustCompile(
		`(?i)\b(?:must be |has to be |needs to be )?(?:(?:free (?:from|of)|without|no|contains no|allergic to)\s+(?:any )?(nuts?|tree nuts?|peanuts?|milk|dairy|eggs?|gluten|wheat|soya?|sesame|sulphites|sulfites|fish|shellfish)|(nut|tree nut|peanut|milk|dairy|egg|gluten|wheat|soya?|sesame)[- ]free)\b`)
	freeWords = map[string][]string{"nut": {"tree nut", "peanut"}, "tree nut": {"tree nut"}, "peanut": {"peanut"},
		"milk": {"milk"}, "dairy": {"milk"}, "egg": {"egg"}, "gluten": {"gluten"}, "wheat": {"wheat"}, "soy": {"soy"},
		"soya": {"soy"}, "sesame": {"sesame"}, "sulphite": {"sulphites"}, "sulfite": {"sulphites"}, "fish": {"fish"},
		"shellfish": {"shellfish"}}
)

// free reads what it must be free from.
func (r *reader) free() {
	for m := r.take(freePattern); m != nil; m = r.take(freePattern) {
		word := strings.ToLower(m[1] + m[2])
		names, known := freeWords[word]
		if !known {
			names = freeWords[strings.TrimSuffix(word, "s")]
		}
		for _, n := range names {
			if !slices.Contains(r.FreeFrom, n) {
				r.FreeFrom = append(r.FreeFrom, n)
			}
		}
		if len(names) > 1 {
			r.doubt("nuts-of-both-kinds")
		}
	}
}

var (
	deliverTo = regexp.MustCompile(
		`(?i)\b(?:please )?(?:deliver(?:ed|y)?|bring(?: it| them)?|drop(?: it| them)? off)\s+(?:to|at)\s+([^,;]+)`)
	deliver = regexp.MustCompile(
		`(?i)\b(?:please |to be |by |for )*(?:deliver(?:ed|y)?|bring (?:it|them)|drop(?:ped)? off)\b`)
	collect = regexp.MustCompile(
		`(?i)\b(?:(?:he|she|they|i|we)(?:'ll| will)? )?(?:to be |for )?(?:pick(?:ed|ing)?[ -]?(?:it |them )?up|collect(?:ed|ion|s|ing)?|pickup)\b`)
)

// way it reaches the customer.
func (r *reader) way() {
	if m := r.take(deliverTo); m != nil {
		r.Way, r.Address = order.Delivery, strings.TrimSpace(m[1])
	} else if r.take(deliver) != nil {
		r.Way = order.Delivery
	} else if r.take(collect) != nil {
		r.Way = order.Pickup
	}
}

var (
	forWhom = regexp.MustCompile(`\b[Ff]or ((?:[A-Z][\p{L}'.-]*)(?: (?:[A-Z][\p{L}'.-]*|and|&|de|van|von))*)`)
	whoSays = regexp.MustCompile(
		`^[ ;]*((?:[A-Z][\p{L}'.-]*)(?: [A-Z][\p{L}'.-]*){0,3})\s*(?::|,? (?:wants|would like|asks for|needs|orders)\b)`)
)

// customer is whom it is for: a name with a capital.
func (r *reader) customer() {
	if m := r.take(whoSays); m != nil {
		r.Customer = m[1]
		return
	}
	if m := forWhom.FindStringSubmatch(r.text); m != nil && len(r.k.match(strings.ToLower(m[1]))) == 0 {
		name := strings.TrimSpace(m[1])
		for _, joint := range []string{" and", " &", " de", " van", " von"} {
			name = strings.TrimSuffix(name, joint)
		}
		r.text = strings.Replace(r.text, "or "+name, "or ;", 1)
		r.text = regexp.MustCompile(`\b[Ff]or ;`).ReplaceAllString(r.text, ";")
		r.Customer = name
	}
}

// number of a word or digits; false where it is none.
func number(word string) (float64, bool) {
	if n, known := numbers[word]; known {
		return n, true
	}
	n, err := strconv.ParseFloat(word, 64)
	return n, err == nil && n >= 0 && !strings.ContainsAny(word, "einEIN")
}

var numbers = map[string]float64{"a": 1, "an": 1, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6,
	"seven": 7, "eight": 8, "nine": 9, "ten": 10, "eleven": 11, "twelve": 12, "fifteen": 15, "twenty": 20, "thirty": 30,
	"forty": 40, "fifty": 50, "sixty": 60, "hundred": 100, "couple": 2, "half": 0.5}
