package visit

import (
	"context"
	"fmt"
	"math"
	"slices"
	"time"

	"github.com/google/uuid"

	"fairlap/core/casefile"
	"fairlap/core/fault"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/standing"
	"fairlap/internal/store"
)

// Bench is one stop, before anything was read.
type Bench struct {
	StopID      string             `json:"stopId"`
	Position    int                `json:"position"`
	Of          int                `json:"of"`
	PlannedAt   time.Time          `json:"plannedAt"`
	VisitID     string             `json:"visitId" doc:"set when the stop was logged"`
	Pool        standing.PoolFacts `json:"pool"`
	Pad         judge.PadFacts     `json:"pad"`
	Signs       []fault.SignFact   `json:"signs" nullable:"false"`
	Faults      []FaultName        `json:"faults" nullable:"false"`
	HoldUntil   *time.Time         `json:"holdUntil"`
	ChemicalsAt *time.Time         `json:"chemicalsAt"`
	Open        words.Message      `json:"open" doc:"suspect left open at the last visit"`
	Notices     []words.Message    `json:"notices" nullable:"false"`
	Points      []upkeep.LoadPoint `json:"points" nullable:"false" doc:"loads since the last cleaning"`
	Forecast    upkeep.Belief      `json:"forecast" doc:"load expected today, before any reading"`
	NextVisit   time.Time          `json:"nextVisit"`
	Phone       string             `json:"phone" doc:"the customer's"`
	Photo       string             `json:"photo" doc:"id of the picture that stands for the pool; empty: none"`
	Before      *LastReading       `json:"before,omitempty" doc:"what the meters said at the visit before"`
	Verdict     judge.Verdict      `json:"verdict" doc:"what is known of the pad as long as nothing is read or seen"`
}

// LastReading is what the meters said at an earlier visit, as it was found.
type LastReading struct {
	At time.Time `json:"at"`
	casefile.Reading
}

// lastReading is the newest reading as found through the filter, of visits oldest first.
func lastReading(visits []store.Visit) *LastReading {
	for _, v := range slices.Backward(visits) {
		for _, r := range v.Readings {
			if r.Phase == "found" && (r.Setting == "" || r.Setting == string(pad.SetFilter)) {
				return &LastReading{At: v.ClosedAt, Reading: TradeRow(r)}
			}
		}
	}
	return nil
}

// FaultName is a fault to choose from when a visit is closed.
type FaultName struct {
	ID   string        `json:"id"`
	Name words.Message `json:"name"`
}

// Bench opens a stop.
func (s *Service) Bench(ctx context.Context, a access.Actor, stop uuid.UUID) (Bench, error) {
	now := s.keeper.Now()
	at, err := s.keeper.AtStop(ctx, a, stop, now)
	if err != nil {
		return Bench{}, err
	}
	m, h := at.Cached.Model, at.History
	b := Bench{
		StopID:      stop.String(),
		Position:    at.Planned.Position,
		Of:          len(at.Day.Stops),
		PlannedAt:   at.Planned.PlannedAt,
		Pool:        at.PoolFacts(),
		Pad:         judge.FactsOf(at.Calibrated),
		Signs:       fault.SignsOn(&m.Doc),
		Notices:     []words.Message{},
		Points:      []upkeep.LoadPoint{},
		Forecast:    h.State.LoadBelief(),
		NextVisit:   at.Next,
		ChemicalsAt: h.Chemicals,
		Faults:      faultNames(&m.Doc),
	}
	logged, err := s.keeper.Store.VisitOfStops(ctx, []uuid.UUID{stop})
	if err != nil {
		return b, fmt.Errorf("looking for the stop's visit: %w", err)
	}
	if v, ok := logged[stop]; ok {
		b.VisitID = v.ID.String()
	}
	if h.Chemicals != nil {
		if until := upkeep.HoldUntil(*h.Chemicals, at.Company.Settings); until.After(now.Add(-24 * time.Hour)) {
			b.HoldUntil = &until
		}
	}
	for _, p := range h.Points {
		if h.LastCleaned == nil || !p.At.Before(*h.LastCleaned) {
			b.Points = append(b.Points, p)
		}
	}
	if b.Verdict, _, err = at.Judge(judge.Findings{}, now, nil); err != nil {
		return b, fmt.Errorf("judging what is known already: %w", err)
	}
	b.Before = lastReading(at.Before)
	b.Photo = company.IDOr(at.Record.Pool.PhotoID)
	if id := at.Record.Pool.CustomerID; id != nil {
		who, err := s.keeper.Store.Customers(ctx, []uuid.UUID{*id})
		if err != nil {
			return b, fmt.Errorf("reading the customer: %w", err)
		}
		b.Phone = who[*id].Phone
	}
	if n := len(at.Before); n > 0 {
		_, b.Open = standing.OpenSuspect(at.Before[n-1].Confirmed, m.Doc.Filter.Kind)
	}
	b.Notices = s.notices(at, now)
	found, err := standing.InspectedOf(at.Inspected)
	if err != nil {
		return b, err
	}
	for _, f := range found {
		b.Notices = append(
			b.Notices,
			words.Of(
				"app.found-at-the-inspection-of",
				"on",
				words.Date(f.At.In(at.Company.Zone)),
				"says",
				words.Msg(f.Text),
			),
		)
	}
	return b, nil
}

func (s *Service) notices(at *standing.Site, now time.Time) []words.Message {
	out := []words.Message{}
	if n := len(at.Before); n > 0 {
		if left := standing.LeftOf(&at.Before[n-1]); left != nil {
			out = append(out, words.Of("app.left-at", "on", words.Date(at.Before[n-1].ClosedAt.In(at.Company.Zone)),
				"left", words.Msg(left.Says()), "reason", words.Name(left.Reason)))
		}
	}
	for _, sf := range at.Cached.Shortfalls {
		name := map[plumbing.StationID]words.Message{plumbing.StationCell: "app.salt-cell", plumbing.StationHeater: "app.heater"}[sf.Device]
		clock := func(hour float64) words.Arg { return words.Name(fmt.Sprintf("%02.0f:00", math.Mod(hour, 24))) }
		text := words.Of(
			"app.short-at",
			"device",
			words.Msg(name),
			"flow",
			words.Q("gpm", sf.Flow.GPM()),
			"least",
			words.Q("gpm", sf.Least.GPM()),
			"speed",
			words.Q("rpm", sf.Slot.RPM),
			"from",
			clock(sf.Slot.StartHour),
			"to",
			clock(sf.Slot.StartHour+sf.Slot.Hours),
		)
		if sf.Mend > 0 {
			text = words.Join(words.Stop, text, words.Of("app.would-do", "mend", words.Q("rpm", float64(sf.Mend))))
		}
		out = append(out, text)
	}
	if text := s.keeper.RunTime(at, now); text != "" {
		out = append(out, text)
	}
	if at.Model.Doc.Presumed {
		return out
	}
	if at.Record.CleanLine == nil {
		out = append(out, "app.no-clean-line-yet-what")
	}
	if at.Record.NewGauge {
		out = append(out, "app.the-tank-gauge-is-newer")
	}
	if !at.Cached.Model.LimitReached {
		out = append(
			out,
			words.Of("app.this-pump-can-t-raise", "limitWords", words.Msg(at.Company.Settings.LimitWords())),
		)
	}
	return out
}

// faultNames are the faults that a pad can have.
func faultNames(d *pad.Document) []FaultName {
	out := []FaultName{{ID: string(fault.FilterLoaded), Name: fault.Loaded(d.Filter.Kind).Name}}
	for _, f := range fault.Catalogue {
		if f.ID != fault.Healthy && len(f.Places(d)) > 0 {
			out = append(out, FaultName{ID: string(f.ID), Name: f.Name})
		}
	}
	return out
}

// DemoMeter reads the demo's stand-in pad at a stop.
func (s *Service) DemoMeter(ctx context.Context, a access.Actor, stop uuid.UUID, rpm float64) (judge.Findings, error) {
	if !s.keeper.Demo() {
		return judge.Findings{}, access.ErrNoDemo
	}
	at, err := s.keeper.AtStop(ctx, a, stop, s.keeper.Now())
	if err != nil {
		return judge.Findings{}, err
	}
	r, signs, ok := s.keeper.World.Demo.Read(at.Record.Pool.Name(), min(rpm, at.Cached.Model.Doc.Pump.TopRPM))
	if !ok {
		return judge.Findings{}, access.ErrNoDemo
	}
	return judge.Findings{Readings: []judge.TypedReading{r}, Signs: signs}, nil
}
