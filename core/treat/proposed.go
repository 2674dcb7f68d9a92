package treat

import "slices"

// Proposed are the steps that a family proposes for the choices of a formula; the seller changes the minutes (common practice:
// handbook 2.1 to 2.7 for what is set where and how long; the minutes of hands are starting values). A work whose chocolate
// the formula does not have is left out.
func Proposed(f *Formula) []Work {
	var steps []Work
	switch f.Family {
	case Bomb:
		steps = bombSteps(f)
	case Fruit:
		steps = fruitSteps(f)
	case Pretzel:
		steps = pretzelSteps(f)
	case Truffle:
		steps = truffleSteps(f)
	case Bark:
		steps = barkSteps(f)
	case Fudge:
		steps = fudgeSteps(f)
	case Moulded:
		steps = mouldedSteps(f)
	}
	steps = slices.DeleteFunc(steps, func(w Work) bool { return w.Pot != "" && !f.has(w.Pot) })
	if f.Family != Truffle { // whose centres may be made ahead
		for i := 1; i < len(steps); i++ {
			if steps[i-1].Place == "freezer" && steps[i-1].Wait > 0 && steps[i].Latest == nil {
				steps[i].Latest = new(mostInFreezer)
			}
		}
	}
	if n := len(steps) - 1; n > 0 && steps[n].Latest == nil {
		steps[n].Latest = new(mostOpen)
	}
	return steps
}

// mostOpen is how many minutes finished pieces may lie open before they are packed: they take up moisture, smells and dust (common practice: within the day).
const mostOpen = 1440

// mostInFreezer is how many minutes longer than it must what sets there may stay: a coat sweats when it comes out cold (common practice: minutes only).
const mostInFreezer = 60

// set gives a work its place and waiting minutes by the choice where it sets.
func (f *Formula) set(w Work, room, fridge, freezer int) Work {
	switch f.choice("set") {
	case "fridge":
		w.Place, w.Wait = "fridge", fridge
	case "freezer":
		w.Place, w.Wait = "freezer", freezer
	default:
		w.Place, w.Wait = "counter", room
	}
	return w
}

// lines on top, after setting; wet, the step before them waits no more.
func (f *Formula) lines(steps []Work, name string, perPiece float64) []Work {
	w := Work{ID: "lines", Name: name, PerBatch: 3, PerPiece: perPiece, Wait: 5, Place: "counter", PerTray: 24, Pot: RoleDrizzle}
	if f.choice("lines") == "wet" && f.has(RoleDrizzle) {
		before := &steps[len(steps)-1]
		w.Wait, w.Place = max(before.Wait, 5), before.Place
		before.Wait, before.Place = 0, ""
		latest := 10
		w.Latest = &latest
	}
	return append(steps, w)
}

func bombSteps(f *Formula) []Work {
	shell := f.set(Work{ID: "shells", Name: "Coat the moulds and set", PerRound: 10, Pot: RoleShell, Rounds: true, Moulds: true, Ages: true}, 40, 10, 5)
	fill := Work{ID: "fill", Name: "Fill one half, seal with the other, seam up", PerBatch: 5, PerPiece: 0.75, Wait: 10, Place: "counter", PerTray: 24, Adds: []Adds{AddsIn}}
	over := "Lines over the seam, topping while they are wet"
	if f.choice("shape") == "cup" {
		shell.Name, shell.PerPiece = "Slit and tape the cups, coat them, the stick set at the foot", 1
		fill.Name = "Take the cups off, fill, close with a lid of chocolate"
		over = "Lines over the lid, topping while they are wet"
	}
	steps := []Work{shell}
	if f.choice("coats") == "two" {
		second := shell
		steps[0].Until = "second"
		second.ID, second.Name, second.PerRound, second.PerPiece, second.Moulds, second.Ages = "second", "Brush bare and thin spots and the rim, set again", 6, 0, false, false
		steps = append(steps, second)
	}
	steps = append(steps, fill)
	steps = f.lines(steps, over, 0.2)
	if f.has(RoleDrizzle) {
		steps[len(steps)-1].Adds = []Adds{AddsOn}
	} else {
		steps[len(steps)-2].Adds = []Adds{AddsIn, AddsOn}
	}
	return append(steps, Work{ID: "bag", Name: "Bag and tie, in gloves", PerPiece: 0.35})
}

func fruitSteps(f *Formula) []Work {
	wash := Work{ID: "wash", Name: "Pick over, wash, dry completely", PerBatch: 10, PerPiece: 0.15, Wait: 20, Place: "counter", PerTray: 24, Adds: []Adds{AddsCentre}}
	switch f.choice("wash") {
	case "spray":
		wash.PerBatch = 6
	case "none":
		wash.Name, wash.PerBatch, wash.Wait, wash.Place = "Pick over, wipe dry", 4, 0, ""
	}
	dip := f.set(Work{ID: "dip", Name: "Dip to the shoulder, shake, wipe the foot", PerPiece: 0.5, PerTray: 24, Pot: RoleCoat, Adds: []Adds{AddsOn}, Ages: true}, 30, 12, 6)
	if f.choice("stand") == "standing" {
		dip.Name, dip.PerPiece, dip.PerTray = "Dip to the shoulder, shake, stand in a glass", 0.6, 12
	}
	picks := Work{ID: "picks", Name: "Picks in, all of them before dipping", PerPiece: 0.1}
	if wash.Wait > 0 { // never before the day: washed fruit softens fast (handbook 2.2)
		picks.Latest, dip.Latest = new(180), new(180)
	}
	steps := []Work{wash, picks, dip}
	if f.choice("coats") == "two" {
		steps = append(steps, second(dip))
	}
	steps = f.lines(steps, "Lines when set", 0.15)
	return append(steps, Work{ID: "box", Name: "Picks out, box in liners", PerPiece: 0.25})
}

// second coat of what was dipped.
func second(dip Work) Work {
	dip.ID, dip.Name, dip.PerPiece, dip.Adds, dip.Ages, dip.Latest = "second", "Second coat, thin", dip.PerPiece*0.7, nil, false, nil
	return dip
}

func pretzelSteps(f *Formula) []Work {
	dip := f.set(Work{ID: "dip", Name: "Dip and turn in a tall bottle held at a slant, shake for a thin coat", PerPiece: 0.3, PerTray: 20, Pot: RoleCoat, Adds: []Adds{AddsOn}, Ages: true}, 30, 10, 5)
	if f.choice("shape") == "twist" {
		dip.Name, dip.PerPiece, dip.PerTray = "Dip with a fork, shake for a thin coat", 0.2, 40
	}
	steps := []Work{{ID: "lay", Name: "Pick out the whole ones, line the trays", PerBatch: 4, PerPiece: 0.03, Adds: []Adds{AddsCentre}}, dip}
	if f.choice("coats") == "two" {
		steps = append(steps, second(dip))
	}
	steps = f.lines(steps, "Lines, which set on the table in minutes", 0.1)
	return append(steps, Work{ID: "bag", Name: "Bag and tie", PerPiece: 0.1})
}

func truffleSteps(f *Formula) []Work {
	wait, place := 15, "freezer"
	if f.choice("centres") == "fridge" {
		wait, place = 30, "fridge"
	}
	dip := f.set(Work{ID: "dip", Name: "Dip 3 or 4 at a time, lift off on the fork", PerPiece: 0.4, PerTray: 40, Pot: RoleCoat, Adds: []Adds{AddsOn}, Ages: true}, 40, 30, 8)
	if f.choice("skin") == "rolled" {
		dip.Name, dip.PerPiece = "Dip, roll, shake off", 0.5
	}
	steps := []Work{
		{ID: "centre", Name: "Make the centre, film on its surface, rest", PerBatch: 20, Wait: 120, Place: "fridge", PerTray: 120, Adds: []Adds{AddsCentre}},
		{ID: "shape", Name: "Scoop and roll, firm up", PerBatch: 3, PerPiece: 0.35, Wait: wait, Place: place, PerTray: 40},
		dip,
	}
	if f.choice("coats") == "two" {
		steps = append(steps, second(dip))
	}
	steps = f.lines(steps, "Lines when set", 0.1)
	return append(steps, Work{ID: "box", Name: "Box in liners", PerPiece: 0.2})
}

func barkSteps(f *Formula) []Work {
	spread := f.set(Work{ID: "spread", Name: "Spread, top while wet", PerRound: 8, Pot: RoleBase, Adds: []Adds{AddsOn}, Ages: true}, 60, 40, 15)
	steps := []Work{{ID: "toppings", Name: "Weigh the toppings, line the sheets", PerBatch: 6, PerRound: 1}}
	soon := 40
	switch f.choice("style") {
	case "layers":
		top := spread
		spread.Name, spread.Wait, spread.Place, spread.Adds = "Spread the first layer", 5, "counter", nil
		top.ID, top.Name, top.Pot, top.Ages = "layer", "Second layer on while the first is warm, not hot; top while wet", RoleLayer, false
		top.Latest = &soon
		if top.Wait > 30 && top.Place == "fridge" {
			top.Wait = 120
		}
		steps = append(steps, spread, top)
	case "swirl":
		second := spread
		spread.Name, spread.Wait, spread.Place, spread.Adds, spread.PerRound = "Pour the first colour", 0, "", nil, 3
		second.ID, second.Name, second.Pot, second.PerRound, second.Ages = "layer", "Pour the second beside it, drag, tap level, top while wet", RoleLayer, 6, false
		second.Latest = &soon
		steps = append(steps, spread, second)
	case "trail":
		over := spread
		spread.Name, spread.Wait, spread.Place = "Spread thin, top at once", 0, ""
		over.ID, over.Name, over.Pot, over.PerRound, over.Ages, over.Adds = "layer", "Trail the rest over to hold the toppings", RoleLayer, 2, false, nil
		over.Latest = &soon
		steps = append(steps, spread, over)
	default:
		steps = append(steps, spread)
	}
	steps = append(steps, Work{ID: "lines", Name: "Lines over the sheets", PerBatch: 3, PerRound: 2, Wait: 5, Place: "counter", Pot: RoleDrizzle})
	broken := Work{ID: "break", Name: "Break and bag by weight", PerBatch: 4, PerPiece: 0.9}
	if f.choice("divide") == "cut" {
		broken.Name, broken.PerPiece = "Cut, and bag by weight", 1.1
	}
	return append(steps, broken)
}

func fudgeSteps(f *Formula) []Work {
	pour := f.set(Work{ID: "pan", Name: "Beat until it loses its shine, pan", PerRound: 12, Ages: true}, 120, 90, 40)
	steps := []Work{{ID: "boil", Name: "Boil to soft ball without stirring, cool undisturbed", PerBatch: 10, PerRound: 20, Wait: 60, Place: "counter", Adds: []Adds{AddsCentre}}}
	if f.choice("cook") == "quick" {
		steps[0] = Work{ID: "melt", Name: "Melt together, low and stirring", PerBatch: 5, PerRound: 10, Adds: []Adds{AddsCentre}}
		pour.Name, pour.PerRound, pour.Wait = "Pan and level", 4, max(pour.Wait, 120)
	}
	pour.Adds = []Adds{AddsOn}
	steps = append(steps, pour,
		Work{ID: "cut", Name: "Turn out, trim, cut into the grid", PerRound: 4, PerPiece: 0.12},
		Work{ID: "lines", Name: "Lines over the pieces", PerBatch: 3, PerRound: 2, Wait: 5, Place: "counter", Pot: RoleDrizzle})
	return append(steps, Work{ID: "wrap", Name: "Wrap", PerPiece: 0.25})
}

func mouldedSteps(f *Formula) []Work {
	shell := f.set(Work{ID: "shell", Name: "Coat the moulds, scrape, set", PerRound: 8, Pot: RoleShell, Rounds: true, Moulds: true, Ages: true}, 40, 15, 20)
	steps := []Work{shell}
	if f.choice("coats") == "two" {
		again := shell
		again.ID, again.Name, again.PerRound, again.Moulds, again.Ages = "second", "Second coat where it is thin", 5, false, false
		if f.choice("set") == "fridge" { // about 10 minutes a coat (handbook 2.7)
			steps[0].Wait, again.Wait = 10, 10
		}
		steps = append(steps, again)
	}
	if f.Mould == nil || f.Mould.Shell+f.Mould.Cap < 1-1e-9 {
		steps = append(steps, Work{ID: "fill", Name: "Fill, leaving room for the cap", PerRound: 3, PerPiece: 0.1, Wait: 15, Place: "fridge", Rounds: true, Adds: []Adds{AddsCentre, AddsIn}})
	}
	if f.has(RoleCap) {
		steps = append(steps, f.set(Work{ID: "cap", Name: "Cap, scrape level, set", PerRound: 5, Pot: RoleCap, Rounds: true}, 40, 30, 20))
	}
	steps = append(steps, Work{ID: "turn", Name: "Tap or flex out, trim the rim; trimmings go back into the pot", PerRound: 4, Rounds: true})
	steps[0].Until = "turn"
	steps = f.lines(steps, "Lines, and what goes on top", 0.1)
	if f.has(RoleDrizzle) {
		steps[len(steps)-1].Adds = []Adds{AddsOn}
	} else {
		steps[len(steps)-2].Adds = []Adds{AddsOn}
	}
	return append(steps, Work{ID: "box", Name: "Box", PerPiece: 0.2})
}

// Follow takes the steps of a formula along when its choices, family numbers or chocolates change: what the seller set
// themselves stays, what came from the old proposal becomes what the new one says, works that are new in the proposal come in
// behind the one that they follow there, and those that are no longer proposed go, unless the seller changed them.
func Follow(steps []Work, before, after *Formula) []Work {
	old, now := Proposed(before), Proposed(after)
	at := func(list []Work, id string) int {
		return slices.IndexFunc(list, func(w Work) bool { return w.ID == id })
	}
	result := []Work{}
	for _, w := range steps {
		was, is := at(old, w.ID), at(now, w.ID)
		switch {
		case was >= 0 && is < 0 && same(w, old[was]):
			continue
		case was >= 0 && is >= 0:
			w = merge(w, old[was], now[is])
		}
		if w.Pot != "" && !after.has(w.Pot) {
			continue
		}
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
	}
	return result
}

// same tells whether two works say the same.
func same(a, b Work) bool {
	sameLatest := a.Latest == b.Latest || a.Latest != nil && b.Latest != nil && *a.Latest == *b.Latest
	sameAdds := slices.Equal(a.Adds, b.Adds)
	a.Latest, b.Latest, a.Adds, b.Adds = nil, nil, nil, nil
	return sameLatest && sameAdds && a.ID == b.ID && a.Name == b.Name && a.PerBatch == b.PerBatch && a.PerRound == b.PerRound && a.PerPiece == b.PerPiece &&
		a.Wait == b.Wait && a.Place == b.Place && a.PerTray == b.PerTray && a.Pot == b.Pot && a.Rounds == b.Rounds && a.Until == b.Until && a.Moulds == b.Moulds &&
		a.Ages == b.Ages && a.Earliest == b.Earliest
}

// merge keeps of mine what differs from old, and takes the rest from now.
func merge(mine, old, now Work) Work {
	pick := func(mine, old, now float64) float64 {
		if mine != old {
			return mine
		}
		return now
	}
	merged := now
	if mine.Name != old.Name {
		merged.Name = mine.Name
	}
	merged.PerBatch, merged.PerRound, merged.PerPiece = pick(mine.PerBatch, old.PerBatch, now.PerBatch), pick(mine.PerRound, old.PerRound, now.PerRound), pick(mine.PerPiece, old.PerPiece, now.PerPiece)
	if mine.Wait != old.Wait {
		merged.Wait = mine.Wait
	}
	if mine.Place != old.Place {
		merged.Place = mine.Place
	}
	if mine.PerTray != old.PerTray {
		merged.PerTray = mine.PerTray
	}
	if mine.Earliest != old.Earliest {
		merged.Earliest = mine.Earliest
	}
	if mine.Latest != old.Latest && (mine.Latest == nil || old.Latest == nil || *mine.Latest != *old.Latest) {
		merged.Latest = mine.Latest
	}
	return merged
}
