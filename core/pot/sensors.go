package pot

import (
	"encoding/binary"
	"hash/fnv"
	"math"
)

// Sample of a sensor: what it says at a time, or that it said nothing.
type Sample struct {
	At    float64 // s from the start
	Value float64 // °C of a probe, g of a scale
	Gone  bool    // it did not answer
}

// Probe in a bowl: it is late, it trembles, it drifts, and now and then it says nothing.
type Probe struct {
	Seed  uint64
	Lag   float64 // s, first order: 5 to 8 of a thin probe in stirred chocolate (memory)
	Noise float64 // °C, standard deviation
	Drift float64 // °C an hour
	Gaps  float64 // share of the time that it says nothing, in stretches of 10 s
}

// UsualProbe of a kitchen, by a seed that tells it from others.
func UsualProbe(seed uint64) Probe {
	return Probe{Seed: seed, Lag: 5 + 3*uniform(seed, 0, 'l'), Noise: 0.08, Drift: 0.1 * normal(seed, 0, 'd'),
		Gaps: 0.01}
}

// Needle of a probe that is in a pot: what it feels runs behind what there is.
type Needle struct {
	probe        Probe
	felt, before float64
}

// In a room it begins at the temperature of that.
func (p Probe) In(room float64) *Needle { return &Needle{probe: p, felt: room} }

// Say what the probe shows of a state. States come in the order of their time, at most a lag apart.
func (n *Needle) Say(s State) Sample {
	p := n.probe
	n.felt = s.Temp + (n.felt-s.Temp)*math.Exp(-(s.At-n.before)/max(p.Lag, 1e-9))
	n.before = s.At
	said := n.felt + p.Noise*normal(p.Seed, int64(math.Round(s.At*4)), 'n') + p.Drift*s.At/3600
	return Sample{At: s.At, Value: math.Round(said*10) / 10, Gone: uniform(p.Seed, int64(s.At/10), 'g') < p.Gaps}
}

// Scale under a bowl: it settles, shows whole steps, and creeps.
type Scale struct {
	Seed  uint64
	Lag   float64 // s until it has settled to a third of the difference
	Step  float64 // g that it shows
	Drift float64 // g an hour
	Bowl  float64 // g of the empty bowl
	Tares []float64
}

// UsualScale of a kitchen.
func UsualScale(seed uint64, bowl float64) Scale {
	return Scale{Seed: seed, Lag: 0.6, Step: 1, Drift: 2 * normal(seed, 0, 's'), Bowl: bowl}
}

// Pan of a scale that a pot stands on.
type Pan struct {
	scale        Scale
	tares        []float64
	felt, before float64
	zero         float64
	stands       bool
}

// Pan of a scale, before anything stands on it.
func (c Scale) Pan() *Pan { return &Pan{scale: c, tares: c.Tares} }

// Say what the scale shows of a state, since it was last set to nothing. States come in the order of their time.
func (p *Pan) Say(s State) Sample {
	c := p.scale
	load := float64(s.Mass) + c.Bowl
	if !p.stands {
		p.felt, p.stands = load, true
	}
	p.felt = load + (p.felt-load)*math.Exp(-(s.At-p.before)/max(c.Lag, 1e-9))
	p.before = s.At
	shown := p.felt + c.Drift*s.At/3600
	for len(p.tares) > 0 && p.tares[0] <= s.At {
		p.zero, p.tares = shown, p.tares[1:]
	}
	return Sample{At: s.At, Value: math.Round((shown-p.zero)/c.Step) * c.Step}
}

// uniform from 0 to 1 of a seed and a number, always the same: no server keeps where another was.
func uniform(seed uint64, n int64, what byte) float64 {
	h := fnv.New64a()
	var b [17]byte
	binary.LittleEndian.PutUint64(b[:], seed)
	binary.LittleEndian.PutUint64(b[8:], uint64(n))
	b[16] = what
	h.Write(b[:])
	x := h.Sum64()
	// The last letters barely move the upper bits of FNV: they are mixed once more (the finaliser of SplitMix64).
	x = (x ^ x>>30) * 0xbf58476d1ce4e5b9
	x = (x ^ x>>27) * 0x94d049bb133111eb
	return float64((x^x>>31)>>11) / (1 << 53)
}

// normal with mean 0 and deviation 1, by Box and Muller (1958).
func normal(seed uint64, n int64, what byte) float64 {
	return math.Sqrt(-2*math.Log(1-uniform(seed, n, what))) * math.Cos(2*math.Pi*uniform(seed, n, what^0x80))
}
