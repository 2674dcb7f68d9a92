package app_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
)

// bombs are an order of Cardamom-malt bombs that is promised: a treat that no other order of the demo has promised.
func (p *person) bombs(customer string, count int) (id any) {
	p.t.Helper()
	o := p.must(201, "POST", "/orders", with(p.draft("Cardamom-malt bombs", count), object{"customer": customer}))
	p.move(200, o["id"], "promised")
	return o["id"]
}

// day is the one batch of an order.
func (p *person) day(id any) object {
	p.t.Helper()
	days := p.order(id)["days"].([]any)
	if len(days) != 1 {
		p.t.Fatalf("%d batches: %v", len(days), days)
	}
	return days[0].(object)
}

// steps of a batch in the plan.
func (p *person) steps(batch any) (list []object) {
	p.t.Helper()
	for _, d := range p.must(200, "GET", "/plan?days=28", nil)["days"].([]any) {
		for _, s := range d.(object)["steps"].([]any) {
			if s.(object)["batch"] == batch {
				list = append(list, s.(object))
			}
		}
	}
	return list
}

func (p *person) tick(batch any, step any, done bool) {
	p.t.Helper()
	p.must(200, "PUT", fmt.Sprint("/batches/", batch, "/steps/", step), object{"done": done})
}

// Two orders of the same treat are one batch: it is shown before it is promised, and stands so in the plan, on the
// shelf, on the run sheet and in the calendar. What one of them needs is made when it leaves, and when it changes.
func TestOrdersAreMadeTogether(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	ada := p.bombs("Ada Quill", 12)
	batch, alone := p.day(ada)["batch"], len(p.steps(p.day(ada)["batch"]))
	events := func() (ids []string, told string) {
		cal, err := ics.ParseCalendar(strings.NewReader(p.send("GET", "/calendar.ics", nil).body))
		if err != nil {
			t.Fatal(err)
		}
		for _, e := range cal.Events() {
			if e.GetProperty(ics.ComponentPropertySummary).Value == "Make 36 Cardamom-malt bombs" {
				told = e.GetProperty(ics.ComponentPropertyDescription).Value
			}
			if strings.Contains(e.GetProperty(ics.ComponentPropertySummary).Value, "Cardamom-malt bombs") {
				ids = append(ids, e.Id())
			}
		}
		return ids, told
	}
	before, _ := events()

	bo := p.must(201, "POST", "/orders", with(p.draft("Cardamom-malt bombs", 24), object{"customer": "Bo Ray"}))
	when := p.must(200, "POST", "/estimates", object{"draft": bo["draft"]})["when"].(object)
	shown := when["batches"].([]any)[0].(object)
	if shown["lot"] != batch || shown["all"] != 36.0 || shown["count"] != 24.0 ||
		fmt.Sprint(shown["with"]) != "[Ada Quill]" || !strings.Contains(when["text"].(string),
		", together with 12 for Ada Quill") {
		t.Fatalf("%v", when)
	}
	p.move(200, bo["id"], "promised")
	one, two := p.day(ada), p.day(bo["id"])
	if one["batch"] != batch || two["batch"] != batch || one["count"] != 12.0 || two["count"] != 24.0 ||
		one["all"] != 36.0 || fmt.Sprint(one["with"], two["with"]) != "[Bo Ray] [Ada Quill]" ||
		fmt.Sprint(two["days"]) != fmt.Sprint(one["days"]) || two["day"] != shown["day"] {
		t.Errorf("%v and %v", one, two)
	}
	h.sound(t, now)
	together := p.steps(batch)
	if len(together) <= alone || whom(together[0]) != "Ada Quill and Bo Ray" || together[0]["count"] != 36.0 {
		t.Errorf("%d steps, alone %d: %v", len(together), alone, together[0])
	}
	tin := find(t, p.must(200, "GET", "/shelf", nil)["tins"], "day", one["day"])
	if work := find(t, tin["work"], "batch", batch); whom(work) != "Ada Quill and Bo Ray" || work["count"] != 36.0 {
		t.Errorf("on the shelf: %v", work)
	}
	sheet := find(t, p.must(200, "GET", fmt.Sprint("/days/", one["day"], "/run-sheet"), nil)["steps"], "batch", batch)
	if list := sheet["for"].([]any); len(list) != 2 || list[0].(object)["count"] != 12.0 ||
		list[1].(object)["count"] != 24.0 {
		t.Errorf("on the run sheet: %v", sheet)
	}
	if after, told := events(); !slices.Contains(after, before[0]) ||
		!strings.HasPrefix(told, "For Ada Quill and Bo Ray.") {
		t.Errorf("in the calendar: %v, before %v: %q", after, before, told)
	}

	// Changed to 26 it is a batch of 38; with another treat, the first is alone again; back, they are together.
	changed := func(draft object) {
		t.Helper()
		path := fmt.Sprint("/orders/", bo["id"])
		p.must(200, "PUT", path, draft, "If-Match", p.tag(path))
		h.sound(t, now)
	}
	draft := bo["draft"].(object)
	changed(with(draft, object{"lines": []object{{"treat": p.treat("Cardamom-malt bombs"), "count": 26}}}))
	if one, two := p.day(ada), p.day(bo["id"]); one["batch"] != two["batch"] || one["all"] != 38.0 ||
		two["count"] != 26.0 {
		t.Errorf("%v and %v", one, two)
	}
	changed(with(draft, object{"lines": []object{{"treat": p.treat("Brown-butter walnut fudge"), "count": 24}}}))
	if one := p.day(ada); one["batch"] != batch || one["all"] != 12.0 || len(p.steps(batch)) != alone ||
		len(one["with"].([]any)) != 0 || one["short"] != false {
		t.Errorf("%v of %d steps, before %d", one, len(p.steps(batch)), alone)
	}
	changed(draft)
	if p.day(bo["id"])["batch"] != batch {
		t.Error("they are not made together again")
	}
	// The one who was first can leave too.
	p.move(200, ada, "quoted")
	h.sound(t, now)
	if two := p.day(bo["id"]); two["batch"] != batch || two["all"] != 24.0 || two["short"] != false ||
		whom(p.steps(batch)[0]) != "Bo Ray" {
		t.Errorf("%v", two)
	}
	p.move(200, ada, "promised")
	if p.day(ada)["batch"] != batch || p.day(ada)["all"] != 36.0 {
		t.Errorf("%v", p.day(ada))
	}
	p.move(200, bo["id"], "cancelled")
	if one := p.day(ada); one["all"] != 12.0 || len(p.order(bo["id"])["days"].([]any)) != 0 {
		t.Errorf("%v", one)
	}
	h.sound(t, now)
}

// A tick is a tick for all: both orders are in the making, what both take leaves the larder when the last step is done,
// each for its own order, and comes back with the tick.
func TestALotIsMadeForAll(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	ada, bo := p.bombs("Ada Quill", 12), p.bombs("Bo Ray", 24)
	batch := p.day(ada)["batch"]
	uses := func(id any, item string) (used float64) {
		o := p.order(id)
		return amount(find(t, p.must(200, "POST", "/estimates", object{"order": id, "draft": o["draft"]})["needs"],
			"name", item)["used"])
	}
	dark := func() float64 { return amount(p.item("Dark 60%")["stock"]) }
	want, before := uses(ada, "Dark 60%")+uses(bo, "Dark 60%"), dark()
	steps := p.steps(batch)
	p.tick(batch, steps[0]["step"], true)
	for _, id := range []any{ada, bo} {
		if o := p.order(id); o["state"] != "in the making" || o["days"].([]any)[0].(object)["done"] != 1.0 {
			t.Errorf("after the first tick %v is %v: %v", o["number"], o["state"], o["days"])
		}
		p.move(409, id, "promised")
	}
	if got := p.must(200, "POST", "/estimates", object{"draft": with(p.draft("Cardamom-malt bombs", 6), nil)})["when"].(object)["batches"].([]any)[0].(object); got["lot"] != nil {
		t.Errorf("more is made with what has begun: %v", got)
	}
	for _, s := range steps[1:] {
		p.tick(batch, s["step"], true)
	}
	if got := before - dark(); math.Abs(got-want) > 0.01 {
		t.Errorf("%v g of dark were taken, the two orders use %v", got, want)
	}
	p.tick(batch, steps[0]["step"], false)
	if math.Abs(dark()-before) > 0.01 {
		t.Errorf("%v g of dark are back, there were %v", dark(), before)
	}
	p.tick(batch, steps[0]["step"], true)

	// Packing one says that both are made; what came out is shared by their pieces in the till.
	p.tick(batch, steps[len(steps)-1]["step"], false)
	p.move(200, ada, "packed")
	if d := p.day(bo); d["done"] != d["steps"] {
		t.Errorf("what is made in one go is made: %v", d)
	}
	p.problem(409, "", "packed: its steps cannot be ticked", p.send("PUT", fmt.Sprint("/batches/", batch, "/steps/", steps[0]["step"]), object{"done": false}))
	p.must(200, "PUT", fmt.Sprint("/batches/", batch, "/result"), object{"good": 38, "minutes": 121})
	real := func() (pieces, batches, minutes float64) {
		sum := find(t, p.must(200, "GET", "/till", nil)["treats"], "name", "Cardamom-malt bombs")
		batches, _ = sum["real"].(object)["batches"].(float64) // nothing where nothing is recorded
		minutes, _ = sum["real"].(object)["minutes"].(float64)
		return sum["pieces"].(float64), batches, minutes
	}
	had, hadBatches, hadMinutes := real()
	p.move(200, ada, "handed over")
	if pieces, batches, minutes := real(); pieces != had+12 || batches != hadBatches+1 || minutes != hadMinutes+40 { // a third of 121, whole minutes
		t.Errorf("of one order: %v pieces, %v batches, %v minutes after %v, %v, %v", pieces, batches, minutes, had, hadBatches, hadMinutes)
	}
	for _, to := range []string{"packed", "handed over"} {
		p.move(200, bo, to)
	}
	if pieces, batches, minutes := real(); pieces != had+36 || batches != hadBatches+1 || minutes != hadMinutes+121 {
		t.Errorf("of both: %v pieces, %v batches, %v minutes after %v, %v, %v", pieces, batches, minutes, had, hadBatches, hadMinutes)
	}
}

// What has begun for two is made for the other one, as it was begun, when one is cancelled; when both are, what is
// still to be done falls away.
func TestALotThatIsCancelled(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	ada, bo := p.bombs("Ada Quill", 12), p.bombs("Bo Ray", 24)
	batch := p.day(ada)["batch"]
	steps := p.steps(batch)
	p.tick(batch, steps[0]["step"], true)
	p.move(200, ada, "cancelled")
	if left := p.steps(batch); len(left) != len(steps) || whom(left[0]) != "Bo Ray" || left[0]["count"] != 36.0 {
		t.Errorf("%d of %d steps: %v", len(left), len(steps), left)
	}
	if d := p.day(ada); d["done"] != 1.0 || d["steps"] != 1.0 {
		t.Errorf("of the one that is cancelled what was done is told: %v", d)
	}
	if d := p.day(bo); d["steps"] != float64(len(steps)) || len(d["with"].([]any)) != 0 {
		t.Errorf("%v", d)
	}
	settle := object{"kind": "settle"} // a tick long before its time does not do that by itself
	p.must(200, "POST", "/plan/changes", settle)
	h.sound(t, now)
	p.move(200, ada, "enquiry")
	if days := p.order(ada)["days"].([]any); len(days) != 0 {
		t.Errorf("it begins anew with %v", days)
	}
	p.move(200, bo, "cancelled")
	if d := p.day(bo); d["done"] != 1.0 || d["steps"] != 1.0 {
		t.Errorf("%v", d)
	}
	p.must(200, "POST", "/plan/changes", settle)
	h.sound(t, now)
}

// Whatever is promised, changed, taken back and cancelled in whichever order, on days that are marked off and come
// back, with changes of the plan undone: the plan that stands is valid, every batch is as large as what is taken of it,
// and every promised line is made.
func TestLotsAtRandom(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	rng := rand.New(rand.NewPCG(6, 7))
	treats := []string{"Nougat cubes", "Cardamom-malt bombs", "Bergamot truffles", "Pistachio milk bark", "Strawberries with white lines", "Brown-butter walnut fudge"}
	drafted := func() object {
		from := now.AddDate(0, 0, 2+rng.IntN(12)).Add(time.Duration(rng.IntN(8)) * time.Hour)
		lines := []object{}
		for _, n := range rng.Perm(len(treats))[:1+rng.IntN(2)] {
			lines = append(lines, object{"treat": p.treat(treats[n]), "count": 6 + 6*rng.IntN(6)})
		}
		return object{"customer": fmt.Sprint("Customer ", rng.IntN(9)), "way": "pickup", "place": "at the door", "from": from, "to": from.Add(time.Hour), "lines": lines, "freeFrom": []string{}}
	}
	var ids []any
	var off []string
	lots := 0
	for range 20 {
		var did string
		switch n := rng.IntN(8); {
		case n < 3 || len(ids) == 0:
			id := p.must(201, "POST", "/orders", drafted())["id"]
			ids = append(ids, id)
			did = fmt.Sprint("promised: ", p.send("POST", fmt.Sprint("/orders/", id, "/moves"), object{"to": "promised"}).status)
		case n == 3:
			path := fmt.Sprint("/orders/", ids[rng.IntN(len(ids))])
			did = fmt.Sprint("changed: ", p.send("PUT", path, drafted(), "If-Match", p.tag(path)).status)
		case n == 4:
			day := now.AddDate(0, 0, rng.IntN(12)).Format(time.DateOnly)
			kind := "off"
			if slices.Contains(off, day) {
				kind = "usual"
			}
			did = fmt.Sprint(kind, " ", day)
			made := p.must(200, "POST", "/plan/changes", object{"kind": kind, "day": day})
			if rng.IntN(3) == 0 {
				p.must(200, "POST", fmt.Sprint("/plan/changes/", made["change"], "/undo"), nil)
				did += ", undone"
			} else if n := slices.Index(off, day); n >= 0 {
				off = slices.Delete(off, n, n+1)
			} else {
				off = append(off, day)
			}
		default:
			id, to := ids[rng.IntN(len(ids))], []string{"quoted", "promised", "cancelled"}[rng.IntN(3)]
			did = fmt.Sprint(to, ": ", p.send("POST", fmt.Sprint("/orders/", id, "/moves"), object{"to": to}).status)
		}
		if strings.HasSuffix(did, ": 500") || strings.HasSuffix(did, ": 422") {
			t.Fatal(did)
		}
		short := len(p.must(200, "GET", "/plan?days=28", nil)["short"].([]any)) > 0
		if !short { // what has no room stands where it stood
			h.sound(t, now)
		}
		made, taken := map[any]float64{}, map[any]float64{}
		for _, id := range ids {
			o := p.order(id)
			if o["state"] != "promised" {
				continue
			}
			lines := map[any]float64{}
			for _, d := range o["days"].([]any) {
				day := d.(object)
				lines[day["line"]] += day["count"].(float64)
				made[day["batch"]], taken[day["batch"]] = day["all"].(float64), taken[day["batch"]]+day["count"].(float64)
				if len(day["with"].([]any)) > 0 {
					lots++
				}
				if day["short"] == true && len(off) == 0 {
					t.Errorf("%s: %v has no room", did, day)
				}
			}
			for i, l := range o["draft"].(object)["lines"].([]any) {
				if lines[float64(i)] != l.(object)["count"] {
					t.Errorf("%s: of %v %v are made", did, l, lines[float64(i)])
				}
			}
		}
		for batch, n := range taken {
			for _, s := range p.steps(batch)[:1] {
				for _, x := range s["for"].([]any) {
					if !slices.ContainsFunc(ids, func(id any) bool { return id == x.(object)["order"] }) { // one that the demo has promised
						n += x.(object)["count"].(float64)
					}
				}
			}
			if n != made[batch] {
				t.Errorf("%s: a batch of %v, of which %v are taken", did, made[batch], n)
			}
		}
		if t.Failed() {
			t.FailNow()
		}
	}
	if lots < 5 {
		t.Errorf("only %d times something was made together", lots)
	}
}

// Where a lot has no room any more, what one of its orders needs may have some: it is made for each alone then. Undone
// they are together; and planned anew they are so again when there is time.
func TestALotFallsApart(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	// Berries keep a day, and on the day before nobody works: Wednesday's evening from half past five to half past nine
	// is what there is.
	berries := func(customer string, count int) any {
		o := p.must(201, "POST", "/orders", with(p.draft("Strawberries with white lines", count), object{"customer": customer, "from": "2026-09-17T01:30:00Z", "to": "2026-09-17T02:00:00Z"}))
		p.move(200, o["id"], "promised")
		return o["id"]
	}
	ada, bo := berries("Ada Quill", 24), berries("Bo Ray", 60)
	batch := p.day(ada)["batch"]
	if p.day(bo)["batch"] != batch || p.day(bo)["all"] != 84.0 {
		t.Fatalf("they are not made together: %v", p.day(bo))
	}
	together := fmt.Sprint(p.steps(batch))
	shorter := object{"kind": "hours", "day": "2026-09-16", "from": "17:30", "to": "19:40", "hands": 1}
	out := p.must(200, "POST", "/plan/changes", shorter)
	if fmt.Sprint(out["otherwise"]) != "[Strawberries with white lines for Ada Quill and Bo Ray are separate batches now: together they no longer fit.]" || len(out["lost"].([]any)) != 1 || !strings.HasPrefix(out["lost"].([]any)[0].(string), "Bo Ray: ") {
		t.Fatalf("%v", out)
	}
	one, two := p.day(ada), p.day(bo)
	if one["batch"] == two["batch"] || one["all"] != 24.0 || two["all"] != 60.0 || one["short"] != false || two["short"] != true {
		t.Errorf("%v and %v", one, two)
	}
	// A new version of the application has come meanwhile, and its tables have columns that those of before had not:
	// what is undone is made again, not put back as it was dumped.
	for _, table := range []string{"batches", "batch_shares", "batch_needs", "batch_steps"} {
		h.own(t, `alter table `+table+` add column of_a_later_version text not null default 'later'`)
	}
	p.must(200, "POST", fmt.Sprint("/plan/changes/", out["change"], "/undo"), nil)
	if p.day(ada)["batch"] != batch || p.day(bo)["batch"] != batch || fmt.Sprint(p.steps(batch)) != together {
		t.Errorf("undone they are %v and %v, of\n%v\nbefore\n%s", p.day(ada), p.day(bo), p.steps(batch), together)
	}
	h.sound(t, now)

	p.must(200, "POST", "/plan/changes", shorter)
	back := p.must(200, "POST", "/plan/changes", object{"kind": "usual", "day": "2026-09-16"})
	if gained := fmt.Sprint(back["gained"]); !strings.Contains(gained, "for Bo Ray") || p.day(ada)["batch"] == p.day(bo)["batch"] {
		t.Errorf("%s", gained)
	}
	apart := p.steps(p.day(ada)["batch"])
	h.work(t)
	run := p.must(200, "POST", "/plan/runs", nil)
	path := fmt.Sprint("/plan/runs/", run["id"])
	for range 300 {
		if run = p.must(200, "GET", path, nil); run["state"] != "running" {
			break
		}
		time.Sleep(100 * time.Millisecond)
	}
	if says := run["says"].(string); run["state"] != "ready" || !strings.Contains(says, "Strawberries with white lines for Ada Quill and Bo Ray are one combined batch now.") {
		t.Fatalf("%v", run)
	}
	taken := p.must(200, "POST", path+"/take", nil)
	if p.day(ada)["batch"] != p.day(bo)["batch"] || p.day(ada)["all"] != 84.0 || !strings.Contains(fmt.Sprint(taken["otherwise"]), "one combined batch") || len(taken["lost"].([]any)) != 0 {
		t.Errorf("%v: %v and %v", taken, p.day(ada), p.day(bo))
	}
	h.sound(t, now)
	// What both take is still known, each for its own order.
	if need := p.must(200, "POST", "/estimates", object{"order": bo, "draft": p.order(bo)["draft"]}); need["when"].(object)["fits"] != true {
		t.Errorf("%v", need["when"])
	}
	// What has begun in one go cannot be taken apart by an undo: the tick would be lost.
	lot := p.day(ada)["batch"]
	p.tick(lot, "wash", true)
	p.problem(409, "", "has started since", p.send("POST", fmt.Sprint("/plan/changes/", taken["change"], "/undo"), nil))
	p.tick(lot, "wash", false)
	p.must(200, "POST", fmt.Sprint("/plan/changes/", taken["change"], "/undo"), nil)
	if again := p.steps(p.day(ada)["batch"]); p.day(ada)["all"] != 24.0 || fmt.Sprint(again) != fmt.Sprint(apart) {
		t.Errorf("undone: %v, before %v", again, apart)
	}
	h.sound(t, now)
}
