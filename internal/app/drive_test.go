package app_test

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"zestytin/internal/platform/roads"
	"zestytin/internal/platform/standin"
)

// delivery of bombs to a place on Saturday the 5th, promised.
func (p *person) delivery(customer, place, from, to string) string {
	p.t.Helper()
	d := p.draft("Milk malt bombs", 6)
	d["customer"], d["way"], d["place"] = customer, "delivery", place
	d["from"], d["to"] = "2026-09-05T"+from+":00-04:00", "2026-09-05T"+to+":00-04:00"
	id := p.must(201, "POST", "/orders", d)["id"].(string)
	p.must(200, "POST", "/orders/"+id+"/moves", object{"to": "promised"})
	return id
}

func (p *person) drives(t *testing.T) object {
	t.Helper()
	return p.must(200, "GET", "/drives/2026-09-05", nil)
}

func dropNames(drive any) string {
	var names []string
	for _, d := range drive.(object)["drops"].([]any) {
		names = append(names, d.(object)["customer"].(string))
	}
	return strings.Join(names, ", ")
}

// Three doors on Saturday, and what follows from the order in which one drives to them: the plan, the run sheet, the
// calendar, the list of orders.
func TestADayOfDrives(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren := h.maren(t)
	maren.delivery("Reading circle", "Reading room, Mill Street", "11:00", "11:30")
	quay := maren.delivery("Ana Quay", "Quay 12", "12:40", "13:30")
	day := maren.drives(t)
	drives := day["drives"].([]any)
	if len(drives) != 1 || dropNames(drives[0]) != "Reading circle, Wren family, Ana Quay" || day["proven"] != true ||
		len(day["pickups"].([]any)) != 1 {
		t.Fatalf("%v", day)
	}
	drive := drives[0].(object)
	drops := drive["drops"].([]any)
	for _, d := range drops {
		d := d.(object)
		if d["late"] != 0.0 || d["arrive"].(float64) > d["to"].(float64) {
			t.Errorf("%v", d)
		}
		if geo := d["geo"].(string); !strings.HasPrefix(geo, "geo:4") {
			t.Errorf("%s", geo)
		}
	}
	if len(drive["ways"].([]any)) != 4 || drive["late"] != 0.0 {
		t.Errorf("%v", drive)
	}
	// Strawberries with cream must be cold: there is ice for them on any September day.
	if chests := drive["chests"].([]any); len(chests) == 0 {
		t.Errorf("no cool box: %v", drive["heat"])
	}

	// Into the plan: on Saturday until 11:30 two work; the first of them leaves.
	choices := day["choices"].(object)
	choices["planned"] = true
	choices["warmest"] = 45
	hot := maren.must(200, "PUT", "/drives/2026-09-05", choices, "If-Match", maren.tag("/drives/2026-09-05"))
	if hot["stale"] != false || hot["warmest"] != 45.0 || !strings.Contains(flat(t, hot), "Do not leave it at the door") {
		t.Errorf("%v", hot)
	}
	leave := hot["drives"].([]any)[0].(object)["leave"].(float64)
	plan := maren.must(200, "GET", "/plan?from=2026-09-05&days=1", nil)["days"].([]any)[0].(object)
	away := plan["away"].([]any)
	if len(away) != 1 || away[0].(object)["from"] != leave {
		t.Fatalf("%v", away)
	}
	for _, s := range plan["steps"].([]any) {
		s := s.(object)
		if at := s["start"].(float64); s["hand"] == 0.0 && s["done"] == false && at < away[0].(object)["to"].(float64) &&
			at+s["hands"].(float64) > leave {
			t.Errorf("%v while driving from %v", s, leave)
		}
		if s["hand"] == 0.0 && strings.Contains(flat(t, object{"for": s["for"]}), "Wren family") &&
			s["start"].(float64)+s["hands"].(float64) > leave {
			t.Errorf("for the Wren family at %v, but one leaves at %v", s["start"], leave)
		}
	}
	tin := find(t, maren.must(200, "GET", "/shelf?days=5", nil)["tins"], "day", "2026-09-05")
	if tin["away"].(float64) != max(0, 690-leave) {
		t.Errorf("%v min away in the tin; one leaves at %v", tin["away"], leave)
	}
	row := find(t, maren.must(200, "GET", "/orders", nil)["orders"], "customer", "Ana Quay")
	if !strings.Contains(row["leave"].(string), "2026-09-05T") {
		t.Errorf("%v", row)
	}
	if file := maren.send("GET", "/calendar.ics", nil).body; !strings.Contains(file, "SUMMARY:Drive: 3 stops") {
		t.Errorf("%s", file)
	}
	if pdf := maren.send("GET", "/drives/2026-09-05/sheet.pdf", nil); pdf.status != 200 ||
		!strings.HasPrefix(pdf.body, "%PDF-") {
		t.Errorf("%d", pdf.status)
	}

	// One's own order, the quay first: the reading room is missed, and it is told what would do.
	order := []string{quay}
	for _, d := range drops[:2] {
		order = append(order, d.(object)["order"].(string))
	}
	choices = hot["choices"].(object)
	choices["sequence"] = order
	own := maren.must(200, "PUT", "/drives/2026-09-05", choices, "If-Match", maren.tag("/drives/2026-09-05"))
	if dropNames(own["drives"].([]any)[0]) != "Ana Quay, Reading circle, Wren family" ||
		!strings.Contains(flat(t, own), "would be missed by") ||
		!strings.Contains(flat(t, own), "The suggested order is in time") {
		t.Errorf("%v", own)
	}
	// Somebody else has settled it meanwhile.
	a := maren.send("PUT", "/drives/2026-09-05", choices, "If-Match", `"1"`)
	if a.status != 412 {
		t.Errorf("%d %s", a.status, a.body)
	}
	choices["sequence"] = []string{}
	maren.must(200, "PUT", "/drives/2026-09-05", choices, "If-Match", maren.tag("/drives/2026-09-05"))

	// A window that moves: the plan is told to be of another time.
	moved := maren.must(200, "GET", "/orders/"+quay, nil)
	draft := moved["draft"].(object)
	draft["from"], draft["to"] = "2026-09-05T09:00:00-04:00", "2026-09-05T09:30:00-04:00"
	maren.must(200, "PUT", "/orders/"+quay, draft, "If-Match", maren.tag("/orders/"+quay))
	if day = maren.drives(t); day["stale"] != true {
		t.Errorf("not stale: %v", day["drives"])
	}
	// Out of the plan again.
	choices["planned"] = false
	maren.must(200, "PUT", "/drives/2026-09-05", choices, "If-Match", maren.tag("/drives/2026-09-05"))
	plan = maren.must(200, "GET", "/plan?from=2026-09-05&days=1", nil)["days"].([]any)[0].(object)
	if len(plan["away"].([]any)) != 0 {
		t.Errorf("%v", plan["away"])
	}
}

// At the doors: what is handed over is, what is not is packed still, and it can be taken back.
func TestAtTheDoors(t *testing.T) {
	t.Parallel()
	maren := open(t).maren(t)
	id := maren.delivery("Reading circle", "Reading room, Mill Street", "11:00", "11:30")
	drop := "/drives/2026-09-05/drops/" + id
	maren.problem(409, "", "cannot become", maren.send("PUT", drop, object{"outcome": "handed over"}))
	maren.must(200, "POST", "/orders/"+id+"/moves", object{"to": "in the making"})
	maren.must(200, "POST", "/orders/"+id+"/moves", object{"to": "packed"})
	state := func() string { return maren.must(200, "GET", "/orders/"+id, nil)["state"].(string) }
	for _, c := range []struct{ outcome, state string }{{"nobody there", "packed"}, {"in part", "handed over"},
		{"brought back", "packed"}, {"handed over", "handed over"}} {
		day := maren.must(200, "PUT", drop, object{"outcome": c.outcome, "note": "rang twice"})
		shown := find(t, day["drives"].([]any)[0].(object)["drops"], "order", id)
		if shown["outcome"] != c.outcome || shown["note"] != "rang twice" || state() != c.state {
			t.Errorf("%s: %v, %s", c.outcome, shown, state())
		}
	}
	// A part of it by count: what came back is told on the order, with its share of the price.
	line := maren.must(200, "GET", "/orders/"+id, nil)["draft"].(object)["lines"].([]any)[0].(object)
	count := int(line["count"].(float64))
	maren.problem(422, "body.given[0]", "up to the", maren.send("PUT", drop, object{"outcome": "in part",
		"given": []int{count + 1}}))
	maren.problem(422, "body.given", "all of it", maren.send("PUT", drop, object{"outcome": "in part",
		"given": []int{count}}))
	maren.problem(422, "body.given", "each of the 1", maren.send("PUT", drop, object{"outcome": "in part",
		"given": []int{1, 2}}))
	day := maren.must(200, "PUT", drop, object{"outcome": "in part", "given": []int{count - 3}})
	shown := find(t, day["drives"].([]any)[0].(object)["drops"], "order", id)
	if got := shown["lines"].([]any)[0].(object); got["given"] != float64(count-3) || got["count"] != float64(count) {
		t.Errorf("%v", got)
	}
	o := maren.must(200, "GET", "/orders/"+id, nil)
	door, agreed := o["door"].(object), o["agreed"].(object)["amount"].(string)
	whole, _ := strconv.ParseFloat(agreed, 64)
	back, _ := strconv.ParseFloat(door["worth"].(object)["amount"].(string), 64)
	if !strings.HasPrefix(door["back"].([]any)[0].(string), fmt.Sprintf("3 of %d ", count)) ||
		math.Abs(back-whole*3/float64(count)) > 0.006 {
		t.Errorf("%v of %s", door, agreed)
	}
	// In full there is nothing to count.
	maren.must(200, "PUT", drop, object{"outcome": "handed over", "given": []int{1}})
	if door := maren.must(200, "GET", "/orders/"+id, nil)["door"].(object); door["worth"] != nil {
		t.Errorf("%v", door)
	}
	maren.must(200, "DELETE", drop, nil)
	maren.must(200, "DELETE", drop, nil) // twice, as a phone does that did not hear the answer
	if state() != "packed" {
		t.Error(state())
	}
	maren.problem(422, "body.outcome", "", maren.send("PUT", drop, object{"outcome": "eaten"}))
	maren.problem(404, "", "order", maren.send("PUT", "/drives/2026-09-05/drops/0190a000-0000-7000-8000-000000000000",
		object{"outcome": "handed over"}))
}

// A new kitchen without an address, at a real place that no map has: it is asked where that is. Positions are pasted,
// minutes typed, and what nobody knows is an estimate that is called so.
func TestAnAddressOffTheMap(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren := h.maren(t)
	maren.delivery("Far away", "Somewhere else 7", "11:00", "11:30")
	maren.delivery("By the hour", "Nowhere at all", "13:00", "13:30")
	day := maren.drives(t)
	if unknown := day["unknown"].([]any); len(unknown) != 2 || unknown[0].(object)["address"] != "Somewhere else 7" {
		t.Fatalf("%v", unknown)
	}
	maren.problem(422, "body.at", "is not a position", maren.send("PUT", "/positions", object{
		"address": "Somewhere else 7", "at": "up the hill"}))
	maren.must(204, "PUT", "/positions", object{"address": "somewhere  ELSE 7", "at": "geo:46.3,-28.1"})
	maren.must(204, "PUT", "/positions", object{"address": "Nowhere at all", "minutes": 25})
	day = maren.drives(t)
	drive := day["drives"].([]any)[0].(object)
	if len(day["unknown"].([]any)) != 0 || !strings.Contains(flat(t, day), "estimates") {
		t.Errorf("%v", day)
	}
	drop := find(t, drive["drops"], "customer", "Far away")
	if drop["geo"] != "geo:46.3,-28.1" || drop["road"].(float64) < 40 { // 34 km as the crow flies
		t.Errorf("%v", drop)
	}
	if last := find(t, drive["drops"], "customer", "By the hour"); last["geo"] != nil {
		t.Errorf("%v", last)
	}
	// Minutes between two doors, typed, are what the drive reckons with, until they are forgotten.
	drops := drive["drops"].([]any)
	at := slices.IndexFunc(drops, func(d any) bool { return d.(object)["customer"] == "By the hour" })
	before, from := drops[at].(object)["road"].(float64), drops[at-1].(object)["address"]
	way := func(body object) object {
		body["address"] = "Nowhere at all"
		body["from"] = from
		maren.must(204, "PUT", "/positions", body)
		return find(t, maren.drives(t)["drives"].([]any)[0].(object)["drops"], "customer", "By the hour")
	}
	if typed := way(object{"minutes": 11}); typed["typed"] != float64(11) || typed["road"].(float64) < 11 ||
		typed["road"].(float64) > 20 || before < 25 {
		t.Errorf("%v", typed)
	}
	if again := way(object{"forget": true}); again["typed"] != nil || again["road"] != before {
		t.Errorf("%v", again)
	}
	if s := maren.must(200, "GET", "/drives/2026-09-05/search", nil); s["all"] != 0.0 { // nothing is sought just now
		t.Errorf("%v", s)
	}

	for _, c := range []string{"2026-02-30", "today"} {
		if a := maren.send("GET", "/drives/"+c, nil); a.status != 422 {
			t.Errorf("%s: %d", c, a.status)
		}
	}
	bo := h.stranger(t)
	if day := bo.must(200, "GET", "/drives/2026-09-05", nil); len(day["drives"].([]any)) != 0 ||
		len(day["unknown"].([]any)) != 0 {
		t.Errorf("%v", day)
	}
}

// Two doors 30 km apart at the same minute: the one that is missed is told, by how much, and what would do.
func TestTwoDoorsAtTheSameMinute(t *testing.T) {
	t.Parallel()
	maren := open(t).maren(t)
	maren.must(204, "PUT", "/positions", object{"address": "Far farm", "at": "46.0, -27.6"})
	maren.delivery("Far farm", "Far farm", "12:00", "12:10")
	day := maren.drives(t)
	told := flat(t, day)
	for _, says := range []string{"would be missed by", "It would do if somebody else drives to Far farm",
		"can wait until"} {
		if !strings.Contains(told, says) {
			t.Errorf("it does not say %q: %s", says, told)
		}
	}
}

// A position as people paste it.
func TestPositionsAreRead(t *testing.T) {
	for text, want := range map[string]roads.Position{"46.01, -28.02": {Lat: 46.01, Lon: -28.02},
		"geo:46.01,-28.02;u=35": {Lat: 46.01, Lon: -28.02}, " 46.5° 9.25° ": {Lat: 46.5, Lon: 9.25}} {
		if got, ok := roads.Read(text); !ok || got != want {
			t.Errorf("%q: %v", text, got)
		}
	}
	for _, text := range []string{"", "Mill Street 12", "91, 0", "46.01", "46, 181", "12 34 Mill Street"} {
		if got, ok := roads.Read(text); ok {
			t.Errorf("%q: %v", text, got)
		}
	}
	// RFC 5870, 3.4.2: the coordinates of WGS 84 in the order latitude, longitude.
	if got := (roads.Position{Lat: 48.2010, Lon: 16.3695}).Geo(); got != "geo:48.201,16.3695" {
		t.Error(got)
	}
	town := standin.Lakeside()
	for _, address := range []string{"3 Boathouse Lane, Lakeside", "Orchard barn, Hill Road", "Quay 3",
		"Boathouse, Pier Lane"} {
		if _, err := town.Find(t.Context(), address); err != nil {
			t.Errorf("%s: %v", address, err)
		}
	}
}

// flat is an answer as text, with its sentences.
func flat(t *testing.T, o object) string {
	t.Helper()
	text, err := json.Marshal(o)
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}

// opened is a new kitchen with its first treats, and an order of them that is delivered and promised.
func (p *person) opened(t *testing.T, place, from, to string) string {
	t.Helper()
	p.must(201, "POST", "/starter", p.answers(object{"paid": object{"Strawberries": object{"paid": "3.90"}}}))
	d := p.draft("Strawberries in dark chocolate", 6)
	d["way"], d["place"], d["from"], d["to"] = "delivery", place, from, to
	id := p.must(201, "POST", "/orders", d)["id"].(string)
	p.must(200, "POST", "/orders/"+id+"/moves", object{"to": "promised"})
	return id
}

// A new kitchen, alone, without an address, in another zone, with somebody who lives where no map is: one question after
// the other is answered, and there is a drive.
func TestTheFirstDriveOfANewKitchen(t *testing.T) {
	t.Parallel()
	bo := open(t).stranger(t)
	id := bo.opened(t, "Hinterhof 3, 4. Stock", "2026-09-12T16:00:00+02:00", "2026-09-12T16:30:00+02:00")
	at := "/drives/2026-09-12"
	day := bo.must(200, "GET", at, nil)
	unknown := day["unknown"].([]any)
	if len(unknown) != 2 || unknown[0].(object)["address"] != "" || unknown[0].(object)["order"] != nil ||
		unknown[1].(object)["order"] != id || len(day["drives"].([]any)) != 0 {
		t.Fatalf("%v", day)
	}
	// How long one drives there is enough: nothing else needs to be known.
	bo.must(204, "PUT", "/positions", object{"address": "Hinterhof 3, 4. Stock", "minutes": 20})
	day = bo.must(200, "GET", at, nil)
	drive := day["drives"].([]any)[0].(object)
	drop := drive["drops"].([]any)[0].(object)
	if drop["road"].(float64) < 20 || drop["geo"] != nil || len(drive["ways"].([]any)) != 0 || drive["late"] != 0.0 {
		t.Errorf("%v", drive)
	}
	// 16:00 lies in the rush: a pace of 0.75 makes 27 minutes of 20.
	if leave := drive["leave"].(float64); leave < 15*60+20 || leave > 16*60+5 {
		t.Errorf("leave at %v", leave)
	}
	// Positions are better: home and the door, 3 km apart.
	bo.must(204, "PUT", "/positions", object{"address": "home", "at": "48.20, 16.37"})
	bo.must(204, "PUT", "/positions", object{"address": "hinterhof 3 4. stock", "at": "48.22, 16.40"})
	drop = bo.must(200, "GET", at, nil)["drives"].([]any)[0].(object)["drops"].([]any)[0].(object)
	if drop["geo"] != "geo:48.22,16.4" {
		t.Errorf("%v", drop)
	}
	// Who drives cannot be somebody who does not work: nothing is taken from the plan, and nothing fails.
	choices := day["choices"].(object)
	choices["planned"], choices["hand"] = true, 4
	bo.must(200, "PUT", at, choices, "If-Match", "*")
	for _, nonsense := range []object{{"hand": 9}, {"warmest": 400}, {"leaves": object{id: 1440}},
		{"doors": object{id: 500}},
		{"leaves": object{"nobody": 5}}, {"sequence": []string{"x"}}} {
		if a := bo.send("PUT", at, with(choices, nonsense), "If-Match", "*"); a.status != 422 {
			t.Errorf("%v: %d %s", nonsense, a.status, a.body)
		}
	}
	// Orders that are not of the day, or not there, are passed over.
	choices["sequence"] = []string{"0190a000-0000-7000-8000-000000000000", id}
	choices["leaves"] = object{"0190a000-0000-7000-8000-000000000000": 60, id: 15*60 + 10}
	own := bo.must(200, "PUT", at, choices, "If-Match", "*")["drives"].([]any)[0].(object)
	if own["leave"] != 15.0*60+10 {
		t.Errorf("%v", own)
	}
}

// On the Sunday on which the clocks go back there are 25 hours: a window at five in the afternoon is one, and one leaves
// before it.
func TestADriveOnTheDayOfTheClocks(t *testing.T) {
	t.Parallel()
	maren := open(t).maren(t)
	d := maren.draft("Milk malt bombs", 3)
	d["customer"], d["way"], d["place"] = "Clock maker", "delivery", "Station Road 20"
	d["from"], d["to"] = "2026-11-01T17:00:00-05:00", "2026-11-01T17:30:00-05:00"
	id := maren.must(201, "POST", "/orders", d)["id"].(string)
	maren.must(200, "POST", "/orders/"+id+"/moves", object{"to": "promised"})
	day := maren.must(200, "GET", "/drives/2026-11-01", nil)
	drop := day["drives"].([]any)[0].(object)["drops"].([]any)[0].(object)
	if drop["from"] != 17.0*60 || drop["to"] != 17.5*60 || drop["arrive"].(float64) < 16*60 ||
		drop["arrive"].(float64) > 17.5*60 {
		t.Errorf("%v", drop)
	}
	choices := day["choices"].(object)
	choices["planned"] = true
	day = maren.must(200, "PUT", "/drives/2026-11-01", choices, "If-Match", "*")
	leave := day["drives"].([]any)[0].(object)["leave"].(float64)
	row := find(t, maren.must(200, "GET", "/orders?which=all&limit=100", nil)["orders"], "customer", "Clock maker")
	at, err := time.Parse(time.RFC3339, row["leave"].(string))
	if err != nil || float64(at.UTC().Hour()*60+at.UTC().Minute()-5*60) != leave {
		t.Errorf("it leaves at %v by the clock, at %v in the world", leave, at.UTC())
	}
}

// A drive is of its day: when the order moves to another, it goes along, and the plan is told so.
func TestADropMovesToAnotherDay(t *testing.T) {
	t.Parallel()
	maren := open(t).maren(t)
	id := maren.delivery("Reading circle", "Reading room, Mill Street", "11:00", "11:30")
	choices := maren.drives(t)["choices"].(object)
	choices["planned"] = true
	maren.must(200, "PUT", "/drives/2026-09-05", choices, "If-Match", "*")
	draft := maren.must(200, "GET", "/orders/"+id, nil)["draft"].(object)
	draft["from"], draft["to"] = "2026-09-06T11:00:00-04:00", "2026-09-06T11:30:00-04:00"
	maren.must(200, "PUT", "/orders/"+id, draft, "If-Match", maren.tag("/orders/"+id))
	if day := maren.drives(t); strings.Contains(flat(t, day), "Reading circle") || day["stale"] != true {
		t.Errorf("%v", day)
	}
	if day := maren.must(200, "GET", "/drives/2026-09-06", nil); dropNames(day["drives"].([]any)[0]) != "Reading circle" {
		t.Errorf("%v", day)
	}
	row := find(t, maren.must(200, "GET", "/orders?limit=100", nil)["orders"], "customer", "Reading circle")
	if row["leave"] != nil {
		t.Errorf("an order of Sunday leaves at %v", row["leave"])
	}
	// Put in again it is as it should be.
	choices = maren.drives(t)["choices"].(object)
	day := maren.must(200, "PUT", "/drives/2026-09-05", choices, "If-Match", "*")
	if day["stale"] != false {
		t.Errorf("%v", day)
	}
}
