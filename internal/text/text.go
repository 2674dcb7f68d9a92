// Package text makes the sentences of the application: of core's reasons, in the language and the units of a kitchen.
// It is the only place that does; page, paper and calendar all ask it. A language is one file: its sentences by code,
// and its words with their plurals.
package text

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"sync"
	"time"
	"unicode"

	"github.com/go-json-experiment/json"
	"golang.org/x/text/currency"
	"golang.org/x/text/feature/plural"
	"golang.org/x/text/language"
	"golang.org/x/text/message"
	"golang.org/x/text/message/catalog"

	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
)

// tongue is a language.
type tongue struct {
	tag language.Tag
	// sentences by code. %[1]v is the first value of the reason, and so on.
	sentences map[string]string
	// words of one and of many.
	words    map[reason.Word][2]string
	and      string // between the last two of a list
	or       string
	to       string // between the ends of a range
	midnight string
}

// Words are what a kitchen reads.
type Words struct {
	tongue  *tongue
	printer *message.Printer
	Ways

	once    sync.Once
	marshal json.Options
}

var (
	english  = &en
	messages = catalogOf(english, &american)
)

// catalogOf all languages.
func catalogOf(tongues ...*tongue) catalog.Catalog {
	b := catalog.NewBuilder(catalog.Fallback(language.English))
	for _, t := range tongues {
		for code, sentence := range t.sentences {
			if err := b.SetString(t.tag, code, sentence); err != nil {
				panic(fmt.Sprintf("the sentence of %s: %v", code, err))
			}
		}
		for word, forms := range t.words {
			if err := b.Set(t.tag, "word "+string(word), plural.Selectf(1, "%d", plural.One, "%[1]d "+forms[0],
				plural.Other, "%[1]d "+forms[1])); err != nil {
				panic(fmt.Sprintf("the word %s: %v", word, err))
			}
		}
	}
	return b
}

// Ways in which a kitchen reads figures.
type Ways struct {
	American   bool // spelling: mold, not mould
	US         bool // pounds, ounces and inches
	Fahrenheit bool
	Clock12    bool   // 9:40 pm
	Cup        string // that it measures with: us, metric, imperial
	Dates      string // the order of a date in figures: dmy, mdy, ymd
	NoMoney    bool   // of whoever reads it, amounts of money are kept back
}

// Hours of the clock: 12 or 24.
func (w Ways) Hours() int {
	if w.Clock12 {
		return 12
	}
	return 24
}

// ways of a kitchen of which no more is known than its units.
func ways(us bool) Ways {
	if us {
		return Ways{American: true, US: true, Fahrenheit: true, Clock12: true, Cup: "us", Dates: "mdy"}
	}
	return Ways{Cup: "metric", Dates: "dmy"}
}

// For a kitchen with US or metric units. English is the only language so far.
func For(us bool) *Words { return Kitchen(ways(us)) }

// Kitchen that reads in its own ways. Words are made once for each: their sentences are shared by all who read so.
func Kitchen(w Ways) *Words {
	t := english
	if w.American {
		t = &american
	}
	own, _ := spoken.LoadOrStore(w, &Words{tongue: t, Ways: w,
		printer: message.NewPrinter(t.tag, message.Catalog(messages))})
	return own.(*Words)
}

// WithoutMoney are the same words for whom amounts of money do not concern.
func (w *Words) WithoutMoney() *Words {
	ways := w.Ways
	ways.NoMoney = true
	return Kitchen(ways)
}

var (
	spoken sync.Map // of Ways: *Words
	plain  = For(false)
)

// Customs of the kitchen: what a bare cup holds.
func (w *Words) Customs() measure.Customs {
	return measure.Customs{Cup: measure.Cups()[w.Cup]}
}

// Say a reason.
func (w *Words) Say(r reason.Reason) string {
	switch {
	case r.None():
		return ""
	case r.Code == reason.AsWritten:
		return w.Value(r.With[0])
	case strings.HasPrefix(r.Code, "choice."):
		return w.choice(r.Code)
	}
	with := make([]any, len(r.With))
	for i, v := range r.With {
		if n, ok := v.(reason.Int); ok {
			with[i] = int(n)
		} else {
			with[i] = w.Value(v)
		}
	}
	return w.printer.Sprintf(message.Key(r.Code, r.Code), with...)
}

// choice is a family's own word for a choice, or what all say: choice.bark.last, choice.last.
func (w *Words) choice(code string) string {
	if said, ok := w.tongue.sentences[code]; ok {
		return said
	}
	parts := strings.SplitN(code, ".", 3)
	return w.tongue.sentences[parts[0]+"."+parts[2]]
}

// Of says a reason that is made where it is said.
func (w *Words) Of(code string, with ...reason.Value) string { return w.Say(reason.Of(code, with...)) }

// Lacking says which letters are not on a printed page, since no font has them.
func (w *Words) Lacking(letters string) string {
	return w.Of("paper.letters-no-font-has", reason.Name(letters))
}

// Step is the name of a step that a family proposes, by its code.
func (w *Words) Step(code string) string {
	if said, ok := w.tongue.sentences[code]; ok {
		return said
	}
	return code
}

// All reasons of a list, each for itself.
func (w *Words) All(list []reason.Reason) []string {
	said := make([]string, len(list))
	for i, r := range list {
		said[i] = w.Say(r)
	}
	return said
}

// Tell reasons one after the other.
func (w *Words) Tell(t reason.Text) string {
	said := make([]string, 0, len(t))
	for _, r := range t {
		if s := w.Say(r); s != "" {
			said = append(said, s)
		}
	}
	return strings.Join(said, " ")
}

// Error of core as a sentence; of several faults, one after the other. What is none of core's says itself.
func (w *Words) Error(err error) string {
	var faults *invalid.Error
	if !errors.As(err, &faults) {
		return w.Say(reason.Because(err))
	}
	said := make([]string, len(faults.Fields))
	for i, f := range faults.Fields {
		said[i] = w.Error(f.Err)
	}
	return strings.Join(said, " ")
}

// Word of one, or the term itself where the language has none for it.
func (w *Words) Word(of reason.Word) string {
	if forms, ok := w.tongue.words[of]; ok {
		return forms[0]
	}
	return string(of)
}

// Several of a term, or the term itself where the language has none for it.
func (w *Words) Several(of reason.Several) string {
	if forms, ok := w.tongue.words[reason.Word(of)]; ok {
		return forms[1]
	}
	return string(of)
}

// Value of a reason, as it is read.
func (w *Words) Value(v reason.Value) string {
	switch v := v.(type) {
	case reason.Reason:
		return w.Say(v)
	case reason.Text:
		return w.Tell(v)
	case reason.Name:
		if v == "" {
			return w.Word("gone")
		}
		return string(v)
	case reason.Word:
		return w.Word(v)
	case reason.Several:
		return w.Several(v)
	case reason.Int:
		return w.printer.Sprint(int(v))
	case reason.Number:
		return measure.Number(float64(v))
	case reason.Share:
		return measure.Percent(float64(v))
	case reason.Minutes:
		return measure.Minutes(int(v))
	case measure.Shown:
		return w.Amount(v)
	case measure.Other:
		if w.US {
			return v.Metric
		}
		return v.Shown.US
	case measure.Span:
		return w.Amount(v.From) + " " + w.tongue.to + " " + w.Amount(v.To)
	case reason.Celsius:
		return w.degrees(float64(v), float64(v))
	case reason.Band:
		return w.degrees(v.From, v.To)
	case reason.Warmer:
		if w.Fahrenheit {
			return number(float64(v)*1.8) + " °F"
		}
		return number(float64(v)) + " °C"
	case reason.Money:
		if w.NoMoney {
			return "…"
		}
		return w.money(v)
	case reason.Day:
		return w.day(string(v))
	case reason.Date:
		t, err := time.Parse(time.DateOnly, string(v))
		if err != nil {
			return string(v)
		}
		return t.Format("Monday 2 January 2006")
	case reason.Clock:
		return w.clock(int(v))
	case reason.Moment:
		return w.day(v.Day) + ", " + w.clock(v.Clock)
	case reason.Hours:
		if n := int(v); n%24 == 0 && n > 24 {
			return w.Value(reason.Count{N: n / 24, Of: "day"})
		}
		return w.Value(reason.Count{N: int(v), Of: "hour"})
	case reason.Count:
		if _, known := w.tongue.words[v.Of]; !known {
			return fmt.Sprintf("%d %s", v.N, string(v.Of))
		}
		return w.printer.Sprintf(message.Key("word "+string(v.Of), string(v.Of)), v.N)
	case reason.List:
		return w.join(v, " "+w.tongue.and+" ")
	case reason.Any:
		return w.join(v, " "+w.tongue.or+" ")
	case reason.Series:
		return w.join(v, ", ")
	case reason.Chain:
		said := make([]string, len(v))
		for i, x := range v {
			said[i] = w.Value(x)
		}
		return strings.Join(said, " → ")
	}
	return fmt.Sprint(v)
}

// day of a date, as in Mon 2 Jan.
func (w *Words) day(date string) string {
	t, err := time.Parse(time.DateOnly, date)
	if err != nil {
		return date
	}
	return t.Format("Mon 2 Jan")
}

// clock of minutes from midnight, as the kitchen reads it. The end of a day is midnight.
func (w *Words) clock(minutes int) string {
	switch {
	case minutes == 24*60:
		return w.tongue.midnight
	case !w.Clock12:
		return fmt.Sprintf("%02d:%02d", minutes/60, minutes%60)
	}
	return time.Date(2000, 1, 1, 0, minutes, 0, 0, time.UTC).Format("3:04\u00a0pm")
}

// Time of a day as the kitchen reads it.
func (w *Words) Time(t time.Time) string { return w.clock(t.Hour()*60 + t.Minute()) }

// money with the sign of its currency, $12.50, or with its letters where it has no sign: 12.50 SEK.
func (w *Words) money(m reason.Money) string {
	unit, err := currency.ParseISO(m.Currency)
	if err != nil {
		return m.Amount + " " + m.Currency
	}
	sign, amount, minus := w.printer.Sprint(currency.NarrowSymbol(unit)), m.Amount, ""
	if rest, negative := strings.CutPrefix(amount, "-"); negative {
		minus, amount = "-", rest
	}
	if strings.ContainsFunc(sign, unicode.IsLetter) {
		return minus + amount + " " + sign
	}
	return minus + sign + amount
}

// join with commas, and something else before the last.
func (w *Words) join(list []reason.Value, last string) string {
	said := make([]string, len(list))
	for i, v := range list {
		said[i] = w.Value(v)
	}
	if n := len(said); n > 1 {
		return strings.Join(said[:n-1], ", ") + last + said[n-1]
	}
	return strings.Join(said, "")
}

// Amount in the unit that the kitchen reads.
func (w *Words) Amount(a measure.Shown) string {
	if w.US {
		return a.US
	}
	return a.Metric
}

// degrees from and to, in C: both scales, the kitchen's own first, since safety hangs on them.
func (w *Words) degrees(from, to float64) string {
	c, f := span(from, to, w.tongue.to)+" °C", span(math.Round(measure.Fahrenheit(from)),
		math.Round(measure.Fahrenheit(to)), w.tongue.to)+" °F"
	if w.Fahrenheit {
		return f + " (" + c + ")"
	}
	return c + " (" + f + ")"
}

func span(from, to float64, between string) string {
	if from == to {
		return number(from)
	}
	return number(from) + " " + between + " " + number(to)
}

func number(x float64) string { return measure.Number(math.Round(x*10) / 10) }
