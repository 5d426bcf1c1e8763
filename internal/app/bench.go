package app

import (
	"context"
	"fmt"
	"math"
	"time"

	"github.com/google/uuid"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/upkeep"
	"fairlap/core/words"
)

// PoolFacts is what the head of the bench and of the record shows.
type PoolFacts struct {
	ID          string        `json:"id"`
	Street      string        `json:"street"`
	Town        string        `json:"town" doc:"the rest of the address"`
	Gallons     float64       `json:"gallons"`
	Equipment   words.Message `json:"equipment"`
	Surface     string        `json:"surface"`
	AccessNote  string        `json:"accessNote"`
	Version     int           `json:"version"`
	Since       string        `json:"since"`
	LastCleaned *time.Time    `json:"lastCleaned"`
	UsualDays   float64       `json:"usualDays" doc:"days between cleanings here, median; 0 when not known"`
	CleanLineAt *time.Time    `json:"cleanLineAt"`
	Lat         *float64      `json:"lat" doc:"where the pool is; absent: nobody said"`
	Lon         *float64      `json:"lon"`
}

// PadFacts is what the bench needs of the pad.
type PadFacts struct {
	PumpModel    string        `json:"pumpModel"`
	SingleSpeed  bool          `json:"singleSpeed"`
	TopRPM       float64       `json:"topRpm"`
	UsualRPM     float64       `json:"usualRpm" doc:"fastest speed of the programme, where the gauges tell most"`
	HasVacuum    bool          `json:"hasVacuum"`
	HasFlow      bool          `json:"hasFlow"`
	HasPower     bool          `json:"hasPower"`
	FilterKind   string        `json:"filterKind" enum:"sand,cartridge,de"`
	Multiport    bool          `json:"multiport"`
	SpaMode      bool          `json:"spaMode" doc:"suction and return can both lead to the spa"`
	SuctionWords string        `json:"suctionWords"`
	KGalPerDay   float64       `json:"kgalPerDay"`
	CleaningName words.Message `json:"cleaningName"`
	Limit        words.Message `json:"limit" doc:"which rule makes this pad's filter dirty, and what that means in water"`
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
	Open        words.Message      `json:"open" doc:"suspect left open at the last visit"`
	Notices     []words.Message    `json:"notices" nullable:"false"`
	Points      []upkeep.LoadPoint `json:"points" nullable:"false" doc:"loads since the last cleaning"`
	Forecast    upkeep.Belief      `json:"forecast" doc:"load expected today, before any reading"`
	NextVisit   time.Time          `json:"nextVisit"`
}

// FaultName is a fault to choose from when a visit is closed.
type FaultName struct {
	ID   string        `json:"id"`
	Name words.Message `json:"name"`
}

// Bench opens a stop.
func (s *Service) Bench(ctx context.Context, a Actor, stop uuid.UUID) (Bench, error) {
	now := s.now()
	at, err := s.atStop(ctx, a, stop, now)
	if err != nil {
		return Bench{}, err
	}
	m, h := at.cached.Model, at.History
	b := Bench{StopID: stop.String(), Position: at.stop.Position, Of: len(at.day.Stops), PlannedAt: at.stop.PlannedAt,
		Pool: at.poolFacts(), Pad: padFacts(at.Calibrated), Signs: fault.SignsOn(&m.Doc), Notices: []words.Message{}, Points: []upkeep.LoadPoint{},
		Forecast: h.State.LoadBelief(), NextVisit: at.Next, ChemicalsAt: h.Chemicals, Faults: faultNames(&m.Doc)}
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
		b.Notices = append(b.Notices, words.Of("app.found-at-the-inspection-of", "on", words.Date(f.At.In(at.company.zone)), "says", words.Msg(f.Text)))
	}
	return b, nil
}

func (s *Service) notices(at *atStop, now time.Time) []words.Message {
	out := []words.Message{}
	for _, sf := range at.cached.Shortfalls {
		name := map[pad.StationID]words.Message{pad.StationCell: "app.salt-cell", pad.StationHeater: "app.heater"}[sf.Device]
		clock := func(hour float64) words.Arg { return words.Name(fmt.Sprintf("%02.0f:00", math.Mod(hour, 24))) }
		text := words.Of("app.short-at", "device", words.Msg(name), "flow", words.Q("gpm", sf.Flow.GPM()), "least", words.Q("gpm", sf.Least.GPM()), "speed", words.Q("rpm", sf.Slot.RPM),
			"from", clock(sf.Slot.StartHour), "to", clock(sf.Slot.StartHour+sf.Slot.Hours))
		if sf.Mend > 0 {
			text = words.Join(words.Stop, text, words.Of("app.would-do", "mend", words.Q("rpm", float64(sf.Mend))))
		}
		out = append(out, text)
	}
	if text := s.runTime(at, now); text != "" {
		out = append(out, text)
	}
	if at.record.CleanLine == nil {
		out = append(out, "app.no-clean-line-yet-what")
	}
	if at.record.NewGauge {
		out = append(out, "app.the-tank-gauge-is-newer")
	}
	if !at.cached.Model.LimitReached {
		out = append(out, words.Of("app.this-pump-can-t-raise", "limitWords", words.Msg(at.company.settings.LimitWords())))
	}
	return out
}

// runTime says what the pool's programme is short of in this week's weather.
func (s *Service) runTime(at *atStop, now time.Time) words.Message {
	air, known := upkeep.Heat(s.world.Sky, now.In(at.company.zone))
	if !known {
		return ""
	}
	return upkeep.RunTime(&at.cached.Model.Doc, at.cached.KGalPerDay, at.poolFacts().Gallons, air)
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
	out := PoolFacts{ID: p.ID.String(), Street: p.Name(), Town: p.Town, Gallons: p.VolumeM3 / 3.785411784e-3, Equipment: filterWords(&at.cached.Model.Doc), Surface: p.Surface,
		AccessNote: p.AccessNote, Version: p.Version, Since: p.OnRecordSince.Format(time.DateOnly), LastCleaned: at.History.LastCleaned, UsualDays: at.History.UsualDays(), Lat: p.Lat, Lon: p.Lon}
	if at.record.CleanLine != nil {
		out.CleanLineAt = &at.record.CleanLine.TakenAt
	}
	return out
}

func padFacts(c *Calibrated) PadFacts {
	d := &c.Model.Doc
	usual := 0.0
	for _, s := range d.Programme {
		usual = max(usual, s.RPM)
	}
	if usual == 0 {
		usual = d.Pump.TopRPM
	}
	lines := ""
	for i, l := range d.Suction {
		if i > 0 {
			lines += " · "
		}
		lines += l.Name
	}
	name, _ := fault.Cleaning(d.Filter.Kind)
	_, spa := d.SpaMode()
	return PadFacts{d.Pump.Model, d.Pump.Kind == pad.SingleSpeed, d.Pump.TopRPM, usual,
		d.Meters.HasVacuum && d.VacuumTap != pad.NoTap, d.Meters.HasFlow, d.Meters.HasPower, string(d.Filter.Kind), d.Filter.Valve == pad.Multiport, spa,
		lines, c.KGalPerDay, name, limitWords(c.Model)}
}

// limitWords say which rule makes a pad's filter dirty, and what that means in water.
func limitWords(m *pad.Model) words.Message {
	r := m.Ruling
	var text words.Message
	switch r.Rule {
	case pad.RuleRise:
		text = words.Of("app.over-the-clean-line-at", "limitRise", words.QD("psi", m.LimitRise.PSI(), 0))
	case pad.RulePump:
		text = words.Of("app.seven-tenths-of-what-this", "limitRise", words.QD("psi", m.LimitRise.PSI(), 0))
	case pad.RuleCeiling:
		text = words.Of("app.in-the-tank-at-the", "serviceCeiling", words.QD("psi", pad.ServiceCeiling.PSI(), 0), "speed", words.QD("rpm", float64(r.Speed), 0))
	case pad.RuleLabel:
		text = words.Of("app.the-tank-s-own-limit", "speed", words.QD("rpm", float64(r.Speed), 0))
	case pad.RuleFlowLoss:
		text = words.Of("app.of-the-flow-gone-at", "clean", words.Share((1 - float64(r.Left/r.Clean))), "speed", words.QD("rpm", float64(r.Speed), 0))
	case pad.RuleDevice:
		text = words.Of("app.the-s-least-flow-at", "device", words.Msg(r.Device), "speed", words.QD("rpm", float64(r.Speed), 0))
	default:
		return ""
	}
	if r.Daily > 0 {
		text = words.Join(words.Semicolon, text, words.Of("app.of-left-at", "left", words.QD("gpm", r.Left.GPM(), 0), "clean", words.QD("gpm", r.Clean.GPM(), 0), "daily", words.QD("rpm", float64(r.Daily), 0)))
	}
	return words.Of("app.limit-here", "limit", words.Msg(text))
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
	r, signs, ok := s.world.Demo.Read(at.record.Pool.Name(), min(rpm, at.cached.Model.Doc.Pump.TopRPM))
	if !ok {
		return Findings{}, ErrNoDemo
	}
	return Findings{Readings: []TypedReading{r}, Signs: signs}, nil
}
