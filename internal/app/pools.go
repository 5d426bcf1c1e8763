package app

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/store"
)

// seePool finds a pool that the actor may see: by the one rule, or because they
// were handed a visit of it.
func (s *Service) seePool(ctx context.Context, a Actor, id uuid.UUID) (store.Pool, error) {
	p, err := s.store.PoolByID(ctx, id)
	if err != nil {
		return p, fmt.Errorf("finding the pool: %w", err)
	}
	if a.maySee(p.TechnicianID) {
		return p, nil
	}
	covers, err := s.store.Covers(ctx, a.ID, id, s.now().AddDate(0, 0, -1))
	if err != nil {
		return p, fmt.Errorf("looking who stands in at the pool: %w", err)
	}
	if !covers {
		return p, ErrForbidden
	}
	return p, nil
}

func (s *Service) names(ctx context.Context) (map[uuid.UUID]string, error) {
	us, err := s.store.Everybody(ctx) // the record names those who left too
	out := make(map[uuid.UUID]string, len(us))
	for _, u := range us {
		out[u.ID] = u.Name
	}
	return out, err
}

func (s *Service) kindOf(ctx context.Context, pool uuid.UUID) (pad.FilterKind, error) {
	cm, _, _, err := s.padOf(ctx, pool)
	if err != nil {
		return "", err
	}
	return cm.Model.Doc.Filter.Kind, nil
}

func (s *Service) padOf(ctx context.Context, pool uuid.UUID) (*cachedModel, *store.PoolRecord, company, error) {
	c, err := s.company(ctx)
	if err != nil {
		return nil, nil, c, err
	}
	records, err := s.store.PoolRecords(ctx, []uuid.UUID{pool})
	if err != nil {
		return nil, nil, c, fmt.Errorf("reading the pool: %w", err)
	}
	if c, err = c.forPool(&records[pool].Pool); err != nil {
		return nil, nil, c, err
	}
	cm, err := s.model(records[pool], c.settings)
	return cm, records[pool], c, err
}

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
}

// Pools lists the pools that the actor may see.
func (s *Service) Pools(ctx context.Context, a Actor) ([]PoolLine, error) {
	c, err := s.company(ctx)
	if err != nil {
		return nil, err
	}
	var mine *uuid.UUID
	if a.Role == Technician {
		mine = &a.ID
	}
	pools, err := s.store.Workload(ctx, mine, c.today(s.now()))
	if err != nil {
		return nil, fmt.Errorf("listing pools: %w", err)
	}
	slices.SortFunc(pools, func(x, y store.Pool) int { return strings.Compare(x.Street, y.Street) })
	standings, err := s.standings(ctx, c, pools)
	if err != nil {
		return nil, err
	}
	names, err := s.names(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]PoolLine, 0, len(pools))
	for _, p := range pools {
		st := standings[p.ID]
		line := PoolLine{ID: p.ID.String(), Street: p.Name(), Equipment: filterWords(&st.cached.Model.Doc)}
		if p.TechnicianID != nil {
			line.Technician = names[*p.TechnicianID]
		}
		if h := &st.history; h.HadForecast {
			load := max(0, h.State.Load)
			line.Load = &load
			if st.daysLeft >= 0 {
				line.DaysLeft = &st.daysLeft
			}
		}
		if st.last != nil {
			line.LastVisit = &st.last.ClosedAt
			_, line.Open = openSuspect(*st.last, st.cached.Model.Doc.Filter.Kind)
		}
		out = append(out, line)
	}
	return out, nil
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

// Part is a part with its life.
type Part struct {
	ID            string        `json:"id"`
	Kind          string        `json:"kind" doc:"its id, or what somebody called one of their own"`
	Name          words.Message `json:"name" doc:"what its kind is called"`
	Model         string        `json:"model"`
	InstalledOn   string        `json:"installedOn"`
	AgeYears      *float64      `json:"ageYears"`
	ExpectedYears *float64      `json:"expectedYears"`
	Own           bool          `json:"own" doc:"the expected life is this part's own, not its kind's"`
	Serial        string        `json:"serial"`
	WarrantyUntil string        `json:"warrantyUntil" doc:"day; empty: none known"`
	Cost          *float64      `json:"cost,omitempty"`
	PartOf        string        `json:"partOf" doc:"id of the part that it belongs to; empty: none"`
}

// PoolRecordView is the record of one pool.
type PoolRecordView struct {
	PartEvents []PartEvent        `json:"partEvents" nullable:"false" doc:"what was done to the parts, newest first"`
	Pool       PoolFacts          `json:"pool"`
	Pad        PadFacts           `json:"pad"`
	MayEdit    bool               `json:"mayEdit"`
	StopID     string             `json:"stopId" doc:"of today's lap, when the pool is on it"`
	Line       []LinePoint        `json:"line" nullable:"false"`
	Gauges     []GaugePoint       `json:"gauges" nullable:"false"`
	Points     []upkeep.LoadPoint `json:"points" nullable:"false"`
	Forecast   upkeep.Forecast    `json:"forecast"`
	Parts      []Part             `json:"parts" nullable:"false"`
	Older      []OlderLine        `json:"older" nullable:"false" doc:"earlier clean lines, newest first"`
	Wear       []upkeep.Wear      `json:"wear" nullable:"false"`
	VisitCount int                `json:"visitCount"`
	Customer   string             `json:"customer"`
	Phone      string             `json:"phone" doc:"the customer's"`
	Photo      string             `json:"photo" doc:"id of the picture that stands for the pool; empty: none"`
	Archived   bool               `json:"archived"`
	NextVisit  *time.Time         `json:"nextVisit"`
}

// atPool is what a pool's pages start from: its pad, its visits, its history up
// to a time.
func (s *Service) atPool(ctx context.Context, a Actor, id uuid.UUID, now time.Time) (*atStop, error) {
	if _, err := s.seePool(ctx, a, id); err != nil {
		return nil, err
	}
	return s.readPool(ctx, id, now)
}

// readPool is atPool for whoever may see the pool.
func (s *Service) readPool(ctx context.Context, id uuid.UUID, now time.Time) (*atStop, error) {
	cm, rec, c, err := s.padOf(ctx, id)
	if err != nil {
		return nil, err
	}
	visits, err := s.store.VisitsOf(ctx, []uuid.UUID{id}, now.AddDate(-remembered, 0, 0))
	if err != nil {
		return nil, fmt.Errorf("reading the visits: %w", err)
	}
	doses, err := s.store.LastDoses(ctx, []uuid.UUID{id})
	if err != nil {
		return nil, fmt.Errorf("reading the doses: %w", err)
	}
	parts, err := s.store.EquipmentOf(ctx, id)
	if err != nil {
		return nil, fmt.Errorf("reading the equipment: %w", err)
	}
	inspected, err := s.store.LastInspections(ctx, []uuid.UUID{id})
	if err != nil {
		return nil, fmt.Errorf("reading the last inspection: %w", err)
	}
	at := &atStop{company: c, record: rec, cached: cm, parts: parts[id], before: visits[id], inspected: inspected[id]}
	return at, at.pack(s.historyOf(c, visits[id], doses[id], cm, now), now)
}

// PoolView shows a pool's record.
func (s *Service) PoolView(ctx context.Context, a Actor, id uuid.UUID) (PoolRecordView, error) {
	now := s.now()
	at, err := s.atPool(ctx, a, id, now)
	if err != nil {
		return PoolRecordView{}, err
	}
	p, cm, c, h, visits := at.record.Pool, at.cached, at.company, at.History, at.before
	out := PoolRecordView{Pool: at.poolFacts(), Pad: padFacts(cm.Calibrated), MayEdit: a.Role != Technician, Gauges: []GaugePoint{}, Points: []upkeep.LoadPoint{}, Parts: []Part{}, Wear: []upkeep.Wear{},
		VisitCount: len(visits), Forecast: h.State.Ahead(h.State.LoadBelief(), h.PerDay, 14)}
	out.Points = append(out.Points, h.Points...)
	if out.Line, err = cleanLine(cm.Model); err != nil {
		return out, fmt.Errorf("drawing the clean line: %w", err)
	}
	for i := max(0, len(visits)-4); i < len(visits); i++ {
		v := visits[i]
		for _, r := range v.Readings {
			if r.TankPa != nil && r.SpeedRPM > 0 && r.Setting == string(pad.SetFilter) {
				out.Gauges = append(out.Gauges, GaugePoint{v.ArrivedAt, r.SpeedRPM, units.Pressure(*r.TankPa).PSI(), r.Phase == "after"})
			}
		}
	}
	for _, e := range at.parts {
		out.Parts = append(out.Parts, c.part(&e, now))
	}
	if out.PartEvents, err = s.partEvents(ctx, id); err != nil {
		return out, fmt.Errorf("reading what was done to the parts: %w", err)
	}
	if p.TechnicianID != nil {
		if l, err := s.store.LapOn(ctx, *p.TechnicianID, c.today(now)); err == nil {
			for _, st := range l.Stops {
				if st.PoolID == id {
					out.StopID = st.ID.String()
				}
			}
		} else if !errors.Is(err, store.ErrNotFound) {
			return out, err
		}
	}
	moves, err := s.movesOf(ctx, c, id)
	if err != nil {
		return out, err
	}
	if planned := c.planned(&p, moves[id], visits, now); len(planned) > 0 {
		out.NextVisit = &planned[0].At
	}
	if h.Watts, err = wattsOf(visits, cm); err != nil {
		return out, err
	}
	out.Wear = append(out.Wear, h.Worn(cm.Model.Doc.Filter.Kind)...)
	if out.Older, err = s.olderLines(ctx, c, at.record); err != nil {
		return out, err
	}
	out.Archived, out.Photo = p.ArchivedAt != nil, idOr(p.PhotoID)
	if p.CustomerID != nil {
		who, err := s.store.Customers(ctx, []uuid.UUID{*p.CustomerID})
		if err != nil {
			return out, fmt.Errorf("reading the customer: %w", err)
		}
		out.Customer, out.Phone = who[*p.CustomerID].Name, who[*p.CustomerID].Phone
	}
	return out, nil
}

func cleanLine(m *pad.Model) ([]LinePoint, error) {
	out := []LinePoint{}
	s := m.Solver()
	low := math.Max(800, m.Doc.Pump.LeastRPM)
	for i := range 21 {
		rpm := low + (m.Doc.Pump.TopRPM-low)*float64(i)/20
		op := pad.Operation{Speed: units.Speed(rpm)}
		clean, err := s.Solve(op, pad.Effects{})
		if err != nil {
			return nil, err
		}
		limit, err := s.Solve(op, pad.Effects{Load: 1})
		if err != nil {
			return nil, err
		}
		out = append(out, LinePoint{rpm, clean.Tank.PSI(), limit.Tank.PSI()})
	}
	return out, nil
}

// SetAccessNote changes a pool's access note. When someone else changed the pool
// meanwhile, the error is store.ErrVersion and the pool comes as it now stands.
func (s *Service) SetAccessNote(ctx context.Context, a Actor, id uuid.UUID, version int, note string) (PoolNote, error) {
	if a.Role == Technician {
		return PoolNote{}, ErrForbidden
	}
	var p store.Pool
	err := s.audited(ctx, a, "pool", &id, "app.changed-how-to-get-in", func(st *store.Store) (err error) {
		p, err = st.ChangePool(ctx, id, version, map[string]any{"access_note": note})
		return err
	})
	if err != nil && !errors.Is(err, store.ErrVersion) {
		return PoolNote{}, fmt.Errorf("changing the access note: %w", err)
	}
	return PoolNote{p.AccessNote, p.Version}, err
}

// PoolNote is a pool's access note with its version.
type PoolNote struct {
	AccessNote string `json:"accessNote"`
	Version    int    `json:"version"`
}
