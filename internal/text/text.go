// Package text makes the sentences of the application: of core's reasons, in the language and the units of a kitchen. It is the only place that does; page, paper and
// calendar all ask it. A language is one file: its sentences by code, and its words with their plurals.
package text

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"sync"

	"github.com/go-json-experiment/json"
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
	words map[reason.Word][2]string
	and   string // between the last two of a list
	to    string // between the ends of a range
}

// Words are what a kitchen reads.
type Words struct {
	tongue  *tongue
	printer *message.Printer
	US      bool // units

	once    sync.Once
	marshal json.Options
}

var (
	english  = &en
	messages = catalogOf(english)
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
			if err := b.Set(t.tag, "word "+string(word), plural.Selectf(1, "%d", plural.One, "%[1]d "+forms[0], plural.Other, "%[1]d "+forms[1])); err != nil {
				panic(fmt.Sprintf("the word %s: %v", word, err))
			}
		}
	}
	return b
}

// In the language and the units of a kitchen. English is the only language so far.
func In(us bool) *Words {
	return &Words{tongue: english, printer: message.NewPrinter(english.tag, message.Catalog(messages)), US: us}
}

// Say a reason.
func (w *Words) Say(r reason.Reason) string {
	switch {
	case r.None():
		return ""
	case r.Code == reason.AsWritten:
		return w.value(r.With[0])
	}
	with := make([]any, len(r.With))
	for i, v := range r.With {
		if n, ok := v.(reason.Int); ok {
			with[i] = int(n)
		} else {
			with[i] = w.value(v)
		}
	}
	return w.printer.Sprintf(message.Key(r.Code, r.Code), with...)
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

// Error of core, or of a library below it, as a sentence.
func (w *Words) Error(err error) string {
	var r reason.Reason
	var unit *measure.UnknownUnit
	var missing *measure.MissingProperty
	var cannot *measure.Unconvertible
	var faults *invalid.Error
	switch {
	case err == nil:
		return ""
	case errors.As(err, &r):
		return w.Say(r)
	case errors.As(err, &unit) && unit.Unit == "":
		return w.Say(reason.Of("measure.unit-missing"))
	case errors.As(err, &unit):
		return w.Say(reason.Of("measure.unit-unknown", reason.Name(unit.Unit)))
	case errors.As(err, &missing):
		return w.Say(reason.Of("measure."+strings.ReplaceAll(missing.Property, " ", "-")+"-missing", reason.Word(missing.From), reason.Word(missing.To)))
	case errors.As(err, &cannot):
		return w.Say(reason.Of("measure.unconvertible", reason.Word(cannot.From), reason.Word(cannot.To)))
	case errors.As(err, &faults):
		said := make([]string, len(faults.Fields))
		for i, f := range faults.Fields {
			said[i] = w.Error(f.Err)
		}
		return strings.Join(said, " ")
	}
	return err.Error()
}

// Word of one.
func (w *Words) Word(of reason.Word) string { return w.form(of, 0) }

// Words of many.
func (w *Words) Words(of reason.Word) string { return w.form(of, 1) }

func (w *Words) form(of reason.Word, n int) string {
	if forms, ok := w.tongue.words[of]; ok {
		return forms[n]
	}
	return string(of)
}

func (w *Words) value(v reason.Value) string {
	switch v := v.(type) {
	case reason.Reason:
		return w.Say(v)
	case reason.Text:
		return w.Tell(v)
	case reason.Name:
		return string(v)
	case reason.Word:
		return w.Word(v)
	case reason.Int:
		return w.printer.Sprint(int(v))
	case reason.Number:
		return measure.Number(float64(v))
	case reason.Share:
		return measure.Percent(float64(v))
	case reason.Minutes:
		return measure.Minutes(int(v))
	case reason.Seconds:
		return fmt.Sprintf("%d s", int(v))
	case reason.Amount:
		return w.Amount(v.Shown)
	case reason.Range:
		return w.Amount(v.From) + " " + w.tongue.to + " " + w.Amount(v.To)
	case reason.Celsius:
		return w.degrees(float64(v), float64(v))
	case reason.Band:
		return w.degrees(v.From, v.To)
	case reason.Warmer:
		if w.US {
			return number(float64(v)*1.8) + " °F"
		}
		return number(float64(v)) + " °C"
	case reason.Money:
		return v.Amount + " " + v.Currency
	case reason.Day:
		return string(v)
	case reason.Clock:
		return fmt.Sprintf("%02d:%02d", int(v)/60, int(v)%60)
	case reason.Count:
		if _, known := w.tongue.words[v.Of]; !known {
			return fmt.Sprintf("%d %s", v.N, string(v.Of))
		}
		return w.printer.Sprintf(message.Key("word "+string(v.Of), string(v.Of)), v.N)
	case reason.List:
		return w.join(v, " "+w.tongue.and+" ")
	case reason.Series:
		return w.join(v, ", ")
	}
	return fmt.Sprint(v)
}

// join with commas, and something else before the last.
func (w *Words) join(list []reason.Value, last string) string {
	said := make([]string, len(list))
	for i, v := range list {
		said[i] = w.value(v)
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
	c, f := span(from, to, w.tongue.to)+" °C", span(math.Round(measure.Fahrenheit(from)), math.Round(measure.Fahrenheit(to)), w.tongue.to)+" °F"
	if w.US {
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
