package box

import (
	"math"
	"slices"

	"zestytin/core/si"
)

// This file lays pieces into rows. A row is as deep as its deepest piece; in it pieces may lie in different ways, and
// be of different kinds. Rows lie behind each other, along the length of the box or along its width, in layers that are
// all as high as a part of the box. Among all layouts of that form the ones found are the best: a row is filled up until
// nothing more fits, since one that could take another piece is never better left short of it.

// mostStates that a layout of several kinds is looked for in: counts of the kinds, multiplied. Beyond it is said that
// it is not known; a box of so many kinds is packed by hand.
const mostStates = 250_000

// mostPieces of one kind in a box.
const mostPieces = 5000

// Most is how many of an item a room takes, and how they lie; nothing where not one fits.
func Most(r Room, of Item) (int, *Layout) { return lay(r, of, mostPieces) }

// Lay n of an item into a room, where there is room for more with as much space around each as there can be; nil where
// not one fits.
func Lay(r Room, of Item, n int) *Layout {
	if n > 0 && !tooSmall(r, []Item{of}) {
		if l := spread(r, of, n); l != nil {
			return l
		}
	}
	_, l := lay(r, of, n)
	return l
}

// spread n of an item over a single layer in rows that are alike; nil where they do not lie in one.
func spread(r Room, of Item, n int) *Layout {
	best, widest := (*Layout)(nil), -1.0
	for _, across := range []bool{false, true} {
		s := newSpace(r, []Item{of}, 1, across)
		for d := range s.depths {
			w := s.depths[d].ways[0]
			for rows := 1; float64(rows)*w.deep <= s.wide+slack && rows <= n; rows++ {
				each := (n + rows - 1) / rows
				if float64(each)*w.along > s.long+slack || each*(rows-1) >= n || n > r.carries(of.Mass) {
					continue
				}
				gap := min((s.long-float64(each)*w.along)/float64(each+1), (s.wide-float64(rows)*w.deep)/float64(rows+1))
				if n%rows != 0 { // a row that is not full looks as though something were missing
					gap /= 4
				}
				if gap > widest+slack {
					l := Layout{Across: across, Layers: []Layer{{}}}
					for left := n; left > 0; left -= each {
						row := Row{Deep: w.deep}
						for range min(each, left) {
							row.Pieces = append(row.Pieces, s.placed(0, d))
						}
						l.Layers[0].add(row)
					}
					best, widest = &l, gap
				}
			}
		}
	}
	return best
}

// lay at most so many.
func lay(r Room, of Item, most int) (int, *Layout) {
	best, layout := 0, (*Layout)(nil)
	if tooSmall(r, []Item{of}) {
		return 0, nil
	}
	for layers := 1; layers <= max(r.Layers, 1); layers++ {
		if layers > 1 && of.Bare {
			break
		}
		for _, across := range []bool{false, true} {
			s := newSpace(r, []Item{of}, layers, across)
			rows := s.fill()
			n := 0
			for _, d := range rows {
				n += s.inRow(d)
			}
			if n = min(n*layers, r.carries(of.Mass), most); n > best {
				best, layout = n, s.laid(rows, n, layers)
			}
		}
	}
	return best, layout
}

// Sets is how many sets of several items, so many of each, a room takes together, and how they lie. known is false
// where that is too many kinds to say.
func Sets(r Room, items []Item, pattern []int) (sets int, layout *Layout, known bool) {
	if len(items) == 1 && pattern[0] == 1 {
		n, l := Most(r, items[0])
		return n, l, true
	}
	mass, volume := si.Grams(0), 0.0
	for i, of := range items {
		mass += of.Mass.Times(float64(pattern[i]))
		volume += of.Length * of.Width * of.Height * float64(pattern[i])
	}
	if tooSmall(r, items) || !(volume > 0) {
		return 0, nil, true
	}
	limit := int(min(float64(r.carries(mass)), r.Length*r.Width*r.Headroom()/volume+1e-9, mostPieces))
	counts := make([]int, len(items))
	for n := 1; n <= limit; n++ {
		for i := range counts {
			counts[i] = pattern[i] * n
		}
		l, known := Fit(r, items, counts)
		if !known {
			return sets, layout, false
		}
		if l == nil {
			break
		}
		sets, layout = n, l
	}
	return sets, layout, true
}

// Fit lays so many of each item into a room; nil where they do not fit. known is false where they are too many kinds to
// say.
func Fit(r Room, items []Item, counts []int) (layout *Layout, known bool) {
	if tooSmall(r, items) {
		return nil, true
	}
	mass, states, bare := si.Grams(0), 1, false
	for i, of := range items {
		mass += of.Mass.Times(float64(counts[i]))
		bare = bare || of.Bare
		if states *= counts[i] + 1; states > mostStates {
			return nil, false
		}
	}
	if r.carries(mass) < 1 {
		return nil, true
	}
	layers := max(r.Layers, 1)
	if bare {
		layers = 1
	}
	for n := 1; n <= layers; n++ {
		for _, across := range []bool{false, true} {
			if l := newSpace(r, items, n, across).fit(counts, states); l != nil {
				return l, true
			}
		}
	}
	return nil, true
}

// space is a room with its rows in one direction, and the depths that rows of the items can have.
type space struct {
	items      []Item
	long, wide float64 // along the rows, and across them
	layers     int
	across     bool
	depths     []depth
}

// depth of a row: of each item the way that takes least along it, of those that are no deeper; nil where none is.
type depth struct {
	deep float64
	ways []*way
}

func newSpace(r Room, items []Item, layers int, across bool) *space {
	s := &space{items: items, long: r.Length, wide: r.Width, layers: layers, across: across}
	if across {
		s.long, s.wide = r.Width, r.Length
	}
	high := r.layerHeight(layers) + slack
	ways := make([][]way, len(items))
	for i, of := range items {
		ways[i] = slices.DeleteFunc(of.ways(), func(w way) bool {
			return w.high > high || w.along > s.long+slack || w.deep > s.wide+slack
		})
		for _, w := range ways[i] {
			if !slices.ContainsFunc(s.depths, func(d depth) bool { return math.Abs(d.deep-w.deep) <= slack }) {
				s.depths = append(s.depths, depth{deep: w.deep})
			}
		}
	}
	slices.SortFunc(s.depths, func(a, b depth) int {
		if a.deep < b.deep {
			return -1
		}
		return 1
	})
	for d := range s.depths {
		s.depths[d].ways = make([]*way, len(items))
		for i := range items {
			for _, w := range ways[i] {
				if best := s.depths[d].ways[i]; w.deep <= s.depths[d].deep+slack && (best == nil || w.along < best.along) {
					s.depths[d].ways[i] = new(w)
				}
			}
		}
	}
	return s
}

// inRow is how many of a single item a row of a depth takes.
func (s *space) inRow(d int) int { return int((s.long + slack) / s.depths[d].ways[0].along) }

// fill a layer with rows of a single item: which depths, so that most pieces lie in it.
func (s *space) fill() []int {
	var best, now []int
	most := -1
	var add func(from int, left float64, n int)
	add = func(from int, left float64, n int) {
		if n > most {
			most, best = n, slices.Clone(now)
		}
		for d := from; d < len(s.depths); d++ {
			// Rows that take no more than a less deep one are never better.
			if s.depths[d].deep > left+slack || d > 0 && s.inRow(d) <= s.inRow(d-1) {
				continue
			}
			if d == len(s.depths)-1 || !s.deeperHelps(d) { // as many as there is room for
				times := int((left + slack) / s.depths[d].deep)
				if total := n + times*s.inRow(d); total > most {
					most, best = total, append(slices.Clone(now), slices.Repeat([]int{d}, times)...)
				}
				continue
			}
			now = append(now, d)
			add(d, left-s.depths[d].deep, n+s.inRow(d))
			now = now[:len(now)-1]
		}
	}
	add(0, s.wide, 0)
	return best
}

// deeperHelps tells whether some deeper row takes more than a depth does.
func (s *space) deeperHelps(d int) bool {
	for x := d + 1; x < len(s.depths); x++ {
		if s.inRow(x) > s.inRow(d) {
			return true
		}
	}
	return false
}

// laid out rows of a single item in so many layers, n pieces in all.
func (s *space) laid(rows []int, n, layers int) *Layout {
	l := &Layout{Across: s.across}
	for range layers {
		var layer Layer
		for _, d := range rows {
			row := Row{Deep: s.depths[d].deep}
			for range min(s.inRow(d), n) {
				row.Pieces = append(row.Pieces, s.placed(0, d))
			}
			if n -= len(row.Pieces); len(row.Pieces) > 0 {
				layer.add(row)
			}
		}
		if len(layer.Rows) > 0 {
			l.Layers = append(l.Layers, layer)
		}
	}
	return l
}

func (s *space) placed(item, d int) Placed {
	w := s.depths[d].ways[item]
	return Placed{item, w.along, w.deep, w.high}
}

func (l *Layer) add(r Row) {
	l.Deep += r.Deep
	for _, p := range r.Pieces {
		l.High = max(l.High, p.High)
	}
	l.Rows = append(l.Rows, r)
}

// mark is how far a space is filled when so much of each item lies in it: layers that are full, and what of the next
// is taken. Less is better whatever is still to come, so that of all ways to lay as much down only the best is kept.
type mark struct {
	layer int
	deep  float64
	from  int // state that the last row came to
	d     int // its depth
}

func (m mark) less(o mark) bool {
	return m.layer < o.layer || m.layer == o.layer && m.deep < o.deep-slack
}

// fit so many of each item; nil where they do not fit in rows of this direction.
func (s *space) fit(counts []int, states int) *Layout {
	marks := make([]mark, states)
	for i := range marks {
		marks[i] = mark{layer: math.MaxInt}
	}
	marks[0] = mark{deep: 0, from: -1}
	at, row := make([]int, len(counts)), make([]int, len(counts))
	steps := make([]int, len(counts)) // of the index, by one more of an item
	for i, n := 0, 1; i < len(counts); i++ {
		steps[i] = n
		n *= counts[i] + 1
	}
	for state := range marks {
		m := marks[state]
		if m.layer >= s.layers {
			continue
		}
		for i, rest := len(counts)-1, state; i >= 0; i-- {
			at[i], rest = rest/steps[i], rest%steps[i]
		}
		for d := range s.depths {
			next := mark{m.layer, m.deep + s.depths[d].deep, state, d}
			if next.deep > s.wide+slack {
				next.layer, next.deep = m.layer+1, s.depths[d].deep
			}
			if next.layer >= s.layers {
				continue
			}
			s.rows(d, 0, s.long, at, counts, row, func() {
				to := state
				for i, n := range row {
					to += n * steps[i]
				}
				if to != state && next.less(marks[to]) {
					marks[to] = next
				}
			})
		}
	}
	last := states - 1
	if marks[last].layer >= s.layers {
		return nil
	}
	return s.traced(marks, steps)
}

// rows of a depth that are filled up: told one after the other, in row.
func (s *space) rows(d, item int, left float64, at, counts, row []int, tell func()) {
	if item == len(counts) {
		for i := range counts { // one that could take more is not told
			if w := s.depths[d].ways[i]; w != nil && at[i]+row[i] < counts[i] && w.along <= left+slack {
				return
			}
		}
		tell()
		return
	}
	w := s.depths[d].ways[item]
	most := 0
	if w != nil {
		most = min(counts[item]-at[item], int((left+slack)/w.along))
	}
	least := 0
	if item == len(counts)-1 { // with fewer of the last, one more could be taken
		least = most
	}
	for n := most; n >= least; n-- {
		row[item] = n
		rest := left
		if n > 0 {
			rest -= float64(n) * w.along
		}
		s.rows(d, item+1, rest, at, counts, row, tell)
	}
	row[item] = 0
}

// traced back from the last state to the first: the rows, and in which layer each lies.
func (s *space) traced(marks []mark, steps []int) *Layout {
	l := &Layout{Across: s.across, Layers: make([]Layer, marks[len(marks)-1].layer+1)}
	for state := len(marks) - 1; marks[state].from >= 0; state = marks[state].from {
		m := marks[state]
		row := Row{Deep: s.depths[m.d].deep}
		added := state - m.from
		for i := len(steps) - 1; i >= 0; i-- {
			for range added / steps[i] {
				row.Pieces = append(row.Pieces, s.placed(i, m.d))
			}
			added %= steps[i]
		}
		slices.SortStableFunc(row.Pieces, func(a, b Placed) int { return a.Item - b.Item })
		l.Layers[m.layer].add(row)
	}
	for i := range l.Layers {
		slices.Reverse(l.Layers[i].Rows)
	}
	return l
}
