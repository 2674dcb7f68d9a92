package message

import (
	"net/mail"
	"regexp"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"zestytin/core/invalid"
	"zestytin/core/reason"
)

// Template is the words of a message: fields in braces stand for what is known of the order, {customer}.
type Template struct {
	Subject string `json:"subject"`
	Body    string `json:"body"`
}

// Sizes of a template, in characters.
const (
	MostSubject = 150
	MostBody    = 4000
)

var common = []string{"customer", "kitchen", "treats", "occasion", "day", "from", "to", "place", "price", "balance"}

// Fields that a message of a kind may have.
func Fields(k Kind) []string {
	own := slices.Clone(common)
	switch k {
	case Quote, Reminder:
		return append(own, "link", "until")
	case Deposit:
		return append(own, "deposit", "by")
	case OnTheWay:
		return append(own, "minutes")
	}
	return own
}

var blanks = regexp.MustCompile(`\n{3,}`)

var field = regexp.MustCompile(`\{([^{}\n]*)\}`)

// Check finds fields that there are not, and what is no message. The error is an *invalid.Error.
func (t *Template) Check(k Kind) error {
	var f invalid.Faults
	known := Fields(k)
	for _, part := range []struct {
		path, text string
		most       int
	}{{"subject", t.Subject, MostSubject}, {"body", t.Body, MostBody}} {
		if strings.TrimSpace(part.text) == "" {
			f.Because(part.path, "message.write-something")
		}
		if utf8.RuneCountInString(part.text) > part.most {
			f.Because(part.path, "message.too-long", reason.Int(part.most))
		}
		for _, found := range field.FindAllStringSubmatch(part.text, -1) {
			if !slices.Contains(known, found[1]) {
				f.Because(part.path, "message.no-such-field", reason.Name(found[0]), named(known))
				break
			}
		}
	}
	if strings.IndexFunc(t.Subject, unicode.IsControl) >= 0 {
		f.Because("subject", "message.subject-is-one-line")
	}
	return f.Err()
}

func named(fields []string) reason.Series {
	list := make(reason.Series, len(fields))
	for i, name := range fields {
		list[i] = reason.Name("{" + name + "}")
	}
	return list
}

// Fill a template in. A line with fields of which none has a value is left out, so that what is not known of an order
// leaves no hole; nor do several empty lines.
func (t *Template) Fill(values map[string]string) Template {
	fill := func(text string) string {
		lines := []string{}
		for line := range strings.SplitSeq(text, "\n") {
			found := field.FindAllStringSubmatch(line, -1)
			known := slices.ContainsFunc(found, func(f []string) bool { return values[f[1]] != "" })
			if len(found) == 0 || known {
				lines = append(lines, field.ReplaceAllStringFunc(line, func(f string) string {
					return values[strings.Trim(f, "{}")]
				}))
			}
		}
		return strings.TrimSpace(blanks.ReplaceAllString(strings.Join(lines, "\n"), "\n\n"))
	}
	// Names are as customers typed them: a subject stays one line whatever they hold.
	return Template{Subject: strings.Join(strings.Fields(fill(t.Subject)), " "), Body: fill(t.Body)}
}

// Way on which a message goes.
type Way string

const (
	Mail Way = "mail"
	Text Way = "text" // to a telephone
)

// ErrNoAddress is that an order names no way to reach its customer.
var (
	ErrNoAddress = reason.Of("message.no-mail-address")
	ErrNoPhone   = reason.Of("message.no-telephone")
)

// Reach finds the address on a way among what a person typed; the error is a reason.
func Reach(w Way, address, phone string) (string, error) {
	if w == Text {
		digits := strings.Map(func(r rune) rune {
			if r >= '0' && r <= '9' {
				return r
			}
			return -1
		}, phone)
		switch {
		case len(digits) < 5 || len(digits) > 15: // E.164: 15 at most
			return "", ErrNoPhone
		case strings.HasPrefix(strings.TrimSpace(phone), "+"):
			return "+" + digits, nil
		}
		return digits, nil
	}
	a, err := mail.ParseAddress(strings.TrimSpace(address))
	if err != nil || a.Name != "" || strings.ContainsFunc(a.Address, unicode.IsControl) || len(a.Address) > 200 {
		return "", ErrNoAddress
	}
	return strings.ToLower(a.Address), nil
}
