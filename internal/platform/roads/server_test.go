package roads_test

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"zestytin/internal/platform/roads"
	"zestytin/internal/platform/standin"
)

// A routing server as they are: table and route answer in JSON, longitude first; the ways are those of the town.
func routing(t *testing.T) *roads.Server {
	t.Helper()
	town := standin.Lakeside()
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		parts := strings.Split(strings.TrimPrefix(r.URL.Path, "/"), "/")
		var at []roads.Position
		for _, pair := range strings.Split(parts[3], ";") {
			var p roads.Position
			if _, err := fmt.Sscanf(pair, "%f,%f", &p.Lon, &p.Lat); err != nil {
				http.Error(w, `{"code":"InvalidQuery","message":"no coordinates"}`, http.StatusBadRequest)
				return
			}
			at = append(at, p)
		}
		answer := map[string]any{"code": "Ok"}
		ways, err := town.Table(r.Context(), at)
		if err != nil {
			w.WriteHeader(http.StatusBadRequest)
			answer = map[string]any{"code": "NoSegment", "message": "too far from a street"}
		} else if parts[0] == "table" && r.URL.Query().Get("annotations") == "duration,distance" {
			answer["durations"], answer["distances"] = ways.Free, ways.Metres
		} else if parts[0] == "route" && r.URL.Query().Get("geometries") == "geojson" {
			lines, _ := town.Lines(r.Context(), at)
			drawn := [][2]float64{}
			for _, p := range lines[0] {
				drawn = append(drawn, [2]float64{p.Lon, p.Lat})
			}
			answer["routes"] = []any{map[string]any{"geometry": map[string]any{"type": "LineString", "coordinates": drawn}}}
		}
		_ = json.NewEncoder(w).Encode(answer)
	}))
	t.Cleanup(server.Close)
	s, err := roads.NewServer(server.URL + "/")
	if err != nil {
		t.Fatal(err)
	}
	return s
}

func places(t *testing.T, names ...string) (at []roads.Position) {
	t.Helper()
	for _, name := range names {
		p, err := standin.Lakeside().Find(t.Context(), name)
		if err != nil {
			t.Fatal(err)
		}
		at = append(at, p)
	}
	return at
}

// The same ways from the town and by way of a routing server.
func TestARoutingServerOfOnesOwn(t *testing.T) {
	t.Parallel()
	server, town := routing(t), standin.Lakeside()
	at := places(t, "3 Boathouse Lane", "Reading room, Mill Street", "Orchard barn", "Quay 40")
	got, err := server.Table(t.Context(), at)
	want, _ := town.Table(t.Context(), at)
	if err != nil || len(got.Free) != 4 {
		t.Fatalf("%v, %v", got, err)
	}
	for i := range at {
		for j := range at {
			if d := got.Free[i][j] - want.Free[i][j]; d < -1 || d > 1 || math.Abs(got.Metres[i][j]-want.Metres[i][j]) > 1 {
				t.Errorf("%d to %d: %d s, %.0f m; %d s, %.0f m", i, j, got.Free[i][j], got.Metres[i][j], want.Free[i][j],
					want.Metres[i][j])
			}
		}
	}
	lines, err := server.Lines(t.Context(), at)
	if err != nil || len(lines) != 3 || len(lines[1]) < 4 {
		t.Errorf("%v, %v", lines, err)
	}
	if _, err := server.Table(t.Context(), append(at, roads.Position{Lat: 10, Lon: 10})); !errors.Is(err,
		roads.ErrOffTheMap) {
		t.Error(err)
	}
	if _, err := server.Find(t.Context(), "Quay 3"); !errors.Is(err, roads.ErrUnknown) {
		t.Error(err)
	}
}

// Answers that are none: no server, no JSON, too few, a way that does not exist.
func TestARoutingServerThatFails(t *testing.T) {
	t.Parallel()
	for answer, want := range map[string]string{
		"<html>": "no JSON", `{"code":"InvalidUrl","message":"what?"}`: "what?",
		`{"code":"Ok","durations":[[0]],"distances":[[0]]}`:                       "for 1 of 2",
		`{"code":"Ok","durations":[[0],[0]],"distances":[[0],[0]]}`:               "for 1 of 2",
		`{"code":"Ok","durations":[[0,null],[0,0]],"distances":[[0,null],[0,0]]}`: "too far from every road",
	} {
		server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
			_, _ = w.Write([]byte(answer))
		}))
		s, _ := roads.NewServer(server.URL)
		if _, err := s.Table(context.Background(), make([]roads.Position, 2)); err == nil ||
			!strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v", answer, err)
		}
		server.Close()
		if _, err := s.Table(context.Background(), make([]roads.Position, 2)); err == nil {
			t.Error("a closed server answers")
		}
	}
	for _, address := range []string{"", "127.0.0.1:5000", "ftp://127.0.0.1", "http://"} {
		if _, err := roads.NewServer(address); err == nil {
			t.Errorf("%q is taken", address)
		}
	}
}

// A degree of a great circle is 111.195 km on a sphere of 6371.0088 km (2 pi r / 360), whichever way; the estimate is
// 1.3 times that, at 40 km/h.
func TestStraightLines(t *testing.T) {
	t.Parallel()
	for _, to := range []roads.Position{{Lat: 1}, {Lon: 1}, {Lat: -1}} {
		if d := roads.Straight(roads.Position{}, to); math.Abs(d-111195.08) > 0.1 {
			t.Errorf("%.2f m", d)
		}
	}
	if free, metres := roads.Estimate(roads.Position{}, roads.Position{Lat: 0.01}); math.Abs(metres-1445.5) > 0.1 ||
		free != 131 {
		t.Errorf("%d s, %.1f m", free, metres)
	}
}

// Along Mill Street from house 20, 300 m from the market, to house 60, 900 m: 600 m at 40 km/h are 54 s. And whoever
// goes by way of a third place is never quicker.
func TestStreetsOfTheTown(t *testing.T) {
	t.Parallel()
	town := standin.Lakeside()
	at := places(t, "Mill Street 20", "60 Mill Street", "Orchard barn", "Quay 3", "Station Road 9", "School hall")
	w, err := town.Table(t.Context(), at)
	if err != nil || w.Free[0][1] != 54 || math.Abs(w.Metres[0][1]-600) > 0.5 {
		t.Fatalf("%d s, %.1f m, %v", w.Free[0][1], w.Metres[0][1], err)
	}
	for i := range at {
		for j := range at {
			for k := range at {
				if w.Free[i][j] > w.Free[i][k]+w.Free[k][j]+1 {
					t.Errorf("%d to %d is quicker by way of %d", i, j, k)
				}
			}
			if w.Metres[i][j] < roads.Straight(at[i], at[j])*0.99 {
				t.Errorf("%d to %d is shorter than a straight line", i, j)
			}
		}
	}
	if _, err := town.Find(t.Context(), "Nowhere 7"); !errors.Is(err, roads.ErrUnknown) {
		t.Error(err)
	}
	if _, err := town.Table(t.Context(), []roads.Position{{Lat: 50, Lon: 10}}); !errors.Is(err, roads.ErrOffTheMap) {
		t.Error(err)
	}
}
