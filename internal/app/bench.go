package app

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/upkeep"
)

// PoolFacts is what the head of the bench and of the record shows.
type PoolFacts struct {
	ID          string     `json:"id"`
	Street      string     `json:"street"`
	Town        string     `json:"town" doc:"the rest of the address"`
	Gallons     float64    `json:"gallons"`
	Equipment   string     `json:"equipment"`
	Surface     string     `json:"surface"`
	AccessNote  string     `json:"accessNote"`
	Version     int        `json:"version"`
	Since       string     `json:"since"`
	LastCleaned *time.Time `json:"lastCleaned"`
	UsualDays   float64    `json:"usualDays" doc:"days between cleanings here, median; 0 when not known"`
	CleanLineAt *time.Time `json:"cleanLineAt"`
	Lat         *float64   `json:"lat" doc:"where the pool is; absent: nobody said"`
	Lon         *float64   `json:"lon"`
}

// PadFacts is what the bench needs of the pad.
type PadFacts struct {
	PumpModel    string  `json:"pumpModel"`
	SingleSpeed  bool    `json:"singleSpeed"`
	TopRPM       float64 `json:"topRpm"`
	UsualRPM     float64 `json:"usualRpm" doc:"fastest speed of the programme, where the gauges tell most"`
	HasVacuum    bool    `json:"hasVacuum"`
	HasFlow      bool    `json:"hasFlow"`
	HasPower     bool    `json:"hasPower"`
	FilterKind   string  `json:"filterKind" enum:"sand,cartridge,de"`
	Multiport    bool    `json:"multiport"`
	SpaMode      bool    `json:"spaMode" doc:"suction and return can both lead to the spa"`
	SuctionWords string  `json:"suctionWords"`
	KGalPerDay   float64 `json:"kgalPerDay"`
	CleaningName string  `json:"cleaningName"`
	Limit        string  `json:"limit" doc:"which rule makes this pad's filter dirty, and what that means in water"`
}

// Bench is one stop, before anything was read.
type Bench struct {
	StopID      string             `json:"stopId"`
	Position    int                `json:"position"`
	Of          int                `json:"of"`
	PlannedAt   time.Time          `json:"plannedAt"`
	VisitID     string             `json:"visitId" doc:"set when the stop was logged"`
	Pool        PoolFacts          `json:"pool"`
	Pad         PadFacts           `json:"pad"`
	Signs       []fault.SignFact   `json:"signs" nullable:"false"`
	Faults      []FaultName        `json:"faults" nullable:"false"`
	HoldUntil   *time.Time         `json:"holdUntil"`
	ChemicalsAt *time.Time         `json:"chemicalsAt"`
	Open        string             `json:"open" doc:"suspect left open at the last visit"`
	Notices     []string           `json:"notices" nullable:"false"`
	Points      []upkeep.LoadPoint `json:"points" nullable:"false" doc:"loads since the last cleaning"`
	Forecast    upkeep.Belief      `json:"forecast" doc:"load expected today, before any reading"`
	NextVisit   time.Time          `json:"nextVisit"`
}

// FaultName is a fault to choose from when a visit is closed.
type FaultName struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// Bench opens a stop.
func (s *Service) Bench(ctx context.Context, a Actor, stop uuid.UUID) (Bench, error) {
	now := s.now()
	at, err := s.atStop(ctx, a, stop, now)
	if err != nil {
		return Bench{}, err
	}
	m, h := at.cached.model, at.history
	b := Bench{StopID: stop.String(), Position: at.stop.Position, Of: len(at.day.Stops), PlannedAt: at.stop.PlannedAt,
		Pool: at.poolFacts(), Pad: padFacts(at.cached), Signs: fault.SignsOn(&m.Doc), Notices: []string{}, Points: []upkeep.LoadPoint{},
		Forecast: h.State.LoadBelief(), NextVisit: at.next, ChemicalsAt: h.Chemicals, Faults: faultNames(&m.Doc)}
	logged, err := s.store.VisitOfStops(ctx, []uuid.UUID{stop})
	if err != nil {
		return b, fmt.Errorf("looking for the stop's visit: %w", err)
	}
	if v, ok := logged[stop]; ok {
		b.VisitID = v.ID.String()
	}
	if h.Chemicals != nil {
		if until := upkeep.HoldUntil(*h.Chemicals, at.company.settings); until.After(now.Add(-24 * time.Hour)) {
			b.HoldUntil = &until
		}
	}
	for _, p := range h.Points {
		if h.LastCleaned == nil || !p.At.Before(*h.LastCleaned) {
			b.Points = append(b.Points, p)
		}
	}
	if n := len(at.before); n > 0 {
		_, b.Open = openSuspect(at.before[n-1], m.Doc.Filter.Kind)
	}
	b.Notices = s.notices(at, now)
	found, err := inspectedOf(at.inspected)
	if err != nil {
		return b, err
	}
	for _, f := range found {
		b.Notices = append(b.Notices, fmt.Sprintf("Found at the inspection of %s: %s", f.At.In(at.company.zone).Format("2 January 2006"), f.Says))
	}
	return b, nil
}

func (s *Service) notices(at *atStop, now time.Time) []string {
	out := []string{}
	for _, sf := range at.cached.shortfalls {
		name := map[pad.StationID]string{pad.StationCell: "salt cell", pad.StationHeater: "heater"}[sf.Device]
		end := int(sf.Slot.StartHour+sf.Slot.Hours) % 24
		says := fmt.Sprintf("The %s gets %.0f gpm at %.0f rpm (%02.0f:00–%02d:00) and needs %.0f gpm.", name, sf.Flow.GPM(), sf.Slot.RPM, sf.Slot.StartHour, end, sf.Least.GPM())
		if sf.Mend > 0 {
			says += fmt.Sprintf(" %.0f rpm would do.", float64(sf.Mend))
		}
		out = append(out, says)
	}
	if says := s.runTime(at, now); says != "" {
		out = append(out, says)
	}
	if at.record.CleanLine == nil {
		out = append(out, "No clean line yet: what the gauges should say comes from the catalogue, so expect wide bands. Take one after the next cleaning.")
	}
	if at.record.NewGauge {
		out = append(out, "The tank gauge is newer than the clean line: what the old one read there counts no more, so expect wide bands. Take a clean line after the next cleaning.")
	}
	if !at.cached.model.LimitReached {
		out = append(out, fmt.Sprintf("This pump can't raise its gauge by %s: the limit is set lower for it.", at.company.settings.LimitWords()))
	}
	return out
}

// runTime says what the pool's programme is short of in this week's weather.
func (s *Service) runTime(at *atStop, now time.Time) string {
	air, known := upkeep.Heat(s.world.Sky, now.In(at.company.zone))
	if !known {
		return ""
	}
	return upkeep.RunTime(&at.cached.model.Doc, at.cached.kgalPerDay, at.poolFacts().Gallons, air)
}

// faultNames are the faults that a pad can have.
func faultNames(d *pad.Document) []FaultName {
	out := []FaultName{{string(fault.FilterLoaded), fault.Loaded(d.Filter.Kind).Name}}
	for _, f := range fault.Catalogue {
		if f.ID != fault.Healthy && len(f.Places(d)) > 0 {
			out = append(out, FaultName{string(f.ID), f.Name})
		}
	}
	return out
}

func (at *atStop) poolFacts() PoolFacts {
	p := at.record.Pool
	out := PoolFacts{ID: p.ID.String(), Street: p.Name(), Town: p.Town, Gallons: p.VolumeM3 / 3.785411784e-3, Equipment: filterWords(&at.cached.model.Doc), Surface: p.Surface,
		AccessNote: p.AccessNote, Version: p.Version, Since: p.OnRecordSince.Format(time.DateOnly), LastCleaned: at.history.LastCleaned, UsualDays: at.history.UsualDays(), Lat: p.Lat, Lon: p.Lon}
	if at.record.CleanLine != nil {
		out.CleanLineAt = &at.record.CleanLine.TakenAt
	}
	return out
}

func padFacts(c *cachedModel) PadFacts {
	d := &c.model.Doc
	usual := 0.0
	for _, s := range d.Programme {
		usual = max(usual, s.RPM)
	}
	if usual == 0 {
		usual = d.Pump.TopRPM
	}
	words := ""
	for i, l := range d.Suction {
		if i > 0 {
			words += " · "
		}
		words += l.Name
	}
	name, _ := fault.Cleaning(d.Filter.Kind)
	_, spa := d.SpaMode()
	return PadFacts{d.Pump.Model, d.Pump.Kind == pad.SingleSpeed, d.Pump.TopRPM, usual,
		d.Meters.HasVacuum && d.VacuumTap != pad.NoTap, d.Meters.HasFlow, d.Meters.HasPower, string(d.Filter.Kind), d.Filter.Valve == pad.Multiport, spa,
		words, c.kgalPerDay, name, limitWords(c.model)}
}

// limitWords say which rule makes a pad's filter dirty, and what that means in water.
func limitWords(m *pad.Model) string {
	r := m.Ruling
	var says string
	switch r.Rule {
	case pad.RuleRise:
		says = fmt.Sprintf("%.0f psi over the clean line at full speed", m.LimitRise.PSI())
	case pad.RulePump:
		says = fmt.Sprintf("seven tenths of what this pump can raise its gauge: %.0f psi are out of its reach", m.LimitRise.PSI())
	case pad.RuleCeiling:
		says = fmt.Sprintf("%.0f psi in the tank at %.0f rpm, the fastest of its programme", pad.ServiceCeiling.PSI(), float64(r.Speed))
	case pad.RuleLabel:
		says = fmt.Sprintf("the tank's own limit at %.0f rpm, the fastest of its programme", float64(r.Speed))
	case pad.RuleFlowLoss:
		says = fmt.Sprintf("%.0f %% of the flow gone at %.0f rpm", 100*(1-float64(r.Left/r.Clean)), float64(r.Speed))
	case pad.RuleDevice:
		says = fmt.Sprintf("the %s's least flow at %.0f rpm", r.Device, float64(r.Speed))
	default:
		return ""
	}
	if r.Daily > 0 {
		says += fmt.Sprintf("; %.0f of %.0f gpm left at %.0f rpm", r.Left.GPM(), r.Clean.GPM(), float64(r.Daily))
	}
	return "Limit here: " + says + "."
}

// DemoMeter reads the demo's stand-in pad at a stop.
func (s *Service) DemoMeter(ctx context.Context, a Actor, stop uuid.UUID, rpm float64) (Findings, error) {
	if !s.Demo() {
		return Findings{}, ErrNoDemo
	}
	at, err := s.atStop(ctx, a, stop, s.now())
	if err != nil {
		return Findings{}, err
	}
	r, signs, ok := s.world.Demo.Read(at.record.Pool.Name(), min(rpm, at.cached.model.Doc.Pump.TopRPM))
	if !ok {
		return Findings{}, ErrNoDemo
	}
	return Findings{Readings: []TypedReading{r}, Signs: signs}, nil
}
