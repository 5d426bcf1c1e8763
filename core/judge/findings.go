package judge

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"fairlap/core/casefile"
	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/figure"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/stop"
	"fairlap/core/units"
	"fairlap/core/words"
)

// TypedReading is one set of meters as typed; "" means not read.
type TypedReading struct {
	Setting string `json:"setting,omitempty" enum:",filter,recirculate,spa" doc:"spa: on Filter, suction and return both on the spa"`
	Speed   string `json:"speed" maxLength:"40"`
	Tank    string `json:"tank" maxLength:"40"`
	Vacuum  string `json:"vacuum" maxLength:"40"`
	Flow    string `json:"flow" maxLength:"40"`
	Power   string `json:"power" maxLength:"40"`
	// At is when it was read, where the device noted it: work done at the stop parts
	// what was read before it from what was read after.
	At *time.Time `json:"at,omitempty"`
}

// Empty tells that no meter was typed; a speed alone is no reading.
func (t TypedReading) Empty() bool {
	return strings.TrimSpace(t.Tank+t.Vacuum+t.Flow+t.Power) == ""
}

// Findings is what was read and seen at a stop.
type Findings struct {
	Readings []TypedReading  `json:"readings" maxItems:"6" nullable:"false"`
	Signs    map[string]bool `json:"signs" doc:"sign id to yes or no; a sign not looked for is left out"`
	Called   bool            `json:"called,omitempty" doc:"somebody called: no routine visit"`
	// SignsAt is when a sign was answered, where the device noted it.
	SignsAt map[string]time.Time `json:"signsAt,omitempty"`
	// Seen are all answers in their order where the device keeps them: a sign that was looked for
	// again after work was answered twice, and Signs has only the last.
	Seen    []SeenSign `json:"seen,omitempty" maxItems:"200" nullable:"false"`
	Said    []SaidPump `json:"said,omitempty" maxItems:"40" nullable:"false" doc:"how somebody says that the pump is, in order"`
	Cleaned *CleanedBy `json:"cleaned,omitempty" doc:"the filter was cleaned without a guided run: what was read after it came after it"`
}

// SignedBy is the findings with whoever they come from: a word for the pump is nobody else's.
func (f Findings) SignedBy(name string) Findings {
	f.Said = slices.Clone(f.Said)
	for i := range f.Said {
		f.Said[i].By = name
	}
	return f
}

// SeenSign is one answer.
type SeenSign struct {
	Sign string     `json:"sign" maxLength:"60"`
	Yes  bool       `json:"yes"`
	At   *time.Time `json:"at,omitempty" doc:"left out: before all work"`
}

// SaidPump is somebody's word for the pump.
type SaidPump struct {
	At   time.Time `json:"at"`
	By   string    `json:"by,omitempty" maxLength:"100"`
	Pump stop.Pump `json:"pump" enum:"running,off,locked,unknown"`
}

// CleanedBy is a cleaning without a guided run.
type CleanedBy struct {
	At    time.Time     `json:"at"`
	After *TypedReading `json:"after,omitempty" doc:"read after it"`
}

// typed is one reading as it was typed, in trade units as files have it.
type typed struct {
	row int // in Findings.Readings; −1: after a cleaning
	at  *time.Time
	set bool // it says how it was taken
	casefile.Reading
}

// Parse turns what was typed into readings; every mistake is named.
func (f Findings) Parse(m *plumbing.Model) ([]typed, error) {
	var errs figure.FieldErrors
	var out []typed
	for i, t := range f.Readings {
		if t.Empty() && strings.TrimSpace(t.Speed) == "" {
			continue
		}
		r, bad := ParseReading(fmt.Sprintf("readings[%d]", i), t, m)
		errs = append(errs, bad...)
		if !t.Empty() {
			out = append(out, typed{row: i, at: t.At, set: t.Setting != "", Reading: r})
		}
	}
	if c := f.Cleaned; c != nil && c.After != nil && !c.After.Empty() {
		r, bad := ParseReading("cleaned.after", *c.After, m)
		if len(bad) == 0 && r.RPM == 0 {
			bad.Add("cleaned.after.speed", "app.read-it-with-the-pump-2")
		}
		errs = append(errs, bad...)
		out = append(out, typed{row: -1, Reading: r})
	}
	for id := range f.Signs {
		if _, ok := fault.LookUpSign(fault.Sign(id)); !ok {
			errs.Add("signs."+id, "app.this-sign-is-not-known")
		}
	}
	for i, x := range f.Seen {
		if _, ok := fault.LookUpSign(fault.Sign(x.Sign)); !ok {
			errs.Add(fmt.Sprintf("seen[%d].sign", i), "app.this-sign-is-not-known")
		}
	}
	if len(errs) > 0 {
		return nil, errs
	}
	return out, nil
}

// Engine is a reading as the engine takes it.
func Engine(r casefile.Reading) diagnosis.Reading {
	return diagnosis.Reading{Reading: r.Meters(), Setting: pad.Setting(r.Setting)}
}

// ParseReading reads one set of meters on a pad; the mistakes come with their fields
// below path.
func ParseReading(path string, t TypedReading, m *plumbing.Model) (casefile.Reading, figure.FieldErrors) {
	var errs figure.FieldErrors
	r := casefile.Reading{Setting: t.Setting}
	if r.Setting == "" {
		r.Setting = string(pad.SetFilter)
	}
	take := func(name string, kind figure.Kind, text string) *float64 {
		if strings.TrimSpace(text) == "" {
			return nil
		}
		v, err := figure.Read(kind, text)
		if err != nil {
			errs.Add(path+"."+name, figure.Problem(err))
			return nil
		}
		return &v
	}
	top := m.Doc.Pump.TopRPM
	speed := take("speed", figure.Speed, t.Speed)
	switch {
	case speed == nil && len(errs) == 0 && m.Doc.Pump.Kind == pad.SingleSpeed:
		r.RPM = top
	case speed == nil && len(errs) == 0:
		errs.Add(path+".speed", "app.type-the-pump-speed-too")
	case speed != nil && *speed == 0 && strings.TrimSpace(t.Tank) != "" &&
		strings.TrimSpace(t.Vacuum+t.Flow+t.Power) == "":
		r.RPM = 0 // at rest, bleed open: what stands in the tank
	case speed != nil && *speed == 0:
		errs.Add(path+".speed", "app.at-0-rpm-the-pump")
	case speed != nil && *speed > top+1:
		errs.Add(path+".speed", words.Of("app.this-pump-s-top-speed", "top", words.QD("rpm", top, 0)))
	case speed != nil:
		r.RPM = min(*speed, top)
	}
	r.TankPsi = take("tank", figure.Tank, t.Tank)
	r.VacuumInHg = take("vacuum", figure.Vacuum, t.Vacuum)
	r.FlowGPM = take("flow", figure.Flow, t.Flow)
	r.PowerW = take("power", figure.Power, t.Power)
	if pad.Setting(r.Setting) == pad.SetRecirculate && m.Doc.Filter.Valve != pad.Multiport {
		errs.Add(path+".setting", "app.this-filter-has-no-recirculate")
	}
	if _, ok := m.Doc.SpaMode(); pad.Setting(r.Setting) == diagnosis.SpaMode && !ok {
		errs.Add(path+".setting", "app.this-pad-has-no-valves")
	}
	return r, errs
}

// MeterUnits are the trade's units by meter.
var MeterUnits = map[pad.Meter]string{
	pad.MeterTank:   "psi",
	pad.MeterVacuum: "inHg",
	pad.MeterFlow:   "gpm",
	pad.MeterPower:  "W",
}

// InTrade turns a meter's SI value into its trade unit.
func InTrade(m pad.Meter, v float64) float64 {
	switch m {
	case pad.MeterTank:
		return units.Pressure(v).PSI()
	case pad.MeterVacuum:
		return units.Pressure(v).InHg()
	case pad.MeterFlow:
		return units.Flow(v).GPM()
	}
	return v
}

// As is what f makes of a value; nil of none.
func As[F, T any](v *F, f func(F) T) *T {
	if v == nil {
		return nil
	}
	t := f(*v)
	return &t
}
