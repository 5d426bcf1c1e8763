package diagnosis

import (
	"math"
	"sort"

	"fairlap/core/fault"
	"fairlap/core/loads"
	"fairlap/core/logp"
	"fairlap/core/misses"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/words"
)

// Evidence is one reason for or against a suspect, in words, with its weight:
// log-odds of this suspect against the others together.
type Evidence struct {
	Text    words.Message `json:"says"`
	Weight  float64       `json:"weight"`
	Meter   string        `json:"meter,omitempty"`
	Reading int           `json:"reading"`
	Sign    string        `json:"sign,omitempty"`
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

// reasoned is how many suspects get their reasons.
const reasoned = 6

// explain fills For and Against of the leading suspects.
func (s *survey) explain(r *Result, p *posterior) {
	meters := make([][]float64, len(r.Suspects))
	for j := range r.Suspects {
		meters[j] = s.meterWeights(&r.Suspects[j])
	}
	for i := range r.Suspects {
		if i >= reasoned {
			break
		}
		x := &r.Suspects[i]
		for k, it := range s.items {
			m := pad.AllMeters[it.meter]
			n := s.numbers(x, k)
			var text words.Message
			if x.fit.gauge == fault.Stuck && it.meter == tankMeter {
				text = words.Of(
					"diagnosis.a-stuck-needle-shows-anything",
					"m",
					words.Msg(meterNames[m]),
					"it",
					InTrade(m, it.value),
				)
			} else {
				text = s.meterWords(it, x.reads(it.reading)[it.meter])
			}
			x.note(
				Evidence{
					Text:    text,
					Weight:  s.against(r, i, func(j int) float64 { return meters[j][k] }),
					Meter:   string(m),
					Reading: it.reading,
					Meters:  n,
				},
			)
		}
		s.answered(func(sg *fault.SignFact, yes bool) {
			chance := func(j int) float64 {
				return s.signGiven(&r.Suspects[j], sg, r.Suspects[j].reads(0)[flowMeter])
			}
			w := s.against(r, i, func(j int) float64 { return logp.Answer(chance(j), yes) })
			looks := &LookNumbers{
				yes,
				math.Exp(logp.Answer(chance(i), yes)),
				math.Exp(logp.Answer(s.soundPad(sg), yes)),
			}
			x.note(Evidence{Text: signWords(sg, yes), Weight: w, Sign: string(sg.ID), Looks: looks})
		})
		s.forecastWords(x, p)
		if Sound(x.Fault.ID) {
			s.fitWords(x, r.Load.Mean)
		}
		for _, list := range []*[]Evidence{&x.For, &x.Against} {
			sort.SliceStable(
				*list,
				func(a, b int) bool {
					return Steady(math.Abs((*list)[a].Weight)) > Steady(math.Abs((*list)[b].Weight))
				},
			)
		}
	}
}

// numbers are the figures behind one meter's line; nil where the suspect says
// nothing of it.
func (s *survey) numbers(x *Suspect, k int) *MeterNumbers {
	it := s.items[k]
	m := pad.AllMeters[it.meter]
	sd, miss := s.under(new(misses.Errors), x)
	if math.IsNaN(sd[k]) {
		return nil
	}
	unit, v := tradeFigure(m, it.value)
	_, f := tradeFigure(m, it.value-miss[k])
	_, c := tradeFigure(m, s.expected[it.reading].Clean.Value(m))
	_, d := tradeFigure(m, sd[k])
	return &MeterNumbers{unit, v, f, c, d}
}

// soundPad is P(yes) of a sign on a pad with nothing wrong.
func (s *survey) soundPad(sg *fault.SignFact) float64 {
	if sg.FromState {
		return s.stateSign(cause{fault: &fault.Catalogue[0]}, sg.ID, s.topFlow)
	}
	return sg.Base
}

func (x *Suspect) note(ev Evidence) {
	switch {
	case ev.Weight >= noticeable:
		x.For = append(x.For, ev)
	case ev.Weight <= -noticeable:
		x.Against = append(x.Against, ev)
	}
}

// against weighs one item under suspect i over all the others together, each by
// its probability, and always against a sound pad: suspects that share a
// signature would otherwise leave each other without a reason.
func (s *survey) against(r *Result, i int, item func(int) float64) float64 {
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

// meterWeights is the log density of each item alone under a suspect.
func (s *survey) meterWeights(x *Suspect) []float64 {
	e := new(misses.Errors)
	sd, miss := s.under(e, x)
	out := make([]float64, len(s.items))
	at := 0
	for k := range out {
		if math.IsNaN(sd[k]) {
			out[k] = -math.Log(stuckMost * psi)
			continue
		}
		z := miss[k] / sd[k]
		gain, _ := misses.Strays(z*z, 1/(sd[k]*sd[k]), e.Alone[at], strayed[:])
		out[k] = math.Log(gain) - 0.5*z*z - math.Log(sd[k]) - misses.LogRootTwoPi
		at++
	}
	return out
}

var meterNames = map[pad.Meter]words.Message{
	pad.MeterTank: "diagnosis.tank-gauge", pad.MeterVacuum: "diagnosis.vacuum", pad.MeterFlow: "diagnosis.flow",
	pad.MeterPower: "diagnosis.power",
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

// InTrade tells a meter's SI value in the trade's unit.
func InTrade(m pad.Meter, v float64) words.Arg {
	unit, x := tradeFigure(m, v)
	return words.Q(unit, x)
}

func (s *survey) meterWords(it item, fits float64) words.Message {
	m, read := pad.AllMeters[it.meter], it.value
	clean := s.expected[it.reading].Clean.Value(m)
	diff := words.Message("diagnosis.on-the-clean-line")
	unit, off := tradeFigure(m, math.Abs(read-clean))
	if words.Rounds(unit, off) != 0 {
		diff = words.Of("diagnosis.under-clean", "by", words.Q(unit, off))
		if read > clean {
			diff = words.Of("diagnosis.over-clean", "by", words.Q(unit, off))
		}
	}
	key := "diagnosis.meter-fits"
	if len(s.readings) > 1 {
		key = "diagnosis.meter-fits-at"
	}
	return words.Of(
		key,
		"meter",
		words.Msg(meterNames[m]),
		"read",
		InTrade(m, read),
		"speed",
		words.Q("rpm", float64(s.readings[it.reading].Speed)),
		"diff",
		words.Msg(diff),
		"fits",
		InTrade(m, fits),
	)
}

func signWords(f *fault.SignFact, yes bool) words.Message {
	if yes {
		return f.Name
	}
	return words.Of("diagnosis.sign-no", "sign", words.Msg(f.Name))
}

// forecastWords adds what the forecast says to the two suspects it speaks of.
func (s *survey) forecastWords(x *Suspect, p *posterior) {
	if len(x.With) > 0 {
		return
	}
	over, all := 0.0, 0.0
	for l := range loads.N {
		v := math.Exp(p.load[l])
		all += v
		if l >= loads.Limit {
			over += v
		}
	}
	w := logp.Logit(over / all)
	text := words.Of("diagnosis.the-forecast-had-the-load", "mean", words.Share(math.Max(0, s.c.Load.Mean)))
	switch x.Fault.ID {
	case fault.FilterLoaded:
		x.note(Evidence{Text: text, Weight: w})
	case fault.Healthy:
		x.note(Evidence{Text: text, Weight: -w})
	}
}

// fitWords says that every meter fits the load that is told, where that is the whole story.
func (s *survey) fitWords(x *Suspect, load float64) {
	var names []words.Message
	at := *x
	at.Load = load
	sd, miss := s.under(new(misses.Errors), &at)
	for k, it := range s.items {
		if !(math.Abs(miss[k]) <= 2*sd[k]) {
			return
		}
		if it.reading == s.items[0].reading {
			names = append(names, MeterNamesLow[pad.AllMeters[it.meter]])
		}
	}
	if len(names) < 2 {
		return
	}
	x.note(
		Evidence{
			Text: words.Of(
				"diagnosis.all-fit-a-sound-pad",
				"list",
				words.List(words.And, names...),
				"load",
				words.Share(math.Max(0, load)),
			),
			Weight: 2,
		},
	)
}
