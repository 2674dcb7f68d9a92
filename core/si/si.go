// Package si has what core counts in: a type for each unit, so that grams are not added to minutes. What a person
// writes and reads is a measure.Quantity; in between, sums are in these. They are plain numbers to the store and to
// JSON. Shares, rates and counts have no unit and stay numbers.
package si

import "math"

type (
	// Grams of mass.
	Grams float64
	// Minutes of time, whole ones: how long something takes, or how many have gone by since a plan's first midnight.
	Minutes int
	// Seconds of time, whole ones: on the road, or since the midnight of a day of driving.
	Seconds int
)

// Times is x times so much: x pieces of g each, or a share x of g.
func (g Grams) Times(x float64) Grams { return Grams(float64(g) * x) }

// By is g parted by x: what each of x pieces has of it, or what it was before it grew to x times as much.
func (g Grams) By(x float64) Grams { return Grams(float64(g) / x) }

// Over is how often of goes into g: a number without a unit.
func (g Grams) Over(of Grams) float64 { return float64(g / of) }

// WholeMinutes of a time in minutes: rounded up, and one at least where hands are needed at all.
func WholeMinutes(x float64) Minutes { return Minutes(max(math.Ceil(x-1e-9), 1)) }

// Seconds of so many minutes.
func (m Minutes) Seconds() Seconds { return Seconds(m) * 60 }

// Minutes of so many seconds, one that has begun counted whole.
func (s Seconds) Minutes() Minutes { return Minutes((s + 59) / 60) }
