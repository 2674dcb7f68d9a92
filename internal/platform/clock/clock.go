// Package clock is the one source of the present time.
package clock

import "time"

// Clock tells the present time.
type Clock func() time.Time

// System is the machine's clock.
func System() time.Time { return time.Now() }

// Pinned always tells t.
func Pinned(t time.Time) Clock { return func() time.Time { return t } }

// Running goes on from t, as many times as fast as the machine's clock.
func Running(t time.Time, speed float64) Clock {
	from := time.Now()
	return func() time.Time { return t.Add(time.Duration(float64(time.Since(from)) * speed)) }
}
