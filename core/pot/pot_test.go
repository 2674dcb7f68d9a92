package pot

import (
	"math"
	"math/rand/v2"
	"testing"

	"zestytin/core/chocolate"
	"zestytin/core/si"
)

var dark = chocolate.BandsOf(chocolate.Dark)

// states of a pot, one a second.
func states(p Pot, deeds []Deed, until float64) []State {
	var list []State
	p.Run(deeds, until, 1, func(s State) { list = append(list, s) })
	return list
}

func end(p Pot, deeds []Deed, until float64) State {
	list := states(p, deeds, until)
	return list[len(list)-1]
}

// Newton's law of cooling: a melt that nothing sets in follows T = room + (T0 - room) e^(-t/tau), with the time constant
// of rules 3.4: 43 min for 450 g. And by hand: in a room of 20 °C it loses 0.27 °C a minute at 31.5.
func TestAMeltCoolsByNewtonsLaw(t *testing.T) {
	for _, grams := range []float64{60, 450, 2000} {
		p := Pot{Mass: si.Grams(grams), At: 48, Room: 20, Kind: chocolate.Real, Bands: dark}
		for _, s := range states(p, nil, 1200) {
			if s.Temp < 34 { // above it nothing is solid
				break
			}
			want := chocolate.Cooled(48, 20, p.Mass, s.At/60)
			if math.Abs(s.Temp-want) > 0.01 {
				t.Fatalf("%v g after %v s: %v, Newton says %v", grams, s.At, s.Temp, want)
			}
		}
	}
	list := states(Pot{Mass: 450, At: 31.5, Room: 20, Kind: chocolate.Real, Bands: dark}, nil, 60)
	if fell := list[0].Temp - list[60].Temp; math.Abs(fell-0.27) > 0.01 {
		t.Errorf("%v a minute", fell)
	}
}

// By hand: 227 g of solid dark chocolate take 227 x (1.6 x 25 + 45) = 19.3 kJ to melt and come to 46 °C from 21, and
// what the liquid takes more: 27.6 s at 700 W. Melting lags behind the burst, and the room takes a little.
func TestMeltingTakesItsHeat(t *testing.T) {
	p := Pot{Mass: 227, At: 21, Solid: 1, Room: 21, Kind: chocolate.Real, Bands: dark}
	need := 227 * (enthalpy(46, 0) - enthalpy(21, 1))
	s := end(p, []Deed{{What: Heat, Watts: 700, Seconds: need / 700}}, 180)
	if want := 46 - s.Lost/(227*chocolate.HeatLiquid); math.Abs(s.Temp-want) > 0.05 || s.Solid() > 0.001 ||
		math.Abs(s.Heated-need) > 1 {
		t.Errorf("%+v after %v J", s, need)
	}
	if half := end(p, []Deed{{What: Heat, Watts: 700, Seconds: need / 1400}}, 120); half.Temp > 34 || half.Solid() < 0.2 {
		t.Errorf("with half of the heat: %+v", half)
	}
}

// The seed share of rules 4.3 lands at the working temperature: 0.28 of the whole from 46 °C to 31.5 with seed of 21,
// 0.31 from 48. All of it is in the pot within some minutes, in good crystals, and ready.
func TestSeedLandsInTheBand(t *testing.T) {
	for _, melt := range []float64{46, 48} {
		share := chocolate.SeedShare(melt, 31.5, 21)
		p := Pot{Mass: si.Grams(450 * (1 - share)), At: melt, Room: 21, Kind: chocolate.Real, Bands: dark}
		s := end(p, []Deed{{What: Add, Grams: si.Grams(450 * share), Temp: 21}}, 180)
		if math.Abs(s.Temp-31.5) > 1.2 || math.Abs(float64(s.Mass)-450) > 1e-9 || s.Temper() != Ready {
			t.Errorf("from %v: %+v is %s", melt, s, s.Temper())
		}
	}
}

// What is done decides how it sets: without seed it stays molten until it is too cold, then sets wrong; too warm, the
// seed melts away; seeded and left alone it thickens. Compound needs none of it.
func TestTempers(t *testing.T) {
	melt := Pot{Mass: 450, At: 40, Room: 18, Kind: chocolate.Real, Bands: dark}
	list := states(melt, nil, 9000)
	for _, s := range list {
		if s.Temp > 28 && s.Temper() != Molten {
			t.Fatalf("unseeded at %v: %s", s.Temp, s.Temper())
		}
	}
	if s := list[len(list)-1]; s.Temper() != Wrong {
		t.Errorf("unseeded and cold: %+v is %s", s, s.Temper())
	}
	seed := Deed{What: Add, Grams: 18, Temp: 20, At: 600}
	seeded := states(Pot{Mass: 400, At: 36, Room: 20, Kind: chocolate.Real, Bands: dark}, []Deed{seed}, 6000)
	if s := seeded[720]; s.Temper() != Ready || s.Temp < 30.5 || s.Temp > 32 {
		t.Errorf("seeded: %+v is %s", s, s.Temper())
	}
	if s := seeded[len(seeded)-1]; s.Temper() != Thick || s.Loose > s.Good/4 {
		t.Errorf("seeded and left: %+v is %s", s, s.Temper())
	}
	hot := end(Pot{Mass: 400, At: 36, Room: 20, Kind: chocolate.Real, Bands: dark},
		[]Deed{seed, {What: Heat, At: 700, Watts: 700, Seconds: 6}}, 850)
	if hot.Temper() != Molten || hot.Temp < 34 {
		t.Errorf("over the ceiling: %+v is %s", hot, hot.Temper())
	}
	coating := end(Pot{Mass: 400, At: 45, Room: 20, Kind: chocolate.Compound, Bands: dark}, nil, 9000)
	if coating.Loose != 0 || coating.Good < 0.1 {
		t.Errorf("coating: %+v", coating)
	}
}

// Crystals that form give their heat: a seeded bowl cools more slowly than Newton's law alone would have it.
func TestSettingGivesHeat(t *testing.T) {
	seeded := end(Pot{Mass: 450, At: 31, Solid: 0.02, Room: 18, Kind: chocolate.Real, Bands: dark}, nil, 2400)
	if alone := chocolate.Cooled(31, 18, 450, 40); seeded.Temp < alone+1 {
		t.Errorf("%v, a melt alone %v", seeded.Temp, alone)
	}
}

// A cold centre takes its heat and its coat: each as chocolate.Bowl reckons it.
func TestCentresCoolTheBowl(t *testing.T) {
	piece := chocolate.Piece{Mass: 12, At: -18, Heat: chocolate.HeatOfCentre, Across: 26, Seconds: chocolate.DipSeconds}
	p := Pot{Mass: 300, At: 45, Room: 45, Kind: chocolate.Real, Bands: dark}
	s := end(p, []Deed{{What: Dip, Piece: piece, Coat: 5}}, 1)
	fall := piece.Share() * 12 * chocolate.HeatOfCentre * (45 + 18) / (300 * chocolate.HeatLiquid)
	if math.Abs(s.Temp-45+fall) > 0.01 || s.Mass != 295 {
		t.Errorf("%+v, by hand %v colder", s, fall)
	}
}

// Over a bath it stands: it comes to where the water gives what the room takes.
func TestABathHoldsIt(t *testing.T) {
	p := Pot{Mass: 450, At: 40, Room: 20, Kind: chocolate.Real, Bands: dark}
	s := end(p, []Deed{{What: Stand, Bath: 50}}, 4*3600)
	wall := 450 * chocolate.HeatLiquid / (43 * 60)
	if want := (bath*50 + wall*20) / (bath + wall); math.Abs(s.Temp-want) > 0.05 {
		t.Errorf("%v, by hand %v", s.Temp, want)
	}
	off := end(p, []Deed{{What: Stand, Bath: 50}, {What: Stand, At: 3600}}, 4*3600)
	if off.Temp > 30 {
		t.Errorf("lifted off: %+v", off)
	}
}

// Whatever is done to it, heat that came in and went out is what its enthalpy has gained, to 0.1 % of what was moved;
// reckoned from the states alone: heat from the deeds, loss by Newton's law from the temperatures by the trapezium rule.
func TestTheEnergyBalanceCloses(t *testing.T) {
	random := rand.New(rand.NewPCG(7, 18))
	for n := range 60 {
		p := Pot{Mass: si.Grams(100 + 900*random.Float64()), At: 20 + 30*random.Float64(), Solid: random.Float64(),
			Room: 18 + 8*random.Float64(), Kind: chocolate.Real, Bands: dark}
		var deeds []Deed
		heat := 0.0
		for range 6 {
			d := Deed{At: math.Floor(1500 * random.Float64()), What: Heat, Watts: 700, Seconds: 1 + 12*random.Float64()}
			heat += d.Watts * d.Seconds
			deeds = append(deeds, d)
		}
		deeds = append(deeds, Deed{At: 300, What: Add, Grams: 80, Temp: 20}, Deed{At: 1700, What: Take, Grams: 60},
			Deed{At: 900, What: Dip, Coat: 4, Piece: chocolate.Piece{Mass: 10, At: 5, Heat: 2.2}})
		list := states(p, deeds, 2000)
		first, last := list[0], list[len(list)-1]
		lost := 0.0
		for i := range list[1:] {
			a, b := list[i], list[i+1]
			wall := func(s State) float64 {
				return float64(s.Mass) * chocolate.HeatLiquid / (chocolate.TimeConstant(s.Mass) * 60) * (s.Temp - p.Room)
			}
			lost += (wall(a) + wall(b)) / 2 * (b.At - a.At)
		}
		gained := last.Enthalpy() - first.Enthalpy()
		if off := math.Abs(heat - lost + last.Moved - gained); off > 0.001*(heat+math.Abs(lost)+math.Abs(last.Moved)) {
			t.Errorf("%d: %v J in, %v lost, %v moved, %v gained: %v J off", n, heat, lost, last.Moved, gained, off)
		}
		if math.Abs(last.Lost-lost) > 0.002*math.Abs(lost)+50 || math.Abs(last.Heated-heat) > 1e-6 {
			t.Errorf("%d: it says %v lost and %v heated, it is %v and %v", n, last.Lost, last.Heated, lost, heat)
		}
		for _, s := range list {
			if math.IsNaN(s.Temp) || s.Good < -1e-12 || s.Loose < -1e-12 || s.Solid() > 1+1e-9 {
				t.Fatalf("%d: %+v", n, s)
			}
		}
	}
}

// Nothing is no pot, and what cannot be done does no harm.
func TestAnEmptyPot(t *testing.T) {
	s := end(Pot{At: 45, Room: 20, Kind: chocolate.Real, Bands: dark}, []Deed{{What: Heat, Watts: 700, Seconds: 9},
		{What: Dip, Coat: 5}, {What: Take, Grams: 50}, {What: Add, Grams: -5}, {What: Stand, Bath: 60}}, 60)
	if s.Mass != 0 || math.IsNaN(s.Temp) || s.Temp != 45 {
		t.Errorf("%+v", s)
	}
	s = end(Pot{Mass: 40, At: 45, Room: 20, Kind: chocolate.Real, Bands: dark}, []Deed{{What: Take, Grams: 90}}, 60)
	if s.Mass != 0 || math.IsNaN(s.Temp) {
		t.Errorf("%+v", s)
	}
}

func BenchmarkThreeHours(b *testing.B) {
	p := Pot{Mass: 450, At: 46, Room: 20, Kind: chocolate.Real, Bands: dark}
	for b.Loop() {
		p.Run(nil, 3*3600, 1, func(State) {})
	}
}
