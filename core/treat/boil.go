package treat

import (
	"math"

	"zestytin/core/chocolate"
)

// BoilingPoint of water in C at a height above the sea in m: the pressure of the standard atmosphere,
// p = 1013.25 (1 - 2.25577e-5 h)^5.25588 hPa (US Standard Atmosphere 1976), put into the Antoine equation
// log10(p/bar) = 5.08354 - 1663.125 / (T/K - 45.622) (NIST Chemistry WebBook; memory). Heights from -500 to 9000 m.
func BoilingPoint(metres float64) float64 {
	bar := 1.01325 * math.Pow(1-2.25577e-5*metres, 5.25588)
	return 1663.125/(5.08354-math.Log10(bar)) + 45.622 - 273.15
}

// CandyTarget is a temperature of boiled sugar given for sea level, where water boils at 100 C, at a place where it
// boils at boiling: it falls by the same difference. A reading of plain boiling water with the seller's own thermometer
// corrects for altitude, weather and the thermometer at once.
func CandyTarget(seaLevel, boiling float64) float64 { return seaLevel - (100 - boiling) }

// SoftBall is the stage that fudge is boiled to, C at sea level (Exploratorium, candy stages; memory).
var SoftBall = chocolate.Range{From: 112, To: 115}
