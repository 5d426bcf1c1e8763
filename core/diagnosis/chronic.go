package diagnosis

import (
	"fmt"
	"math"
	"sort"
	"strings"

	"fairlap/core/fault"
	"fairlap/core/pad"
)

// Finding is a chronic weakness of the pad, weighed by itself beside the acute
// suspects.
type Finding struct {
	Fault fault.Fault
	P     float64
	Says  string // the figures that speak for it
}

// worthFinding is the least probability of a finding that is shown.
const worthFinding = 0.3

// chronic weighs each finding against its absence: what the pad's own network
// says at its programmed speeds is the prior, the signs do the rest.
func (e *engine) chronic(r *Result) error {
	m := e.c.Model
	limits, err := m.LimitFigures(e.c.Pool)
	if err != nil {
		return fmt.Errorf("weighing the pad's limits: %w", err)
	}
	says := map[fault.ID]string{}
	for _, l := range limits {
		if id, words := e.breach(&l); id != "" && says[id] == "" {
			says[id] = words
		}
	}
	if words, err := e.shortHours(); err != nil {
		return err
	} else if words != "" {
		says[fault.RuntimeShort] = words
	}
	for id, words := range e.c.Installed {
		says[id] = strings.TrimSpace(says[id] + " " + words)
	}
	for _, f := range fault.Catalogue {
		if !f.Chronic || !e.canHave(f.ID) {
			continue
		}
		p := e.priorOf(&f)
		words, broken := says[f.ID]
		if broken {
			p = math.Max(p, 0.6)
		}
		odds := math.Log(p / (1 - p))
		for id, yes := range e.c.Signs {
			if s, ok := fault.LookUpSign(id); ok && !s.FromState && !s.Air {
				odds += answer(likelihood(f, s), yes) - answer(s.Base, yes)
			}
		}
		if p = 1 / (1 + math.Exp(-odds)); p >= worthFinding {
			r.Chronic = append(r.Chronic, Finding{f, p, words})
		}
	}
	sort.SliceStable(r.Chronic, func(a, b int) bool { return r.Chronic[a].P > r.Chronic[b].P })
	return nil
}

func (e *engine) canHave(id fault.ID) bool {
	d := &e.c.Model.Doc
	switch id {
	case fault.HeaterLowFlow:
		return d.Heater != nil
	case fault.CellNoFlow:
		return d.Cell != nil
	case fault.PumpUndersized:
		return d.Filter.Kind == pad.Sand && d.Filter.Valve != pad.NoValve
	}
	return true
}

// breachOf says which finding a broken limit speaks for.
var breachOf = map[pad.LimitID]fault.ID{
	"media-rate": fault.PumpOversized, "heater-flow": fault.HeaterLowFlow, "cell-flow": fault.CellNoFlow, "backwash-lift": fault.PumpUndersized,
}

// breach looks whether the programme breaks a limit; a backwash only when no
// speed of the pump keeps it.
func (e *engine) breach(l *pad.Limit) (fault.ID, string) {
	id, ok := breachOf[l.ID]
	if !ok {
		return "", ""
	}
	if l.Job == pad.JobBackwash {
		if fast := fastest(l.At); !fast.OK {
			return id, fmt.Sprintf("%s: %.0f %s are needed, full speed gives %.0f %s.", l.Name, l.Value, l.Unit, fast.Value, l.Unit)
		}
		return "", ""
	}
	programmed := min(len(e.c.Model.Doc.Programme), len(l.At))
	if id == fault.HeaterLowFlow {
		for _, at := range l.At[:programmed] {
			if at.OK { // it may well fire only then
				return "", ""
			}
		}
	}
	for _, at := range l.At[:programmed] {
		if !at.OK {
			return id, fmt.Sprintf("%s at %.0f rpm: %.0f %s against %.0f %s.", l.Name, float64(at.Speed), at.Value, l.Unit, l.Value, l.Unit)
		}
	}
	return "", ""
}

func fastest(at []pad.LimitAt) pad.LimitAt {
	best := at[0]
	for _, a := range at {
		if a.Speed > best.Speed {
			best = a
		}
	}
	return best
}

// hotTurnovers is how many times a day a pool's water wants to pass the filter
// (common practice: once, and half again in the heat).
const hotTurnovers = 1.0

func (e *engine) shortHours() (string, error) {
	if e.c.Pool <= 0 {
		return "", nil
	}
	perDay, err := e.c.Model.FilteredPerDay()
	if err != nil {
		return "", fmt.Errorf("the day's filtered water: %w", err)
	}
	if share := float64(perDay) / float64(e.c.Pool); share < hotTurnovers {
		return fmt.Sprintf("The programme filters %.0f of %.0f gal a day.", perDay.Gallons(), e.c.Pool.Gallons()), nil
	}
	return "", nil
}

// apart is how many of a meter's deviations two suspects must differ by, on one
// meter at least, to be told apart.
const apart = 1.0

// alike names the leading suspects that no meter of these readings parts.
func (e *engine) alike(r *Result) {
	if len(e.c.Readings) == 0 || len(r.Suspects) < 2 || r.Suspects[0].Fault.Kind == fault.Gauge {
		return
	}
	lead := &r.Suspects[0]
	a := e.predicted(lead)
	for i := 1; i < len(r.Suspects) && r.Suspects[i].P > 0.1; i++ {
		b := e.predicted(&r.Suspects[i])
		same := r.Suspects[i].Fault.Kind != fault.Gauge && !oneFilter(lead.Fault.ID, r.Suspects[i].Fault.ID)
		for rd := range e.c.Readings {
			for k, m := range pad.AllMeters {
				if _, read := e.c.Readings[rd].Value(m); read && math.Abs(a[rd][k]-b[rd][k]) > apart*e.sigma(rd, k, a[rd][k], false) {
					same = false
				}
			}
		}
		if same {
			r.Alike = append(r.Alike, r.Suspects[i].Fault.Name)
		}
	}
	if len(r.Alike) > 0 {
		r.Alike = append([]string{lead.Fault.Name}, r.Alike...)
	}
}

// oneFilter tells that two suspects are one filter on either side of its limit.
func oneFilter(a, b fault.ID) bool {
	return (a == fault.Healthy || a == fault.FilterLoaded) && (b == fault.Healthy || b == fault.FilterLoaded)
}
