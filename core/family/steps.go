package family

import (
	"reflect"
	"slices"

	"zestytin/core/ident"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// Called gives the steps of a proposal their names by their codes, in the seller's language; nil leaves the codes.
type Called func(code string) string

func (c Called) step(code string) string {
	if c == nil {
		return code
	}
	return c(code)
}

// Proposed are the steps that a family proposes for the choices of a formula; the seller changes the minutes (common
// practice: rules 2.1 to 2.7 for what is set where and how long; the minutes of hands are starting values). A work
// whose chocolate the formula does not have is left out.
func Proposed(f *treat.Formula, called Called) []treat.StepTemplate {
	steps := LawOf(f).Steps(f)
	steps = slices.DeleteFunc(steps, func(w treat.StepTemplate) bool { return w.Pot != "" && !f.Has(w.Pot) })
	for i := range steps {
		steps[i].Name = called.step(steps[i].Name)
		steps[i].Ready = slices.DeleteFunc(steps[i].Ready, func(r treat.Role) bool { return !f.Has(r) })
		if i > 0 && steps[i-1].Spot == "freezer" && steps[i-1].Wait > 0 && steps[i].Latest == nil &&
			!madeAhead(steps[i-1]) {
			steps[i].Latest = new(mostInFreezer)
		}
	}
	if n := len(steps) - 1; n > 0 && steps[n].Latest == nil {
		steps[n].Latest = new(mostOpen)
	}
	return steps
}

// madeAhead tells whether what a step makes may stay frozen for days: centres, before they are coated.
func madeAhead(w treat.StepTemplate) bool { return w.Pot == "" }

// mostOpen is how many minutes finished pieces may lie open before they are packed, and centres before they are capped:
// they take up moisture, smells and dust (common practice: within the day).
const mostOpen si.Minutes = 1440

// mostInFreezer is how many minutes longer than it must what sets there may stay: a coat sweats when it comes out cold
// (common practice: minutes only).
const mostInFreezer si.Minutes = 60

// set gives a work its place and waiting minutes by the choice where it sets.
func set(f *treat.Formula, w treat.StepTemplate, room, fridge, freezer si.Minutes) treat.StepTemplate {
	switch Chosen(f, "set") {
	case "fridge":
		w.Spot, w.Wait = "fridge", fridge
	case "freezer":
		w.Spot, w.Wait = "freezer", freezer
	default:
		w.Spot, w.Wait = "counter", room
	}
	return w
}

// dabbed sets a stick in a dab of chocolate; left out where there is none.
var dabbed = treat.StepTemplate{ID: "stick", Name: "step.stick-set-in-dab", PerPiece: 0.2, Wait: 5, Spot: "counter",
	PerTray: 24, Pot: treat.RoleDab}

// lined adds lines on top, after setting; wet, the step before them waits no more.
func lined(f *treat.Formula, steps []treat.StepTemplate, name string, perPiece float64) []treat.StepTemplate {
	w := treat.StepTemplate{ID: "lines", Name: name, PerBatch: 3, PerPiece: perPiece, Wait: 5, Spot: "counter",
		PerTray: 24, Pot: treat.RoleDrizzle}
	if Chosen(f, "lines") == "wet" && f.Has(treat.RoleDrizzle) {
		before := &steps[len(steps)-1]
		w.Wait, w.Spot = max(before.Wait, 5), before.Spot
		before.Wait, before.Spot = 0, ""
		w.Latest = new(si.Minutes(10))
	}
	return append(steps, w)
}

// topped puts what goes on top on with the lines, or where there are none with the step before.
func topped(f *treat.Formula, steps []treat.StepTemplate) {
	n := len(steps) - 1
	if !f.Has(treat.RoleDrizzle) {
		n--
	}
	steps[n].Adds = append(slices.Clone(steps[n].Adds), treat.AddsOn)
}

// second coat of what was dipped.
func second(dip treat.StepTemplate) treat.StepTemplate {
	dip.ID, dip.Name, dip.PerPiece, dip.Adds, dip.Ages, dip.Latest = "second", "step.second-coat-thin",
		dip.PerPiece*0.7, nil, false, nil
	return dip
}

// Follow takes the steps of a formula along when its choices, family numbers or chocolates change: what the seller set
// themselves stays, what came from the old proposal becomes what the new one says, works that are new in the proposal
// come in behind the one that they follow there, and those that are no longer proposed go, unless the seller changed
// them.
func Follow(steps []treat.StepTemplate, before, after *treat.Formula, called Called) []treat.StepTemplate {
	old, now := Proposed(before, called), Proposed(after, called)
	at := func(list []treat.StepTemplate, id ident.Step) int {
		return slices.IndexFunc(list, func(w treat.StepTemplate) bool { return w.ID == id })
	}
	result := []treat.StepTemplate{}
	for _, w := range steps {
		was, is := at(old, w.ID), at(now, w.ID)
		switch {
		case was >= 0 && is < 0 && same(w, old[was]):
			continue
		case was >= 0 && is >= 0:
			w = merge(w, old[was], now[is])
		}
		if w.Pot != "" && !after.Has(w.Pot) {
			continue
		}
		w.Ready = slices.DeleteFunc(slices.Clone(w.Ready), func(r treat.Role) bool { return !after.Has(r) })
		result = append(result, w)
	}
	for i, w := range now {
		if at(result, w.ID) >= 0 || at(old, w.ID) >= 0 && at(steps, w.ID) < 0 {
			continue // there, or taken out by the seller
		}
		place := 0
		for j := i - 1; j >= 0; j-- {
			if before := at(result, now[j].ID); before >= 0 {
				place = before + 1
				break
			}
		}
		result = slices.Insert(result, place, w)
	}
	for i := range result {
		if result[i].Until != "" && at(result, result[i].Until) < i {
			result[i].Until = ""
		}
		// What a step was done beside is gone: it is before what comes next.
		if beside := result[i].Beside; beside != "" && at(result, beside) < i {
			next := slices.IndexFunc(result[i:], func(w treat.StepTemplate) bool { return w.Beside == "" })
			if result[i].Beside = ""; next > 0 {
				result[i].Beside = result[i+next].ID
			}
		}
	}
	return result
}

// same tells whether two works say the same.
func same(a, b treat.StepTemplate) bool { return reflect.DeepEqual(a, b) }

// merge keeps of mine every field that differs from old, and takes the rest from now.
func merge(mine, old, now treat.StepTemplate) treat.StepTemplate {
	merged := now
	m, o, into := reflect.ValueOf(mine), reflect.ValueOf(old), reflect.ValueOf(&merged).Elem()
	for i := range into.NumField() {
		if !reflect.DeepEqual(m.Field(i).Interface(), o.Field(i).Interface()) {
			into.Field(i).Set(m.Field(i))
		}
	}
	return merged
}
