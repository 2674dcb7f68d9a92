package larder

import "github.com/shopspring/decimal"

// Standing is how it stands with one thing: what there is of it and what becomes of that. Amounts are in the unit that
// it is kept in, days are dates.
type Standing struct {
	Good     float64 // in the house and good today
	Reserved float64 // that promised orders will use up
	Worth    decimal.Decimal
	Until    string    // the first day after which some of it is no longer good; empty: it keeps
	Past     *Passing  // of which that day is over
	Expires  *Passing  // by the end of the days that were asked for, beyond what is set aside for a day on which it is still good
	Short    *Shortage // the first day on which it runs short
}

// Passing is what of a thing passes its day, and the first such day.
type Passing struct {
	Day    string
	Amount float64
}

// Stand works out how it stands today with a thing, of its lots, what wants take until it is used up, and what is set
// aside; soon is the last day of which is told what expires.
func Stand(lots []StockLot, wants, aside []Want, today, soon string) Standing {
	s := Standing{}
	for _, w := range aside {
		s.Reserved += w.Used
	}
	past := 0.0
	for _, l := range lots {
		s.Worth = s.Worth.Add(l.Price.Mul(decimal.NewFromFloat(l.Left)))
		until := l.Until()
		if until != "" && (s.Until == "" || until < s.Until) {
			s.Until = until
		}
		if l.GoodOn(today) {
			s.Good += l.Left
		} else {
			past += l.Left
		}
	}
	if past > nothing {
		s.Past = &Passing{s.Until, past}
	}
	// What is set aside for a day on which a lot is still good is not lost; for a later day it is.
	expires := Passing{}
	for _, l := range SetAside(lots, aside, today) {
		if until := l.Until(); until != "" && until >= today && until <= soon {
			expires.Amount += l.Left
			if expires.Day == "" || until < expires.Day {
				expires.Day = until
			}
		}
	}
	if expires.Amount > nothing {
		s.Expires = &expires
	}
	if short := Shortages(lots, wants, nil, ""); len(short) > 0 {
		s.Short = &short[0]
	}
	return s
}

// Free is what is not reserved; 0 where there is less than that.
func (s Standing) Free() float64 { return max(s.Good-s.Reserved, 0) }
