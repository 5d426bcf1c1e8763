package diagnosis

import (
	"fmt"
	"math"
	"sort"
	"strings"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/units"
)

// Evidence is one reason for or against a suspect, in words, with its weight:
// log-odds of this suspect against the others together.
type Evidence struct {
	Says    string  `json:"says"`
	Weight  float64 `json:"weight"`
	Meter   string  `json:"meter,omitempty"`
	Reading int     `json:"reading"`
	Sign    string  `json:"sign,omitempty"`
	// Meters or Looks are the numbers behind the words; both nil where the words
	// are all.
	Meters *MeterNumbers `json:"meters,omitempty"`
	Looks  *LookNumbers  `json:"looks,omitempty"`
}

// MeterNumbers are what a meter said and what it should have said, in the
// trade's unit.
type MeterNumbers struct {
	Unit  string  `json:"unit"`
	Read  float64 `json:"read"`
	Fits  float64 `json:"fits" doc:"what this suspect would have it read"`
	Clean float64 `json:"clean" doc:"on the clean line"`
	Sigma float64 `json:"sigma" doc:"one deviation: the meter, the calibration and the model together"`
}

// LookNumbers are how often the answer comes with the suspect and on a sound pad.
type LookNumbers struct {
	Yes   bool    `json:"yes"`
	Here  float64 `json:"here" doc:"chance of this answer with the suspect"`
	Sound float64 `json:"sound" doc:"chance of this answer on a sound pad"`
}

// noticeable is the least weight that is worth a line.
const noticeable = 0.35

// explained is how many suspects get their reasons.
const explained = 6

// explain fills For and Against of the leading suspects.
func (e *engine) explain(r *Result) {
	states := make([][][len(pad.AllMeters)]float64, len(r.Suspects))
	for i := range r.Suspects {
		states[i] = e.predicted(&r.Suspects[i])
	}
	for i := range r.Suspects {
		if i >= explained {
			break
		}
		s := &r.Suspects[i]
		for rd := range e.c.Readings {
			for k, m := range pad.AllMeters {
				if x, ok := e.c.Readings[rd].Value(m); ok {
					w := e.against(r, i, func(j int) float64 { return e.meterWeight(r, j, states[j][rd][k], rd, k, x) })
					s.note(Evidence{Says: e.meterWords(rd, m, x, states[i][rd][k]), Weight: w, Meter: string(m), Reading: rd,
						Meters: e.numbers(s, rd, k, x, states[i][rd][k])})
				}
			}
		}
		for _, f := range fault.Signs {
			if yes, ok := e.c.Signs[f.ID]; ok {
				w := e.against(r, i, func(j int) float64 { return e.signWeight(r, j, &f, states[j][0][flowMeter], yes) })
				looks := &LookNumbers{yes, math.Exp(e.signWeight(r, i, &f, states[i][0][flowMeter], yes)), math.Exp(answer(e.soundPad(&f), yes))}
				s.note(Evidence{Says: signWords(&f, yes), Weight: w, Sign: string(f.ID), Looks: looks})
			}
		}
		e.forecastWords(s)
		if s.Fault.ID == fault.Healthy || s.Fault.ID == fault.FilterLoaded {
			e.fitWords(s)
		}
		for _, list := range []*[]Evidence{&s.For, &s.Against} {
			sort.SliceStable(*list, func(a, b int) bool { return math.Abs((*list)[a].Weight) > math.Abs((*list)[b].Weight) })
		}
	}
}

// numbers are the figures behind one meter's line.
func (e *engine) numbers(s *Suspect, rd, k int, read, fits float64) *MeterNumbers {
	m := pad.AllMeters[k]
	clean := e.expected[rd].Clean.Value(m)
	sigma := e.sigma(rd, k, fits, s.effects.Air > 0)
	unit, v := tradeFigure(m, read)
	_, f := tradeFigure(m, fits)
	_, c := tradeFigure(m, clean)
	_, d := tradeFigure(m, sigma)
	return &MeterNumbers{unit, v, f, c, d}
}

// soundPad is P(yes) of a sign on a pad with nothing wrong.
func (e *engine) soundPad(f *fault.SignFact) float64 {
	if f.FromState {
		return e.stateSign(f.ID, e.topFlow)
	}
	return f.Base
}

// predicted is what every meter would say under a suspect's best fit.
func (e *engine) predicted(s *Suspect) [][len(pad.AllMeters)]float64 {
	under := s.effects
	under.Load = 0
	base := e.tables[under]
	out := make([][len(pad.AllMeters)]float64, len(e.ops))
	for rd := range e.ops {
		out[rd] = base.at(rd, s.Load)
	}
	return out
}

func (s *Suspect) note(ev Evidence) {
	switch {
	case ev.Weight >= noticeable:
		s.For = append(s.For, ev)
	case ev.Weight <= -noticeable:
		s.Against = append(s.Against, ev)
	}
}

// against weighs one item under suspect i over all the others together, each by
// its probability, and always against a sound pad: suspects that share a
// signature would otherwise leave each other without a reason.
func (e *engine) against(r *Result, i int, item func(int) float64) float64 {
	var sum, total float64
	for j := range r.Suspects {
		if j == i {
			continue
		}
		w := r.Suspects[j].P + 0.002
		if r.Suspects[j].Fault.ID == fault.Healthy {
			w++
		}
		sum += w * math.Exp(item(j))
		total += w
	}
	return item(i) - math.Log(sum/total+1e-300)
}

func (e *engine) meterWeight(r *Result, j int, predicted float64, rd, k int, x float64) float64 {
	s := &r.Suspects[j]
	if k == tankMeter && s.Fault.Kind == fault.Gauge {
		return -math.Log(float64(units.PSI(20)))
	}
	return noiseLog(x-predicted, e.sigma(rd, k, predicted, s.effects.Air > 0))
}

func (e *engine) signWeight(r *Result, j int, f *fault.SignFact, flow float64, yes bool) float64 {
	return answer(e.signGiven(&r.Suspects[j], f, flow), yes)
}

// signGiven is P(yes) of one sign alone under a suspect.
func (e *engine) signGiven(s *Suspect, f *fault.SignFact, flow float64) float64 {
	switch {
	case f.FromState:
		return e.stateSign(f.ID, flow)
	case f.Air:
		return s.Fault.Air*f.GivenAir + (1-s.Fault.Air)*f.Base
	}
	return likelihood(s.Fault, f)
}

var meterNames = map[pad.Meter]string{
	pad.MeterTank: "Tank gauge", pad.MeterVacuum: "Vacuum", pad.MeterFlow: "Flow", pad.MeterPower: "Power",
}

// tradeFigure gives a meter's SI value in the trade's unit.
func tradeFigure(m pad.Meter, v float64) (unit string, x float64) {
	switch m {
	case pad.MeterTank:
		return "psi", units.Pressure(v).PSI()
	case pad.MeterVacuum:
		return "inHg", units.Pressure(v).InHg()
	case pad.MeterFlow:
		return "gpm", units.Flow(v).GPM()
	default:
		return "W", v
	}
}

// inTrade prints a meter's SI value in the trade's unit.
func inTrade(m pad.Meter, v float64) string {
	unit, x := tradeFigure(m, v)
	if m == pad.MeterTank || m == pad.MeterVacuum {
		return fmt.Sprintf("%.1f %s", x, unit)
	}
	return fmt.Sprintf("%.0f %s", x, unit)
}

func (e *engine) meterWords(rd int, m pad.Meter, read, fits float64) string {
	clean := e.expected[rd].Clean.Value(m)
	diff := "on the clean line"
	if d := inTrade(m, math.Abs(read-clean)); !strings.HasPrefix(d, "0.0 ") && !strings.HasPrefix(d, "0 ") {
		if read > clean {
			diff = d + " over clean"
		} else {
			diff = d + " under clean"
		}
	}
	at := ""
	if len(e.c.Readings) > 1 {
		at = fmt.Sprintf(" at %.0f rpm", float64(e.c.Readings[rd].Speed))
	}
	return fmt.Sprintf("%s %s%s, %s; this would read about %s", meterNames[m], inTrade(m, read), at, diff, inTrade(m, fits))
}

func signWords(f *fault.SignFact, yes bool) string {
	if yes {
		return f.Name
	}
	return f.Name + ": no"
}

// forecastWords adds what the forecast says to the two suspects it speaks of.
func (e *engine) forecastWords(s *Suspect) {
	p := 0.0
	for l := loadLimit; l < loadN; l++ {
		p += math.Exp(e.prior[l])
	}
	w := math.Log(p / (1 - p))
	switch s.Fault.ID {
	case fault.FilterLoaded:
		s.note(Evidence{Says: fmt.Sprintf("The forecast had the load at %.0f %% today", 100*math.Max(0, e.c.Load.Mean)), Weight: w})
	case fault.Healthy:
		s.note(Evidence{Says: fmt.Sprintf("The forecast had the load at %.0f %% today", 100*math.Max(0, e.c.Load.Mean)), Weight: -w})
	}
}

// fitWords says that every meter fits one load, where that is the whole story.
func (e *engine) fitWords(s *Suspect) {
	var names []string
	states := e.predicted(s)
	for k, m := range pad.AllMeters {
		for rd := range e.c.Readings {
			x, ok := e.c.Readings[rd].Value(m)
			if !ok {
				continue
			}
			if math.Abs(x-states[rd][k]) > 2*e.sigma(rd, k, states[rd][k], false) {
				return
			}
			if rd == 0 {
				names = append(names, strings.ToLower(meterNames[m]))
			}
		}
	}
	if len(names) < 2 {
		return
	}
	list := strings.Join(names[:len(names)-1], ", ") + " and " + names[len(names)-1]
	s.note(Evidence{Says: fmt.Sprintf("%s all fit a sound pad at %.0f %% load", strings.ToUpper(list[:1])+list[1:], 100*math.Max(0, s.Load)), Weight: 2})
}

// misfit looks whether the best suspect leaves a reading far off.
func (e *engine) misfit(r *Result) {
	if len(e.c.Readings) == 0 || len(r.Suspects) == 0 {
		return
	}
	s := &r.Suspects[0]
	states := e.predicted(s)
	var worst Misfit
	for rd := range e.c.Readings {
		for k, m := range pad.AllMeters {
			x, ok := e.c.Readings[rd].Value(m)
			if !ok || (k == tankMeter && s.Fault.Kind == fault.Gauge) {
				continue
			}
			z := math.Abs(x-states[rd][k]) / e.sigma(rd, k, states[rd][k], s.effects.Air > 0)
			if z > worst.Sigmas {
				worst = Misfit{rd, m, states[rd][k], z}
			}
		}
	}
	if worst.Sigmas > misfitSigmas || (r.Other > 0.5 && worst.Sigmas > 2) {
		r.Misfit = &worst
	}
}

// misfitSigmas is how far off its best explanation a reading is called odd.
const misfitSigmas = 4.5
