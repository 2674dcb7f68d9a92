// Package roads is where addresses are and how long one drives between them. A map of roads is behind an interface: a
// town that ships with the program stands in for one, an own routing server is the other. Without either a straight
// line is an estimate. Nothing is ever asked of a server that nobody has named.
package roads

import (
	"context"
	"errors"
	"math"
	"regexp"
	"strconv"
	"strings"

	"zestytin/core/route"
	"zestytin/core/si"
)

// Position on the earth, in degrees: WGS 84.
type Position struct {
	Lat float64 `json:"lat" minimum:"-90" maximum:"90"`
	Lon float64 `json:"lon" minimum:"-180" maximum:"180"`
}

// Geo is the position as a geo URI (RFC 5870), to a metre.
func (p Position) Geo() string {
	f := func(x float64) string { return strconv.FormatFloat(math.Round(x*1e5)/1e5, 'f', -1, 64) }
	return "geo:" + f(p.Lat) + "," + f(p.Lon)
}

// Street as it is drawn.
type Street struct {
	Name string     `json:"name"`
	Line []Position `json:"line"`
}

// Map of roads.
type Map interface {
	// Find an address; ErrUnknown where the map does not have it.
	Find(ctx context.Context, address string) (Position, error)
	// Table of the ways between positions; ErrOffTheMap where one is too far from every road.
	Table(ctx context.Context, at []Position) (route.Ways, error)
	// Lines that one drives from each position to the next.
	Lines(ctx context.Context, at []Position) ([][]Position, error)
}

// Drawn is a map that can be drawn.
type Drawn interface {
	Drawing() (streets []Street, water []Position)
}

// None is no map at all.
type None struct{}

// Find nothing.
func (None) Find(context.Context, string) (Position, error) { return Position{}, ErrUnknown }

// Table of nothing.
func (None) Table(context.Context, []Position) (route.Ways, error) { return route.Ways{}, ErrOffTheMap }

// Lines of nothing.
func (None) Lines(context.Context, []Position) ([][]Position, error) { return nil, ErrOffTheMap }

// What a map says of what it does not have.
var (
	ErrUnknown   = errors.New("the map does not have this address")
	ErrOffTheMap = errors.New("a position is too far from every road of the map")
)

// coordinates as people paste them: "46.01, -28.02", or a geo URI.
var coordinates = regexp.MustCompile(
	`^\s*(?:geo:)?\s*(-?\d{1,2}(?:\.\d+)?)\s*°?\s*[,;\s]\s*(-?\d{1,3}(?:\.\d+)?)\s*°?\s*(?:[;?].*)?$`)

// Read coordinates; ok is false where it is something else.
func Read(text string) (p Position, ok bool) {
	m := coordinates.FindStringSubmatch(text)
	if m == nil {
		return p, false
	}
	p.Lat, _ = strconv.ParseFloat(m[1], 64)
	p.Lon, _ = strconv.ParseFloat(m[2], 64)
	return p, math.Abs(p.Lat) <= 90 && math.Abs(p.Lon) <= 180
}

// Key of an address: how it is remembered, whatever its capitals and spaces.
func Key(address string) string {
	return strings.ToLower(strings.Join(strings.Fields(strings.ReplaceAll(address, ",", " ")), " "))
}

// earth's mean radius, m.
const earth = 6371008.8

// Straight line between two positions, m: haversine.
func Straight(a, b Position) float64 {
	rad := math.Pi / 180
	s := func(x float64) float64 { return math.Pow(math.Sin(x*rad/2), 2) }
	h := s(b.Lat-a.Lat) + math.Cos(a.Lat*rad)*math.Cos(b.Lat*rad)*s(b.Lon-a.Lon)
	return 2 * earth * math.Asin(min(math.Sqrt(h), 1))
}

const (
	// detour of roads over the straight line; common practice.
	detour = 1.3
	// estimated speed in m/s: 40 km/h in towns and on country roads, common practice.
	estimated = 40 / 3.6
)

// Estimate of a way without a map: 1.3 times the straight line.
func Estimate(a, b Position) (free si.Seconds, metres float64) {
	metres = detour * Straight(a, b)
	return si.Seconds(math.Ceil(metres / estimated)), metres
}
