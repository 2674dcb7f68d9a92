package order

import (
	"math"

	"zestytin/core/si"
)

// Leave is how many minutes before its window opens one sets out with a delivery, so many kilometres there and back:
// half of them at 40 km/h, in towns and on country roads, and ten minutes to load the car and find the door, in steps
// of five. Common practice; both values from memory. It is 0 where the way is not known.
func Leave(km float64) si.Minutes {
	if km <= 0 {
		return 0
	}
	const perHour, door = 40, 10
	return 5 * si.Minutes(math.Ceil((km/2/perHour*60+door)/5))
}
