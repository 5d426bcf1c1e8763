package diagnosis

import (
	"fmt"
	"math"
	"sort"

	"fairlap/core/fault"
	"fairlap/core/limits"
	"fairlap/core/logp"
	"fairlap/core/pad"
	"fairlap/core/words"
)

// Finding is a chronic weakness of the pad, weighed by itself beside the acute
// suspects.
type Finding struct {
	Fault fault.Fault
	P     float64
	Text  words.Message // the figures that speak for it
}

// worthFinding is the least probability of a finding that is shown.
const worthFinding = 0.3

// chronic weighs each finding against its absence: what the pad's own network
// says at its programmed speeds is the prior, the signs do the rest.
func (s *survey) chronic(r *Result) ([]Finding, error) {
	m := s.c.Model
	limits, err := limits.Figures(m, s.c.Pool)
	if err != nil {
		return nil, fmt.Errorf("weighing the pad's limits: %w", err)
	}
	text := map[fault.ID]words.Message{}
	for _, l := range limits {
		if id, why := s.breach(&l); id != "" && text[id] == "" {
			text[id] = why
		}
	}
	if why, err := s.shortHours(); err != nil {
		return nil, err
	} else if why != "" {
		text[fault.RuntimeShort] = why
	}
	if why := s.heaterFlow(r); why != "" {
		text[fault.HeaterLowFlow] = why
	}
	for id, is := range s.c.Installed {
		text[id] = words.Join(words.Stop, text[id], is)
	}
	var out []Finding
	for i := range fault.Catalogue {
		f := &fault.Catalogue[i]
		if !f.Chronic || !s.canHave(f.ID) {
			continue
		}
		p := s.priorOf(f)
		figures, broken := text[f.ID]
		if broken {
			p = math.Max(p, 0.6)
		}
		odds := math.Log(p / (1 - p))
		s.answered(func(sg *fault.SignFact, yes bool) {
			if !sg.FromState && !sg.Air {
				odds += logp.Answer(cause{fault: f}.sign(sg), yes) - logp.Answer(sg.Base, yes)
			}
		})
		if p = 1 / (1 + math.Exp(-odds)); p >= worthFinding {
			out = append(out, Finding{*f, p, figures})
		}
	}
	sort.SliceStable(out, func(a, b int) bool { return Steady(out[a].P) > Steady(out[b].P) })
	return out, nil
}

// heaterFlow is today's flow against the heater's least, when it crackles or says
// that it is short of flow.
func (s *survey) heaterFlow(r *Result) words.Message {
	d := s.c.Model.Doc.Heater
	if d == nil || !(s.c.Signs[fault.HeaterCrackles] || s.c.Signs[fault.DeviceNoFlow]) {
		return ""
	}
	q, rpm, ok := s.todaysFlow(r)
	if !ok || q.GPM() >= d.LeastGPM {
		return ""
	}
	return words.Of(
		"diagnosis.about-at-and-the-heater",
		"q",
		words.QD("gpm", q.GPM(), 0),
		"rpm",
		words.QD("rpm", float64(rpm), 0),
		"leastGPM",
		words.QD("gpm", d.LeastGPM, 0),
	)
}

func (s *survey) canHave(id fault.ID) bool {
	d := &s.c.Model.Doc
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
var breachOf = map[limits.ID]fault.ID{
	"media-rate": fault.PumpOversized, "heater-flow": fault.HeaterLowFlow, "cell-flow": fault.CellNoFlow, "backwash-lift": fault.PumpUndersized,
}

// breach looks whether the programme breaks a limit; a backwash only when no
// speed of the pump keeps it.
func (s *survey) breach(l *limits.Limit) (fault.ID, words.Message) {
	id, ok := breachOf[l.ID]
	if !ok {
		return "", ""
	}
	if l.Job == limits.JobBackwash {
		if fast := fastest(l.At); !fast.OK {
			return id, words.Of(
				"diagnosis.are-needed-full-speed-gives",
				"limit",
				words.Msg(l.Name),
				"needed",
				words.QD(l.Unit, l.Value, 0),
				"gives",
				words.QD(l.Unit, fast.Value, 0),
			)
		}
		return "", ""
	}
	programmed := min(len(s.c.Model.Doc.Programme), len(l.At))
	if id == fault.HeaterLowFlow {
		for _, at := range l.At[:programmed] {
			if at.OK { // it may well fire only then
				return "", ""
			}
		}
	}
	for _, at := range l.At[:programmed] {
		if !at.OK {
			return id, words.Of(
				"diagnosis.at-against",
				"limit",
				words.Msg(l.Name),
				"speed",
				words.QD("rpm", float64(at.Speed), 0),
				"at",
				words.QD(l.Unit, at.Value, 0),
				"value",
				words.QD(l.Unit, l.Value, 0),
			)
		}
	}
	return "", ""
}

func fastest(at []limits.LimitAt) limits.LimitAt {
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

func (s *survey) shortHours() (words.Message, error) {
	if s.c.Pool <= 0 {
		return "", nil
	}
	perDay, err := s.c.Model.FilteredPerDay()
	if err != nil {
		return "", fmt.Errorf("the day's filtered water: %w", err)
	}
	if share := float64(perDay) / float64(s.c.Pool); share < hotTurnovers {
		return words.Of(
			"diagnosis.the-programme-filters-of-a",
			"perDay",
			words.QD("gal", perDay.Gallons(), 0),
			"pool",
			words.QD("gal", s.c.Pool.Gallons(), 0),
		), nil
	}
	return "", nil
}
