package route

import (
	"context"
	"fmt"
	"math"
	"slices"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/lap"
	"fairlap/internal/app/access"
	"fairlap/internal/store"
)

// Shorter is a lap's order as it is beside the shortest along the roads.
type Shorter struct {
	Lap     string      `json:"lap"`
	Version int         `json:"version"`
	Given   LapWay      `json:"given"`
	Best    LapWay      `json:"best"`
	Order   []ShortStop `json:"order" nullable:"false" doc:"the shortest; stops done and the one at hand stay in front"`
	Now     []string    `json:"now" nullable:"false" doc:"ids of the stops in the order they are in: puts it back"`
	Unknown []string    `json:"unknown" nullable:"false" doc:"pools without a place on the map: an order can't be computed while there are any"`
}

// LapWay is the way of the stops still to come.
type LapWay struct {
	Miles   float64 `json:"miles"`
	Minutes float64 `json:"minutes"`
}

// ShortStop is a stop by name.
type ShortStop struct {
	ID     string `json:"id"`
	Street string `json:"street"`
}

// Shorten works out the shortest order of today's stops to come.
func (s *Service) Shorten(ctx context.Context, a access.Actor, id uuid.UUID) (Shorter, error) {
	l, done, err := s.lapAhead(ctx, a, id)
	if err != nil {
		return Shorter{}, err
	}
	out := Shorter{Lap: l.ID.String(), Version: l.Version, Order: []ShortStop{}, Now: []string{}, Unknown: []string{}}
	pools, err := s.poolsAt(ctx, l.Stops)
	if err != nil {
		return out, err
	}
	for i, st := range l.Stops {
		out.Now = append(out.Now, st.ID.String())
		if i >= done && placeOf(pools[st.PoolID]) == nil {
			out.Unknown = append(out.Unknown, pools[st.PoolID].Name())
		}
	}
	if len(out.Unknown) > 0 {
		return out, nil
	}
	roads := s.keeper.World.Roads
	if roads == nil {
		roads = lap.Straight
	}
	ahead := l.Stops[done:]
	ways := make([][]lap.Way, len(ahead))
	for i, from := range ahead {
		for _, to := range ahead {
			ways[i] = append(ways[i], roads(*placeOf(pools[from.PoolID]), *placeOf(pools[to.PoolID])))
		}
	}
	order := lap.Order(ways)
	out.Given, out.Best = LapWay(lap.Length(ways, lap.Given(len(ways)))), LapWay(lap.Length(ways, order))
	for i := range done {
		out.Order = append(out.Order, ShortStop{ID: l.Stops[i].ID.String(), Street: pools[l.Stops[i].PoolID].Name()})
	}
	for _, i := range order {
		out.Order = append(out.Order, ShortStop{ID: ahead[i].ID.String(), Street: pools[ahead[i].PoolID].Name()})
	}
	return out, nil
}

// LapMap is where a lap's stops are, and the streets around them.
type LapMap struct {
	Stops   []MapStop      `json:"stops" nullable:"false" doc:"those whose place is known, in order"`
	Streets [][][2]float64 `json:"streets" nullable:"false" doc:"lines of degrees east and north, as far as they are shipped"`
	Tiles   string         `json:"tiles" doc:"address of a map's tiles; empty: the streets alone are drawn"`
}

// MapStop is a stop on the map.
type MapStop struct {
	ShortStop
	Position int     `json:"position"`
	Lat      float64 `json:"lat"`
	Lon      float64 `json:"lon"`
}

// margin is how far around the stops streets are told, degrees.
const margin = 0.02

// Map tells where a lap's stops are, with the streets around them.
func (s *Service) Map(ctx context.Context, a access.Actor, id uuid.UUID) (LapMap, error) {
	l, _, err := s.lapAhead(ctx, a, id)
	if err != nil {
		return LapMap{}, err
	}
	pools, err := s.poolsAt(ctx, l.Stops)
	if err != nil {
		return LapMap{}, err
	}
	out := LapMap{Stops: []MapStop{}, Streets: [][][2]float64{}, Tiles: s.keeper.World.Tiles}
	for _, st := range l.Stops {
		if at := placeOf(pools[st.PoolID]); at != nil {
			name := ShortStop{ID: st.ID.String(), Street: pools[st.PoolID].Name()}
			out.Stops = append(out.Stops, MapStop{ShortStop: name, Position: st.Position, Lat: at.Lat, Lon: at.Lon})
		}
	}
	near := func(p [2]float64) bool {
		return slices.ContainsFunc(out.Stops, func(s MapStop) bool {
			return math.Abs(s.Lon-p[0]) < margin && math.Abs(s.Lat-p[1]) < margin
		})
	}
	for _, line := range s.keeper.World.Streets {
		if slices.ContainsFunc(line, near) {
			out.Streets = append(out.Streets, line)
		}
	}
	return out, nil
}

// lapAhead finds a lap and how many of its stops are settled: those done.
func (s *Service) lapAhead(ctx context.Context, a access.Actor, id uuid.UUID) (store.Lap, int, error) {
	l, err := s.keeper.Store.LapByID(ctx, id)
	if err != nil {
		return l, 0, fmt.Errorf("finding the lap: %w", err)
	}
	if !a.MaySee(&l.TechnicianID) {
		return l, 0, access.ErrForbidden
	}
	ids := make([]uuid.UUID, len(l.Stops))
	for i, st := range l.Stops {
		ids[i] = st.ID
	}
	logged, err := s.keeper.Store.VisitOfStops(ctx, ids)
	if err != nil {
		return l, 0, fmt.Errorf("reading what was logged: %w", err)
	}
	done := 0
	for i, st := range l.Stops {
		if _, ok := logged[st.ID]; ok {
			done = i + 1
		}
	}
	return l, done, nil
}

// LapOf shows one lap.
func (s *Service) LapOf(ctx context.Context, a access.Actor, id uuid.UUID) (LapView, error) {
	l, _, err := s.lapAhead(ctx, a, id)
	if err != nil {
		return LapView{}, err
	}
	return s.Lap(ctx, a, l.Day.Format(time.DateOnly), l.TechnicianID.String())
}

// LapOrder is a new order of a lap's stops.
type LapOrder struct {
	Version int         `json:"version" minimum:"1"`
	Stops   []uuid.UUID `json:"stops" maxItems:"60" nullable:"false" doc:"all stops, in order"`
}

// OrderLap puts a lap's stops in another order, those done excepted, and gives them
// their times. When the lap changed meanwhile the error is store.ErrVersion.
func (s *Service) OrderLap(ctx context.Context, a access.Actor, id uuid.UUID, o LapOrder) (LapView, error) {
	l, done, err := s.lapAhead(ctx, a, id)
	if err != nil {
		return LapView{}, err
	}
	byID := make(map[uuid.UUID]store.Stop, len(l.Stops))
	for _, st := range l.Stops {
		byID[st.ID] = st
	}
	next := make([]store.Stop, 0, len(l.Stops))
	for i, stop := range o.Stops {
		st, ok := byID[stop]
		if !ok || (i < done && l.Stops[i].ID != stop) {
			return LapView{}, figure.Wrong("stops", "app.name-each-stop-of-the")
		}
		delete(byID, stop)
		next = append(next, st)
	}
	if len(byID) > 0 {
		return LapView{}, figure.Wrong("stops", "app.name-each-stop-of-the")
	}
	if done < len(next) && len(l.Stops) > 0 {
		next[done].PlannedAt = l.Stops[done].PlannedAt // the next one is reached as before
	}
	l.Stops, l.Version = next, o.Version
	if err := s.timed(ctx, &l, done+1); err != nil {
		return LapView{}, err
	}
	if _, err := s.keeper.Store.ReviseLap(ctx, l, s.keeper.Now()); err != nil {
		return LapView{}, err
	}
	return s.Lap(ctx, a, l.Day.Format(time.DateOnly), l.TechnicianID.String())
}
