package batch

import (
	"math"
	"strings"
	"testing"

	"zestytin/core/ident"
	"zestytin/core/si"
	"zestytin/internal/text/said"
)

// 665 g of fudge are all that 700 g make at 5% lost: 400 g of caramel, which are 4/4.5 of what 300 g of sugar and 200 g
// of cream make at 10% lost, 100 g of butter and 200 g of chocolate.
func TestAMixMadeByItself(t *testing.T) {
	k := larder()
	c := Making("fudge", 665, 30, k)
	for id, want := range map[ident.Ingredient]float64{"Sugar": 300 * 4 / 4.5, "Cream": 200 * 4 / 4.5, "Butter": 100,
		"Dark": 200} {
		if n := needOf(t, c, id); math.Abs(n.Used.Amount-want) > 1e-6 || n.House.Amount != n.Used.Amount {
			t.Errorf("takes %v of %s, want %v", n.Used.Amount, id, want)
		}
	}
	if len(c.Needs) != 4 || len(c.Steps) != 1 || c.Steps[0].HandsOnMin != 30 || c.Hands != 30 {
		t.Errorf("%d needs, steps %+v", len(c.Needs), c.Steps)
	}
	text := said.Text(c.Steps[0].Amounts)
	if caramel, whole := strings.Index(text, "Caramel:"), strings.Index(text, "Fudge:"); caramel < 0 || whole < caramel {
		t.Errorf("caramel is not told before what it goes into: %q", text)
	}
	if c.Keeps != 168 { // cream in it: seven days cold (rules 4.5)
		t.Errorf("keeps %d h", c.Keeps)
	}
}

// What is booked of a gram, what is set aside for a batch and what the batch says are one amount: also of what is not
// all fit to use. 600 g of which 80% are fit take 750.
func TestAMixTakesWhatIsNotFitToo(t *testing.T) {
	k := larder()
	cream := k.Ingredients["Cream"]
	cream.UsableShare = 0.8
	k.Ingredients["Cream"] = cream
	c := Making("ganache", 880*2.5, 0, k)
	each := k.TakesPerGram("ganache")["Cream"]
	if got := needOf(t, c, "Cream").Used.Amount; math.Abs(got-750) > 1e-6 || math.Abs(each*880*2.5-750) > 1e-6 {
		t.Errorf("takes %v, by the gram %v, want 750", got, each*880*2.5)
	}
	if in := k.PerGram("ganache")["Cream"]; math.Abs(in-240./880) > 1e-9 {
		t.Errorf("%v of cream are in a gram", in)
	}
}

// Chocolate that is melted for a mix takes the minutes that it takes in any bowl, beside those of the making.
func TestMeltingForAMixMadeByItself(t *testing.T) {
	k := larder()
	mix := k.Mixes["ganache"]
	mix.Parts[0].Melted = true
	k.Mixes["ganache"] = mix
	plain := Making("ganache", 440, 10, larder())
	c := Making("ganache", 440, 10, k)
	if plain.Hands != 10 || c.Hands <= 10 {
		t.Errorf("%v min, melted %v", plain.Hands, c.Hands)
	}
	if text := said.Text(c.Steps[0].Amounts); !strings.Contains(text, "Melt 250 g") {
		t.Errorf("the melting is not told: %q", text)
	}
}

func TestMinutesOfAMethod(t *testing.T) {
	for method, want := range map[string]si.Minutes{
		"":                                   20,
		"Stir.":                              20,
		"Simmer for 8 minutes.\nChill 2 h.":  8,
		"Boil 5 to 7 minutes\nBeat 10 min":   17,
		"Leave to set overnight, then stir.": 20,
	} {
		if got := MethodMinutes(method); got != want {
			t.Errorf("%q takes %v min, want %v", method, got, want)
		}
	}
}
