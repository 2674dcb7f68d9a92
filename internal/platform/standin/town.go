// Package standin has what stands in for the world outside: a town with its streets, and the weather.
package standin

import (
	"cmp"
	"context"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"gonum.org/v1/gonum/graph/path"
	"gonum.org/v1/gonum/graph/simple"

	"zestytin/core/route"
	"zestytin/core/si"
	"zestytin/internal/platform/roads"
)

// point in metres east and north of the town's market.
type point struct{ x, y float64 }

// street of the town: its houses are numbered from its begin, one every fifteen metres.
type street struct {
	Name  string
	Speed float64 // km/h on a free road
	line  []point
}

// Town is a small lakeside town that is nowhere: its market lies in the open sea.
type Town struct {
	streets []street
	places  map[string]point // by name, lower case
	water   []point
	pace    route.Pace
}

var market = roads.Position{Lat: 46, Lon: -28}

// Lakeside is the town.
func Lakeside() *Town {
	pace := route.Usual()
	return &Town{pace: pace,
		streets: []street{
			{"Mill Street", 40, []point{{0, 0}, {900, 700}, {1500, 1500}}},
			{"Lake Road", 60, []point{{1500, 1500}, {2600, 1700}, {4200, 1400}, {5600, 300}}},
			{"School Lane", 30, []point{{0, 0}, {-900, 600}, {-2000, 1100}}},
			{"Main Street", 45, []point{{0, 0}, {1300, -250}, {2600, -300}}},
			{"Hill Road", 70, []point{{2600, -300}, {4200, -1600}, {6000, -2600}}},
			{"Orchard Way", 50, []point{{5600, 300}, {5000, -700}, {4200, -1600}}},
			{"Pier Lane", 30, []point{{1500, 1500}, {1300, 2300}}},
			{"Quay", 30, []point{{1500, 1500}, {400, 1750}, {-600, 1900}}},
			{"Boathouse Lane", 30, []point{{0, 0}, {-500, -400}, {-900, -900}}},
			{"Station Road", 50, []point{{0, 0}, {-200, -1500}, {-1400, -2600}}},
			{"Ferry Road", 60, []point{{2600, -300}, {2200, -2000}, {3300, -3300}}},
			{"Chapel Hill", 30, []point{{900, 700}, {1900, 400}, {2600, -300}}},
		},
		places: map[string]point{
			"reading room": {1330, 1270}, "library": {1330, 1270}, "orchard barn": {6000, -2600},
			"boathouse, pier": {1300, 2300}, "boathouse pier": {1300, 2300}, "school hall": {-900, 600},
			"lakeside school": {-900, 600}, "ferry office": {-600, 1900}, "choir room": {1900, 400},
			"town hall": {0, 0}, "market": {0, 0}, "station": {-1400, -2600},
		},
		water: []point{{-9000, 2600}, {-1600, 2300}, {-600, 1980}, {400, 1850}, {1250, 1900}, {1220, 2320}, {1390, 2320},
			{1600, 1800}, {2600, 2000}, {4300, 1700}, {6000, 900}, {9000, 700}, {9000, 7000}, {-9000, 7000}},
	}
}

// on the earth.
func (p point) on() roads.Position {
	m := 111320.0 // to a degree of latitude
	return roads.Position{Lat: market.Lat + p.y/m, Lon: market.Lon + p.x/m/math.Cos(market.Lat*math.Pi/180)}
}

func of(p roads.Position) point {
	m := 111320.0
	return point{(p.Lon - market.Lon) * m * math.Cos(market.Lat*math.Pi/180), (p.Lat - market.Lat) * m}
}

func (p point) to(q point) float64 { return math.Hypot(p.x-q.x, p.y-q.y) }

func (p point) towards(q point, share float64) point {
	return point{p.x + (q.x-p.x)*share, p.y + (q.y-p.y)*share}
}

var houseNumber = regexp.MustCompile(`\b(\d{1,4})\b`)

// Find a place by its name, or a house by its street and number; a street alone is its middle.
func (t *Town) Find(_ context.Context, address string) (roads.Position, error) {
	text := strings.ToLower(address)
	names := make([]string, 0, len(t.places))
	for name := range t.places {
		names = append(names, name)
	}
	slices.SortFunc(names, func(a, b string) int { return cmp.Or(cmp.Compare(len(b), len(a)), cmp.Compare(a, b)) })
	for _, name := range names {
		if strings.Contains(text, name) {
			return t.places[name].on(), nil
		}
	}
	for _, s := range t.streets {
		at := strings.Index(text, strings.ToLower(s.Name))
		if at < 0 {
			continue
		}
		along := s.length() / 2
		if m := houseNumber.FindString(text[max(at-6, 0):]); m != "" {
			number, _ := strconv.Atoi(m)
			along = min(float64(number)*15, s.length())
		}
		return s.at(along).on(), nil
	}
	return roads.Position{}, roads.ErrUnknown
}

func (s *street) length() float64 {
	sum := 0.0
	for i := 1; i < len(s.line); i++ {
		sum += s.line[i-1].to(s.line[i])
	}
	return sum
}

// at so many metres from its begin.
func (s *street) at(along float64) point {
	for i := 1; i < len(s.line); i++ {
		d := s.line[i-1].to(s.line[i])
		if along <= d {
			return s.line[i-1].towards(s.line[i], along/d)
		}
		along -= d
	}
	return s.line[len(s.line)-1]
}

// network of the streets with the positions of a question on it, each at the nearest point of a street.
type network struct {
	graph  *simple.WeightedUndirectedGraph
	points []point
	length map[[2]int64]float64
	stops  []int64 // node of each position
}

const (
	offTheMap = 3000.0     // m from every street
	onFoot    = 12.0 / 3.6 // m/s of the last metres to a door
)

func (t *Town) network(at []roads.Position) (*network, error) {
	n := &network{graph: simple.NewWeightedUndirectedGraph(0, math.Inf(1)), length: map[[2]int64]float64{}}
	nodes := map[point]int64{}
	node := func(p point) int64 {
		if id, seen := nodes[p]; seen {
			return id
		}
		id := int64(len(n.points))
		nodes[p], n.points = id, append(n.points, p)
		n.graph.AddNode(simple.Node(id))
		return id
	}
	connect := func(a, b int64, speed float64) {
		if a == b {
			return
		}
		d := n.points[a].to(n.points[b])
		n.length[[2]int64{min(a, b), max(a, b)}] = d
		n.graph.SetWeightedEdge(simple.WeightedEdge{F: simple.Node(a), T: simple.Node(b), W: d / speed})
	}
	type spot struct {
		along float64
		at    point
	}
	on := map[[2]int][]spot{} // by street and stretch of it
	for _, position := range at {
		p := of(position)
		best, found, where := point{}, math.Inf(1), [2]int{}
		var along float64
		for i, s := range t.streets {
			for j := 1; j < len(s.line); j++ {
				a, b := s.line[j-1], s.line[j]
				d := a.to(b)
				share := ((p.x-a.x)*(b.x-a.x) + (p.y-a.y)*(b.y-a.y)) / (d * d)
				q := a.towards(b, min(max(share, 0), 1))
				if far := p.to(q); far < found {
					best, found, where, along = q, far, [2]int{i, j}, min(max(share, 0), 1)
				}
			}
		}
		if found > offTheMap {
			return nil, roads.ErrOffTheMap
		}
		on[where] = append(on[where], spot{along, best})
		stop := node(p)
		n.stops = append(n.stops, stop)
		if door := node(best); door != stop {
			connect(stop, door, onFoot)
		}
	}
	for i, s := range t.streets {
		for j := 1; j < len(s.line); j++ {
			spots := on[[2]int{i, j}]
			slices.SortFunc(spots, func(a, b spot) int { return cmp.Compare(a.along, b.along) })
			last := node(s.line[j-1])
			for _, x := range spots {
				connect(last, node(x.at), s.Speed/3.6)
				last = node(x.at)
			}
			connect(last, node(s.line[j]), s.Speed/3.6)
		}
	}
	return n, nil
}

// Table of the quickest ways on free streets.
func (t *Town) Table(_ context.Context, at []roads.Position) (route.Ways, error) {
	w := route.Ways{Pace: t.pace}
	n, err := t.network(at)
	if err != nil {
		return w, err
	}
	for _, from := range n.stops {
		tree := path.DijkstraFrom(simple.Node(from), n.graph)
		free, metres := []si.Seconds{}, []float64{}
		for _, to := range n.stops {
			way, takes := tree.To(to)
			far := 0.0
			for i := 1; i < len(way); i++ {
				far += n.length[[2]int64{min(way[i-1].ID(), way[i].ID()), max(way[i-1].ID(), way[i].ID())}]
			}
			free, metres = append(free, si.Seconds(math.Ceil(takes-1e-9))), append(metres, far)
		}
		w.Free, w.Metres = append(w.Free, free), append(w.Metres, metres)
	}
	return w, nil
}

// Lines along the streets.
func (t *Town) Lines(_ context.Context, at []roads.Position) ([][]roads.Position, error) {
	n, err := t.network(at)
	if err != nil {
		return nil, err
	}
	lines := [][]roads.Position{}
	for i := 1; i < len(at); i++ {
		way, _ := path.DijkstraFrom(simple.Node(n.stops[i-1]), n.graph).To(n.stops[i])
		line := []roads.Position{}
		for _, node := range way {
			line = append(line, n.points[node.ID()].on())
		}
		lines = append(lines, line)
	}
	return lines, nil
}

// Drawing of the map: its streets and its water.
func (t *Town) Drawing() (streets []roads.Street, water []roads.Position) {
	for _, s := range t.streets {
		drawn := roads.Street{Name: s.Name}
		for _, p := range s.line {
			drawn.Line = append(drawn.Line, p.on())
		}
		streets = append(streets, drawn)
	}
	for _, p := range t.water {
		water = append(water, p.on())
	}
	return streets, water
}
