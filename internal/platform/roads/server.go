package roads

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"net/http"
	"net/url"
	"strings"
	"time"

	"zestytin/core/route"
	"zestytin/core/si"
)

// Server is a routing server of one's own that answers table and route requests in JSON, with longitude before
// latitude. It does not know addresses.
type Server struct {
	Base string // such as http://127.0.0.1:5000
	HTTP *http.Client
}

// NewServer at an address that somebody has named.
func NewServer(base string) (*Server, error) {
	u, err := url.Parse(base)
	if err != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https" {
		return nil, fmt.Errorf("%q is not the address of a routing server: write it like http://127.0.0.1:5000", base)
	}
	return &Server{strings.TrimRight(base, "/"), &http.Client{Timeout: 5 * time.Second}}, nil
}

// Find knows no addresses.
func (s *Server) Find(context.Context, string) (Position, error) { return Position{}, ErrUnknown }

// most that an answer may hold, bytes.
const mostAnswer = 8 << 20

func (s *Server) ask(ctx context.Context, service string, at []Position, query string, into any) error {
	points := make([]string, len(at))
	for i, p := range at {
		points[i] = fmt.Sprintf("%.6f,%.6f", p.Lon, p.Lat)
	}
	to := s.Base + "/" + service + "/v1/driving/" + strings.Join(points, ";") + "?" + query
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, to, nil)
	if err != nil {
		return err
	}
	answer, err := s.HTTP.Do(req)
	if err != nil {
		return err
	}
	defer answer.Body.Close()
	body, err := io.ReadAll(io.LimitReader(answer.Body, mostAnswer))
	if err != nil {
		return err
	}
	var said struct{ Code, Message string }
	if err := json.Unmarshal(body, &said); err != nil {
		return fmt.Errorf("the routing server answered %d with no JSON: %w", answer.StatusCode, err)
	}
	switch said.Code {
	case "Ok":
		return json.Unmarshal(body, into)
	case "NoSegment", "NoRoute", "NoTable":
		return ErrOffTheMap
	}
	return fmt.Errorf("the routing server answered %d: %s %s", answer.StatusCode, said.Code, said.Message)
}

// Table of the ways. The server knows free roads; the pace of the day is the usual one.
func (s *Server) Table(ctx context.Context, at []Position) (route.Ways, error) {
	var got struct {
		Durations, Distances [][]*float64
	}
	w := route.Ways{Pace: route.Usual()}
	if err := s.ask(ctx, "table", at, "annotations=duration,distance", &got); err != nil {
		return w, err
	}
	if len(got.Durations) != len(at) || len(got.Distances) != len(at) {
		return w, fmt.Errorf("the routing server answered for %d of %d positions", len(got.Durations), len(at))
	}
	for i := range at {
		if len(got.Durations[i]) != len(at) || len(got.Distances[i]) != len(at) {
			return w, fmt.Errorf("the routing server answered for %d of %d positions", len(got.Durations[i]), len(at))
		}
		free, metres := make([]si.Seconds, len(at)), make([]float64, len(at))
		for j := range at {
			d, m := got.Durations[i][j], got.Distances[i][j]
			if d == nil || m == nil || *d < 0 || *m < 0 { // null: no way leads there
				return w, ErrOffTheMap
			}
			free[j], metres[j] = si.Seconds(math.Ceil(*d)), *m
		}
		w.Free, w.Metres = append(w.Free, free), append(w.Metres, metres)
	}
	return w, nil
}

// Lines of the legs of a route.
func (s *Server) Lines(ctx context.Context, at []Position) ([][]Position, error) {
	var lines [][]Position
	for i := 1; i < len(at); i++ {
		var got struct {
			Routes []struct {
				Geometry struct{ Coordinates [][2]float64 }
			}
		}
		if err := s.ask(ctx, "route", at[i-1:i+1], "overview=full&geometries=geojson", &got); err != nil {
			return nil, err
		}
		line := []Position{}
		if len(got.Routes) > 0 {
			for _, c := range got.Routes[0].Geometry.Coordinates {
				line = append(line, Position{c[1], c[0]})
			}
		}
		lines = append(lines, line)
	}
	return lines, nil
}
