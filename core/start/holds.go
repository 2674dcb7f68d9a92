package start

import "zestytin/core/si"

const most = 64 // times; more than that is not told

// TimesIn is how many times over something can be made in so many minutes of hands: the most for which hands are no
// more than that, 0 where there is no time for it once. hands do not fall with the times.
func TimesIn(minutes si.Minutes, hands func(times int) (si.Minutes, error)) (int, error) {
	fits := func(times int) (bool, error) {
		n, err := hands(times)
		return n <= minutes, err
	}
	low, high := 0, 1 // low fits; high is the first that is not known to
	for high <= most {
		ok, err := fits(high)
		if err != nil {
			return 0, err
		}
		if !ok {
			break
		}
		low, high = high, 2*high
	}
	for low+1 < min(high, most+1) {
		middle := (low + min(high, most+1)) / 2
		ok, err := fits(middle)
		if err != nil {
			return 0, err
		}
		if ok {
			low = middle
		} else {
			high = middle
		}
	}
	return low, nil
}
