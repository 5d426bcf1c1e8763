package judge

import (
	"fairlap/core/danger"
	"fairlap/core/diagnosis"
	"fairlap/core/plumbing"
	"fairlap/core/upkeep"
	"fairlap/core/words"

	"github.com/go-json-experiment/json/jsontext"
)

// MeterView is one meter of a reading beside what it should have said.
type MeterView struct {
	Meter  string   `json:"meter" enum:"tank,vacuum,flow,power"`
	Unit   string   `json:"unit"`
	Read   *float64 `json:"read"`
	Clean  float64  `json:"clean"`
	Spread float64  `json:"spread" doc:"one standard deviation of clean, from the calibration alone"`
}

// FlowView is one flow by independent ways.
type FlowView struct {
	Mean   float64   `json:"mean"`
	SD     float64   `json:"sd"`
	Agree  bool      `json:"agree"`
	Strays string    `json:"strays" enum:"meter,curve,watts," doc:"the way furthest from the others when they part"`
	Ways   []FlowWay `json:"ways" nullable:"false"`
}

// FlowWay is a flow by one way, gpm with one standard deviation.
type FlowWay struct {
	Way string  `json:"way" enum:"meter,curve,watts"`
	GPM float64 `json:"gpm"`
	SD  float64 `json:"sd"`
}

func flowView(e plumbing.FlowEstimates) *FlowView {
	if len(e.Ways) < 2 {
		return nil
	}
	v := &FlowView{Mean: e.Mean.GPM(), SD: e.SD.GPM(), Agree: e.Agree, Strays: string(e.Strays)}
	for _, w := range e.Ways {
		v.Ways = append(v.Ways, FlowWay{Way: string(w.Way), GPM: w.Flow.GPM(), SD: w.SD.GPM()})
	}
	return v
}

// ReadingView is one reading beside the clean line.
type ReadingView struct {
	Row      int         `json:"row" doc:"of the findings' readings; -1 for one that a run took"`
	RPM      float64     `json:"rpm"`
	Setting  string      `json:"setting"`
	Meters   []MeterView `json:"meters" nullable:"false"`
	Before   bool        `json:"before,omitempty" doc:"work of this stop came after it"`
	LimitPsi float64     `json:"limitPsi" doc:"tank gauge at the cleaning limit at this speed"`
	Flow     *FlowView   `json:"flow" doc:"the flow by two or three independent ways; absent with fewer"`
}

// SuspectView is one suspect with its reasons.
type SuspectView struct {
	ID       string               `json:"id"`
	Name     words.Message        `json:"name"`
	Place    words.Message        `json:"place"`
	P        float64              `json:"p"`
	Severity float64              `json:"severity"`
	For      []diagnosis.Evidence `json:"for" nullable:"false"`
	Against  []diagnosis.Evidence `json:"against" nullable:"false"`
	Settle   words.Message        `json:"settle"`
	Fix      words.Message        `json:"fix"`
	Minutes  float64              `json:"minutes"`
	Caution  words.Message        `json:"caution"`
	Who      words.Message        `json:"who" doc:"who may do it; empty is any technician"`
	With     []WithView           `json:"with" nullable:"false" doc:"the other fault of two at once: the row is both"`
}

// WithView is a fault beside a suspect, and the chance of both.
type WithView struct {
	ID   string        `json:"id"`
	Name words.Message `json:"name"`
	P    float64       `json:"p"`
}

// FixView is one step of trying the fixes without looking first.
type FixView struct {
	ID      string        `json:"id"`
	Name    words.Message `json:"name"`
	Fix     words.Message `json:"fix"`
	P       float64       `json:"p"`
	Minutes float64       `json:"minutes"`
	Spent   float64       `json:"spent" doc:"mean minutes gone when this step is over"`
	Caution words.Message `json:"caution"`
	Who     words.Message `json:"who"`
}

// FindingView is a chronic weakness beside the suspects.
type FindingView struct {
	ID   string        `json:"id"`
	Name words.Message `json:"name"`
	P    float64       `json:"p"`
	Text words.Message `json:"says"`
	Fix  words.Message `json:"fix"`
}

// FoundView is a thing seen wrong, to be mended whatever the gauges say.
type FoundView struct {
	Sign string        `json:"sign"`
	Name words.Message `json:"name"`
	Mend words.Message `json:"mend"`
	Text words.Message `json:"says"`
}

// ChangedView is what was thought before a stop's last work.
type ChangedView struct {
	Work     words.Message `json:"work"`
	Was      []WasView     `json:"was" nullable:"false"`
	WasLoad  float64       `json:"wasLoad"`
	TooShort bool          `json:"tooShort" doc:"the wash ran under half its time"`
}

// WasView is a suspect before the work.
type WasView struct {
	ID   string        `json:"id"`
	Name words.Message `json:"name"`
	P    float64       `json:"p"`
}

// CheckView is a look worth taking.
type CheckView struct {
	Sign    string        `json:"sign"`
	Name    words.Message `json:"name"`
	Look    words.Message `json:"look"`
	Minutes float64       `json:"minutes"`
	Caution words.Message `json:"caution"`
	PumpOff bool          `json:"pumpOff"`
	IfYes   words.Message `json:"ifYes"`
	IfNo    words.Message `json:"ifNo"`
	YesP    float64       `json:"yesP"`
	NoP     float64       `json:"noP"`
	Bits    float64       `json:"bits"`
	// Reading is set when the check is another reading of the tank gauge.
	Reading *ReadingToTake `json:"reading"`
}

// ReadingToTake is a reading worth taking and what suspects would have it say.
type ReadingToTake struct {
	Setting string      `json:"setting" enum:"filter,recirculate,spa"`
	RPM     float64     `json:"rpm"`
	Would   []WouldRead `json:"would" nullable:"false"`
}

// WouldRead is one suspect's figure on the tank gauge.
type WouldRead struct {
	Name words.Message `json:"name"`
	Psi  float64       `json:"psi"`
}

// StationView is one station of the grade line, psi above the pool's surface.
type StationView struct {
	ID       string  `json:"id"`
	CleanIn  float64 `json:"cleanIn"`
	CleanOut float64 `json:"cleanOut"`
	TodayIn  float64 `json:"todayIn"`
	TodayOut float64 `json:"todayOut"`
}

// PartingView is where the two lines part.
type PartingView struct {
	Station string  `json:"station"`
	Today   float64 `json:"today"`
	Clean   float64 `json:"clean"`
	Extra   float64 `json:"extra"`
}

// GradeView is the grade line of the first reading.
type GradeView struct {
	RPM      float64       `json:"rpm"`
	Stations []StationView `json:"stations" nullable:"false"`
	Worst    *PartingView  `json:"worst"`
}

// Verdict is everything that the bench shows of a case. It is stored with the
// visit as shown.
type Verdict struct {
	EngineVersion string           `json:"engineVersion"`
	State         string           `json:"state" enum:"stop,reread,sound,dirt,past,suspect,unsure,fix,undescribed" doc:"what it amounts to"`
	Text          words.Message    `json:"says" doc:"the answer in one line, with what to do about cleaning"`
	P             float64          `json:"p" doc:"the chance of what it says"`
	Found         []FoundView      `json:"found" nullable:"false"`
	Unexplained   []words.Message  `json:"unexplained" nullable:"false" doc:"names of the signs that no suspect brings"`
	Changed       *ChangedView     `json:"changed"`
	Readings      []ReadingView    `json:"readings" nullable:"false"`
	Suspects      []SuspectView    `json:"suspects" nullable:"false"`
	Other         float64          `json:"other"`
	Load          diagnosis.Belief `json:"load"`
	Observed      diagnosis.Belief `json:"observed"`
	Known         bool             `json:"known"`
	Next          []CheckView      `json:"next" nullable:"false"`
	FixOrder      []FixView        `json:"fixOrder" nullable:"false" doc:"by probability over minutes"`
	Chronic       []FindingView    `json:"chronic" nullable:"false" doc:"weaknesses of the pad itself, each weighed alone"`
	Alike         []words.Message  `json:"alike" nullable:"false" doc:"leading suspects that these readings can't tell apart"`
	Misfit        words.Message    `json:"misfit"`
	Dangers       []danger.Danger  `json:"dangers" nullable:"false"`
	Grade         *GradeView       `json:"grade"`
	Advice        upkeep.Advice    `json:"advice"`
	Forecast      upkeep.Forecast  `json:"forecast"`
	Stop          PadState         `json:"stop" doc:"how the pad is, as far as anybody made it or said so"`
}

// MarshalJSONTo tells a verdict to a reader: words.Rounded.
func (v Verdict) MarshalJSONTo(e *jsontext.Encoder) error {
	type plain Verdict
	return words.Rounded(e, plain(v))
}
