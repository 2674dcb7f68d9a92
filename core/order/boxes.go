package order

import (
	"fmt"
	"slices"
	"strings"

	"github.com/shopspring/decimal"

	"zestytin/core/batch"
	"zestytin/core/box"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/treat"
)

// BoxCount is so many of a kind of box that a line is packed in, in the place of those that its treat is packed in.
type BoxCount struct {
	Supply ident.Supply `json:"supply"`
	Count  int          `json:"count"`
}

// Boxed is how the pieces of a line lie in a kind of box.
type Boxed struct {
	Line    int              `json:"line"`
	Supply  ident.Supply     `json:"supply"`
	Name    string           `json:"name"`
	Boxes   int              `json:"boxes"`
	Each    int              `json:"each"`  // pieces that are to go into one
	Takes   int              `json:"takes"` // pieces that lie in one, in rows
	Room    box.Room         `json:"room"`
	Sides   [3]measure.Shown `json:"sides"` // of the room: length, width, height
	Piece   box.Item         `json:"piece"`
	Layout  *box.Layout      `json:"layout,omitempty"` // of a full one
	Text    reason.Reason    `json:"text"`
	Spare   measure.Shown    `json:"spare"` // height that is left above
	Trouble bool             `json:"trouble,omitempty"`
	Smaller *reason.Reason   `json:"smaller,omitempty"` // pieces that would lie in it, where they are too large
	Instead []BoxChoice      `json:"instead,omitempty"` // what would hold the line, or costs less: cheapest first
}

// BoxChoice is boxes that hold a line together, and what they cost with all that goes with each.
type BoxChoice struct {
	Boxes []BoxCount    `json:"boxes"`
	Text  reason.Reason `json:"text"`
	Cost  price.Money   `json:"cost"`
	Short bool          `json:"short,omitempty"` // there are not as many, or not enough of what goes with them

	cost decimal.Decimal
}

// checkBoxes that a line is packed in.
func (d *Draft) checkBoxes(faults *invalid.Faults) {
	for i, l := range d.Lines {
		for n, b := range l.Boxes {
			if path := fmt.Sprintf("lines[%d].boxes[%d]", i, n); b.Count < 1 || b.Count > MostPieces {
				faults.Add(path+".count", reason.Of("order.boxes-from-one-on"))
			}
		}
		if len(l.Boxes) > 20 {
			faults.Add(fmt.Sprintf("lines[%d].boxes", i), reason.Of("order.boxes-of-so-many-kinds"))
		}
	}
}

// knowBoxes tells whether all boxes that lines name are boxes of the kitchen, whose inside has been measured.
func (k *Inputs) knowBoxes(d *Draft) error {
	var faults invalid.Faults
	for i, l := range d.Lines {
		for n, b := range l.Boxes {
			if k.Supplies[b.Supply].Inside == nil {
				faults.Add(fmt.Sprintf("lines[%d].boxes[%d].supply", i, n), reason.Of("order.no-such-box"))
			}
		}
	}
	for n := range d.Sets {
		if k.Supplies[d.Sets[n].Supply].Inside == nil {
			faults.Add(fmt.Sprintf("sets[%d].supply", n), reason.Of("order.no-such-box"))
		}
	}
	return faults.Err()
}

// packed in the boxes that a line names, in the place of those of its treat; all else that it is packed in stays.
func (k *Inputs) packed(l Line, card *batch.Card) {
	if len(l.Boxes) == 0 {
		return
	}
	card.Packs = slices.DeleteFunc(slices.Clone(card.Packs), func(p batch.Packed) bool {
		return k.Supplies[p.Supply].Inside != nil
	})
	for _, b := range l.Boxes {
		if of, known := k.Supplies[b.Supply]; known {
			card.Packs = append(card.Packs, batch.Packed{Supply: b.Supply, Amount: measure.Of(float64(b.Count), measure.Each),
				Why: because("order.boxes-chosen-for-line", reason.Int(b.Count), reason.Name(of.Name))})
		}
	}
}

// piece of a line as it goes into a box, and the foot of the liners that it stands in there; false where its size is
// not known.
func (k *Inputs) piece(l Line, card *batch.Card) (item box.Item, liner box.Foot, known bool) {
	f := k.Treats[l.Treat].Formula
	of := card.Extent
	if of == nil {
		return item, liner, false
	}
	item = box.Item{Length: of.Length, Width: of.Width, Height: of.Height, Mass: card.PieceMass}
	if f.Piece != nil {
		item.Lies, item.Bare = f.Piece.Lies, f.Piece.Bare
	}
	for _, p := range f.Packs {
		if foot := k.Supplies[p.Supply].Foot; foot != nil && p.Per == 1 {
			in := box.Item{Length: liner.Length, Width: liner.Width}.In(*foot)
			liner = box.Foot{Length: in.Length, Width: in.Width}
		}
	}
	return item, liner, true
}

// boxes are how the lines lie in their boxes: of those whose inside has been measured.
func (r *Estimate) boxes(d *Draft, k *Inputs) []Boxed {
	list := []Boxed{}
	for i := range r.Lines {
		l, card := d.Lines[i], r.Lines[i].Card
		rest := l.Count - d.inSets(i)
		bare, liner, known := k.piece(l, card)
		if !known || rest == 0 {
			continue
		}
		item := bare.In(liner)
		var own []Boxed
		held := 0
		for _, p := range card.Packs {
			of := k.Supplies[p.Supply]
			if of.Inside == nil || p.Amount.Unit != measure.Each || p.Amount.Amount < 1 ||
				len(l.Boxes) == 0 && k.perBox(l, p.Supply) == 0 { // it is that of a set
				continue
			}
			b := Boxed{Line: i, Supply: of.ID, Name: of.Name, Boxes: int(p.Amount.Amount + 0.5), Room: *of.Inside,
				Piece: item, Sides: of.Inside.Sides()}
			b.Takes, b.Layout = box.Most(b.Room, item)
			if b.Each = k.perBox(l, of.ID); b.Each == 0 {
				b.Each = b.Takes
			}
			if b.Each < b.Takes {
				b.Layout = box.Lay(b.Room, item, b.Each)
			}
			held += b.Boxes * min(b.Each, b.Takes)
			own = append(own, b)
		}
		for n := range own {
			own[n].tell(r.Lines[i].Name, rest, held)
			if s, found := box.Smaller(own[n].Room, bare, liner, own[n].Each); found && own[n].Takes < own[n].Each {
				own[n].Smaller = new(reason.Of("order.would-lie-if-smaller", reason.Int(own[n].Each), s.Says()))
			}
		}
		if len(own) > 0 {
			own[0].Instead = k.instead(own, item, rest)
		}
		list = append(list, own...)
	}
	return list
}

// perBox is how many pieces its treat puts into a kind of box; 0 where the line is packed as its own boxes say.
func (k *Inputs) perBox(l Line, supply ident.Supply) int {
	if len(l.Boxes) > 0 {
		return 0
	}
	for _, p := range k.Treats[l.Treat].Formula.Packs {
		if p.Supply == supply && !p.Making {
			return p.Per
		}
	}
	return 0
}

// tell how the pieces lie, and whether all boxes of the line hold it.
func (b *Boxed) tell(treat string, count, held int) {
	name, size := reason.Name(b.Name), b.Room.Says()
	if b.Layout != nil && !b.Room.Open {
		high := 0.0
		for _, layer := range b.Layout.Layers {
			high += layer.High
		}
		b.Spare = measure.Show(measure.Of(max(b.Room.Headroom()-high, 0), measure.Millimetre), measure.Substance{})
	}
	switch {
	case b.Takes == 0:
		b.Trouble, b.Text = true, reason.Of("order.none-lie-in-box", reason.Name(treat), name, size, b.Piece.Says())
	case b.Takes < b.Each:
		b.Trouble, b.Text = true, reason.Of("order.fewer-lie-in-box", reason.Int(b.Each), reason.Name(treat), name, size,
			reason.Int(b.Takes))
	case held < count:
		b.Trouble, b.Text = true, reason.Of("order.boxes-hold-fewer", reason.Int(held), reason.Int(count),
			reason.Name(treat))
	default:
		rows := 0
		for _, layer := range b.Layout.Layers {
			rows += len(layer.Rows)
		}
		in := reason.Count{N: rows, Of: "row"}
		if b.Text = reason.Of("order.lie-in-box", reason.Int(b.Each), name, size, in); b.Takes > b.Each {
			b.Text = reason.Of("order.lie-in-box-with-room-for", reason.Int(b.Each), name, size, in, reason.Int(b.Takes))
		}
	}
}

// instead are boxes that would hold a line: the cheapest of all, and of those that are in the larder; none where it is
// packed so already.
func (k *Inputs) instead(own []Boxed, item box.Item, count int) []BoxChoice {
	of := k.measuredBoxes()
	options := make([]box.Option, len(of))
	for i, s := range of {
		takes, _ := box.Most(*s.Inside, item)
		options[i] = box.Option{Takes: takes, Price: s.Price(k.Supplies), Free: -1}
	}
	now, trouble := decimal.Zero, false
	for _, b := range own {
		now = now.Add(k.Supplies[b.Supply].Price(k.Supplies).Mul(decimal.NewFromInt(int64(b.Boxes))))
		trouble = trouble || b.Trouble
	}
	var list []BoxChoice
	add := func(chosen []int) {
		c := k.choice(of, chosen, options)
		same := len(c.Boxes) == len(own) && !slices.ContainsFunc(own, func(b Boxed) bool {
			return !slices.Contains(c.Boxes, BoxCount{b.Supply, b.Boxes})
		})
		if len(c.Boxes) == 0 || same || !trouble && !c.cost.LessThan(now) ||
			slices.ContainsFunc(list, func(x BoxChoice) bool { return slices.Equal(x.Boxes, c.Boxes) }) {
			return
		}
		list = append(list, c)
	}
	cheapest := box.Choose(count, options)
	add(cheapest)
	if len(list) > 0 && list[0].Short {
		for i, s := range of {
			options[i].Free = k.free(s)
		}
		add(box.Choose(count, options))
	}
	return list
}

// Packaging of the kitchen, as a formula is checked against it.
func (k *Inputs) Packaging() map[ident.Supply]treat.FileSupply {
	all := make(map[ident.Supply]treat.FileSupply, len(k.Supplies))
	for id, s := range k.Supplies {
		all[id] = treat.FileSupply{ID: id, Name: s.Name, Unit: s.Unit}
	}
	return all
}

// measuredBoxes of the kitchen, by id.
func (k *Inputs) measuredBoxes() []box.Supply {
	var of []box.Supply
	for _, s := range k.Supplies {
		if s.Inside != nil && s.Unit == measure.Each {
			of = append(of, s)
		}
	}
	slices.SortFunc(of, func(a, b box.Supply) int { return strings.Compare(string(a.ID), string(b.ID)) })
	return of
}

// free is how many of a box are there, with all that goes with each.
func (k *Inputs) free(s box.Supply) int {
	n := s.Free()
	for _, x := range s.Fittings {
		with := k.Supplies[x.Supply]
		if one, err := x.Amount.In(with.Unit, measure.Substance{}); err == nil && one > 0 {
			n = min(n, with.Free()/one)
		}
	}
	return int(n + 1e-9)
}

// choice of so many of each box, with what they take, where that is told.
func (k *Inputs) choice(of []box.Supply, chosen []int, options []box.Option) (c BoxChoice) {
	var says reason.Series
	for i, n := range chosen {
		if n == 0 {
			continue
		}
		c.Boxes = append(c.Boxes, BoxCount{of[i].ID, n})
		c.Short = c.Short || n > k.free(of[i])
		c.cost = c.cost.Add(of[i].Price(k.Supplies).Mul(decimal.NewFromInt(int64(n))))
		if options == nil {
			says = append(says, reason.Of("order.count-of", reason.Int(n), reason.Name(of[i].Name)))
		} else {
			says = append(says, reason.Of("order.so-many-of-box", reason.Int(n), reason.Name(of[i].Name),
				reason.Int(options[i].Takes)))
		}
	}
	c.Cost, c.Text = price.In(k.Rates.Currency, c.cost), reason.Of("order.boxes-instead", says)
	return c
}

// boxCautions are what does not lie in its boxes, once for each.
func (r *Estimate) boxCautions() []Caution {
	var list []Caution
	for _, b := range r.Boxes {
		if b.Trouble {
			list = append(list, Caution{true, b.Text})
		}
	}
	for _, s := range r.Sets {
		if s.Trouble {
			list = append(list, Caution{true, s.Text})
		}
	}
	return list
}
