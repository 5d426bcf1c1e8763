package route

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"fairlap/core/fault"
	"fairlap/core/figure"
	"fairlap/core/lap"
	"fairlap/core/pad"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/standing"
	"fairlap/internal/store"
)

// StopView is one stop of a lap.
type StopView struct {
	ID        string          `json:"id"`
	PoolID    string          `json:"poolId"`
	Street    string          `json:"street"`
	Equipment words.Message   `json:"equipment"`
	Position  int             `json:"position"`
	PlannedAt time.Time       `json:"plannedAt"`
	Minutes   int             `json:"minutes"`
	State     string          `json:"state" enum:"done,here,ahead"`
	Reason    lap.Reason      `json:"reason"`
	Load      float64         `json:"load"`
	Measured  bool            `json:"measured" doc:"the load was read at this stop; else it is expected"`
	VisitID   string          `json:"visitId"`
	Due       []words.Message `json:"due" nullable:"false" doc:"work that falls due before the visit after this one"`
}

// LapView is a technician's day.
type LapView struct {
	ID           string            `json:"id"`
	Company      string            `json:"company"`
	Zone         string            `json:"zone" doc:"the company's, as in the time zone database"`
	Version      int               `json:"version"`
	Day          string            `json:"day"`
	Technician   string            `json:"technician"`
	StartsAt     time.Time         `json:"startsAt"`
	LimitMinutes int               `json:"limitMinutes"`
	Minutes      int               `json:"minutes" doc:"of the stops with their due work and the driving between, as the week has them"`
	Slid         []Slid            `json:"slid" nullable:"false" doc:"work that the full day pushed on"`
	Stops        []StopView        `json:"stops" nullable:"false"`
	Van          []upkeep.Material `json:"van" nullable:"false" doc:"what the due work of the stops ahead takes"`
}

// Lap shows a technician's lap of a day ("" for today). Office and owner name
// whose; for a technician it is always their own.
func (s *Service) Lap(ctx context.Context, a access.Actor, day, technician string) (LapView, error) {
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return LapView{}, err
	}
	now := s.keeper.Now()
	date := c.Today(now)
	if day != "" {
		if date, err = time.Parse(time.DateOnly, day); err != nil {
			return LapView{}, figure.Wrong("day", "app.type-the-day-like-2026")
		}
	}
	who := a.ID
	if technician != "" {
		if who, err = uuid.Parse(technician); err != nil {
			return LapView{}, figure.Wrong("technician", "app.this-technician-is-not-known")
		}
	}
	if !a.MaySee(&who) {
		return LapView{}, access.ErrForbidden
	}
	u, err := s.keeper.Store.UserByID(ctx, who)
	if err != nil {
		return LapView{}, fmt.Errorf("finding the technician: %w", err)
	}
	l, err := s.lapOn(ctx, c, who, date, now)
	if err != nil {
		return LapView{}, fmt.Errorf("finding the lap: %w", err)
	}
	return s.lapView(ctx, c, l, u.Name, now)
}

func (s *Service) lapView(
	ctx context.Context,
	c company.Company,
	l store.Lap,
	technician string,
	now time.Time,
) (LapView, error) {
	out := LapView{
		ID:           l.ID.String(),
		Company:      c.Name,
		Zone:         c.Zone.String(),
		Version:      l.Version,
		Day:          l.Day.Format(time.DateOnly),
		Technician:   technician,
		StartsAt:     l.StartsAt,
		LimitMinutes: l.LimitMinutes,
		Stops:        []StopView{},
		Slid:         []Slid{},
		Van:          []upkeep.Material{},
	}
	pools, stops := make([]uuid.UUID, len(l.Stops)), make([]uuid.UUID, len(l.Stops))
	for i, st := range l.Stops {
		pools[i], stops[i] = st.PoolID, st.ID
	}
	rows, err := s.keeper.Store.PoolsByID(ctx, pools)
	if err != nil {
		return out, fmt.Errorf("reading the lap's pools: %w", err)
	}
	standings, err := s.keeper.Standings(ctx, c, rows)
	if err != nil {
		return out, err
	}
	logged, err := s.keeper.Store.VisitOfStops(ctx, stops)
	if err != nil {
		return out, fmt.Errorf("reading what was logged: %w", err)
	}
	streets := make(map[uuid.UUID]string, len(rows))
	for _, p := range rows {
		streets[p.ID] = p.Name()
	}
	day, err := s.plannedDay(ctx, c, &l, now)
	if err != nil {
		return out, err
	}
	for _, sl := range day.Slid {
		out.Slid = append(
			out.Slid,
			Slid{Street: streets[uuid.MustParse(sl.Pool)], Name: sl.Due.Name, To: sl.To, Why: sl.Why},
		)
	}
	arrived, total := false, 0.0
	var ahead [][]upkeep.Due
	var before *store.Pool
	terms := s.terms(time.Time{})
	placed := make(map[uuid.UUID]*store.Pool, len(rows))
	for i := range rows {
		placed[rows[i].ID] = &rows[i]
	}
	for _, st := range l.Stops {
		sd := standings[st.PoolID]
		kind := sd.Gear.Kind
		v := StopView{
			ID:        st.ID.String(),
			PoolID:    st.PoolID.String(),
			Street:    streets[st.PoolID],
			Equipment: standing.FilterWords(&sd.Gear),
			Position:  st.Position,
			PlannedAt: st.PlannedAt,
			Minutes:   st.Minutes,
			Due:       []words.Message{},
		}
		if p := placed[st.PoolID]; p != nil {
			if before != nil {
				total += terms.Drive(placeOf(before), placeOf(p))
			}
			before = p
		}
		plan := stopOf(&day, st.PoolID)
		if plan == nil {
			total += float64(st.Minutes)
		} else {
			total += plan.Minutes()
		}
		out.Minutes = int(total + 0.5)
		if done, ok := logged[st.ID]; ok {
			v.State, v.VisitID = "done", done.ID.String()
			v.Reason = doneReason(done, kind)
			if standing.BeliefOf(done.LoadMean, done.LoadSD).Tells() {
				v.Load, v.Measured = max(0, *done.LoadMean), true
			}
			if done.Cleaned && done.AfterMean != nil {
				v.Load = max(0, *done.AfterMean)
			}
			out.Stops = append(out.Stops, v)
			continue
		}
		v.State = "ahead"
		if !arrived {
			v.State, arrived = "here", true
		}
		v.Load = sd.Filter.State.Expected()
		v.Reason = lap.ReasonFor(aheadOf(sd, c, st.PlannedAt))
		var due []upkeep.Due
		for _, d := range sd.Due {
			if plan != nil { // as the week has it: what slid is not here
				break
			}
			if d.By.Before(lap.NextVisit(st.PlannedAt)) && d.Snoozed == nil &&
				(d.Hold == nil || !st.PlannedAt.Before(d.Hold.Until)) &&
				here(&d, st.PlannedAt.In(c.Zone)) {
				due = append(due, d)
				if !saidBy(v.Reason, &d) {
					v.Due = append(v.Due, d.Name)
				}
			}
		}
		if plan != nil {
			for _, d := range plan.Due {
				due = append(due, d)
				if !saidBy(v.Reason, &d) {
					v.Due = append(v.Due, d.Name)
				}
			}
		}
		ahead = append(ahead, due)
		out.Stops = append(out.Stops, v)
	}
	out.Van = van(ahead)
	return out, nil
}

// plannedDay is a lap's day as the week plans it: the same stops, work and minutes. A day
// that is not today's, or on which nothing is planned any more, is empty.
func (s *Service) plannedDay(ctx context.Context, c company.Company, l *store.Lap, now time.Time) (lap.Day, error) {
	if !l.Day.Equal(c.Today(now)) {
		return lap.Day{}, nil
	}
	b, err := s.board(ctx, store.Whose{People: []uuid.UUID{l.TechnicianID}})
	if err != nil {
		return lap.Day{}, err
	}
	for _, d := range s.days(b, weeksOn(b.Company, now, boardWeeks)) {
		if d.Technician == l.TechnicianID.String() && d.Date.Format(time.DateOnly) == l.Day.Format(time.DateOnly) {
			return d, nil
		}
	}
	return lap.Day{}, nil
}

// onTheRoad tells when a stop of a planned day is reached: as the lap says it where today's
// is on the road already, and as planned otherwise; of some people, or of all (none named).
func (s *Service) onTheRoad(
	ctx context.Context,
	c company.Company,
	now time.Time,
	whose ...uuid.UUID,
) (func(*lap.Day, *lap.DayStop) time.Time, error) {
	type call struct{ technician, pool string }
	today := c.Today(now)
	laps, err := s.keeper.Store.LapsOf(ctx, today, whose...)
	if err != nil {
		return nil, fmt.Errorf("listing the day's laps: %w", err)
	}
	at := map[call]time.Time{}
	for _, l := range laps {
		for i := range l.Stops {
			at[call{l.TechnicianID.String(), l.Stops[i].PoolID.String()}] = l.Stops[i].PlannedAt
		}
	}
	return func(d *lap.Day, st *lap.DayStop) time.Time {
		if d.Date.Format(time.DateOnly) == today.Format(time.DateOnly) {
			if t, ok := at[call{d.Technician, st.Pool}]; ok {
				return t
			}
		}
		return st.Arrive
	}, nil
}

func stopOf(d *lap.Day, pool uuid.UUID) *lap.DayStop {
	for i := range d.Stops {
		if d.Stops[i].Pool == pool.String() {
			return &d.Stops[i]
		}
	}
	return nil
}

// here tells whether work that somebody put on a day goes with a visit.
func here(d *upkeep.Due, at time.Time) bool {
	if d.Planned == nil {
		return true
	}
	py, pm, pd := d.Planned.Date()
	y, m, day := at.Date()
	return py == y && pm == m && pd == day
}

// saidBy tells whether a stop's one reason names the work already.
func saidBy(r lap.Reason, d *upkeep.Due) bool {
	return r.Mark == lap.MarkAct && d.Item == string(upkeep.CleanFilter) ||
		r.Mark == lap.MarkJob && d.Item == string(upkeep.TakeCleanLine)
}

// ahead is what is known of a pool before somebody arrives there.
func aheadOf(st *standing.Standing, c company.Company, arrival time.Time) lap.Ahead {
	a := lap.Ahead{Kind: st.Gear.Kind, Arrival: arrival.In(c.Zone),
		FirstVisit: st.Visits == 0, NoCleanLine: st.CleanLine == nil, NextVisit: lap.NextVisit(arrival).In(c.Zone)}
	if h := &st.Filter; h.HadForecast {
		course := h.State.Course(h.State.LoadBelief(), h.PerDay)
		due := course.Due(&st.Settings)
		a.Chance, a.CleaningDue = course.Past(7), due >= 0 && due <= 7
	}
	if at := st.Filter.Chemicals; at != nil {
		a.HoldUntil = upkeep.HoldUntil(*at, st.Settings).In(c.Zone)
	}
	for i := range st.Shortfalls {
		if st.Shortfalls[i].Slot.Holds(a.Arrival) {
			a.Shortfall = &st.Shortfalls[i] // of the slot in force when somebody stands there
			break
		}
	}
	a.Left = st.Left
	_, a.OpenSuspect = standing.OpenSuspect(st.Confirmed, a.Kind)
	return a
}

func doneReason(v store.Visit, kind pad.FilterKind) lap.Reason {
	if left := standing.LeftOf(&v); left != nil {
		return lap.Reason{Mark: lap.MarkOpen, Word: "lap.left-open", Detail: left.Says()}
	}
	if v.Cleaned {
		name, _ := fault.Cleaning(kind)
		return lap.Reason{Mark: lap.MarkJob, Word: name, Detail: "app.cleaned"}
	}
	if _, open := standing.OpenSuspect(v.Confirmed, kind); open != "" {
		return lap.Reason{Mark: lap.MarkOpen, Word: "app.suspect-open", Detail: open}
	}
	if f, ok := fault.LookUp(fault.ID(v.Confirmed), kind); ok && f.ID != fault.Healthy {
		return lap.Reason{Mark: lap.MarkJob, Word: f.Name, Detail: "app.found"}
	}
	return lap.Reason{Mark: lap.MarkFine, Word: "app.fine", Detail: "app.visit-logged"}
}
