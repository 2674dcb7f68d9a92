package app_test

import (
	"fmt"
	"testing"
	"time"

	"zestytin/internal/platform/db"
)

// aStep of Saturday's run sheet: its path.
func (p *person) aStep() string {
	p.t.Helper()
	s := p.sheetSteps("2026-09-05")[0]
	return fmt.Sprintf("/batches/%s/steps/%s", s["batch"], s["step"])
}

// sheetSteps of a day's run sheet.
func (p *person) sheetSteps(day string) []object {
	p.t.Helper()
	var list []object
	for _, s := range p.must(200, "GET", "/days/"+day+"/run-sheet", nil)["steps"].([]any) {
		list = append(list, s.(object))
	}
	return list
}

func (p *person) timers() []any {
	p.t.Helper()
	return p.must(200, "GET", "/timers", nil)["timers"].([]any)
}

// A tick of a step after which something waits sets a timer that everybody sees: what waits where, until when, and on
// which device it rings; told later, it began when it was ticked. Taken back, it is gone; a timer of one's own is set
// once however often it is sent, and stopped by anybody.
func TestTimersAreEverybodys(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren, again := h.maren(t), h.maren(t)
	var waits object
	for _, s := range maren.sheetSteps("2026-09-05") {
		if s["wait"].(float64) > 0 {
			waits = s
			break
		}
	}
	at := fmt.Sprintf("/batches/%s/steps/%s", waits["batch"], waits["step"])
	done := h.clock().Add(-4 * time.Minute)
	maren.must(200, "PUT", at, object{"done": true, "at": done, "device": "tablet"})
	list := again.timers()
	if len(list) != 1 {
		t.Fatalf("%d timers: %v", len(list), list)
	}
	got := list[0].(object)
	ends, _ := time.Parse(time.RFC3339, got["ends"].(string))
	if want := done.Add(time.Duration(waits["wait"].(float64)) * time.Minute); !ends.Equal(want) ||
		got["name"] != waits["name"].(string)+", "+waits["treat"].(string) || got["place"] != waits["spot"] ||
		got["device"] != "tablet" || got["who"] != "Maren Halloway" {
		t.Errorf("%v, of %v", got, waits)
	}
	again.must(200, "PUT", at, object{"done": false})
	if list := maren.timers(); len(list) != 0 {
		t.Errorf("taken back: %v", list)
	}
	id := db.NewID()
	for range 2 {
		maren.must(204, "POST", "/timers", object{"id": id, "name": "Cherries drain", "seconds": 600, "device": "tablet"})
	}
	if list := again.timers(); len(list) != 1 {
		t.Errorf("sent twice: %v", list)
	}
	again.must(204, "DELETE", "/timers/"+id.String(), nil)
	again.must(204, "DELETE", "/timers/"+id.String(), nil)
	if list := maren.timers(); len(list) != 0 {
		t.Errorf("stopped: %v", list)
	}
	maren.problem(422, "body.at", "clock", maren.send("POST", "/timers", object{"id": db.NewID(), "name": "x", "seconds": 1,
		"device": "a", "at": h.clock().Add(time.Hour)}))
}

// A tick that arrives late, of a step that somebody has taken back since, is told and not taken; one that nobody has
// touched since is, with the time at which it was done; and the same twice is once.
func TestALateTick(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren, bo := h.maren(t), h.maren(t)
	at := maren.aStep()
	early := h.clock().Add(-10 * time.Minute)
	for range 2 {
		s := maren.must(200, "PUT", at, object{"done": true, "at": early})
		if done, _ := time.Parse(time.RFC3339, s["doneAt"].(string)); !done.Equal(early) {
			t.Errorf("done at %v", s["doneAt"])
		}
	}
	bo.must(200, "PUT", at, object{"done": false})
	maren.problem(409, "", "took this tick back at", maren.send("PUT", at,
		object{"done": true, "at": early.Add(time.Minute)}))
	if s := maren.sheetSteps("2026-09-05")[0]; s["doneAt"] != nil {
		t.Error("it is ticked all the same")
	}
	bo.must(200, "PUT", at, object{"done": true})
	maren.problem(409, "", "ticked this step at", maren.send("PUT", at,
		object{"done": false, "at": early.Add(2 * time.Minute)}))
	maren.problem(422, "body.at", "48 hours", maren.send("PUT", at,
		object{"done": false, "at": h.clock().Add(-50 * time.Hour)}))
}

// A note at a step is on everybody's run sheet, and can be taken back.
func TestNotesAtAStep(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren, bo := h.maren(t), h.maren(t)
	id := db.NewID()
	for range 2 {
		maren.must(204, "POST", maren.aStep()+"/notes", object{"id": id, "text": "Two were soft"})
	}
	notes := bo.sheetSteps("2026-09-05")[0]["notes"].([]any)
	if len(notes) != 1 || notes[0].(object)["text"] != "Two were soft" || notes[0].(object)["who"] != "Maren Halloway" {
		t.Errorf("%v", notes)
	}
	bo.must(204, "DELETE", "/step-notes/"+id.String(), nil)
	if s := maren.sheetSteps("2026-09-05")[0]; s["notes"] != nil {
		t.Errorf("%v", s["notes"])
	}
	maren.problem(404, "", "step", maren.send("POST", "/batches/"+db.NewID().String()+"/steps/wash/notes",
		object{"id": db.NewID(), "text": "x"}))
}
