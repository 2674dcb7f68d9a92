package app_test

import (
	"fmt"
	"strings"
	"testing"
	"time"
)

// helps of today.
func (p *person) helps(day string) (list []object) {
	p.t.Helper()
	for _, h := range p.must(200, "GET", "/days/"+day+"/helps", nil)["helps"].([]any) {
		list = append(list, h.(object))
	}
	return list
}

// In the evening before they are fetched, bombs have not been begun: two or three things that would help are told, each
// as it was tried; what is taken does what was told, and what is undone is as before.
func TestWhatHelpsWhenItIsLate(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	o := p.must(201, "POST", "/orders", with(p.draft("Milk malt bombs", 12), object{"customer": "Late Lou",
		"from": "2026-09-09T16:00:00Z", "to": "2026-09-09T17:00:00Z"}))
	p.move(200, o["id"], "promised")
	shells, _ := p.stepOf("Late Lou", "bombs", "shells-1")
	p.must(200, "POST", "/plan/changes", object{"kind": "pin", "batch": shells["batch"], "step": "shells-1",
		"day": "2026-09-08", "start": 17*60 + 55, "hand": 0})
	night := h.later(t, time.Date(2026, 9, 9, 0, 45, 0, 0, time.UTC)) // 20:45 in the kitchen
	before := night.must(200, "GET", "/days/2026-09-08/run-sheet", nil)
	list := night.helps("2026-09-08")
	if len(list) < 2 || len(list) > 3 {
		t.Fatalf("%d helps: %v", len(list), list)
	}
	if again := night.must(200, "GET", "/days/2026-09-08/run-sheet", nil); fmt.Sprint(again) != fmt.Sprint(before) {
		t.Error("what was tried was kept")
	}
	kept := 0
	for i, x := range list {
		if x["text"] == "" || len(x["effect"].([]any)) == 0 || i > 0 && x["kept"] == true && list[i-1]["kept"] != true {
			t.Errorf("%v", x)
		}
		if x["kept"] != true {
			continue
		}
		kept++
		done := night.must(200, "POST", "/plan/changes", x["change"])
		if len(done["lost"].([]any)) != 0 {
			t.Errorf("%v was to keep all, and lost %v", x["text"], done["lost"])
		}
		night.must(200, "POST", fmt.Sprint("/plan/changes/", done["change"], "/undo"), nil)
	}
	if kept == 0 {
		t.Errorf("nothing keeps the handover: %v", list)
	}
	if len(night.helps("2026-09-10")) != 0 {
		t.Error("another day is helped")
	}
}

// Lines on top can be left out: the bowl is not melted for them any more, and undone, it is. Anything else cannot.
func TestLinesAreLeftOut(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	order := p.bombs("Ada Quill", 12)
	batch, steps := p.stepsOf(order)
	lines, other := "", ""
	for _, s := range steps {
		if strings.Contains(s["name"].(string), "Lines") {
			lines = s["step"].(string)
		} else if other == "" {
			other = s["step"].(string)
		}
	}
	_, day := p.stepOf("Ada Quill", "bombs", lines)
	// What is melted of the white for the day's lines.
	want := func() int {
		melts := 0
		for _, s := range p.must(200, "GET", "/days/"+day+"/run-sheet", nil)["sessions"].([]any) {
			for _, x := range s.(object)["setups"].([]any) {
				if strings.Contains(fmt.Sprint(x.(object)["pot"]), "White") {
					melts++
				}
			}
		}
		return melts
	}
	before := want()
	p.problem(409, "", "cannot", p.send("POST", "/plan/changes", object{"kind": "skip", "batch": batch, "step": other}))
	done := p.must(200, "POST", "/plan/changes", object{"kind": "skip", "batch": batch, "step": lines})
	if !strings.Contains(done["says"].(string), "left out") {
		t.Errorf("%v", done["says"])
	}
	if now := want(); before == 0 || now >= before {
		t.Errorf("%d bowls of white are melted, %d before", now, before)
	}
	h.sound(t, h.clock())
	p.must(200, "POST", fmt.Sprint("/plan/changes/", done["change"], "/undo"), nil)
	if now := want(); now != before {
		t.Errorf("undone: %v, before %v", now, before)
	}
}

// A handover is put off, and undone it is as it was asked for.
func TestAHandoverIsPutOff(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	id := p.bombs("Ada Quill", 12)
	from := func() string { return p.order(id)["draft"].(object)["from"].(string) }
	before := from()
	done := p.must(200, "POST", "/plan/changes", object{"kind": "later", "order": id, "minutes": 30})
	was, _ := time.Parse(time.RFC3339, before)
	if now, _ := time.Parse(time.RFC3339, from()); !now.Equal(was.Add(30 * time.Minute)) {
		t.Errorf("%v, was %v", now, was)
	}
	p.must(200, "POST", fmt.Sprint("/plan/changes/", done["change"], "/undo"), nil)
	if from() != before {
		t.Errorf("undone: %v, before %v", from(), before)
	}
	p.problem(409, "", "how many minutes", p.send("POST", "/plan/changes", object{"kind": "later", "order": id}))
}
