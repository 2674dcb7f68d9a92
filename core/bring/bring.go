// Package bring reads what a seller brings along from elsewhere: customers and a price list, as CSV files whose columns
// are found by their heads and can be matched by hand.
package bring

import (
	"net/mail"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"zestytin/core/larder"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/table"
)

// Most letters of a value of a customer, and of the name of a treat.
const (
	mostName  = 100
	mostNotes = 1000
)

// CustomerColumns tell in which column of a file each value stands, counted from 0; -1: in none.
type CustomerColumns struct {
	Name  int `json:"name"`
	Phone int `json:"phone"`
	Mail  int `json:"mail"`
	Place int `json:"place"`
	Notes int `json:"notes"`
}

// PriceColumns tell the same of a price list.
type PriceColumns struct {
	Name  int `json:"name"`
	Price int `json:"price"`
	Count int `json:"count"`
}

// Customer that was brought along.
type Customer struct {
	Name  string `json:"name"`
	Phone string `json:"phone,omitempty"`
	Mail  string `json:"mail,omitempty"`
	Place string `json:"place,omitempty"`
	Notes string `json:"notes,omitempty"`
}

// Price of a treat in the seller's own list: what so many pieces, or bags of bark, cost.
type Price struct {
	Name  string `json:"name"`
	Price string `json:"price"` // decimal, in the kitchen's currency
	Count int    `json:"count"`
}

// heads by which a column is known, in lower case; a head that contains one counts too.
var heads = map[string][]string{
	"name":  {"name", "customer", "client", "full name"},
	"phone": {"phone", "tel", "mobile", "cell"},
	"mail":  {"mail", "e-mail"},
	"place": {"address", "street", "place", "where"},
	"notes": {"note", "comment", "remark"},
	"treat": {"treat", "item", "product", "what", "name"},
	"price": {"price", "amount", "cost", "rate"},
	"count": {"count", "quantity", "qty", "pieces", "per", "pack", "how many"},
}

// column whose head says what; -1 where none does. A head that is the word itself comes before one that contains it.
func column(head []string, what string, taken []int) int {
	for _, exact := range []bool{true, false} {
		for _, word := range heads[what] {
			for i, h := range head {
				h = strings.ToLower(strings.TrimSpace(h))
				if !slices.Contains(taken, i) && (h == word || !exact && strings.Contains(h, word)) {
					return i
				}
			}
		}
	}
	return -1
}

// GuessCustomers finds the columns of customers by the heads of a table.
func GuessCustomers(head []string) CustomerColumns {
	c := CustomerColumns{Mail: column(head, "mail", nil)}
	c.Phone = column(head, "phone", []int{c.Mail})
	c.Place = column(head, "place", []int{c.Mail, c.Phone})
	c.Notes = column(head, "notes", []int{c.Mail, c.Phone, c.Place})
	c.Name = column(head, "name", []int{c.Mail, c.Phone, c.Place, c.Notes})
	return c
}

// GuessPrices finds the columns of a price list by the heads of a table.
func GuessPrices(head []string) PriceColumns {
	c := PriceColumns{Price: column(head, "price", nil)}
	c.Count = column(head, "count", []int{c.Price})
	c.Name = column(head, "treat", []int{c.Price, c.Count})
	return c
}

// Customers of a table, each once; bad are the rows that cannot be taken.
func (c CustomerColumns) Customers(t *table.Table) (list []Customer, bad []table.BadRow) {
	list, bad = []Customer{}, []table.BadRow{}
	seen := map[Customer]bool{}
	_ = t.Each(func(line int, record []string) error {
		x := Customer{oneLine(table.At(record, c.Name)), oneLine(table.At(record, c.Phone)),
			oneLine(table.At(record, c.Mail)), oneLine(table.At(record, c.Place)), table.At(record, c.Notes)}
		if says := x.Fault(); !says.None() {
			bad = append(bad, table.BadRow{Line: line, Text: strings.Join(record, " | "), Says: says})
		} else if !seen[x] {
			seen[x] = true
			list = append(list, x)
		}
		return nil
	}, func(r table.BadRow) { bad = append(bad, r) })
	return list, bad
}

// Fault says why a customer cannot be kept; none where it can.
func (x Customer) Fault() reason.Reason {
	long := func(text string, most int) bool { return len([]rune(text)) > most }
	switch {
	case x.Name == "":
		return reason.Of("bring.customer-has-no-name")
	case long(x.Name, mostName) || long(x.Phone, mostName) || long(x.Mail, mostName) || long(x.Place, 2*mostName) ||
		long(x.Notes, mostNotes):
		return reason.Of("bring.value-is-too-long", reason.Int(mostName), reason.Int(mostNotes))
	}
	if x.Mail != "" {
		if at, err := mail.ParseAddress(x.Mail); err != nil || at.Address != x.Mail {
			return reason.Of("bring.not-a-mail-address", reason.Name(x.Mail))
		}
	}
	return reason.Reason{}
}

// Prices of a table in a currency; bad are the rows that cannot be taken. A price without a count is that of one.
func (c PriceColumns) Prices(t *table.Table, currency string) (list []Price, bad []table.BadRow) {
	list, bad = []Price{}, []table.BadRow{}
	_ = t.Each(func(line int, record []string) error {
		p, says := c.price(record, currency)
		if !says.None() {
			bad = append(bad, table.BadRow{Line: line, Text: strings.Join(record, " | "), Says: says})
		} else {
			list = append(list, p)
		}
		return nil
	}, func(r table.BadRow) { bad = append(bad, r) })
	return list, bad
}

func (c PriceColumns) price(record []string, currency string) (Price, reason.Reason) {
	p := Price{Name: oneLine(table.At(record, c.Name)), Count: 1}
	if p.Name == "" {
		return p, reason.Of("bring.price-says-not-of-what")
	}
	if len([]rune(p.Name)) > 2*mostName {
		return p, reason.Of("bring.value-is-too-long", reason.Int(2*mostName), reason.Int(mostNotes))
	}
	d, err := larder.ReadMoney(table.At(record, c.Price), currency)
	if err != nil {
		return p, reason.Because(err)
	}
	p.Price = price.In(currency, d).Amount
	if text := table.At(record, c.Count); text != "" {
		n, known := count(text)
		if !known {
			return p, reason.Of("bring.not-a-count", reason.Name(text))
		}
		p.Count = n
	} else if n, known := counted(p.Name); known { // "Strawberries, box of 12"
		p.Count = n
	}
	return p, reason.Reason{}
}

// count as people write it in a list: 12, "dozen", "half dozen", "each", "box of 12", "per 6".
func count(text string) (int, bool) {
	text = strings.ToLower(strings.TrimSpace(text))
	if n, known := counted(text); known {
		return n, true
	}
	digits := strings.FieldsFunc(text, func(r rune) bool { return !unicode.IsDigit(r) })
	if len(digits) == 1 {
		n, err := strconv.Atoi(digits[0])
		return n, err == nil && n >= 1 && n <= 10_000
	}
	ones := []string{"each", "piece", "one", "a piece", "per piece", "bag"}
	return 1, len(digits) == 0 && slices.Contains(ones, text)
}

// counted tells of how many pieces a name or a count speaks in words.
func counted(text string) (int, bool) {
	text = strings.ToLower(text)
	switch {
	case strings.Contains(text, "half dozen") || strings.Contains(text, "half a dozen") ||
		strings.Contains(text, "half-dozen"):
		return 6, true
	case strings.Contains(text, "two dozen"):
		return 24, true
	case strings.Contains(text, "dozen"):
		return 12, true
	}
	for _, before := range []string{"box of ", "bag of ", "pack of ", "set of ", "per "} {
		if _, rest, found := strings.Cut(text, before); found {
			n, err := strconv.Atoi(strings.TrimRight(strings.SplitN(strings.TrimSpace(rest), " ", 2)[0], ".,;)"))
			if err == nil && n >= 1 && n <= 10_000 {
				return n, true
			}
		}
	}
	return 0, false
}

func oneLine(text string) string { return strings.Join(strings.Fields(text), " ") }

// Match a name of a price list with those of the book: the index of the treat that is meant, -1 where none or several
// could be. All words of one must stand in the other, small words, counts and the plural aside.
func Match(name string, book []string) int {
	said := wordsOf(name)
	best, most := -1, 0
	for i, known := range book {
		of := wordsOf(known)
		if slices.Equal(said, of) {
			return i
		}
		n := 0
		for w := range slices.Values(said) {
			if slices.Contains(of, w) {
				n++
			}
		}
		switch {
		case n == 0 || n < len(said) && n < len(of) || n < most:
		case n == most:
			best = -1 // it could be either
		default:
			best, most = i, n
		}
	}
	return best
}

var small = []string{"a", "an", "the", "of", "in", "with", "and", "box", "bag", "pack", "set", "dozen", "half", "per",
	"each", "chocolate"}

// wordsOf a name, sorted, each once.
func wordsOf(name string) []string {
	all := strings.FieldsFunc(strings.ToLower(name), func(r rune) bool { return !unicode.IsLetter(r) })
	words := []string{}
	for _, w := range all {
		if slices.Contains(small, w) {
			continue
		}
		if len(w) > 3 {
			switch {
			case strings.HasSuffix(w, "ies"):
				w = strings.TrimSuffix(w, "ies") + "y"
			case strings.HasSuffix(w, "s") && !strings.HasSuffix(w, "ss"):
				w = strings.TrimSuffix(w, "s")
			}
		}
		words = append(words, w)
	}
	slices.Sort(words)
	return slices.Compact(words)
}
