package larder

import (
	"regexp"
	"strconv"
	"strings"

	"github.com/shopspring/decimal"

	"zestytin/core/measure"
	"zestytin/core/reason"
)

// Bought is a line of a receipt: so many packs of a size of something, and what was paid for all of them.
type Bought struct {
	Name       string            `json:"name"`
	Packs      int               `json:"packs"`
	Size       *measure.Quantity `json:"size,omitempty"`
	Paid       string            `json:"paid"`
	Shop       string            `json:"shop,omitempty"`
	Day        string            `json:"day,omitempty"`
	BestBefore string            `json:"bestBefore,omitempty"`
}

// Receipt is a line of a till slip, read. What is doubtful is left to a person: Doubt then says what to settle.
type Receipt struct {
	Original string `json:"original"`
	Bought
	Doubt *reason.Reason `json:"doubt,omitempty"`
}

var (
	lastNumber = regexp.MustCompile(
		`\s(?:(?:[$€£¥]|[A-Z]{3})\s?)?(\d[\d.,]*)(?:\s?(?:[$€£¥*]|[A-Z]{1,3}))*\s*$`) // a price at the end, with a sign or a tax letter
	unitPrice = regexp.MustCompile(`\s@\s*\S+`)
	// atEach is so many at a price each, with or without what they come to: 2 @ 3.49, 2x3.49 6.98. The price has
	// decimals: a size has a unit.
	atEach = regexp.MustCompile(
		`\s(\d{1,4})\s*(?:@|[x×*])\s*(?:[$€£¥]\s?)?(\d+[.,]\d{2})(?:\s+(?:(?:[$€£¥]|[A-Z]{3})\s?)?\d[\d.,]*)?(?:\s?(?:[$€£¥*]|[A-Z]{1,3}))*\s*$`)
	sizeTimes  = regexp.MustCompile(`(?i)(\d[\d.,/]*\s*(?:kg|g|oz|lbs?|ml|cl|dl|l))\s*[x×*]\s*(\d{1,3})\b`) // 250g x2
	countFirst = regexp.MustCompile(`^(\d{1,4})\s*[x×*]?\s+`)
	timesSize  = regexp.MustCompile(`(?i)(\d{1,4})\s*[x×*]\s*(\d[\d.,/]*\s*[a-z]+\b\.?)`)
	sizeInside = regexp.MustCompile(
		`(?i)(?:^|[\s(])(\d[\d.,/]*(?:\s+\d/\d)?\s*(?:fl\.? ?oz|kg|g|gr|grams?|oz|ounces?|lbs?|pounds?|ml|cl|dl|l|litres?|liters?|qt|pt|gal|cups?|mm|cm|m|in|ft|pcs?|pieces?|each|ct|count|dozen|doz)\b\.?)\)?`)
)

// ReadSlip reads a line of a till slip as people type it: "2 x 1 kg Dark 60 % 29.00", "strawberries 1 lb 4.80", "12
// eggs 3,10". The price stands last and is for all packs. It never guesses silently.
func ReadSlip(text, currency string) Receipt {
	s := Receipt{Original: text, Bought: Bought{Packs: 1}}
	rest := " " + strings.TrimSpace(text)
	if m := atEach.FindStringSubmatch(rest); m != nil {
		s.each(m[1], m[2], rest, currency)
		rest = rest[:len(rest)-len(m[0])]
		s.what(rest)
		return s
	}
	rest = " " + strings.TrimSpace(unitPrice.ReplaceAllString(text, " "))
	price := lastNumber.FindStringSubmatchIndex(rest)
	switch {
	case price == nil || sizeInside.MatchString(rest[price[0]:]):
		s.doubt("larder.what-was-paid-write-at")
	default:
		paid := rest[price[2]:price[3]]
		rest = rest[:price[0]]
		if amount, err := ReadMoney(paid, currency); err != nil {
			s.Doubt = new(reason.Because(err))
		} else {
			s.Paid = amount.StringFixed(max(-amount.Exponent(), 0))
			if !strings.ContainsAny(paid, ".,") && strings.TrimSpace(
				text[max(len(text)-len(paid)-1, 0):len(text)-len(paid)]) == "" {
				s.doubt("larder.price-write-with-its-decimals", reason.Name(paid))
			}
		}
	}
	s.what(rest)
	return s
}

// each is so many at a price; what they come to, where it is written too, must be as much.
func (s *Receipt) each(packs, price, rest, currency string) {
	s.Packs, _ = strconv.Atoi(packs)
	each, err := ReadMoney(price, currency)
	if err != nil {
		s.Doubt = new(reason.Because(err))
		return
	}
	sum := each.Mul(decimal.NewFromInt(int64(s.Packs)))
	s.Paid = sum.StringFixed(max(-sum.Exponent(), 0))
	if last := lastNumber.FindStringSubmatch(rest); last != nil && last[1] != price {
		if told, err := ReadMoney(last[1], currency); err == nil && !told.Equal(sum) {
			s.doubt("larder.sum-is-another", reason.Name(packs), reason.Name(price), reason.Name(last[1]))
		}
	}
}

// what was bought, and in which packs.
func (s *Receipt) what(rest string) {
	rest = strings.TrimSpace(rest)
	if m := sizeTimes.FindStringSubmatchIndex(rest); m != nil {
		n, _ := strconv.Atoi(rest[m[4]:m[5]])
		s.Packs *= n
		s.size(rest[m[2]:m[3]])
		rest = rest[:m[0]] + " " + rest[m[1]:]
	} else if m := timesSize.FindStringSubmatchIndex(rest); m != nil {
		n, _ := strconv.Atoi(rest[m[2]:m[3]])
		s.Packs *= n
		s.size(rest[m[4]:m[5]])
		rest = rest[:m[0]] + " " + rest[m[1]:]
	} else {
		if m := sizeInside.FindStringSubmatchIndex(rest); m != nil {
			s.size(rest[m[2]:m[3]])
			rest = rest[:m[0]] + " " + rest[m[1]:]
			if more := sizeInside.FindStringSubmatch(rest); more != nil && s.Doubt == nil {
				s.doubt("larder.two-sizes", reason.Name(more[1]))
			}
		}
		if m := countFirst.FindStringSubmatch(strings.TrimSpace(rest)); m != nil {
			n, _ := strconv.Atoi(m[1])
			s.Packs *= n
			rest = strings.TrimSpace(rest)[len(m[0]):]
		}
	}
	s.Name = strings.Trim(strings.Join(strings.Fields(rest), " "), " ,;-")
	switch {
	case s.Doubt != nil:
	case s.Name == "":
		s.doubt("larder.what-was-write-its-name")
	case s.Packs < 1 || s.Packs > 1000:
		s.doubt("larder.packs-check-number", reason.Int(s.Packs))
	}
}

func (s *Receipt) doubt(code string, of ...reason.Value) { s.Doubt = new(reason.Of(code, of...)) }

// size of a pack, as written: with the words of tills, which count pieces as "ct".
func (s *Receipt) size(text string) {
	text = regexp.MustCompile(`(?i)\s*(ct|count|pcs?|pieces?)\b\.?$`).ReplaceAllString(text, " each")
	q, err := measure.Read(text)
	switch {
	case err != nil:
		s.Doubt = new(reason.Because(err))
	case !(q.Amount > 0):
		s.doubt("larder.not-size-write-more-than", reason.Name(text))
	default:
		s.Size = &q
	}
}

// ReadMoney reads an amount of money with a decimal point or comma, and with separated thousands where both are
// written: 1,234.50 and 1.234,50. "1,234" can be read in two ways and is refused. Signs and letters of a currency
// around it are dropped.
func ReadMoney(text, currency string) (decimal.Decimal, error) {
	t := strings.TrimFunc(text, func(r rune) bool { return !(r >= '0' && r <= '9') && r != '-' })
	point, comma := strings.LastIndexByte(t, '.'), strings.LastIndexByte(t, ',')
	switch {
	case point >= 0 && comma > point:
		t = strings.ReplaceAll(t, ".", "")
		t = strings.Replace(t, ",", ".", 1)
	case point >= 0 && comma >= 0:
		t = strings.ReplaceAll(t, ",", "")
	case comma >= 0 && len(t)-comma-1 == 3 || strings.Count(t, ",") > 1:
		return decimal.Zero, reason.Of("larder.can-be-read-in-two", reason.Name(text))
	case comma >= 0:
		t = strings.Replace(t, ",", ".", 1)
	}
	d, err := decimal.NewFromString(t)
	if err != nil || strings.ContainsAny(t, "eE") {
		return decimal.Zero, reason.Of("larder.not-amount-money-write-digits", reason.Name(text))
	}
	return d, checkMoney(d, currency)
}
