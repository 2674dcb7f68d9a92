package ledger

import "zestytin/core/si"

// Kind of a line of the account.
type Kind string

const (
	Melted    Kind = "melted"    // fresh or reclaimed, at first
	ToppedUp  Kind = "topped up" // melted more
	Stirred   Kind = "stirred"   // colour that makes the next shade
	Filled    Kind = "filled"    // into moulds, over all of them
	Applied   Kind = "applied"   // stays on the pieces
	Tools     Kind = "tools"     // stays on tools
	Drained   Kind = "drained"   // runs back out of moulds
	Trimmings Kind = "trimmings" // come off the pieces and go back
	Left      Kind = "left"      // at the end
)

// Line of the account: what happens to a bowl, in time.
type Line struct {
	Draw  int      // at which, from 0
	Kind  Kind     // what it is
	Grams si.Grams // how much
	Holds si.Grams // is in the bowl after it
}

// Lines of the account, in time. What is poured and what runs back of it are told over all moulds of a draw: the bowl
// never holds less than one mould's part of it.
func (b *Bowl) Lines() []Line {
	if len(b.Draws) == 0 {
		return nil
	}
	var list []Line
	var holds si.Grams
	add := func(draw int, kind Kind, grams, change si.Grams) {
		holds += change
		list = append(list, Line{draw, kind, grams, holds})
	}
	add(0, Melted, b.Melted, b.Melted)
	colour := b.Draws[0].Colour
	for i := range b.Draws {
		d := &b.Draws[i]
		if d.Colour > colour {
			more := holds.Times((d.Colour - colour) / b.Pot.melts(colour))
			colour = d.Colour
			add(i, Stirred, more, more)
		}
		if b.TopUps[i] > 0 {
			add(i, ToppedUp, b.TopUps[i], b.TopUps[i])
		}
		if back := d.Drains(); back > 0 {
			add(i, Filled, d.Applied+back, -d.Applied-back)
			add(i, Drained, back, back)
		} else if d.Applied > 0 {
			add(i, Applied, d.Applied, -d.Applied)
		}
		if d.Applied > 0 {
			add(i, Tools, d.Applied*OnTools, -d.Applied*OnTools)
		}
		if d.Trimmed > 0 {
			add(i, Trimmings, d.Trimmed, d.Trimmed)
		}
	}
	add(len(b.Draws)-1, Left, holds, -holds)
	return list
}
