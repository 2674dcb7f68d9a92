// Package reason is how core says why a figure is as it is, what is wrong with an input, and what to do: by a code with
// typed values, never by a sentence. Sentences in the language and the units of a kitchen are made of it above core.
package reason

import (
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"
)

// Reason is one reason, and an error where something is wrong. The zero value is none.
type Reason struct {
	Code string  // package.words, known to every language
	With []Value // in the order in which the code's documentation, its sentence in English, names them
}

// Of a code with its values.
func Of(code string, with ...Value) Reason { return Reason{code, with} }

// Because an error is what it is: the reason that it is or has, or what it says where it is none of core's.
func Because(err error) Reason {
	var r Reason
	var has interface{ Reason() Reason }
	switch {
	case err == nil:
		return Reason{}
	case errors.As(err, &r):
		return r
	case errors.As(err, &has):
		return has.Reason()
	}
	return Of(AsWritten, Name(err.Error()))
}

// Said is a sentence that stands as it is.
func Said(sentence string) Reason { return Of(AsWritten, Name(sentence)) }

// Paid is an amount of money in an answer, wherever it stands: whom it does not concern gets it blank.
type Paid interface {
	// Blank is the same shape without the amount.
	Blank() any
}

// None tells whether there is no reason.
func (r Reason) None() bool { return r.Code == "" }

// String is for whoever reads a log or a failed test.
func (r Reason) String() string {
	if len(r.With) == 0 {
		return r.Code
	}
	parts := make([]string, len(r.With))
	for i, v := range r.With {
		parts[i] = fmt.Sprint(v)
	}
	return r.Code + "(" + strings.Join(parts, ", ") + ")"
}

// Error makes a reason an error: what is wrong with an input.
func (r Reason) Error() string { return r.String() }

// Text is reasons that are read one after the other.
type Text []Reason

// Add a reason.
func (t *Text) Add(code string, with ...Value) { *t = append(*t, Of(code, with...)) }

// Has tells whether one of the reasons has the code.
func (t Text) Has(code string) bool {
	for _, r := range t {
		if r.Code == code {
			return true
		}
	}
	return false
}

// Is tells errors.Is whether two reasons say the same.
func (r Reason) Is(target error) bool {
	t, ok := target.(Reason)
	return ok && r.Same(t)
}

// Root is the reason within a reason that says of which thing it is: of "Walnuts: the density is missing" that the
// density is missing.
func (r Reason) Root() Reason {
	for _, v := range r.With {
		if inner, ok := v.(Reason); ok {
			return inner.Root()
		}
	}
	return r
}

// Same tells whether two reasons say the same.
func (r Reason) Same(as Reason) bool { return reflect.DeepEqual(r, as) }

// AddOnce adds a reason to a list that does not have it yet.
func AddOnce(list []Reason, r Reason) []Reason {
	if slices.ContainsFunc(list, r.Same) {
		return list
	}
	return append(list, r)
}

// Value is a value of a reason: one of the types below, a Reason or a Text within another, or a type of another package
// of core that Keep knows.
type Value interface{ ReasonValue() }

type (
	// Name is what a person has called something, read as it is written.
	Name string
	// Word is a term that every language has, with its plural: a kind of piece, a role, a place.
	Word string
	// Several is a term in its plural: pieces, half shells.
	Several Word
	// Int is a number of things.
	Int int
	// Number is read with at most two decimals.
	Number float64
	// Share is read in percent: 0.06 is 6 %.
	Share float64
	// Minutes is a span of time.
	Minutes int
	// Celsius is a temperature.
	Celsius float64
	// Band is a range of temperatures in C.
	Band struct{ From, To float64 }
	// Warmer is a difference of temperatures in C.
	Warmer float64
	// Money is an amount in a currency, by its ISO 4217 code: 12.50 USD.
	Money struct{ Amount, Currency string }
	// Day is a date, YYYY-MM-DD.
	Day string
	// Date is a day in full, YYYY-MM-DD: Saturday 12 September 2026.
	Date string
	// Clock is a time of day in minutes from midnight.
	Clock int
	// Moment is a day with a time of day.
	Moment struct {
		Day   string
		Clock int // minutes from midnight
	}
	// Hours is how long something keeps: 24 hours, 3 days.
	Hours int
	// Count is so many of a thing: 3 sheets.
	Count struct {
		N  int
		Of Word
	}
	// List is read with "and" before the last.
	List []Value
	// Any is a list read with "or" before the last.
	Any []Value
	// Series is read with commas.
	Series []Value
	// Chain leads from one to the next.
	Chain []Value
)

func (Reason) ReasonValue()  {}
func (Text) ReasonValue()    {}
func (Name) ReasonValue()    {}
func (Word) ReasonValue()    {}
func (Several) ReasonValue() {}
func (Int) ReasonValue()     {}
func (Number) ReasonValue()  {}
func (Share) ReasonValue()   {}
func (Minutes) ReasonValue() {}
func (Celsius) ReasonValue() {}
func (Band) ReasonValue()    {}
func (Warmer) ReasonValue()  {}
func (Money) ReasonValue()   {}
func (Day) ReasonValue()     {}
func (Date) ReasonValue()    {}
func (Clock) ReasonValue()   {}
func (Moment) ReasonValue()  {}
func (Hours) ReasonValue()   {}
func (Count) ReasonValue()   {}
func (List) ReasonValue()    {}
func (Any) ReasonValue()     {}
func (Chain) ReasonValue()   {}
func (Series) ReasonValue()  {}

// Names is a list of names.
func Names[T ~string](names []T) List {
	list := make(List, len(names))
	for i, n := range names {
		list[i] = Name(n)
	}
	return list
}

// Words is a list of terms.
func Words[T ~string](words []T) List {
	list := make(List, len(words))
	for i, w := range words {
		list[i] = Word(w)
	}
	return list
}
