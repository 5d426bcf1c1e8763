// Package casefile is a case as a file: a pad, what was read and seen there, and
// what is known of it. It turns the trade's units into the engine's case.
package casefile

import (
	"fmt"
	"io"
	"math"
	"sort"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/verdict"
	"fairlap/core/words"
)

// Case is the document. Figures are in the trade's units, as the names say.
type Case struct {
	Title     string          `json:"title,omitempty" maxLength:"200"`
	Pad       pad.Document    `json:"pad"`
	CleanLine []Reading       `json:"cleanLine,omitempty" maxItems:"12" doc:"read right after a cleaning; calibrates the pad"`
	Before    []Stage         `json:"before,omitempty" maxItems:"8" doc:"what was found and done earlier at this stop, in order; readings and signs below come after it"`
	Readings  []Reading       `json:"readings,omitempty" maxItems:"6" doc:"at rest: rpm 0 and the tank gauge alone"`
	Signs     map[string]bool `json:"signs,omitempty" doc:"sign id to yes or no; a sign not looked for is left out"`
	Context   Context         `json:"context,omitempty"`
}

// Stage is what was found at a stop up to a piece of work, and that work.
type Stage struct {
	Readings []Reading       `json:"readings,omitempty" maxItems:"6"`
	Signs    map[string]bool `json:"signs,omitempty"`
	Work     Done            `json:"work"`
}

// Done is something done to the pad.
type Done struct {
	Name    words.Message `json:"name" maxLength:"80"`
	Mends   []string      `json:"mends,omitempty" maxItems:"8" doc:"faults that it puts right where they are the cause"`
	Cleaned bool          `json:"cleaned,omitempty" doc:"the filter was cleaned"`
	Seconds float64       `json:"seconds,omitempty" minimum:"0" maximum:"86400" doc:"that the wash ran; 0 was not timed"`
	Usual   float64       `json:"usual,omitempty" minimum:"0" maximum:"86400" doc:"that it usually takes"`
}

// Reading is one set of meters, as files and the record keep it; what was not
// read is left out.
type Reading struct {
	RPM        float64  `json:"rpm" minimum:"0" maximum:"4000"`
	Setting    string   `json:"setting,omitempty" enum:"filter,backwash,rinse,waste,recirculate,spa" doc:"spa: on Filter, suction and return both on the spa"`
	TankPsi    *float64 `json:"tankPsi,omitempty" minimum:"-15" maximum:"100"`
	VacuumInHg *float64 `json:"vacuumInHg,omitempty" minimum:"0" maximum:"30"`
	FlowGPM    *float64 `json:"flowGpm,omitempty" minimum:"0" maximum:"250"`
	PowerW     *float64 `json:"powerW,omitempty" minimum:"0" maximum:"6000"`
}

// Context is what is known before anybody looks.
type Context struct {
	Load     *float64 `json:"load,omitempty" minimum:"-1" maximum:"10" doc:"expected filter load; left out, anything up to the limit"`
	LoadSD   float64  `json:"loadSd,omitempty" minimum:"0" maximum:"5" doc:"one deviation of it; 0 is 0.2"`
	WaterF   float64  `json:"waterF,omitempty" minimum:"0" maximum:"140" doc:"0 is 80"`
	LimitPsi float64  `json:"limitPsi,omitempty" minimum:"0" maximum:"20" doc:"gauge rise at full speed that calls for cleaning; 0 is 8"`
	// FlowLoss is the share of the daily flow that dirt may take: with it the first of
	// all limits is load 1, and without it the rise alone.
	FlowLoss *float64           `json:"flowLoss,omitempty" minimum:"0" maximum:"0.9" doc:"share of the daily flow that dirt may take before cleaning; left out, the gauge's rise alone is the limit"`
	Heater   string             `json:"heater,omitempty" enum:"hot,cooled" doc:"hot: it fired and has not cooled; left out, one that crackles counts as hot"`
	Season   string             `json:"season,omitempty" enum:"winter,spring,summer,autumn" doc:"of the place"`
	Called   bool               `json:"called,omitempty" doc:"somebody called: no routine visit"`
	Priors   map[string]float64 `json:"priors,omitempty" doc:"chance of a fault per pool-visit, where the company's own record knows better"`
	Open     []string           `json:"open,omitempty" maxItems:"6" doc:"faults that the last visit left open"`
	Worn     map[string]float64 `json:"worn,omitempty" doc:"share of its expected life that a fault's part has behind it"`
	// Installed are chronic findings that an inspection spoke for.
	Installed map[string]words.Message `json:"installed,omitempty" doc:"what an inspection found, by the chronic finding that it speaks for"`
}

// largest is how many bytes of a case are read.
const largest = 2 << 20

// Read decodes and checks a case. The mistakes come with the path of the field.
func Read(r io.Reader) (*Case, []pad.FieldError) {
	var c Case
	if err := pad.Decode(r, largest, &c); err != nil {
		return nil, []pad.FieldError{*err}
	}
	errs := pad.ValidatePart(&c)
	for _, e := range c.Pad.Validate() {
		errs = append(errs, pad.FieldError{Path: "pad." + e.Path, Text: e.Text})
	}
	errs = dedupe(errs)
	return &c, append(errs, c.unknown()...)
}

func dedupe(errs []pad.FieldError) []pad.FieldError {
	seen := map[pad.FieldError]bool{}
	out := errs[:0:0]
	for _, e := range errs {
		if !seen[e] {
			seen[e] = true
			out = append(out, e)
		}
	}
	return out
}

// unknown names signs and faults that do not exist.
func (c *Case) unknown() []pad.FieldError {
	var errs []pad.FieldError
	signs := func(path string, signs map[string]bool) {
		for id := range signs {
			if _, ok := fault.LookUpSign(fault.Sign(id)); !ok {
				errs = append(
					errs,
					pad.FieldError{
						Path: path + "." + id,
						Text: unknownID("casefile.there-is-no-such-sign", id, signNames()),
					},
				)
			}
		}
	}
	signs("signs", c.Signs)
	isFault := func(path, id string) {
		if _, ok := fault.LookUp(fault.ID(id), c.Pad.Filter.Kind); !ok {
			errs = append(
				errs,
				pad.FieldError{Path: path, Text: unknownID("casefile.there-is-no-such-fault", id, faultNames())},
			)
		}
	}
	for i, id := range c.Context.Open {
		isFault(fmt.Sprintf("context.open[%d]", i), id)
	}
	for id := range c.Context.Worn {
		isFault("context.worn."+id, id)
	}
	for id, p := range c.Context.Priors {
		isFault("context.priors."+id, id)
		if !(p >= 0 && p < 1) {
			errs = append(errs, pad.FieldError{Path: "context.priors." + id, Text: "casefile.is-a-chance-from-0"})
		}
	}
	for id := range c.Context.Installed {
		isFault("context.installed."+id, id)
	}
	for i, st := range c.Before {
		signs(fmt.Sprintf("before[%d].signs", i), st.Signs)
		for k, id := range st.Work.Mends {
			isFault(fmt.Sprintf("before[%d].work.mends[%d]", i, k), id)
		}
		errs = append(errs, c.speeds(fmt.Sprintf("before[%d].readings", i), st.Readings)...)
	}
	errs = append(errs, c.speeds("readings", c.Readings)...)
	sort.Slice(errs, func(a, b int) bool { return errs[a].Path < errs[b].Path })
	return errs
}

// speeds names readings that no speed of the pump can give.
func (c *Case) speeds(path string, readings []Reading) (errs []pad.FieldError) {
	for i, r := range readings {
		if r.RPM == 0 && (r.VacuumInHg != nil || r.FlowGPM != nil || r.PowerW != nil) {
			errs = append(
				errs,
				pad.FieldError{Path: fmt.Sprintf("%s[%d].rpm", path, i), Text: "casefile.at-0-rpm-only-the"},
			)
		}
		if r.RPM > c.Pad.Pump.TopRPM && c.Pad.Pump.TopRPM > 0 {
			errs = append(
				errs,
				pad.FieldError{
					Path: fmt.Sprintf("%s[%d].rpm", path, i),
					Text: words.Of("casefile.is-over-the-pump-s", "topRPM", words.QD("rpm", c.Pad.Pump.TopRPM, -1)),
				},
			)
		}
	}
	return errs
}

func signNames() []string {
	out := make([]string, len(fault.Signs))
	for i, s := range fault.Signs {
		out[i] = string(s.ID)
	}
	return out
}

func faultNames() []string {
	out := make([]string, len(fault.Catalogue))
	for i, f := range fault.Catalogue {
		out[i] = string(f.ID)
	}
	return out
}

// unknownID says that an id is not known, and the one that shares the longest beginning
// where one does.
func unknownID(what words.Message, id string, names []string) words.Message {
	best, most := "", 2
	for _, n := range names {
		k := 0
		for k < len(n) && k < len(id) && n[k] == id[k] {
			k++
		}
		if k > most {
			best, most = n, k
		}
	}
	if best == "" {
		return what
	}
	return words.Of("casefile.did-you-mean", "what", words.Msg(what), "best", words.Name(best))
}

func as[T any](v *float64, f func(float64) T) *T {
	if v == nil {
		return nil
	}
	x := f(*v)
	return &x
}

// Meters puts a reading into SI.
func (r Reading) Meters() pad.Reading {
	return pad.Reading{Speed: units.Speed(r.RPM), Tank: as(r.TankPsi, units.PSI), Vacuum: as(r.VacuumInHg, units.InHg),
		Flow: as(r.FlowGPM, units.GPM), Power: as(r.PowerW, func(w float64) units.Power { return units.Power(w) })}
}

// Engine calibrates the pad and gives the engine's case.
func (c *Case) Engine() (diagnosis.Case, error) {
	var clean []pad.Reading
	for _, r := range c.CleanLine {
		clean = append(clean, r.Meters())
	}
	x := c.Context
	water, limit := x.WaterF, x.LimitPsi
	if water == 0 {
		water = 80
	}
	if limit == 0 {
		limit = upkeep.Defaults().LimitRisePsi
	}
	m, err := plumbing.Calibrate(c.Pad, clean, units.Fahrenheit(water), units.PSI(limit))
	if err != nil {
		return diagnosis.Case{}, fmt.Errorf("calibrating the pad: %w", err)
	}
	if x.FlowLoss != nil {
		if m, err = m.Within(*x.FlowLoss); err != nil {
			return diagnosis.Case{}, fmt.Errorf("the pad's limit: %w", err)
		}
	}
	return c.On(m), nil
}

// On gives the engine's case on a model that was calibrated already.
func (c *Case) On(m *plumbing.Model) diagnosis.Case {
	x := c.Context
	out := diagnosis.Case{
		Model:    m,
		Readings: readings(c.Readings),
		Signs:    answers(c.Signs),
		Load:     diagnosis.Belief{Mean: 0.5, SD: 0.4},
		Called:   x.Called,
		Heater:   diagnosis.Heater(x.Heater),
		Priors: byFault(
			x.Priors,
		),
		Worn:      byFault(x.Worn),
		Installed: byFault(x.Installed),
		Open:      faults(x.Open),
		Pool:      units.Gallons(c.Pad.PoolGallons),
		Season:    fault.Season(x.Season),
	}
	if x.Load != nil {
		out.Load = diagnosis.Belief{Mean: *x.Load, SD: 0.2}
	}
	if x.LoadSD > 0 {
		out.Load.SD = x.LoadSD
	}
	for _, st := range c.Before {
		w := st.Work
		out.Before = append(out.Before, diagnosis.Stage{Readings: readings(st.Readings), Signs: answers(st.Signs),
			Done: diagnosis.Work{
				Name:    w.Name,
				Mends:   faults(w.Mends),
				Cleaned: w.Cleaned,
				Seconds: w.Seconds,
				Usual:   w.Usual,
			}})
	}
	return out
}

func readings(in []Reading) []diagnosis.Reading {
	var out []diagnosis.Reading
	for _, r := range in {
		set := pad.Setting(r.Setting)
		if set == "" {
			set = pad.SetFilter
		}
		out = append(out, diagnosis.Reading{Reading: r.Meters(), Setting: set})
	}
	return out
}

func answers(in map[string]bool) map[fault.Sign]bool {
	out := make(map[fault.Sign]bool, len(in))
	for id, yes := range in {
		out[fault.Sign(id)] = yes
	}
	return out
}

func byFault[T any](in map[string]T) map[fault.ID]T {
	out := make(map[fault.ID]T, len(in))
	for id, x := range in {
		out[fault.ID(id)] = x
	}
	return out
}

func faults(in []string) []fault.ID {
	var out []fault.ID
	for _, id := range in {
		out = append(out, fault.ID(id))
	}
	return out
}

// Answer is a diagnosis as it is written out.
type Answer struct {
	Engine   string          `json:"engine"`
	Verdict  words.Message   `json:"verdict" doc:"the answer in one line"`
	State    string          `json:"state" enum:"stop,reread,sound,dirt,past,suspect,unsure,fix"`
	Dangers  []Danger        `json:"dangers" doc:"while one says stop, no check and no fix is offered"`
	Found    []Found         `json:"found,omitempty" doc:"seen wrong: to be mended whatever the gauges say"`
	Suspects []Suspect       `json:"suspects"`
	Other    float64         `json:"other" doc:"something that the catalogue does not hold"`
	Load     float64         `json:"load"`
	LoadSD   float64         `json:"loadSd"`
	Misfit   words.Message   `json:"misfit,omitempty"`
	Unknown  []string        `json:"unexplained,omitempty" doc:"signs that no suspect brings"`
	Changed  *Changed        `json:"changed,omitempty" doc:"what was thought before the last work of this stop"`
	Alike    []words.Message `json:"alike,omitempty" doc:"leading suspects that these readings can't tell apart"`
	Chronic  []Finding       `json:"chronic,omitempty"`
	Next     []NextLook      `json:"next"`
	FixOrder []Fix           `json:"fixOrder" doc:"by probability over minutes"`
}

// Found is a thing seen wrong.
type Found struct {
	Sign string        `json:"sign"`
	Name words.Message `json:"name"`
	Mend words.Message `json:"mend"`
	Text words.Message `json:"says,omitempty" doc:"what this pad's figures add"`
}

// Changed is what was thought before the last work.
type Changed struct {
	Work     words.Message `json:"work"`
	Was      []Was         `json:"was"`
	WasLoad  float64       `json:"wasLoad"`
	TooShort bool          `json:"tooShort,omitempty" doc:"the wash ran under half its time"`
}

// Was is a suspect before the work.
type Was struct {
	ID   string        `json:"id"`
	Name words.Message `json:"name"`
	P    float64       `json:"p"`
}

// Danger is to be made safe before any thinking.
type Danger struct {
	Code string        `json:"code"`
	Text words.Message `json:"says"`
	Stop bool          `json:"stop"`
}

// Suspect is one fault with its chance and reasons.
type Suspect struct {
	ID      string          `json:"id"`
	Name    words.Message   `json:"name"`
	Place   words.Message   `json:"place,omitempty"`
	P       float64         `json:"p" minimum:"0" maximum:"1"`
	With    []With          `json:"with,omitempty" doc:"the other fault of two at once: the row is both, and p the chance of both"`
	For     []words.Message `json:"for,omitempty"`
	Against []words.Message `json:"against,omitempty"`
	Settle  words.Message   `json:"settle"`
	Fix     words.Message   `json:"fix"`
	Minutes float64         `json:"minutes"`
	Who     words.Message   `json:"who,omitempty"`
	Caution words.Message   `json:"caution,omitempty"`
}

// With is a fault beside another, and the chance of both.
type With struct {
	ID string  `json:"id"`
	P  float64 `json:"p"`
}

// Fix is one step of trying the fixes without looking first.
type Fix struct {
	ID      string        `json:"id"`
	Fix     words.Message `json:"fix"`
	P       float64       `json:"p"`
	Minutes float64       `json:"minutes"`
	Spent   float64       `json:"spent" doc:"mean minutes gone when this step is over"`
}

// Finding is a chronic weakness of the pad.
type Finding struct {
	ID   string        `json:"id"`
	Name words.Message `json:"name"`
	P    float64       `json:"p"`
	Text words.Message `json:"says,omitempty"`
}

// NextLook is a check worth its minutes.
type NextLook struct {
	Sign    string        `json:"sign,omitempty"`
	Name    words.Message `json:"name"`
	Look    words.Message `json:"look"`
	Minutes float64       `json:"minutes"`
	Bits    float64       `json:"bits"`
	Caution words.Message `json:"caution,omitempty"`
}

// Write puts a result into words.
func Write(r *diagnosis.Result) Answer {
	v := verdict.Judge(r)
	out := Answer{
		Engine:   diagnosis.EngineVersion,
		Verdict:  v.Text,
		State:    string(v.State),
		Dangers:  []Danger{},
		Suspects: []Suspect{},
		Next:     []NextLook{},
		Other:    rounded(r.Other),
		Load:     rounded(r.Load.Mean),
		LoadSD:   rounded(r.Load.SD),
		Alike:    r.Alike,
	}
	for _, f := range r.Found {
		out.Found = append(out.Found, Found{string(f.Sign.ID), f.Sign.Name, f.Mend, f.Text})
	}
	for _, u := range r.Unexplained {
		out.Unknown = append(out.Unknown, string(u.ID))
	}
	if c := r.Changed; c != nil {
		out.Changed = &Changed{Work: c.Work, WasLoad: rounded(c.WasLoad.Mean), TooShort: c.TooShort, Was: []Was{}}
		for i, w := range c.Was {
			out.Changed.Was = append(out.Changed.Was, Was{string(w.Fault), c.WasNames[i], rounded(w.P)})
		}
	}
	for _, d := range r.Dangers {
		out.Dangers = append(out.Dangers, Danger(d))
	}
	text := func(ev []diagnosis.Evidence) []words.Message {
		var out []words.Message
		for _, e := range ev {
			out = append(out, e.Text)
		}
		return out
	}
	for i, s := range r.Suspects {
		if i >= 3 && s.P < 0.01 {
			break
		}
		var with []With
		for _, w := range s.With {
			with = append(with, With{string(w.Fault.ID), rounded(w.P)})
		}
		out.Suspects = append(
			out.Suspects,
			Suspect{
				string(s.Fault.ID),
				s.Name(),
				s.Place,
				rounded(s.P),
				with,
				text(s.For),
				text(s.Against),
				s.Fault.Settle,
				s.Fault.Fix,
				s.Fault.Minutes,
				s.Fault.Who,
				s.Fault.Caution,
			},
		)
	}
	for _, c := range r.Chronic {
		out.Chronic = append(out.Chronic, Finding{string(c.Fault.ID), c.Fault.Name, rounded(c.P), c.Text})
	}
	out.FixOrder = []Fix{}
	for _, f := range verdict.FixOrder(r) {
		out.FixOrder = append(
			out.FixOrder,
			Fix{string(f.Fault.ID), f.Fault.Fix, rounded(f.P), f.Minutes, rounded(f.Spent)},
		)
	}
	for _, n := range r.Next {
		out.Next = append(
			out.Next,
			NextLook{string(n.Sign.ID), n.Sign.Name, n.Sign.Look, n.Sign.Minutes, rounded(n.Bits), n.Sign.Caution},
		)
	}
	if m := r.Misfit; m != nil {
		out.Misfit = words.Of(
			"casefile.these-readings-do-not-fit",
			"reading",
			words.N(m.Reading+1),
			"meter",
			words.Msg(diagnosis.MeterName(m.Meter)),
		)
	}
	return out
}

// rounded leaves of a chance what anybody can mean by it. Beyond that two machines may
// part in the last bit of a logarithm; the answer is the same on each.
func rounded(x float64) float64 { return math.Round(x*1e6) / 1e6 }
