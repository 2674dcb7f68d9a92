// Package learn is what a kitchen's own batches teach: how much is lost at a step, how long it takes, how much of the
// fruit is fit to use, what a piece really takes. Each estimate has its spread and says what it rests on, so that it is
// suggested with its evidence and never taken silently. What is common practice is where it begins, as if some pieces
// or batches had shown it; older batches count less.
package learn

import "math"

// HalfLife in batches: one so long ago counts half (rules 4.12).
const HalfLife = 20

// Pieces and batches that common practice is worth at the begin (rules 4.12).
const (
	PriorPieces  = 20.0
	PriorBatches = 3.0
)

// Sure is the probability of all spreads here: nine of ten, the same on both sides.
const Sure = 0.9

// Estimate of something with its spread, and what it rests on.
type Estimate struct {
	Mean     float64
	From, To float64 // within which it lies in nine of ten cases
	Batches  int     // that it rests on
	Counts   float64 // for how many pieces, or batches, they count, after fading
}

// Holds says whether a value agrees with what was seen: it lies within the spread.
func (e Estimate) Holds(value float64) bool { return value >= e.From && value <= e.To }

// Tally of one batch at one step, the last batch first: how many came through and how many did not.
type Tally struct {
	Good, Lost int
}

// fade is what a batch counts that lies so many batches back.
func fade(back int, halfLife float64) float64 {
	if halfLife <= 0 {
		return 1
	}
	return math.Exp2(-float64(back) / halfLife)
}

// Share that is lost, or that is fit to use, by the batches of one step, the last one first: a Beta distribution that
// begins from a share of common practice worth PriorPieces. With fading the evidence counts for (Σw)²/Σw² pieces (Kish,
// Survey Sampling 1965; memory), at the weighted share. halfLife is in batches; 0: nothing fades.
func Share(begin float64, batches []Tally, halfLife float64) Estimate {
	var sum, squares, lost float64
	for i, b := range batches {
		w, n := fade(i, halfLife), float64(b.Good+b.Lost)
		sum, squares, lost = sum+w*n, squares+w*w*n, lost+w*float64(b.Lost)
	}
	counts, share := 0.0, 0.0
	if sum > 0 {
		counts, share = sum*sum/squares, lost/sum
	}
	// A share of nothing or of all would be believed for ever: it begins a little inside.
	begin = min(max(begin, 0.005), 0.995)
	a, b := PriorPieces*begin+counts*share, PriorPieces*(1-begin)+counts*(1-share)
	tail := (1 - Sure) / 2
	return Estimate{Mean: a / (a + b), From: BetaQuantile(a, b, tail), To: BetaQuantile(a, b, 1-tail),
		Batches: len(batches), Counts: counts}
}

// Took is how long a batch took, the last one first, beside what was reckoned for it.
type Took struct {
	Minutes  float64
	Reckoned float64
	Pieces   float64
}

// Spread of the minutes of one batch about what its kitchen takes, as the coefficient of variation (memory: a quarter).
const Spread = 0.25

// shape of a Gamma distribution of that spread.
const shape = 1 / (Spread * Spread)

// Pace is by how much longer than reckoned a step takes, as a factor: minutes follow a Gamma distribution about it, so
// that it follows an inverse one, which begins at 1 worth PriorBatches batches (Gelman and others, Bayesian Data Analysis,
// 2.6; memory).
func Pace(batches []Took, halfLife float64) Estimate {
	var sum, squares, ratios float64
	n := 0
	for i, t := range batches {
		if t.Reckoned <= 0 || t.Minutes <= 0 {
			continue
		}
		w := fade(i, halfLife)
		sum, squares, ratios, n = sum+w, squares+w*w, ratios+w*t.Minutes/t.Reckoned, n+1
	}
	counts, mean := 0.0, 0.0
	if sum > 0 {
		counts, mean = sum*sum/squares, ratios/sum
	}
	// 1/pace is Gamma distributed with this shape and rate; its mean is pace⁻¹ where the prior's mean is 1.
	a := PriorBatches*shape + 1 + counts*shape
	rate := PriorBatches*shape + counts*shape*mean
	tail := (1 - Sure) / 2
	return Estimate{Mean: rate / (a - 1), From: rate / GammaQuantile(a, 1-tail), To: rate / GammaQuantile(a, tail),
		Batches: n, Counts: counts}
}

// Line of minutes against pieces: set-up, and what each piece takes.
type Line struct {
	SetUp, Piece       float64 // min
	SetUpOff, PieceOff float64 // standard errors
	Off                float64 // standard deviation of a batch about it
	Freedom            int
}

// Regress minutes on pieces by least squares, set-up and per piece told apart (NIST/SEMATECH e-Handbook, 4.4.3.1 and
// 4.1.4.1). false as long as the counts do not differ enough to tell: by a half of their mean, in three batches or more.
func Regress(batches []Took) (Line, bool) {
	n := float64(len(batches))
	var sumX, sumY float64
	low, high := math.Inf(1), math.Inf(-1)
	for _, t := range batches {
		sumX, sumY = sumX+t.Pieces, sumY+t.Minutes
		low, high = min(low, t.Pieces), max(high, t.Pieces)
	}
	if n < 3 || high-low < sumX/n/2 {
		return Line{}, false
	}
	meanX, meanY := sumX/n, sumY/n
	var xx, xy float64
	for _, t := range batches {
		xx, xy = xx+(t.Pieces-meanX)*(t.Pieces-meanX), xy+(t.Pieces-meanX)*(t.Minutes-meanY)
	}
	l := Line{Piece: xy / xx, Freedom: len(batches) - 2}
	l.SetUp = meanY - l.Piece*meanX
	rest := 0.0
	for _, t := range batches {
		off := t.Minutes - l.SetUp - l.Piece*t.Pieces
		rest += off * off
	}
	if l.Freedom > 0 {
		l.Off = math.Sqrt(rest / float64(l.Freedom))
	}
	l.PieceOff = l.Off / math.Sqrt(xx)
	l.SetUpOff = l.Off * math.Sqrt(1/n+meanX*meanX/xx)
	return l, true
}

// Level of something that was measured, the last one first: g of chocolate on a piece, g left in a bowl, W of a burst,
// the time constant of a bowl that cools. It begins at a value worth so many measurements, with a spread about it as a
// share of the value; what was measured changes both (a normal distribution with its spread unknown; Gelman and others,
// 3.3; memory).
func Level(begin, worth, spread float64, values []float64, halfLife float64) Estimate {
	var sum, squares, weighted float64
	for i, v := range values {
		w := fade(i, halfLife)
		sum, squares, weighted = sum+w, squares+w*w, weighted+w*v
	}
	counts, mean := 0.0, begin
	if sum > 0 {
		counts, mean = sum*sum/squares, weighted/sum
	}
	about := 0.0
	for i, v := range values {
		about += fade(i, halfLife) * (v - mean) * (v - mean)
	}
	if sum > 0 {
		about *= counts / sum
	}
	freedom, all := worth+counts, worth+counts
	centre := (worth*begin + counts*mean) / all
	own := spread * begin
	scale := (worth*own*own + about + worth*counts/all*(mean-begin)*(mean-begin)) / freedom
	half := StudentQuantile(freedom, (1+Sure)/2) * math.Sqrt(scale/all)
	return Estimate{Mean: centre, From: centre - half, To: centre + half, Batches: len(values), Counts: counts}
}

// fewest pieces or batches, after fading, on which a suggestion rests.
const (
	fewestPieces  = 40
	fewestBatches = 3
)

// Suggests says whether what a treat says about a share should be asked about: enough was seen, and it does not agree.
func (e Estimate) Suggests(said float64) bool { return e.Counts >= fewestPieces && !e.Holds(said) }

// SuggestsPace says the same of a pace.
func (e Estimate) SuggestsPace() bool { return e.Counts >= fewestBatches && !e.Holds(1) }
