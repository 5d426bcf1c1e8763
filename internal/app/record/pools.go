package record

import (
	"cmp"
	"context"
	"errors"
	"fairlap/internal/app/company"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/standing"
	"fairlap/internal/store"
)

// PoolLine is one pool of the list.
type PoolLine struct {
	ID         string        `json:"id"`
	Street     string        `json:"street"`
	Equipment  words.Message `json:"equipment"`
	Technician string        `json:"technician"`
	Load       *float64      `json:"load" doc:"expected now; absent without any reading on record"`
	DaysLeft   *float64      `json:"daysLeft" doc:"until the load has even odds of passing its limit"`
	Open       words.Message `json:"open"`
	LastVisit  *time.Time    `json:"lastVisit"`
	Archived   bool          `json:"archived"`
	Customer   string        `json:"customer" doc:"of a search: whose pool it is"`
	Part       words.Message `json:"part" doc:"of a search: the part that the letters are in"`
}

// PoolsAsk says which pools are listed.
type PoolsAsk struct {
	Find, Sort string        // Sort: pool, load, days, visited or technician, with a minus in front from the last
	Technician *uuid.UUID    // whose; nil: anybody's
	Weekday    *time.Weekday // of the visits; nil: any
	Only       string        // open: a suspect is left open; over: the load has even odds of being past its limit
	access.Window
}

// only keeps the pools that a list is narrowed to.
var only = map[string]func(l *PoolLine) bool{
	"open": func(l *PoolLine) bool { return l.Open != "" },
	"over": func(l *PoolLine) bool { return l.Load != nil && *l.Load >= 1 },
}

// poolOrders say how lists of pools are sorted; what is not known comes last.
var poolOrders = map[string]func(a, b *PoolLine) int{
	"pool":       func(a, b *PoolLine) int { return cmp.Compare(a.Street, b.Street) },
	"load":       func(a, b *PoolLine) int { return known(a.Load, b.Load, cmp.Compare) },
	"days":       func(a, b *PoolLine) int { return known(a.DaysLeft, b.DaysLeft, cmp.Compare) },
	"visited":    func(a, b *PoolLine) int { return known(a.LastVisit, b.LastVisit, time.Time.Compare) },
	"technician": func(a, b *PoolLine) int { return cmp.Compare(a.Technician, b.Technician) },
}

// ofStanding are the orders that ask how every pool stands.
var ofStanding = map[string]bool{"load": true, "days": true, "visited": true}

// known compares what may not be known: what is comes first.
func known[T any](a, b *T, compare func(a, b T) int) int {
	switch {
	case a == nil && b == nil:
		return 0
	case a == nil:
		return unknownLast
	case b == nil:
		return -unknownLast
	}
	return compare(*a, *b)
}

// unknownLast stands apart from what a comparison gives, so that it is not turned round.
const unknownLast = 2

// Pools lists the pools that the actor may see, by what they are called where nothing else
// is asked for; of a search, the archived ones last.
func (s *Service) Pools(ctx context.Context, a access.Actor, ask PoolsAsk) (access.Page[PoolLine], error) {
	none := access.Page[PoolLine]{}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return none, err
	}
	names, err := s.keeper.Names(ctx)
	if err != nil {
		return none, err
	}
	pools, lines, err := s.asked(ctx, a, c, ask.Find, names)
	if err != nil {
		return none, err
	}
	by, down := strings.CutPrefix(ask.Sort, "-")
	stand := func(lines []PoolLine) error {
		rows := make([]store.Pool, 0, len(lines))
		for _, l := range lines {
			if !l.Archived {
				rows = append(rows, pools[l.ID])
			}
		}
		standings, err := s.keeper.Standings(ctx, c, rows)
		if err != nil {
			return err
		}
		for i := range lines {
			if st := standings[pools[lines[i].ID].ID]; st != nil {
				lines[i].tell(st)
			}
		}
		return nil
	}
	lines = slices.DeleteFunc(lines, func(l PoolLine) bool {
		p := pools[l.ID]
		other := ask.Technician != nil && (p.TechnicianID == nil || *p.TechnicianID != *ask.Technician)
		return other || ask.Weekday != nil && time.Weekday(p.Weekday) != *ask.Weekday
	})
	narrow := only[ask.Only]
	whole := ofStanding[by] || narrow != nil
	if whole {
		if err := stand(lines); err != nil {
			return none, err
		}
	}
	if narrow != nil {
		lines = slices.DeleteFunc(lines, func(l PoolLine) bool { return !narrow(&l) })
	}
	order, ok := poolOrders[by]
	if !ok {
		order = poolOrders["pool"]
	}
	slices.SortStableFunc(lines, func(x, y PoolLine) int {
		if x.Archived != y.Archived {
			return map[bool]int{false: -1, true: 1}[x.Archived]
		}
		way := order(&x, &y)
		if down && way != unknownLast && way != -unknownLast {
			way = -way
		}
		return way
	})
	out := access.Of(ask.Window, lines)
	if !whole {
		err = stand(out.Items)
	}
	return out, err
}

// asked are the pools of a list by what they are called, with what is known of each at
// once.
func (s *Service) asked(
	ctx context.Context,
	a access.Actor,
	c company.Company,
	find string,
	names map[uuid.UUID]string,
) (map[string]store.Pool, []PoolLine, error) {
	var mine *uuid.UUID
	if a.Role == access.Technician {
		mine = &a.ID
	}
	rows, err := s.keeper.Store.Workload(ctx, mine, c.Today(s.keeper.Now()))
	if err != nil {
		return nil, nil, fmt.Errorf("listing pools: %w", err)
	}
	pools := make(map[string]store.Pool, len(rows))
	lines := make([]PoolLine, 0, len(rows))
	for _, p := range rows {
		line := PoolLine{ID: p.ID.String(), Street: p.Name()}
		if p.TechnicianID != nil {
			line.Technician = names[*p.TechnicianID]
		}
		pools[line.ID] = p
		lines = append(lines, line)
	}
	slices.SortFunc(lines, func(x, y PoolLine) int { return cmp.Compare(x.Street, y.Street) })
	if strings.TrimSpace(find) == "" {
		return pools, lines, nil
	}
	hits, err := s.found(ctx, a, find)
	if err != nil {
		return nil, nil, err
	}
	at := make(map[string]int, len(lines))
	for i, l := range lines {
		at[l.ID] = i
	}
	found := make([]PoolLine, 0, len(hits))
	for _, h := range hits {
		line := PoolLine{ID: h.id, Street: h.street, Archived: h.archived}
		if i, ok := at[h.id]; ok {
			line = lines[i]
		}
		line.Customer, line.Part = h.customer, h.part
		found = append(found, line)
	}
	return pools, found, nil
}

// tell adds how a pool stands.
func (l *PoolLine) tell(st *standing.Standing) {
	l.Equipment = standing.FilterWords(&st.Cached.Model.Doc)
	if h := &st.History; h.HadForecast {
		load := max(0, h.State.Load)
		l.Load = &load
		if st.DaysLeft >= 0 {
			l.DaysLeft = &st.DaysLeft
		}
	}
	if st.Last != nil {
		l.LastVisit = &st.Last.ClosedAt
		_, l.Open = standing.OpenSuspect(*st.Last, st.Cached.Model.Doc.Filter.Kind)
	}
}

// LinePoint is the clean line and the limit at one speed.
type LinePoint struct {
	RPM   float64 `json:"rpm"`
	Clean float64 `json:"clean"`
	Limit float64 `json:"limit"`
}

// GaugePoint is a tank reading of the record.
type GaugePoint struct {
	At    time.Time `json:"at"`
	RPM   float64   `json:"rpm"`
	Psi   float64   `json:"psi"`
	After bool      `json:"after"`
}

// PoolRecordView is the record of one pool.
type PoolRecordView struct {
	PartEvents []equipment.PartEvent `json:"partEvents" nullable:"false" doc:"what was done to the parts, newest first"`
	Pool       standing.PoolFacts    `json:"pool"`
	Pad        judge.PadFacts        `json:"pad"`
	MayEdit    bool                  `json:"mayEdit"`
	StopID     string                `json:"stopId" doc:"of today's lap, when the pool is on it"`
	Line       []LinePoint           `json:"line" nullable:"false"`
	Gauges     []GaugePoint          `json:"gauges" nullable:"false"`
	Points     []upkeep.LoadPoint    `json:"points" nullable:"false"`
	Forecast   upkeep.Forecast       `json:"forecast"`
	Parts      []equipment.Part      `json:"parts" nullable:"false"`
	Older      []OlderLine           `json:"older" nullable:"false" doc:"earlier clean lines, newest first"`
	Wear       []upkeep.Wear         `json:"wear" nullable:"false"`
	VisitCount int                   `json:"visitCount"`
	Customer   string                `json:"customer"`
	Phone      string                `json:"phone" doc:"the customer's"`
	Photo      string                `json:"photo" doc:"id of the picture that stands for the pool; empty: none"`
	Archived   bool                  `json:"archived"`
	NextVisit  *time.Time            `json:"nextVisit"`
	Technician string                `json:"technician"`
	Open       words.Message         `json:"open" doc:"suspect left open at the last visit; empty: none"`
	HoldUntil  *time.Time            `json:"holdUntil" doc:"until when chemicals forbid a backwash; absent: no hold"`
	MayShare   bool                  `json:"mayShare" doc:"may give the customer a link to the papers"`
}

// PoolView shows a pool's record.
func (s *Service) PoolView(ctx context.Context, a access.Actor, id uuid.UUID) (PoolRecordView, error) {
	now := s.keeper.Now()
	at, err := s.keeper.AtPool(ctx, a, id, now)
	if err != nil {
		return PoolRecordView{}, err
	}
	p, cm, c, h, visits := at.Record.Pool, at.Cached, at.Company, at.History, at.Before
	out := PoolRecordView{
		Pool:       at.PoolFacts(),
		Pad:        judge.FactsOf(cm.Calibrated),
		MayEdit:    a.Role != access.Technician,
		Gauges:     []GaugePoint{},
		Points:     []upkeep.LoadPoint{},
		Parts:      []equipment.Part{},
		Wear:       []upkeep.Wear{},
		VisitCount: len(visits),
		Forecast:   h.State.Ahead(h.State.LoadBelief(), h.PerDay, 14),
	}
	out.Points = append(out.Points, h.Points...)
	if out.Line, err = cleanLine(cm.Model); err != nil {
		return out, fmt.Errorf("drawing the clean line: %w", err)
	}
	for i := max(0, len(visits)-4); i < len(visits); i++ {
		v := visits[i]
		for _, r := range v.Readings {
			if r.TankPa != nil && r.SpeedRPM > 0 && r.Setting == string(pad.SetFilter) {
				out.Gauges = append(
					out.Gauges,
					GaugePoint{
						At:    v.ArrivedAt,
						RPM:   r.SpeedRPM,
						Psi:   units.Pressure(*r.TankPa).PSI(),
						After: r.Phase == "after",
					},
				)
			}
		}
	}
	for _, e := range at.Parts {
		out.Parts = append(out.Parts, equipment.View(c, &e, now))
	}
	if out.PartEvents, err = equipment.New(s.keeper).PartEvents(ctx, id); err != nil {
		return out, fmt.Errorf("reading what was done to the parts: %w", err)
	}
	if p.TechnicianID != nil {
		if l, err := s.keeper.Store.LapOn(ctx, *p.TechnicianID, c.Today(now)); err == nil {
			for _, st := range l.Stops {
				if st.PoolID == id {
					out.StopID = st.ID.String()
				}
			}
		} else if !errors.Is(err, store.ErrNotFound) {
			return out, err
		}
	}
	moves, err := s.keeper.MovesOf(ctx, c, id)
	if err != nil {
		return out, err
	}
	if planned := standing.Planned(c, &p, moves[id], visits, now); len(planned) > 0 {
		out.NextVisit = &planned[0].At
	}
	if h.Watts, err = standing.WattsOf(visits, cm); err != nil {
		return out, err
	}
	out.Wear = append(out.Wear, h.Worn(cm.Model.Doc.Filter.Kind)...)
	if out.Older, err = s.olderLines(ctx, c, at.Record); err != nil {
		return out, err
	}
	if n := len(visits); n > 0 {
		_, out.Open = standing.OpenSuspect(visits[n-1], cm.Model.Doc.Filter.Kind)
	}
	if h.Chemicals != nil {
		if until := upkeep.HoldUntil(*h.Chemicals, c.Settings); until.After(now) {
			out.HoldUntil = &until
		}
	}
	if p.TechnicianID != nil {
		names, err := s.keeper.Names(ctx)
		if err != nil {
			return out, fmt.Errorf("reading the people: %w", err)
		}
		out.Technician = names[*p.TechnicianID]
	}
	out.MayShare = out.MayEdit || c.Office.TechniciansLink
	out.Archived, out.Photo = p.ArchivedAt != nil, company.IDOr(p.PhotoID)
	if p.CustomerID != nil {
		who, err := s.keeper.Store.Customers(ctx, []uuid.UUID{*p.CustomerID})
		if err != nil {
			return out, fmt.Errorf("reading the customer: %w", err)
		}
		out.Customer, out.Phone = who[*p.CustomerID].Name, who[*p.CustomerID].Phone
	}
	return out, nil
}

func cleanLine(m *plumbing.Model) ([]LinePoint, error) {
	out := []LinePoint{}
	s := m.Solver()
	low := math.Max(800, m.Doc.Pump.LeastRPM)
	for i := range 21 {
		rpm := low + (m.Doc.Pump.TopRPM-low)*float64(i)/20
		op := pad.Operation{Speed: units.Speed(rpm)}
		clean, err := s.Solve(op, plumbing.Effects{})
		if err != nil {
			return nil, err
		}
		limit, err := s.Solve(op, plumbing.Effects{Load: 1})
		if err != nil {
			return nil, err
		}
		out = append(out, LinePoint{RPM: rpm, Clean: clean.Tank.PSI(), Limit: limit.Tank.PSI()})
	}
	return out, nil
}

// SetAccessNote changes a pool's access note. When someone else changed the pool
// meanwhile, the error is store.ErrVersion and the pool comes as it now stands.
func (s *Service) SetAccessNote(
	ctx context.Context,
	a access.Actor,
	id uuid.UUID,
	version int,
	note string,
) (PoolNote, error) {
	if a.Role == access.Technician {
		return PoolNote{}, access.ErrForbidden
	}
	var p store.Pool
	err := s.keeper.Audited(ctx, a, "pool", &id, "app.changed-how-to-get-in", func(st *store.Store) (err error) {
		p, err = st.ChangePool(ctx, id, version, map[string]any{"access_note": note})
		return err
	})
	if err != nil && !errors.Is(err, store.ErrVersion) {
		return PoolNote{}, fmt.Errorf("changing the access note: %w", err)
	}
	return PoolNote{AccessNote: p.AccessNote, Version: p.Version}, err
}

// PoolNote is a pool's access note with its version.
type PoolNote struct {
	AccessNote string `json:"accessNote"`
	Version    int    `json:"version"`
}
