package order

import (
	"fmt"
	"math"
	"slices"

	"zestytin/core/batch"
	"zestytin/core/box"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
)

// BoxSet is boxes in which pieces of several lines lie together, so many of each in every one: each guest one of each.
type BoxSet struct {
	Supply ident.Supply `json:"supply"`
	Boxes  int          `json:"boxes"`
	Pieces []int        `json:"pieces"` // by the lines of the order; of those behind it none
}

// of a line that go into one box.
func (s *BoxSet) of(line int) int {
	if line < len(s.Pieces) {
		return s.Pieces[line]
	}
	return 0
}

// Same tells whether two sets are filled alike.
func (s BoxSet) Same(other BoxSet) bool {
	return s.Supply == other.Supply && s.Boxes == other.Boxes && slices.Equal(s.Pieces, other.Pieces)
}

// SetLaid is how a box of a set is filled.
type SetLaid struct {
	Set     int              `json:"set"`
	Supply  ident.Supply     `json:"supply"`
	Name    string           `json:"name"`
	Boxes   int              `json:"boxes"`
	Lines   []int            `json:"lines"` // of which there are pieces in it, in the order of the layout's items
	Pieces  []int            `json:"pieces"`
	Room    box.Room         `json:"room"`
	Sides   [3]measure.Shown `json:"sides"`
	Layout  *box.Layout      `json:"layout,omitempty"`
	Text    reason.Reason    `json:"text"`
	Trouble bool             `json:"trouble,omitempty"`
	Others  []BoxChoice      `json:"others,omitempty"` // boxes in which one of them lies too
	Fewer   *Fewer           `json:"fewer,omitempty"`  // what would lie in it, where that is too much
}

// Fewer pieces that would lie in a box of a set, by the lines of SetLaid.
type Fewer struct {
	Pieces []int         `json:"pieces"`
	Text   reason.Reason `json:"text"`
}

// MostSets of an order.
const MostSets = 20

func (d *Draft) checkSets(faults *invalid.Faults) {
	if len(d.Sets) > MostSets {
		faults.Add("sets", reason.Of("order.at-most-so-many-sets", reason.Int(MostSets)))
		return
	}
	taken := make([]int, len(d.Lines))
	for n, s := range d.Sets {
		path := fmt.Sprintf("sets[%d]", n)
		if s.Boxes < 1 || s.Boxes > MostPieces {
			faults.Add(path+".boxes", reason.Of("order.boxes-from-one-on"))
			continue
		}
		all := 0
		for i, pieces := range s.Pieces {
			if i >= len(d.Lines) && pieces != 0 || pieces < 0 || pieces > 1000 {
				faults.Add(fmt.Sprintf("%s.pieces[%d]", path, i), reason.Of("order.pieces-of-a-set"))
				continue
			}
			if all += pieces; i < len(d.Lines) {
				if taken[i] += pieces * s.Boxes; pieces > 0 && taken[i] > d.Lines[i].Count {
					faults.Add(fmt.Sprintf("%s.pieces[%d]", path, i), reason.Of("order.set-takes-more-than-there-are",
						reason.Int(taken[i]), reason.Int(d.Lines[i].Count)))
				}
			}
		}
		if all == 0 {
			faults.Add(path+".pieces", reason.Of("order.set-is-empty"))
		}
	}
}

// inSets is how many pieces of a line go into sets.
func (d *Draft) inSets(line int) int {
	n := 0
	for i := range d.Sets {
		n += d.Sets[i].of(line) * d.Sets[i].Boxes
	}
	return n
}

// packSets puts the boxes of sets on the cards, and takes off what their lines need less: the boxes of a set are on the
// card of the first of its lines.
func (k *Inputs) packSets(d *Draft, cards []*batch.Card) {
	for i, card := range cards {
		taken := d.inSets(i)
		if taken == 0 || len(d.Lines[i].Boxes) > 0 {
			continue
		}
		rest := d.Lines[i].Count - taken
		card.Packs = slices.Clone(card.Packs)
		for n := range card.Packs {
			p := &card.Packs[n]
			per := k.perBox(d.Lines[i], p.Supply)
			if k.Supplies[p.Supply].Inside == nil || per == 0 {
				continue
			}
			p.Amount.Amount = math.Ceil(float64(rest) / float64(per))
			p.Why = because("order.rest-beside-sets", reason.Int(rest), reason.Int(d.Lines[i].Count), reason.Int(per))
		}
		card.Packs = slices.DeleteFunc(card.Packs, func(p batch.Packed) bool { return p.Amount.Amount == 0 })
	}
	for i := range d.Sets {
		s := &d.Sets[i]
		first := slices.IndexFunc(s.Pieces, func(n int) bool { return n > 0 })
		if first < 0 || first >= len(cards) {
			continue
		}
		cards[first].Packs = append(cards[first].Packs, batch.Packed{Supply: s.Supply,
			Amount: measure.Of(float64(s.Boxes), measure.Each),
			Why:    because("order.boxes-of-a-set", reason.Int(s.Boxes), reason.Name(k.Supplies[s.Supply].Name))})
	}
}

// sets are how the boxes of all sets are filled.
func (r *Estimate) sets(d *Draft, k *Inputs) []SetLaid {
	list := []SetLaid{}
	for n := range d.Sets {
		s := &d.Sets[n]
		of := k.Supplies[s.Supply]
		l := SetLaid{Set: n, Supply: s.Supply, Name: of.Name, Boxes: s.Boxes, Room: *of.Inside, Sides: of.Inside.Sides(),
			Lines: []int{}, Pieces: []int{}}
		var items []box.Item
		var unknown string
		for i := range r.Lines {
			if s.of(i) == 0 {
				continue
			}
			item, liner, known := k.piece(d.Lines[i], r.Lines[i].Card)
			if !known {
				unknown = r.Lines[i].Name
			}
			l.Lines, l.Pieces, items = append(l.Lines, i), append(l.Pieces, s.of(i)), append(items, item.In(liner))
		}
		known := true
		if unknown == "" {
			l.Layout, known = box.Fit(l.Room, items, l.Pieces)
		}
		switch apart, why := r.apart(l.Lines, d, k); {
		case unknown != "":
			l.Trouble, l.Text = true, reason.Of("order.set-of-unknown-size", reason.Name(unknown))
		case !known:
			l.Text = reason.Of("order.set-of-too-many-kinds")
		case l.Layout == nil:
			l.Trouble, l.Text = true, reason.Of("order.set-does-not-fit", reason.Name(of.Name), of.Inside.Says())
			l.Others = k.holding(items, l.Pieces, s.Boxes)
			if fewer := box.Fewer(l.Room, items, l.Pieces); fewer != nil {
				var what reason.Series
				for n, i := range l.Lines {
					if fewer[n] > 0 {
						what = append(what, reason.Of("order.count-of", reason.Int(fewer[n]),
							reason.Name(r.Lines[i].Name)))
					}
				}
				l.Fewer = &Fewer{fewer, reason.Of("order.set-fewer", what)}
			}
		case apart:
			l.Trouble, l.Text = true, why
		default:
			l.Text = reason.Of("order.set-fits", reason.Int(s.Boxes), reason.Name(of.Name), of.Inside.Says())
		}
		list = append(list, l)
	}
	return list
}

// apart tells which lines must not lie in one box: what smells or stains beside anything else, and what is asked to be
// free from something beside what contains it.
func (r *Estimate) apart(lines []int, d *Draft, k *Inputs) (bool, reason.Reason) {
	if len(lines) < 2 {
		return false, reason.Reason{}
	}
	for _, i := range lines {
		if p := k.Treats[d.Lines[i].Treat].Formula.Piece; p != nil && p.Apart {
			return true, reason.Of("order.lies-apart", reason.Name(r.Lines[i].Name))
		}
		for _, wish := range d.of(i).FreeFrom {
			for _, j := range lines {
				for _, a := range r.Lines[j].Card.Allergens {
					if j != i && food.ViolatesFreeFrom(a, wish) {
						return true, reason.Of("order.free-from-beside", reason.Name(r.Lines[i].Name), reason.Word(wish),
							reason.Name(r.Lines[j].Name))
					}
				}
			}
		}
	}
	return false, reason.Reason{}
}

// holding are the other boxes in which so many of several pieces lie, cheapest first.
func (k *Inputs) holding(items []box.Item, pieces []int, boxes int) []BoxChoice {
	list := []BoxChoice{}
	for _, s := range k.measuredBoxes() {
		if l, known := box.Fit(*s.Inside, items, pieces); known && l != nil {
			list = append(list, k.choice([]box.Supply{s}, []int{boxes}, nil))
		}
	}
	slices.SortStableFunc(list, func(a, b BoxChoice) int { return a.cost.Cmp(b.cost) })
	return list
}
