package standin

import (
	"hash/fnv"
	"math"
	"time"

	"zestytin/core/route"
)

// Weather of a temperate lakeside with its seasons: warmest at the end of July and at three in the afternoon, with some
// days warmer and some cooler than others, the same whenever it is asked.
func Weather(day time.Time) route.Weather {
	turn := 2 * math.Pi
	season := math.Cos(turn * float64(day.YearDay()-208) / 365)
	sum := fnv.New32a()
	sum.Write([]byte(day.Format(time.DateOnly)))
	mood := float64(sum.Sum32()%1000)/1000*8 - 4
	var w route.Weather
	for h := range w {
		w[h] = math.Round((11+10*season+mood+(4+2*season)*math.Cos(turn*float64(h-15)/24))*10) / 10
	}
	return w
}
