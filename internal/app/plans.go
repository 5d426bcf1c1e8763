package app

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"fairlap/core/lap"
	"fairlap/internal/store"
)

// VisitMove puts a planned visit on another day or into other hands.
type VisitMove struct {
	ID         uuid.UUID  `json:"id" format:"uuid" doc:"made by whoever moves it, so that a repeated move is one move"`
	On         string     `json:"on" maxLength:"10" doc:"the day that the pool's weekday gives"`
	To         string     `json:"to" maxLength:"10" doc:"the day to come on; empty takes the visit back to its own"`
	Technician *uuid.UUID `json:"technician,omitempty" format:"uuid" doc:"who goes, for this once"`
}

// movableDays is how far ahead visits may be moved.
const movableDays = 60

// MoveVisit moves a planned visit. Today's laps follow.
func (s *Service) MoveVisit(ctx context.Context, a Actor, pool uuid.UUID, m VisitMove) error {
	p, err := s.seePool(ctx, a, pool)
	if err != nil {
		return err
	}
	c, err := s.company(ctx)
	if err != nil {
		return err
	}
	row := store.VisitMove{ID: m.ID, PoolID: pool, MadeBy: a.ID, MadeAt: s.now()}
	var errs FieldErrors
	today := c.today(s.now())
	if row.PlannedOn, err = time.Parse(time.DateOnly, m.On); err != nil || row.PlannedOn.Weekday() != time.Weekday(p.Weekday) {
		errs = append(errs, FieldError{"on", "No visit of this pool is planned on that day."})
	}
	if m.To != "" {
		to, err := time.Parse(time.DateOnly, m.To)
		switch {
		case err != nil:
			errs = append(errs, FieldError{"to", "Type the day like 2026-11-24."})
		case to.Before(today) || to.After(today.AddDate(0, 0, movableDays)):
			errs = append(errs, FieldError{"to", fmt.Sprintf("Move it to a day from today on, %d days ahead at most.", movableDays)})
		default:
			row.MovedTo = &to
		}
	}
	if m.Technician != nil {
		u, err := s.store.UserByID(ctx, *m.Technician)
		switch {
		case a.Role == Technician && *m.Technician != a.ID:
			return ErrForbidden
		case errors.Is(err, store.ErrNotFound) || (err == nil && Role(u.Role) != Technician):
			errs = append(errs, FieldError{"technician", "This technician is not known."})
		case err != nil:
			return fmt.Errorf("finding the technician: %w", err)
		case row.MovedTo == nil:
			errs = append(errs, FieldError{"technician", "Say the day too."})
		default:
			row.TechnicianID = &u.ID
		}
	}
	if len(errs) == 0 && row.MovedTo != nil {
		stood, err := s.standings(ctx, c, []store.Pool{p})
		if err != nil {
			return err
		}
		for _, v := range stood[pool].planned {
			if c.today(v.At).Equal(*row.MovedTo) && !c.today(v.On).Equal(row.PlannedOn) {
				errs = append(errs, FieldError{"to", "Another visit of this pool is planned on that day."})
			}
		}
		if last := stood[pool].last; last != nil && row.MovedTo.Equal(today) && c.today(last.ClosedAt).Equal(today) {
			errs = append(errs, FieldError{"to", "This pool was seen today already."})
		}
	}
	if len(errs) > 0 {
		return errs
	}
	if err := s.store.AddVisitMove(ctx, row); err != nil {
		return fmt.Errorf("keeping the move: %w", err)
	}
	return s.followPlan(ctx, c, pool, today)
}

// followPlan brings today's laps in line with the plan for one pool: it is taken
// off where nobody is to go any more, and put last where somebody now is.
func (s *Service) followPlan(ctx context.Context, c company, pool uuid.UUID, today time.Time) error {
	p, err := s.store.PoolByID(ctx, pool)
	if err != nil {
		return fmt.Errorf("finding the pool: %w", err)
	}
	stood, err := s.standings(ctx, c, []store.Pool{p})
	if err != nil {
		return err
	}
	who := "" // goes there today
	for _, v := range stood[pool].planned {
		if c.today(v.At).Equal(today) {
			who = v.Technician
		}
	}
	laps, err := s.store.LapsOf(ctx, today)
	if err != nil {
		return fmt.Errorf("reading today's laps: %w", err)
	}
	for _, l := range laps {
		at := slices.IndexFunc(l.Stops, func(st store.Stop) bool { return st.PoolID == pool })
		mine := l.TechnicianID.String() == who
		switch {
		case at >= 0 && !mine:
			logged, err := s.store.VisitOfStops(ctx, []uuid.UUID{l.Stops[at].ID})
			if err != nil {
				return fmt.Errorf("looking for the stop's visit: %w", err)
			}
			if len(logged) > 0 {
				continue
			}
			l.Stops = slices.Delete(l.Stops, at, at+1)
		case at < 0 && mine:
			l.Stops = append(l.Stops, store.Stop{ID: uuid.Must(uuid.NewV7()), LapID: l.ID, PoolID: pool, Minutes: p.BaseMinutes})
		default:
			continue
		}
		if err := s.timed(ctx, &l, 0); err != nil {
			return err
		}
		if _, err := s.store.ReviseLap(ctx, l); err != nil {
			return err
		}
	}
	return nil
}

// lapOn finds a lap; today's is written from the plan when nobody has yet.
func (s *Service) lapOn(ctx context.Context, c company, who uuid.UUID, day, now time.Time) (store.Lap, error) {
	l, err := s.store.LapOn(ctx, who, day)
	if !errors.Is(err, store.ErrNotFound) || !day.Equal(c.today(now)) {
		return l, err
	}
	pools, err := s.store.Workload(ctx, &who, day)
	if err != nil {
		return l, fmt.Errorf("listing pools: %w", err)
	}
	stood, err := s.standings(ctx, c, pools)
	if err != nil {
		return l, err
	}
	n := now.In(c.zone)
	names, err := s.names(ctx)
	if err != nil {
		return l, err
	}
	routes := routesOf(pools, stood, names)
	for _, d := range lap.Plan(routes, s.terms(time.Date(n.Year(), n.Month(), n.Day()+1, 0, 0, 0, 0, c.zone))) {
		if d.Technician != who.String() {
			continue
		}
		l = store.Lap{ID: uuid.Must(uuid.NewV7()), TechnicianID: who, Day: day, StartsAt: d.Stops[0].Arrive, LimitMinutes: lap.DayMinutes, Version: 1}
		for i := range d.Stops {
			st := &d.Stops[i]
			l.Stops = append(l.Stops, store.Stop{ID: uuid.Must(uuid.NewV7()), LapID: l.ID, PoolID: uuid.MustParse(st.Pool), Position: i + 1, Minutes: int(st.Minutes() + 0.5), PlannedAt: st.Arrive})
		}
		return s.store.CreateLap(ctx, l)
	}
	return l, store.ErrNotFound
}

func (s *Service) terms(until time.Time) lap.Terms {
	return lap.Terms{Limit: lap.DayMinutes, Until: until, Roads: s.world.Roads}
}

// timed numbers a lap's stops and gives those from one on their times, along the
// roads; the first keeps its own.
func (s *Service) timed(ctx context.Context, l *store.Lap, from int) error {
	places, err := s.placesOf(ctx, l.Stops)
	if err != nil {
		return err
	}
	terms := s.terms(time.Time{})
	for i := range l.Stops {
		st := &l.Stops[i]
		st.Position = i + 1
		switch {
		case i == 0 && st.PlannedAt.IsZero():
			st.PlannedAt = l.StartsAt
		case i > 0 && (i >= from || st.PlannedAt.IsZero()):
			before := l.Stops[i-1]
			way := terms.Drive(places[i-1], places[i])
			st.PlannedAt = before.PlannedAt.Add(time.Duration((float64(before.Minutes) + way) * float64(time.Minute)))
		}
	}
	return nil
}

func (s *Service) placesOf(ctx context.Context, stops []store.Stop) ([]*lap.Place, error) {
	ids := make([]uuid.UUID, len(stops))
	for i, st := range stops {
		ids[i] = st.PoolID
	}
	pools, err := s.store.PoolsByID(ctx, ids)
	if err != nil {
		return nil, fmt.Errorf("reading where the pools are: %w", err)
	}
	by := make(map[uuid.UUID]*lap.Place, len(pools))
	for _, p := range pools {
		by[p.ID] = placeOf(&p)
	}
	out := make([]*lap.Place, len(stops))
	for i, st := range stops {
		out[i] = by[st.PoolID]
	}
	return out, nil
}

func placeOf(p *store.Pool) *lap.Place {
	if p.Lon == nil || p.Lat == nil {
		return nil
	}
	return &lap.Place{Lon: *p.Lon, Lat: *p.Lat}
}

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
func (s *Service) Shorten(ctx context.Context, a Actor, id uuid.UUID) (Shorter, error) {
	l, done, err := s.lapAhead(ctx, a, id)
	if err != nil {
		return Shorter{}, err
	}
	out := Shorter{Lap: l.ID.String(), Version: l.Version, Order: []ShortStop{}, Now: []string{}, Unknown: []string{}}
	places, err := s.placesOf(ctx, l.Stops)
	if err != nil {
		return out, err
	}
	streets, err := s.streets(ctx, l.Stops)
	if err != nil {
		return out, err
	}
	for i, st := range l.Stops {
		out.Now = append(out.Now, st.ID.String())
		if places[i] == nil && i >= done {
			out.Unknown = append(out.Unknown, streets[st.PoolID])
		}
	}
	if len(out.Unknown) > 0 {
		return out, nil
	}
	roads := s.world.Roads
	if roads == nil {
		roads = lap.Straight
	}
	ways := make([][]lap.Way, len(l.Stops)-done)
	for i := range ways {
		for j := range ways {
			ways[i] = append(ways[i], roads(*places[done+i], *places[done+j]))
		}
	}
	order := lap.Order(ways)
	given := make([]int, len(ways))
	for i := range given {
		given[i] = i
	}
	out.Given, out.Best = LapWay(lap.Length(ways, given)), LapWay(lap.Length(ways, order))
	for i := range done {
		out.Order = append(out.Order, ShortStop{l.Stops[i].ID.String(), streets[l.Stops[i].PoolID]})
	}
	for _, i := range order {
		st := l.Stops[done+i]
		out.Order = append(out.Order, ShortStop{st.ID.String(), streets[st.PoolID]})
	}
	return out, nil
}

func (s *Service) streets(ctx context.Context, stops []store.Stop) (map[uuid.UUID]string, error) {
	ids := make([]uuid.UUID, len(stops))
	for i, st := range stops {
		ids[i] = st.PoolID
	}
	pools, err := s.store.PoolsByID(ctx, ids)
	if err != nil {
		return nil, fmt.Errorf("reading the lap's pools: %w", err)
	}
	out := make(map[uuid.UUID]string, len(pools))
	for _, p := range pools {
		out[p.ID] = p.Street
	}
	return out, nil
}

// lapAhead finds a lap and how many of its stops are settled: those done.
func (s *Service) lapAhead(ctx context.Context, a Actor, id uuid.UUID) (store.Lap, int, error) {
	l, err := s.store.LapByID(ctx, id)
	if err != nil {
		return l, 0, fmt.Errorf("finding the lap: %w", err)
	}
	if !a.maySee(&l.TechnicianID) {
		return l, 0, ErrForbidden
	}
	ids := make([]uuid.UUID, len(l.Stops))
	for i, st := range l.Stops {
		ids[i] = st.ID
	}
	logged, err := s.store.VisitOfStops(ctx, ids)
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
func (s *Service) LapOf(ctx context.Context, a Actor, id uuid.UUID) (LapView, error) {
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
func (s *Service) OrderLap(ctx context.Context, a Actor, id uuid.UUID, o LapOrder) (LapView, error) {
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
			return LapView{}, FieldErrors{{"stops", "Name each stop of the lap once; those done stay where they are."}}
		}
		delete(byID, stop)
		next = append(next, st)
	}
	if len(byID) > 0 {
		return LapView{}, FieldErrors{{"stops", "Name each stop of the lap once; those done stay where they are."}}
	}
	if done < len(next) && len(l.Stops) > 0 {
		next[done].PlannedAt = l.Stops[done].PlannedAt // the next one is reached as before
	}
	l.Stops, l.Version = next, o.Version
	if err := s.timed(ctx, &l, done+1); err != nil {
		return LapView{}, err
	}
	if _, err := s.store.ReviseLap(ctx, l); err != nil {
		return LapView{}, err
	}
	return s.Lap(ctx, a, l.Day.Format(time.DateOnly), l.TechnicianID.String())
}

// Leave ends a technician's work for the company; their pools go to another, or to
// nobody until the desk says who.
func (s *Service) Leave(ctx context.Context, a Actor, who uuid.UUID, to *uuid.UUID) (int, error) {
	if a.Role == Technician {
		return 0, ErrForbidden
	}
	u, err := s.store.UserByID(ctx, who)
	if err != nil {
		return 0, fmt.Errorf("finding who leaves: %w", err)
	}
	if Role(u.Role) != Technician {
		return 0, FieldErrors{{"id", "Only technicians leave here."}}
	}
	if to != nil {
		v, err := s.store.UserByID(ctx, *to)
		if errors.Is(err, store.ErrNotFound) || (err == nil && (Role(v.Role) != Technician || v.ID == who)) {
			return 0, FieldErrors{{"to", "Give the pools to another technician."}}
		}
		if err != nil {
			return 0, fmt.Errorf("finding who takes over: %w", err)
		}
	}
	c, err := s.company(ctx)
	if err != nil {
		return 0, err
	}
	today := c.today(s.now())
	pools, err := s.store.Workload(ctx, &who, today)
	if err != nil {
		return 0, fmt.Errorf("listing their pools: %w", err)
	}
	n, err := s.store.Leave(ctx, who, to, s.now())
	if err != nil {
		return 0, err
	}
	for _, p := range pools { // today's stops go with them
		if err := s.followPlan(ctx, c, p.ID, today); err != nil {
			return n, err
		}
	}
	return n, nil
}

// SetPartLife changes how many years one part is expected to last; nil is what its
// kind lasts.
func (s *Service) SetPartLife(ctx context.Context, a Actor, part uuid.UUID, years *float64) error {
	if a.Role == Technician {
		return ErrForbidden
	}
	if years != nil && !(*years >= 0.1 && *years <= 50) {
		return FieldErrors{{"years", "Between 0.1 and 50 years."}}
	}
	if err := s.store.SetPartLife(ctx, part, years); err != nil {
		return fmt.Errorf("changing the part's life: %w", err)
	}
	return nil
}
