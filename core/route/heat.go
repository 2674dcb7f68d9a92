package route

import (
	"math"

	"zestytin/core/si"
)

// Weather of a day: how warm the air in the shade is at each full hour, C.
type Weather [24]float64

// At a time of the day, between the hours in proportion.
func (w *Weather) At(t si.Seconds) float64 {
	h, rest := int(t)/hour, float64(int(t)%hour)/hour
	a, b := w[(h%24+24)%24], w[((h+1)%24+24)%24]
	return a + (b-a)*rest
}

// Warmest of the day.
func (w *Weather) Warmest() float64 {
	most := w[0]
	for _, c := range w {
		most = max(most, c)
	}
	return most
}

// Scaled so that it is that warm at its warmest: somebody knows better.
func (w *Weather) Scaled(warmest float64) Weather {
	by := warmest - w.Warmest()
	s := *w
	for h := range s {
		s[h] += by
	}
	return s
}

// Care is what something needs on its way.
type Care string

// How warm something may get.
const (
	Cold Care = "cold" // cream, butter-rich pieces, cut fruit: 5 C, FDA Food Code 3-501.16
	Cool Care = "cool" // real chocolate softens in the high twenties C; common practice keeps it below 24 C on the way
	Mild Care = "mild" // coating: its fat melts later, common practice 30 C
)

// Limit in C that it is to stay below on the way.
func (c Care) Limit() float64 {
	switch c {
	case Cold:
		return 5
	case Cool:
		return 24
	default:
		return 30
	}
}

// Softens is the temperature in C at which it is spoilt, or soft: not to be left anywhere as warm.
func (c Care) Softens() float64 {
	switch c {
	case Cold:
		return 5
	case Cool:
		return 27
	default:
		return 32
	}
}

// Warmth of a car and of a doorstep over the air in the shade, C. A parked car in the sun gains about 18 C in half an
// hour and little after that (McLaren, Null, Quinn, Heat stress from enclosed vehicles, Pediatrics 116 (2005): 80% of
// the rise in the first half hour; memory); one that is driven with its windows open or the fan on a few degrees; a door
// in the sun about eight (both common practice).
const (
	driven   = 3.0
	parked   = 18.0
	parkedIn = 1800.0 / 1.6 // s, so that 80% are gained in half an hour
	sunnyIn  = 8.0
)

// Ice packs and the cool box. Ice takes 333.55 J/g to melt and 37 J/g more from -18 C (2.06 J/(g K) x 18): CRC Handbook
// of Chemistry and Physics (memory). A cool box lets in about 1 W/K (memory). Chocolate has 1.6 J/(g K).
const (
	melting    = 333.55
	frozen     = 37.0
	conductsW  = 1.0
	chocolateC = 1.6
	// PackGrams of an ice pack.
	PackGrams si.Grams = 400
	// of cold air are lost whenever the lid is opened, J (memory).
	opening = 4000.0
)

// Load is what lies in a cool box.
type Load struct {
	Care  Care
	Grams si.Grams
	Drop  int // that it is for
}

// Chest is a cool box with what must be kept equally cold.
type Chest struct {
	Care   Care
	Drops  []int
	Inside float64    // C that it is kept at
	From   si.Seconds // when it is filled
	Until  si.Seconds // when the last of it is handed over
	Joule  float64    // of heat that comes in by then
	Packs  int        // 0: none are needed
	Lasts  si.Seconds // until when the packs last; 0 without packs
}

// Sample is how warm it is at a time of a drive, C.
type Sample struct {
	At  si.Seconds
	Air float64
	Car float64
}

// Warmth of the car over a drive, every five minutes: it warms up while it is parked, and is aired while it is driven.
func (t *Tour) Warmth(w *Weather) []Sample {
	var list []Sample
	over := driven
	for at := t.Leave; ; at += Grid {
		at = min(at, t.Back)
		list = append(list, Sample{at, w.At(at), w.At(at) + over})
		if at == t.Back {
			return list
		}
		for s := at; s < min(at+Grid, t.Back); s += minute {
			if t.driving(s) {
				over += (driven - over) * (1 - math.Exp(-float64(minute)/300))
			} else {
				over += (parked - over) * (1 - math.Exp(-float64(minute)/parkedIn))
			}
		}
	}
}

// driving tells whether one drives at a time.
func (t *Tour) driving(at si.Seconds) bool {
	for _, s := range t.Stops {
		if at >= s.Arrive && at < s.Go {
			return false
		}
	}
	return true
}

// Chests that a drive needs, coldest first: what is at most as warm as it may be without one needs none. They are
// filled ten minutes before leaving.
func (t *Tour) Chests(w *Weather, loads []Load) []Chest {
	arrive := map[int]Stop{}
	for _, s := range t.Stops {
		arrive[s.Drop] = s
	}
	warmth := t.Warmth(w)
	list := []Chest{}
	for _, care := range []Care{Cold, Cool, Mild} {
		c := Chest{Care: care, Inside: min(care.Limit(), 20), From: t.Leave - 600}
		var grams si.Grams
		hottest := w.At(c.From)
		for _, l := range loads {
			s, on := arrive[l.Drop]
			if l.Care != care || !on {
				continue
			}
			c.Drops = append(c.Drops, l.Drop)
			c.Until = max(c.Until, s.Go)
			grams += l.Grams
		}
		for _, s := range warmth {
			if s.At <= c.Until {
				hottest = max(hottest, s.Car)
			}
		}
		if len(c.Drops) == 0 || hottest <= care.Limit() {
			continue
		}
		c.balance(warmth, grams, len(c.Drops))
		list = append(list, c)
	}
	return list
}

// balance the heat that comes in: through the walls, Q = UA (outside - inside) t; with what is put in, a third of which
// is taken to be warmer by five degrees than it should be, c m dT; and whenever the lid is opened. So many packs take
// it up, one more at least than nothing.
func (c *Chest) balance(warmth []Sample, grams si.Grams, openings int) {
	own := chocolateC * float64(grams) * 5 / 3
	perPack := (melting + frozen) * float64(PackGrams)
	c.Joule = own + opening*float64(openings)
	leak := func(outside float64, s si.Seconds) float64 { return conductsW * max(outside-c.Inside, 0) * float64(s) }
	c.Joule += leak(warmth[0].Air, warmth[0].At-c.From)
	for i, x := range warmth {
		next := c.Until
		if i+1 < len(warmth) {
			next = min(warmth[i+1].At, c.Until)
		}
		if next > x.At {
			c.Joule += leak(x.Car, next-x.At)
		}
	}
	c.Packs = max(int(math.Ceil(c.Joule/perPack)), 1)
	// Beyond the last drop it goes on as it was on the average.
	span := float64(c.Until - c.From)
	c.Lasts = c.From + si.Seconds(span*float64(c.Packs)*perPack/c.Joule)/minute*minute
}

// Doorstep tells how warm it gets in front of a door in the shade and in the sun, from one time to another.
func (w *Weather) Doorstep(from, to si.Seconds) (shade, sun float64) {
	shade = w.At(from)
	for t := from; t <= to; t += minute * 10 {
		shade = max(shade, w.At(t))
	}
	return shade, shade + sunnyIn
}

// Morning is the last full hour of the morning before which a doorstep in the shade is cool enough; 0 where there is
// none, or where all day is.
func (w *Weather) Morning(care Care) si.Seconds {
	if w.Warmest() < care.Softens() {
		return 0
	}
	for h := 11; h >= 7; h-- {
		if w[h] < care.Softens()-2 {
			return si.Seconds(h) * hour
		}
	}
	return 0
}
