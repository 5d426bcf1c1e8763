// Package judge is the pure heart of a stop: what is known of a pool before anybody looks is
// one value, the pack, and with it what was found there is judged, the water's ways and the
// limits are weighed and a procedure is written out. Nothing else decides, and it asks nobody.
package judge

import (
	"errors"
	"fmt"
	"time"

	"fairlap/core/amounts"
	"fairlap/core/casefile"
	"fairlap/core/fault"
	"fairlap/core/figure"
	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/pool"
	"fairlap/core/procedure"
	"fairlap/core/stop"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
)

// Pack is all that is known of a pool before anybody looks: with it and what was found
// there, a stop is judged without asking anybody.
type Pack struct {
	Pool      string             `json:"pool" doc:"what the pool is called"`
	Gallons   float64            `json:"gallons"`
	Zone      string             `json:"zone" doc:"the company's, as in the time zone database"`
	Pad       pad.Document       `json:"pad"`
	CleanLine []casefile.Reading `json:"cleanLine" nullable:"false" doc:"read right after a cleaning; calibrates the pad"`
	Settings  upkeep.Settings    `json:"settings" doc:"the company's, with the pool's own choices"`
	Ways      procedure.Ways     `json:"ways"`
	History   upkeep.History     `json:"history" doc:"followed up to when the pack was made"`
	Next      time.Time          `json:"next" doc:"the visit after this one"`
	// Priors are the company's own, in a visit; Worn is the share of its expected life
	// that a fault's part has behind it.
	Priors    map[fault.ID]float64       `json:"priors"`
	Worn      map[fault.ID]float64       `json:"worn"`
	Installed map[fault.ID]words.Message `json:"installed" doc:"what an inspection found, by the chronic finding that it speaks for"`
	Open      []fault.ID                 `json:"open" nullable:"false" doc:"suspects that the last visit left open"`
	Book      stop.Book                  `json:"book" nullable:"false" doc:"guided runs of this stop, as far as they came"`
	// Left is how the visit before left the pad, where that was not as in daily use.
	Left *procedure.State `json:"left,omitempty"`
}

// Stop is a pack ready to be asked: its pad calibrated, its zone found.
type Stop struct {
	Pack
	*Calibrated
	zone *time.Location
}

// Calibrated is a pad fitted to its clean line, with its limit as the company has it.
type Calibrated struct {
	Model      *plumbing.Model
	Clean      []casefile.Reading // that it was calibrated on
	LimitPsi   float64            // rise at full speed that is load 1
	KGalPerDay float64
	Shortfalls []plumbing.Shortfall
}

// leastSeen is the share of a device's least flow that a shortfall must pass.
const leastSeen = 0.3

// Calibrate fits a pad.
func Calibrate(doc pad.Document, clean []casefile.Reading, settings *upkeep.Settings) (*Calibrated, error) {
	rows := make([]pad.Reading, len(clean))
	for i, r := range clean {
		rows[i] = r.Meters()
	}
	m, err := Fit(doc, rows, settings)
	if err != nil {
		return nil, fmt.Errorf("calibrating the pad: %w", err)
	}
	perDay, err := m.FilteredPerDay()
	if err != nil {
		return nil, fmt.Errorf("daily volume: %w", err)
	}
	var short []plumbing.Shortfall
	if !doc.Presumed {
		if short, err = m.Shortfalls(leastSeen); err != nil {
			return nil, fmt.Errorf("device flows: %w", err)
		}
	}
	return &Calibrated{
		Model:      m,
		Clean:      clean,
		LimitPsi:   m.LimitRise.PSI(),
		KGalPerDay: perDay.Gallons() / 1000,
		Shortfalls: short,
	}, nil
}

// Fit is Calibrate without what follows from it.
func Fit(doc pad.Document, clean []pad.Reading, settings *upkeep.Settings) (*plumbing.Model, error) {
	var top units.Pressure // what the fitted pad itself reads clean
	if settings.School == upkeep.Share {
		m, err := plumbing.Calibrate(doc, clean, usualWater, units.PSI(settings.LimitRisePsi))
		if err != nil {
			return nil, Unsolved(err)
		}
		st, err := m.Solver().Solve(pad.Operation{Speed: m.TopSpeed()}, plumbing.Effects{})
		if err != nil {
			return nil, Unsolved(err)
		}
		top = st.Tank
	}
	m, err := plumbing.Calibrate(
		doc,
		clean,
		usualWater,
		units.PSI(settings.LimitRise(top).PSI()),
	) // as a case file gives it
	if err != nil {
		return nil, Unsolved(err)
	}
	if m, err = m.Within(settings.FlowLoss()); err != nil {
		return nil, Unsolved(err)
	}
	return m, nil
}

// usualWater is assumed where nobody measured: the handbook's figures are for it.
var usualWater = units.Fahrenheit(80)

// Ready calibrates the pack's pad.
func (p Pack) Ready() (*Stop, error) {
	c, err := Calibrate(p.Pad, p.CleanLine, &p.Settings)
	if err != nil {
		return nil, err
	}
	return p.On(c)
}

// ReadyIn is Ready where there is no time zone database: the zone comes with the pack.
func (p Pack) ReadyIn(zone *time.Location) (*Stop, error) {
	c, err := Calibrate(p.Pad, p.CleanLine, &p.Settings)
	if err != nil {
		return nil, err
	}
	return &Stop{Pack: p, Calibrated: c, zone: zone}, nil
}

// On is Ready for a pad that was calibrated already.
func (p Pack) On(c *Calibrated) (*Stop, error) {
	zone, err := time.LoadLocation(p.Zone)
	if err != nil {
		return nil, fmt.Errorf("the pack's time zone: %w", err)
	}
	return &Stop{Pack: p, Calibrated: c, zone: zone}, nil
}

// Local is a moment by the pool's own clock.
func (s *Stop) Local(t time.Time) time.Time { return t.In(s.zone) }

// Setup is what procedures are written out for at the pool at a moment: at a speed read there (rpm;
// 0: none) and the water's temperature (°F; 0: the usual of the month).
func (s *Stop) Setup(speed, waterF float64, now time.Time) (*procedure.Setup, error) {
	if s.Model.Doc.Presumed {
		return nil, figure.Wrong("procedure", "app.undescribed-no-run") // nobody knows the way around this pad
	}
	k := amounts.Known{
		Model:       s.Model,
		PoolGallons: s.Gallons,
		Speed:       units.Speed(speed),
		Water:       pool.UsualWater(now.In(s.zone).Month(), s.Settings.South),
		Guessed:     waterF <= 0,
		HoldHours:   s.Settings.HoldHours,
		Primes:      s.History.Primes,
		Drains:      s.History.Drains,
	}
	if waterF > 0 {
		k.Water = units.Fahrenheit(waterF)
	}
	out, err := amounts.Measure(&k)
	if err != nil {
		return nil, Unsolved(err)
	}
	out.Ways = s.Ways
	return out, nil
}

// ErrUnsolved says that a pad's description gives no flow to compute with.
var ErrUnsolved = errors.New("the pad's description gives no flow to compute with")

// Unsolved marks the errors that a better description would mend.
func Unsolved(err error) error {
	var field *pad.FieldError
	if errors.Is(err, hydraulics.ErrNotConverged) || errors.As(err, &field) {
		return fmt.Errorf("%w: %w", ErrUnsolved, err)
	}
	return err
}
