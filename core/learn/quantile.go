package learn

import "math"

// betaShare is the regularised incomplete beta function I_x(a, b), by its continued fraction (DLMF 8.17.22, evaluated as
// by Lentz; memory).
func betaShare(a, b, x float64) float64 {
	switch {
	case x <= 0:
		return 0
	case x >= 1:
		return 1
	case x > (a+1)/(a+b+2): // it converges on the other side
		return 1 - betaShare(b, a, 1-x)
	}
	const tiny = 1e-300
	la, _ := math.Lgamma(a)
	lb, _ := math.Lgamma(b)
	lab, _ := math.Lgamma(a + b)
	front := math.Exp(lab-la-lb+a*math.Log(x)+b*math.Log1p(-x)) / a
	f, c, d := 1.0, 1.0, 0.0
	for i := 0; i <= 500; i++ {
		m := float64(i / 2)
		var term float64
		switch {
		case i == 0:
			term = 1
		case i%2 == 0:
			term = m * (b - m) * x / ((a + 2*m - 1) * (a + 2*m))
		default:
			term = -(a + m) * (a + b + m) * x / ((a + 2*m) * (a + 2*m + 1))
		}
		if d = 1 + term*d; math.Abs(d) < tiny {
			d = tiny
		}
		if c = 1 + term/c; math.Abs(c) < tiny {
			c = tiny
		}
		d = 1 / d
		f *= c * d
		if math.Abs(1-c*d) < 1e-14 {
			break
		}
	}
	return front * (f - 1)
}

// gammaShare is the regularised incomplete gamma function P(a, x): by its series below a + 1, above it by its continued
// fraction (DLMF 8.7.1 and 8.9.2; memory).
func gammaShare(a, x float64) float64 {
	if x <= 0 {
		return 0
	}
	lg, _ := math.Lgamma(a)
	front := math.Exp(a*math.Log(x) - x - lg)
	if x < a+1 {
		sum, term := 1/a, 1/a
		for n := 1.0; n < 2000; n++ {
			term *= x / (a + n)
			if sum += term; term < sum*1e-15 {
				break
			}
		}
		return front * sum
	}
	const tiny = 1e-300
	b := x + 1 - a
	c, d := 1/tiny, 1/b
	h := d
	for n := 1.0; n < 2000; n++ {
		an := -n * (n - a)
		b += 2
		if d = an*d + b; math.Abs(d) < tiny {
			d = tiny
		}
		if c = b + an/c; math.Abs(c) < tiny {
			c = tiny
		}
		d = 1 / d
		h *= d * c
		if math.Abs(d*c-1) < 1e-15 {
			break
		}
	}
	return 1 - front*h
}

// at which a rising function reaches a value, between two ends, by halving.
func at(value, low, high float64, f func(float64) float64) float64 {
	for range 200 {
		mid := low + (high-low)/2
		if mid <= low || mid >= high {
			return mid
		}
		if f(mid) < value {
			low = mid
		} else {
			high = mid
		}
	}
	return low + (high-low)/2
}

// BetaQuantile is where a Beta distribution has come to a probability p.
func BetaQuantile(a, b, p float64) float64 {
	return at(p, 0, 1, func(x float64) float64 { return betaShare(a, b, x) })
}

// GammaQuantile is the same of a Gamma distribution of rate 1.
func GammaQuantile(a, p float64) float64 {
	high := a + 1
	for gammaShare(a, high) < p {
		high *= 2
	}
	return at(p, 0, high, func(x float64) float64 { return gammaShare(a, x) })
}

// StudentQuantile is the same of Student's t, by its relation to the Beta distribution (Abramowitz and Stegun 26.7.1;
// memory), for p above a half.
func StudentQuantile(freedom, p float64) float64 {
	x := BetaQuantile(freedom/2, 0.5, 2*(1-p))
	return math.Sqrt(freedom * (1 - x) / x)
}
