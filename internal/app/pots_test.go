package app_test

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
)

var darkBowl = object{"name": "Dark 60%", "chocolate": object{"kind": "real", "colour": "dark"}, "method": "seed",
	"source": "microwave", "grams": 450}

// bowl that is begun, with what differs from 450 g of dark by seed.
func (p *person) bowl(with_ object) object {
	p.t.Helper()
	return p.must(201, "POST", "/pots", with(darkBowl, with_))
}

// sensor that is added.
func (p *person) sensor(kind, unit string, simulated bool) object {
	p.t.Helper()
	return p.must(201, "POST", "/sensors", object{"kind": kind, "name": "My " + kind, "unit": unit,
		"simulated": simulated})
}

// device posts readings to a link, without being signed in.
func (h *house) device(t testing.TB, path any, readings ...object) answer {
	t.Helper()
	return h.visitor(t).send("POST", strings.TrimPrefix(path.(string), "/api/v1"), object{"readings": readings})
}

// A bowl from the first burst to the smear, in a new kitchen, by typing what the thermometer says. Advice by hand: 450 g
// hold back 0.30 as seed where the room is 20 °C; what is then at 46 wants as much as brings it to 31.5.
func TestABowlByTyping(t *testing.T) {
	t.Parallel()
	h := open(t)
	bo := h.stranger(t)
	id := bo.bowl(nil)["id"].(string)
	at := "/pots/" + id
	advice := func() object { return bo.must(200, "GET", at, nil)["advice"].(object) }
	if a := advice(); a["stage"] != "melting" || a["do"] != "Heat for 30 s" {
		t.Errorf("at first: %v", a)
	}
	read := func(value float64) {
		t.Helper()
		bo.must(204, "POST", at+"/readings", object{"kind": "probe", "value": value})
	}
	deed := bo.must(201, "POST", at+"/deeds", object{"what": "burst", "seconds": 30})
	if a := advice(); a["do"] != "It heats" || math.Abs(a["ends"].(float64)-30) > 0.1 {
		t.Errorf("while it heats: %v", a)
	}
	// It was not done after all.
	bo.must(204, "DELETE", at+"/deeds/"+deed["id"].(string), nil)
	if a := advice(); a["do"] != "Heat for 30 s" {
		t.Errorf("taken back: %v", a)
	}
	bo.must(201, "POST", at+"/deeds", object{"what": "burst", "seconds": 30})
	h.pass(40 * time.Second)
	if a := advice(); a["do"] != "Stir, and measure" {
		t.Errorf("after it: %v", a)
	}
	read(46)
	a := advice()
	room := bo.must(200, "GET", "/kitchen", nil)["room"].(float64)
	share := func(from float64) float64 {
		r := 1.65 * (from - 31.5) / (1.6*(31.5-room) + 45)
		return r / (1 + r)
	}
	molten := 450 * (1 - share(47.5))
	want := molten * share(46) / (1 - share(46))
	touch := a["touches"].([]any)[0].(object)
	if a["stage"] != "seeding" || math.Abs(touch["grams"].(float64)-want) > 0.01 ||
		a["do"] != fmt.Sprintf("Stir in %.0f g of seed now", want) {
		t.Errorf("molten: %v, want %v g", a, want)
	}
	bo.must(201, "POST", at+"/deeds", object{"what": "seeded", "grams": touch["grams"]})
	h.pass(3 * time.Minute)
	read(31.8)
	if a := advice(); a["stage"] != "testing" || a["do"] != "Make a smear test" {
		t.Errorf("in its band: %v", a)
	}
	bo.must(201, "POST", at+"/deeds", object{"what": "smear"})
	h.pass(5 * time.Minute)
	read(31.2)
	if a := advice(); a["do"] != "Look at the smear" {
		t.Errorf("after five minutes: %v", a)
	}
	bo.must(201, "POST", at+"/deeds", object{"what": "good"})
	if a := advice(); a["stage"] != "working" {
		t.Errorf("%v", a)
	}
	// What cannot be is refused, and says what to do.
	bo.problem(422, "body.value", "°C or °F", bo.send("POST", at+"/readings", object{"kind": "probe", "value": 900}))
	bo.problem(422, "body.at", "clock", bo.send("POST", at+"/readings",
		object{"kind": "probe", "value": 30, "at": h.clock().Add(time.Hour)}))
	bo.problem(422, "body.at", "begun", bo.send("POST", at+"/deeds",
		object{"what": "smear", "at": h.clock().Add(-time.Hour)}))
	bo.problem(422, "body.unit", "scale", bo.send("POST", at+"/readings",
		object{"kind": "probe", "value": 30, "unit": "oz"}))
	bo.problem(422, "body.method", "tempering", bo.send("POST", "/pots",
		with(darkBowl, object{"chocolate": object{"kind": "compound", "colour": "dark"}})))
	bo.problem(422, "body.grams", "at least 30 g", bo.send("POST", "/pots", with(darkBowl, object{"grams": 12})))
	bo.problem(422, "body.pool", "450 g", bo.send("POST", "/pots", with(darkBowl, object{"pool": 450})))
	// It is over, with its curve; nothing is noted any more; and it is taken up again.
	bo.must(204, "PUT", at+"/end", object{"result": "good", "remains": 120, "note": "thin as cream"})
	p := bo.must(200, "GET", at, nil)
	if p["result"] != "good" || p["remains"] != 120.0 || len(p["curve"].(object)["temps"].([]any)) != 3 ||
		p["advice"] != nil {
		t.Errorf("it is over: %v", p)
	}
	bo.problem(409, "", "over already", bo.send("POST", at+"/deeds", object{"what": "smear"}))
	bo.must(204, "DELETE", at+"/end", nil)
	if a := advice(); a["stage"] != "working" {
		t.Errorf("taken up again: %v", a)
	}
}

// What a device posts belongs to the bowl that it is at: in its own unit, of one second once, also late. Its link is all
// that it knows; a new one ends the old.
func TestADevicePosts(t *testing.T) {
	t.Parallel()
	h := open(t)
	bo := h.stranger(t)
	probe, scale := bo.sensor("probe", "F", false), bo.sensor("scale", "oz", false)
	link := probe["path"]
	if a := h.device(t, link, object{"value": 212}); a.status != 200 || a.object(t)["pot"] != nil {
		t.Errorf("at no bowl: %d %s", a.status, a.body)
	}
	list := bo.must(200, "GET", "/sensors", nil)["sensors"].([]any)
	if s := find(t, list, "id", probe["id"].(string)); s["last"] != 100.0 || s["path"] != nil {
		t.Errorf("212 °F are 100 °C, and the link is told once: %v", s)
	}
	pot := bo.bowl(object{"probe": probe["id"], "scale": scale["id"]})
	at := "/pots/" + pot["id"].(string)
	h.pass(20 * time.Second)
	early := h.clock().Add(-5 * time.Second)
	a := h.device(t, link, object{"value": 93.2}, object{"value": 104, "at": early}, object{"value": 105, "at": early},
		object{"value": 36, "unit": "C", "at": h.clock().Add(-2 * time.Second)})
	if a.status != 200 || a.object(t)["kept"] != 3.0 || a.object(t)["pot"] != "Dark 60%" {
		t.Errorf("%d %s", a.status, a.body)
	}
	h.device(t, scale["path"], object{"value": 4})
	p := bo.must(200, "GET", at, nil)
	curve := p["curve"].(object)
	if got := fmt.Sprint(curve["temps"]); got != "[map[at:15 value:40] map[at:18 value:36] map[at:20 value:34]]" {
		t.Errorf("the curve: %v", got)
	}
	if g := curve["grams"].([]any)[0].(object)["value"].(float64); math.Abs(g-113.398) > 0.01 {
		t.Errorf("4 oz are 113.4 g: %v", g)
	}
	bo.problem(422, "body.readings[0].at", "clock", h.device(t, link, object{"value": 86, "at": h.clock().Add(time.Hour)}))
	bo.problem(422, "body.readings[0].at", "12 hours", h.device(t, link,
		object{"value": 86, "at": h.clock().Add(-13 * time.Hour)}))
	bo.problem(422, "body.readings[0].unit", "scale", h.device(t, link, object{"value": 86, "unit": "g"}))
	// Two probes at one bowl are not, and one probe at two bowls is refused.
	bo.problem(422, "body.probe", "another bowl", bo.send("POST", "/pots", with(darkBowl, object{"probe": probe["id"]})))
	bo.problem(422, "body.scale", "another bowl", bo.send("POST", "/pots", with(darkBowl, object{"scale": scale["id"]})))
	maren := h.maren(t)
	bo.problem(422, "body.probe", "not there", maren.send("POST", "/pots", with(darkBowl, object{"probe": probe["id"]})))
	// A new link ends the old one.
	renewed := bo.must(200, "POST", "/sensors/"+probe["id"].(string)+"/link", nil)
	if a := h.device(t, link, object{"value": 86}); a.status != 404 {
		t.Errorf("the old link: %d %s", a.status, a.body)
	}
	if a := h.device(t, renewed["path"], object{"value": 86}); a.status != 200 {
		t.Errorf("the new one: %d %s", a.status, a.body)
	}
	bo.must(204, "DELETE", "/sensors/"+probe["id"].(string), nil)
	if a := h.device(t, renewed["path"], object{"value": 86}); a.status != 404 {
		t.Errorf("of one that was taken away: %d", a.status)
	}
	if p := bo.must(200, "GET", at, nil); p["probe"] != nil {
		t.Errorf("it is out of the bowl: %v", p["probe"])
	}
}

// A scale that creeps by 36 g an hour, told by its device every ten seconds: 200 g that are put on it after a minute are
// 200 g half an hour later, when it shows 218; that is said, in words. Set to nothing it is right by itself.
func TestAScaleCreeps(t *testing.T) {
	t.Parallel()
	h := open(t)
	bo := h.stranger(t)
	scale := bo.sensor("scale", "g", false)
	pot := bo.bowl(object{"scale": scale["id"]})
	at, began := "/pots/"+pot["id"].(string), h.clock()
	last := func() (grams float64, says any) {
		p := bo.must(200, "GET", at, nil)
		list := p["curve"].(object)["grams"].([]any)
		return list[len(list)-1].(object)["value"].(float64), p["advice"].(object)["scale"]
	}
	var list []object
	shows := func(minutes float64, lies func(float64) float64) {
		for range int(minutes * 6) {
			h.pass(10 * time.Second)
			m := h.clock().Sub(began).Minutes()
			list = append(list, object{"value": math.Round(lies(m)), "at": h.clock()})
			if len(list) == 60 {
				h.device(t, scale["path"], list...)
				list = nil
			}
		}
		h.device(t, scale["path"], list...)
		list = nil
	}
	shows(1, func(m float64) float64 { return 0.6 * m })
	shows(1.5, func(m float64) float64 { return 200 + 0.6*m })
	if g, says := last(); g != 202 || says != nil {
		t.Errorf("after two minutes nobody knows yet: %v, %v", g, says)
	}
	shows(28, func(m float64) float64 { return 200 + 0.6*m })
	if g, says := last(); math.Abs(g-200) > 1.1 ||
		says != "The scale creeps by 36 g an hour: 18 g are taken off what it shows. Set it to nothing before you weigh on." {
		t.Errorf("after half an hour: %v, %v", g, says)
	}
	shows(0.5, func(float64) float64 { return 0 })
	if g, says := last(); math.Abs(g) > 1 || says != nil {
		t.Errorf("set to nothing: %v, %v", g, says)
	}
}

// A bowl that was begun without a network has the name and the time that its device gave it; told twice it is one. What
// was done and read meanwhile is told with its time, and again where an answer was lost.
func TestABowlIsToldLate(t *testing.T) {
	t.Parallel()
	h := open(t)
	bo := h.stranger(t)
	began := h.clock()
	h.pass(20 * time.Minute)
	id, key := uuid.NewString(), uuid.NewString()
	late := with(darkBowl, object{"id": id, "at": began})
	for _, body := range []object{with(darkBowl, object{"id": id}), late, late} { // the first answer was lost
		if made := bo.must(201, "POST", "/pots", body, "Idempotency-Key", key); made["id"] != id {
			t.Fatal(made)
		}
	}
	again := bo.must(201, "POST", "/pots", late)
	if list := bo.must(200, "GET", "/pots", nil)["pots"].([]any); len(list) != 1 || again["id"] != id {
		t.Errorf("%v, %v", list, again)
	}
	second := uuid.NewString()
	bo.must(201, "POST", "/pots", with(darkBowl, object{"id": second, "at": began}))
	at := "/pots/" + second
	for _, when := range []object{{}, {"at": began.Add(time.Minute)}} {
		bo.must(201, "POST", at+"/deeds", with(object{"what": "burst", "seconds": 30}, when), "Idempotency-Key", key+"1")
		bo.must(204, "POST", at+"/readings", with(object{"kind": "probe", "value": 31.5}, when), "Idempotency-Key",
			key+"2")
	}
	p := bo.must(200, "GET", at, nil)
	if p["began"] != began.Format(time.RFC3339Nano) || len(p["deeds"].([]any)) != 1 || p["now"] != 1200.0 {
		t.Errorf("%v", p)
	}
	bo.problem(422, "body.at", "clock of the device", bo.send("POST", "/pots",
		with(darkBowl, object{"at": h.clock().Add(time.Hour)})))
	bo.problem(422, "body.at", "12 hours", bo.send("POST", "/pots",
		with(darkBowl, object{"at": h.clock().Add(-13 * time.Hour)})))
}

// A flood on one link is stopped, and told; another link goes on.
func TestAFloodOfReadings(t *testing.T) {
	t.Parallel()
	h := open(t)
	bo := h.stranger(t)
	probe, other := bo.sensor("probe", "C", false), bo.sensor("probe", "C", false)
	visitor := h.visitor(t)
	refused := 0
	for range 300 {
		a := visitor.send("POST", strings.TrimPrefix(probe["path"].(string), "/api/v1"),
			object{"readings": []object{{"value": 30}}})
		if a.status == http.StatusTooManyRequests {
			refused++
			if !strings.Contains(a.body, "several readings in one post") {
				t.Fatal(a.body)
			}
		}
	}
	if refused < 30 {
		t.Errorf("%d of 300 were refused", refused)
	}
	if a := h.device(t, other["path"], object{"value": 31}); a.status != 200 {
		t.Errorf("another: %d %s", a.status, a.body)
	}
}

// updates that come over the stream of events.
func (p *person) updates() <-chan object {
	p.t.Helper()
	answer, err := p.Get(p.base + "/api/v1/events")
	if err != nil {
		p.t.Fatal(err)
	}
	p.t.Cleanup(func() { answer.Body.Close() })
	list := make(chan object, 1000)
	read := bufio.NewScanner(answer.Body)
	read.Scan()
	go func() {
		defer close(list)
		named := false
		for read.Scan() {
			if read.Text() == "event: pot" {
				named = true
			} else if data, is := strings.CutPrefix(read.Text(), "data: "); is && named {
				var u object
				if json.NewDecoder(bytes.NewReader([]byte(data))).Decode(&u) == nil {
					list <- u
				}
				named = false
			}
		}
	}()
	time.Sleep(300 * time.Millisecond)
	return list
}

// next update, or none within some seconds.
func next(t *testing.T, list <-chan object) object {
	t.Helper()
	select {
	case u := <-list:
		return u
	case <-time.After(10 * time.Second):
		t.Fatal("nothing is heard")
		return nil
	}
}

// Every device of the kitchen hears what a probe says and what to do, from the one that posted and from one that is not
// there; nobody else does. Another server of the same house tells the same of a simulated probe.
func TestReadingsAreHeard(t *testing.T) {
	t.Parallel()
	h := open(t)
	bo := h.stranger(t)
	probe := bo.sensor("probe", "C", false)
	pot := bo.bowl(object{"probe": probe["id"]})
	h.pass(10 * time.Second)
	one, two, elsewhere := bo.updates(), bo.updates(), h.maren(t).updates()
	h.device(t, probe["path"], object{"value": 24.4})
	for _, list := range []<-chan object{one, two} {
		u := next(t, list)
		if u["pot"] != pot["id"] || fmt.Sprint(u["temps"]) != "[map[at:10 value:24.4]]" ||
			u["advice"].(object)["temp"] != 24.4 || u["advice"].(object)["stage"] != "melting" {
			t.Errorf("%v", u)
		}
	}
	select {
	case u := <-elsewhere:
		t.Errorf("another kitchen hears %v", u)
	default:
	}
	// One that is simulated: what is heard is what the bowl's page shows, of each second.
	simulated, scale := bo.sensor("probe", "C", true), bo.sensor("scale", "g", true)
	second := bo.bowl(object{"probe": simulated["id"], "scale": scale["id"]})
	at := "/pots/" + second["id"].(string)
	bo.must(201, "POST", at+"/deeds", object{"what": "burst", "seconds": 30})
	var said []any
	for end := time.After(20 * time.Second); len(said) < 60; {
		h.pass(30 * time.Second)
		select {
		case u := <-one:
			if u["pot"] == second["id"] {
				temps, _ := u["temps"].([]any) // a probe that drops out says nothing for a while
				said = append(said, temps...)
			}
		case <-end:
			t.Fatalf("only %d readings of a simulated probe are heard", len(said))
		}
	}
	shown := bo.must(200, "GET", at, nil)["curve"].(object)["temps"].([]any)
	for _, x := range said {
		if !slices.ContainsFunc(shown, func(y any) bool { return fmt.Sprint(x) == fmt.Sprint(y) }) {
			t.Errorf("%v is heard, and not shown", x)
		}
	}
	warmest := 0.0
	for _, x := range shown {
		warmest = max(warmest, x.(object)["value"].(float64))
	}
	if warmest < 25 {
		t.Errorf("a burst of 30 s brings it to %v", warmest)
	}
}

// What the bursts of a bowl brought is known in the next one, of the same source: 8 s that lift 400 g by 6 K are 495 W.
func TestBurstsAreLearned(t *testing.T) {
	t.Parallel()
	h := open(t)
	bo := h.stranger(t)
	coating := object{"chocolate": object{"kind": "compound", "colour": "dark"}, "method": "none", "grams": 400}
	at := "/pots/" + bo.bowl(coating)["id"].(string)
	bo.must(204, "POST", at+"/readings", object{"kind": "probe", "value": 36})
	h.pass(time.Second)
	bo.must(201, "POST", at+"/deeds", object{"what": "burst", "seconds": 8})
	h.pass(30 * time.Second)
	bo.must(204, "POST", at+"/readings", object{"kind": "probe", "value": 42})
	l := bo.must(200, "GET", at, nil)["learned"].(object)
	if l["bursts"] != 1.0 || math.Abs(l["watts"].(float64)-495) > 0.5 {
		t.Errorf("%v", l)
	}
	bo.must(204, "PUT", at+"/end", object{"result": ""})
	at = "/pots/" + bo.bowl(coating)["id"].(string)
	bo.must(204, "POST", at+"/readings", object{"kind": "probe", "value": 36})
	// 4.5 K to the middle of 38 to 43: 400 x 1.65 x 4.5 / 495 = 6 s; with the usual 700 W it would be 4.
	a := bo.must(200, "GET", at, nil)["advice"].(object)
	if s := a["touches"].([]any)[0].(object)["seconds"]; s != 6.0 {
		t.Errorf("%v s: %v", s, a)
	}
}

// A bowl to practise on follows from what was done to it alone: asked twice, it is the same, and no kitchen keeps it.
func TestPractice(t *testing.T) {
	t.Parallel()
	h := open(t)
	bo := h.stranger(t)
	run := object{"exercise": "temper", "seed": 7, "now": 90,
		"deeds": []object{{"at": 2, "what": "burst", "seconds": 20}, {"at": 40, "what": "burst", "seconds": 20}}}
	a, b := bo.must(200, "POST", "/calculators/practice", run), bo.must(200, "POST", "/calculators/practice", run)
	pot := a["pot"].(object)
	if fmt.Sprint(pot["curve"]) != fmt.Sprint(b["pot"].(object)["curve"]) || pot["advice"].(object)["stage"] != "seeding" ||
		a["result"] != nil {
		t.Errorf("%v", a)
	}
	over := bo.must(200, "POST", "/calculators/practice", with(run, object{"over": true}))["result"].(object)
	if over["points"].(float64) > 60 || len(over["costs"].([]any)) < 2 {
		t.Errorf("left without seed: %v", over)
	}
	if list := bo.must(200, "GET", "/pots", nil)["pots"].([]any); len(list) != 0 {
		t.Errorf("the kitchen has %v", list)
	}
	bo.problem(422, "body.now", "", bo.send("POST", "/calculators/practice", with(run, object{"now": 1e9})))
}

func (a answer) object(t testing.TB) (o object) {
	t.Helper()
	if err := json.Unmarshal([]byte(a.body), &o); err != nil {
		t.Fatalf("%d %s: %v", a.status, a.body, err)
	}
	return o
}
