package record

import (
	"context"
	"errors"
	"fairlap/internal/app/company"
	"fmt"
	"math"
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
	Danger     words.Message `json:"danger" doc:"work that keeps the pump off; empty: none"`
	Archived   bool          `json:"archived"`
	Customer   string        `json:"customer" doc:"of a search: whose pool it is"`
	Part       words.Message `json:"part" doc:"of a search: the part that the letters are in"`
}

// PoolsAsk says which pools are listed.
type PoolsAsk struct {
	Find, Sort string        // Sort: pool, load, days, visited or technician, with a minus in front from the last
	Technician *uuid.UUID    // whose; nil: anybody's
	Weekday    *time.Weekday // of the visits; nil: any
	Only       string        // open, over, danger: as the store has them
	access.Window
}

// ofStanding are the orders that ask how every pool stands.
var ofStanding = map[string]bool{"load": true, "days": true, "visited": true}

// Pools lists the pools that the actor may see, by what they are called where nothing else
// is asked for; of a search, the archived ones last.
func (s *Service) Pools(ctx context.Context, a access.Actor, ask PoolsAsk) (access.Page[PoolLine], error) {
	none := access.Page[PoolLine]{}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return none, err
	}
	by, down := strings.CutPrefix(ask.Sort, "-")
	if ofStanding[by] || ask.Only != "" {
		if err := s.keeper.CatchUp(ctx); err != nil {
			return none, err
		}
	}
	now := s.keeper.Now()
	want := store.PoolsAsk{
		Today: c.Today(now), Now: now, Words: company.Sought(ask.Find), Of: ask.Technician, Weekday: ask.Weekday,
		Only: ask.Only, Sort: by, Down: down, Limit: ask.Size, Offset: ask.Offset(),
	}
	if a.Role == access.Technician {
		want.Technician = &a.ID
	}
	rows, total, err := s.keeper.Store.ListPools(ctx, want)
	if err != nil {
		return none, err
	}
	var live []store.Pool
	for _, r := range rows {
		if r.ArchivedAt == nil {
			live = append(live, r.Pool)
		}
	}
	standings, err := s.keeper.Standings(ctx, c, live)
	if err != nil {
		return none, err
	}
	out := access.Page[PoolLine]{Items: make([]PoolLine, len(rows)), Total: total}
	for i, r := range rows {
		l := PoolLine{ID: r.ID.String(), Street: r.Name(), Technician: r.Technician, Archived: r.ArchivedAt != nil}
		if len(want.Words) > 0 {
			l.Customer = r.Customer
		}
		if kind, what, ok := strings.Cut(r.Part, ": "); ok {
			l.Part = words.Of("app.part-model", "part", words.Msg(upkeep.PartName(kind)), "model", words.Name(what))
		}
		if st := standings[r.ID]; st != nil {
			l.tell(st)
		}
		out.Items[i] = l
	}
	return out, nil
}

// tell adds how a pool stands.
func (l *PoolLine) tell(st *standing.Standing) {
	l.Equipment = standing.FilterWords(&st.Gear)
	if h := &st.Filter; h.HadForecast {
		load := h.State.Expected()
		l.Load = &load
		if st.DaysLeft >= 0 {
			l.DaysLeft = &st.DaysLeft
		}
	}
	l.LastVisit = st.Seen
	_, l.Open = standing.OpenSuspect(st.Confirmed, st.Gear.Kind)
	l.Danger = st.Danger()
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
		Line:       []LinePoint{},
	}
	out.Points = append(out.Points, h.Points...)
	if out.Pad.Described {
		out.Forecast = h.State.Ahead(h.State.LoadBelief(), h.PerDay, 14)
		if out.Line, err = cleanLine(cm.Model); err != nil {
			return out, fmt.Errorf("drawing the clean line: %w", err)
		}
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
	if planned := standing.Planned(c, &p, moves[id], at.Seen(), now); len(planned) > 0 {
		out.NextVisit = &planned[0].At
	}
	out.Wear = append(out.Wear, h.Worn(cm.Model.Doc.Filter.Kind)...)
	if out.Older, err = s.olderLines(ctx, c, at.Record); err != nil {
		return out, err
	}
	if n := len(visits); n > 0 {
		_, out.Open = standing.OpenSuspect(visits[n-1].Confirmed, cm.Model.Doc.Filter.Kind)
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
