package request

import (
	"cmp"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"zestytin/core/order"
	"zestytin/core/reason"
)

var (
	parts  = regexp.MustCompile(`\s*(?:[;,+&]|\band\b|\bplus\b|\. )\s*`)
	after  = regexp.MustCompile(`(?i)(\d)\s*[x×]\s+`) // 24 x
	before = regexp.MustCompile(`(?i)\s[x×]\s*(\d)`)  // x 24
	packed = regexp.MustCompile(
		`(?i)\b(\d+|a|an|one|two|three|four|five|six|ten) (?:boxe?s?|bags?|packs?|sets?|trays?) (?:of|with) (?:a )?(\d+|dozen|six|twelve)\b`)
	glued    = regexp.MustCompile(`(?i)^(\d+)([a-z]{3,})$`)
	grouping = regexp.MustCompile(`(\d),(\d{3})\b`)
	named    = regexp.MustCompile(`[\p{L}\d]+`) // the words of a name: Cardamom-malt bombs
	wordly   = regexp.MustCompile(`[\p{L}\d][\p{L}\d'./-]*`)
	// filler says nothing of what is asked for.
	filler = strings.Fields(
		`of the some please pls hi hello hey thanks thank you want wants wanted would like could can i we
		need needs for with to order get me us our my pieces piece pcs pc bags bag boxes box on at by it is are be about
		around roughly maybe say just also may have having i'd i'll will got any do you make made send let know if possible them it's that this she he they more than in from order: as each there then so`)
	vague = strings.Fields("about around roughly maybe approx approximately ca circa")
)

// lines reads what of what remains is a count of a treat.
func (r *reader) lines() {
	text := grouping.ReplaceAllString(r.text, "$1$2")
	text = before.ReplaceAllString(after.ReplaceAllString(text, "$1 "), " $1")
	text = packed.ReplaceAllStringFunc(text, func(said string) string {
		m := packed.FindStringSubmatch(said)
		each, known := number(strings.ToLower(m[2]))
		if !known {
			each = 12
		}
		n, _ := number(strings.ToLower(m[1]))
		if n > 1 {
			r.doubt("in-all", reason.Name(said), reason.Int(min(n*each, order.MostPieces)))
		}
		return " " + formatted(min(n*each, order.MostPieces)) + " "
	})
	for _, part := range parts.Split(text, -1) {
		r.part(part)
	}
}

// part is one treat, or several one after the other: 24 strawberries 12 bombs.
func (r *reader) part(part string) {
	var count float64
	counted, unsure := false, false
	var words []string
	flush := func() {
		if len(words) > 0 || counted {
			r.line(count, counted, unsure, words)
		}
		count, counted, unsure, words = 0, false, false, nil
	}
	for _, written := range wordly.FindAllString(part, -1) {
		for _, w := range split(strings.ToLower(strings.Trim(written, ".'-/"))) {
			n, isNumber := number(w)
			switch {
			case slices.Contains(vague, w):
				unsure = true
			case w == "dozen" || w == "dozens" || w == "dz" || w == "doz":
				if !counted {
					count, counted = 1, true
				}
				count *= 12
			case w == "hundred" && counted:
				count *= 100
			case isNumber && w != "a" && w != "an" && counted && len(words) == 0 && (w == "half" || count == 0.5):
				count *= n // half a dozen, half of two
			case isNumber && (w == "a" || w == "an"):
				if !counted && len(words) == 0 {
					count, counted = 1, true
				}
			case isNumber && !(len(words) > 0 && r.k.names(append(slices.Clone(words), w))):
				if len(words) > 0 && !counted && len(r.k.match(strings.Join(words, " "))) > 0 {
					count, counted = n, true // strawberries 24
					flush()
					continue
				}
				if counted || len(words) > 0 && len(meaning(words)) == 0 {
					flush()
				}
				count, counted = n, true
			default:
				words = append(words, w)
			}
		}
	}
	flush()
}

// meaning are the words that say what is asked for.
func meaning(words []string) (meant []string) {
	for _, w := range words {
		if !slices.Contains(filler, w) {
			meant = append(meant, w)
		}
	}
	return meant
}

// split what is written in one: 24strawberries.
func split(word string) []string {
	if m := glued.FindStringSubmatch(word); m != nil {
		return []string{m[1], m[2]}
	}
	return []string{word}
}

func (r *reader) line(count float64, counted, unsure bool, words []string) {
	meant := meaning(words)
	if len(meant) == 0 {
		if counted && count > 1 {
			r.Unread = append(r.Unread, strings.Trim(formatted(count)+" "+strings.Join(words, " "), " "))
		}
		return
	}
	found := r.k.match(strings.Join(meant, " "))
	if len(found) == 0 {
		text := strings.Join(meant, " ")
		if counted {
			text = formatted(count) + " " + text
		}
		r.Unread = append(r.Unread, text)
		return
	}
	if !counted {
		count = 12
		r.doubt("no-count", reason.Name(found[0].Name), reason.Int(12))
	}
	if unsure {
		r.doubt("about-so-many", reason.Int(math.Ceil(count)), reason.Name(found[0].Name))
	}
	if count < 1 || count != math.Trunc(count) {
		r.doubt("not-whole", reason.Name(formatted(count)), reason.Name(found[0].Name))
		count = max(math.Ceil(count), 1)
	}
	if len(found) > 1 {
		others := make(reason.Any, len(found))
		for i, t := range found {
			others[i] = reason.Name(t.Name)
		}
		r.doubt("which-treat", reason.Name(strings.Join(meant, " ")), others, reason.Name(found[0].Name))
	}
	if count > order.MostPieces {
		r.doubt("too-many", reason.Name(found[0].Name), reason.Int(order.MostPieces))
		count = order.MostPieces
	}
	if n := slices.IndexFunc(r.Lines, func(l order.Line) bool { return l.Treat == found[0].ID }); n >= 0 {
		r.Lines[n].Count = min(r.Lines[n].Count+int(count), order.MostPieces)
		return
	}
	r.Lines = append(r.Lines, order.Line{Treat: found[0].ID, Count: int(count)})
}

func formatted(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }

// names tells whether words with a number among them are in the name of a treat: "60 % bark".
func (k Kitchen) names(words []string) bool {
	text := strings.Join(words, " ")
	return slices.ContainsFunc(k.Treats, func(t Treat) bool {
		return strings.Contains(strings.ToLower(t.Name), text)
	})
}

// match the treats that words mean: those in whose name or kind most of the words are, at least half of them; the ones
// that are asked for most first.
func (k Kitchen) match(text string) []Treat {
	words := []string{}
	for _, w := range named.FindAllString(strings.ToLower(text), -1) {
		if !slices.Contains(filler, w) {
			words = append(words, stem(w))
		}
	}
	if len(words) == 0 {
		return nil
	}
	best, found := 0.0, []Treat{}
	for _, t := range k.Treats {
		own := []string{}
		for _, w := range named.FindAllString(strings.ToLower(t.Name), -1) {
			own = append(own, stem(w))
		}
		kind := []string{}
		for _, w := range t.Family {
			kind = append(kind, stem(w))
		}
		hits := 0.0
		for _, w := range words {
			switch {
			case slices.ContainsFunc(own, func(o string) bool { return alike(o, w) }):
				hits++
			case slices.ContainsFunc(kind, func(o string) bool { return alike(o, w) }):
				hits += 0.9
			}
		}
		if share := hits / float64(len(words)); share >= 0.5 {
			switch {
			case hits > best+1e-9:
				best, found = hits, []Treat{t}
			case hits > best-1e-9:
				found = append(found, t)
			}
		}
	}
	slices.SortStableFunc(found, func(a, b Treat) int {
		return cmp.Or(cmp.Compare(b.Sold, a.Sold), cmp.Compare(len(a.Name), len(b.Name)), cmp.Compare(a.Name, b.Name))
	})
	return found
}

// stem of a word, without its plural.
func stem(w string) string {
	switch {
	case strings.HasSuffix(w, "ies") && len(w) > 4:
		return w[:len(w)-3] + "y"
	case strings.HasSuffix(w, "ses") || strings.HasSuffix(w, "xes") || strings.HasSuffix(w, "ches"):
		return w[:len(w)-2]
	case strings.HasSuffix(w, "s") && !strings.HasSuffix(w, "ss") && len(w) > 3:
		return w[:len(w)-1]
	}
	return w
}

// alike are words that are the same, begin alike, or differ by one letter that was mistyped.
func alike(known, said string) bool {
	if known == said || len(said) >= 4 && strings.HasPrefix(known, said) {
		return true
	}
	return len(known) >= 5 && len(said) >= 5 && near(known, said)
}

// near are words that one letter more, less or another makes the same, or two that changed places.
func near(a, b string) bool {
	x, y := []rune(a), []rune(b)
	if len(x) < len(y) {
		x, y = y, x
	}
	if len(x)-len(y) > 1 {
		return false
	}
	i := 0
	for i < len(y) && x[i] == y[i] {
		i++
	}
	same := func(p, q []rune) bool { return string(p) == string(q) }
	if len(x) > len(y) {
		return same(x[i+1:], y[i:])
	}
	return i >= len(x)-1 || same(x[i+1:], y[i+1:]) ||
		i+1 < len(x) && x[i] == y[i+1] && x[i+1] == y[i] && same(x[i+2:], y[i+2:])
}
