package upkeep

import (
	"cmp"
	"math"
	"slices"
	"time"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/words"
)

// Action is what to do about cleaning at this visit.
type Action string

// The actions.
const (
	CleanNow   Action = "clean"
	LeaveIt    Action = "leave"
	WaitHold   Action = "hold"        // a hold forbids it today
	ReadHigher Action = "read-higher" // the reading can't tell; read faster
	FixFirst   Action = "fix-first"   // another suspect leads; cleaning would not help
	NotKnown   Action = "not-known"
	StopFirst  Action = "stop" // a danger stands: nothing else until it is made safe
)

// School is how a company decides when to clean.
type School string

// The schools (handbook): by load, its limit a rise over the clean line, a set
// differential as some flow-holding pumps alarm at, or a share of the clean
// pressure; at a fixed gauge reading; by the calendar.
const (
	Rise         School = "rise"
	Differential School = "differential"
	Share        School = "share"
	FixedPsi     School = "fixed"
	Calendar     School = "calendar"
)

// LimitRise is the rise over the clean line at full speed that is the limit, given
// what the gauge reads there clean.
func (s *Settings) LimitRise(clean units.Pressure) units.Pressure {
	switch s.School {
	case Differential:
		return units.PSI(s.DifferentialPsi)
	case Share:
		return clean * units.Pressure(s.SharePercent/100)
	}
	return units.PSI(s.LimitRisePsi)
}

// LimitWords names the limit in a few words; the same words are the same limit for
// the same pad.
func (s *Settings) LimitWords() words.Message {
	switch s.School {
	case Differential:
		return words.Of("upkeep.limit", "limit", words.QD("psi", s.DifferentialPsi, -1))
	case Share:
		return words.Of("upkeep.of-its-clean-pressure", "sharePercent", words.Q("%", s.SharePercent))
	}
	return words.Of("upkeep.limit", "limit", words.QD("psi", s.LimitRisePsi, -1))
}

// Settings are a company's choices on cleaning; zero values take the defaults.
type Settings struct {
	School          School   `json:"school" enum:"rise,differential,share,fixed,calendar" doc:"how to decide when to clean; default rise"`
	LimitRisePsi    float64  `json:"limitRisePsi" doc:"rise over the clean line at full speed that is the limit; default 8"`
	FixedPsi        float64  `json:"fixedPsi" doc:"of the fixed school; default 25"`
	DifferentialPsi float64  `json:"differentialPsi" doc:"of the differential school; default 15"`
	SharePercent    float64  `json:"sharePercent" doc:"of the share school: rise in percent of the clean pressure; default 25"`
	FlowLossPercent float64  `json:"flowLossPercent" doc:"of the daily flow that a filter may take before it is cleaned, whatever the gauge says; default 33, 0: not looked at"`
	CleanAbove      float64  `json:"cleanAbove" doc:"chance of passing the limit before the next visit; default 0.5"`
	WorthDays       float64  `json:"worthDays" doc:"what a cleaning's minutes and water are worth, in days of a starved pool; 0: the odds alone decide; default 2"`
	HoldHours       float64  `json:"holdHours" doc:"no backwash after chemicals; default 24"`
	South           bool     `json:"south" doc:"of the equator: seasons are turned round"`
	NoDischarge     []string `json:"noDischarge" nullable:"false" maxItems:"400" doc:"days on which no water may go to waste, like 2026-11-24"`
	// Season and lives.
	SeasonOpens  string             `json:"seasonOpens" maxLength:"5" doc:"day of the year like 04-15; empty where pools run all year"`
	SeasonCloses string             `json:"seasonCloses" maxLength:"5" doc:"day of the year like 11-01"`
	ServiceDays  map[string]float64 `json:"serviceDays" doc:"interval of a service by its id, days, where it is not the default"`
	PartLives    map[string]Life    `json:"partLives" doc:"life of a kind of part, where it is not the default"`
}

// FlowLoss is FlowLossPercent as a share.
func (s Settings) FlowLoss() float64 { return s.FlowLossPercent / 100 }

// Pays tells whether a cleaning today pays: the chance of passing the limit before
// the next visit is over the company's, and the days over it that are to be expected
// weigh more than the part of a cleaning that a filter at this load wastes.
func (s *Settings) Pays(chance, starved, load float64) bool {
	return chance > s.CleanAbove && starved > s.WorthDays*(1-load)
}

// NoDischargeOn tells whether no water may go to waste on a moment's day, in the
// moment's own zone.
func (s Settings) NoDischargeOn(at time.Time) bool {
	return slices.Contains(s.NoDischarge, at.Format(time.DateOnly))
}

// Defaults are the handbook's.
func Defaults() Settings {
	return Settings{
		School:          Rise,
		FixedPsi:        25,
		LimitRisePsi:    8,
		DifferentialPsi: 15,
		SharePercent:    25,
		FlowLossPercent: 33,
		CleanAbove:      0.5,
		WorthDays:       2,
		HoldHours:       24,
		NoDischarge:     []string{},
		ServiceDays:     map[string]float64{},
		PartLives:       map[string]Life{},
	}
}

// calendarDays is when to clean without a usable gauge (common practice).
var calendarDays = map[pad.FilterKind]float64{pad.Sand: 10, pad.Cartridge: 35, pad.DE: 30, pad.Unknown: 28}

// CalendarDays is how often the calendar school cleans a kind of filter.
func CalendarDays(kind pad.FilterKind) float64 { return calendarDays[kind] }

// smallDays is how often a plugged-in above-ground unit's cartridge is rinsed by the
// calendar (common practice: two weeks, whatever its pool holds).
const smallDays = 14

// For is how a pad's cleaning is decided: a plugged-in above-ground unit, and a pad that nobody
// has described, go by the calendar, whatever the company's school.
func (s Settings) For(g *Gear) Settings {
	if g.Small || g.Kind == pad.Unknown {
		s.School = Calendar
	}
	return s
}

// CalendarOf is how often the calendar school cleans a pad's filter.
func CalendarOf(g *Gear) float64 {
	if g.Small {
		return smallDays
	}
	return calendarDays[g.Kind]
}

// Question is everything the advice weighs.
type Question struct {
	Now          time.Time
	NextVisit    time.Time
	Settings     Settings
	Kind         pad.FilterKind
	Loads        []float64 // today's load as a distribution
	LoadAt       func(int) float64
	State        State
	KGalPerDay   float64
	Observed     Belief // what today's readings alone say
	Known        bool   // there was a reading that could tell
	HadForecast  bool   // earlier observations stand behind State
	ReadSpeed    units.Speed
	Tank, Clean  *units.Pressure // the gauge at ReadSpeed, and on its clean line; nil not read
	SafeSpeed    units.Speed     // the fastest that keeps the tank under its usual ceiling
	WasteGallons float64         // that a backwash of this pad throws away, as its run has it
	DaysSince    float64         // since the last cleaning, −1 unknown
	Every        float64         // days by the calendar, CalendarOf this pad; 0 is its kind's
	HoldUntil    time.Time
	LeadingFault fault.ID
	LeadingName  words.Message
	LeadingP     float64
	Stopped      bool           // a danger stands that binds everything
	AtLimit      int            // readings of the gauge at their own limit, or over it
	Ceiling      units.Pressure // of the tank; 0: not known
	Washed       Washed
}

// Washed is what was cleaned at this stop so far.
type Washed struct {
	Times int  // whole cleanings
	Short bool // the last ran under half its time
	// Ran and Usual are the seconds of the last wash; 0: nobody timed it.
	Ran, Usual float64
}

// Loads up to which a cleaning was a whole one, and a half one (ours: the gauge back
// within 1.5 and 4 psi of the clean line, of the 8 that are a full load).
const (
	wholeUnder  = 0.2
	partlyUnder = 0.5
)

// once and twice are what is left to do after one whole cleaning, and after two.
var (
	once = map[pad.FilterKind]words.Message{
		pad.Sand: "upkeep.washed.again-sand", pad.Cartridge: "upkeep.washed.again-cartridge",
		pad.DE: "upkeep.washed.again-de",
	}
	twice = map[pad.FilterKind]words.Message{
		pad.Sand: "upkeep.washed.deeper-sand", pad.Cartridge: "upkeep.washed.deeper-cartridge",
		pad.DE: "upkeep.washed.deeper-de",
	}
)

// washedAdvice is what to do after a cleaning at this stop; false where that decides nothing.
func washedAdvice(q *Question, a Advice) (Advice, bool) {
	w, load := &q.Washed, q.Observed.Mean
	left := words.Of("upkeep.washed.left", "mean", words.Share(math.Max(0, load)))
	back := load < wholeUnder || q.Observed.SD > wholeUnder && load+q.Observed.SD < partlyUnder
	switch {
	case w.Times == 0 && !w.Short:
		return a, false
	case q.Known && back:
		a.Action, a.Text, a.Reason = LeaveIt, "upkeep.washed.back", left
	case w.Short:
		a.Action, a.Text = CleanNow, "upkeep.washed.short"
		a.Reason = words.Of("upkeep.washed.ran", "ran", words.QD("s", w.Ran, 0), "usual", words.QD("s", w.Usual, 0))
	case !q.Known:
		a.Action, a.Text, a.Lacks = LeaveIt, "upkeep.washed.done", "upkeep.washed.read"
	case q.Observed.SD > wholeUnder && (load < 1 || load-q.Observed.SD < partlyUnder):
		a.Action, a.Text, a.Reason, a.Lacks = LeaveIt, "upkeep.washed.vague", left, "upkeep.washed.faster"
	case load < partlyUnder:
		a.Action, a.Text, a.Reason = LeaveIt, "upkeep.washed.partly", left
	case w.Times == 1:
		a.Action, a.Text, a.Reason = CleanNow, once[q.Kind], left
	default:
		a.Action, a.Text, a.Reason = FixFirst, twice[q.Kind], left
	}
	return a, true
}

// Advice is the answer, with its reason and odds.
type Advice struct {
	Action  Action        `json:"action"`
	Text    words.Message `json:"says"`
	Reason  words.Message `json:"reason"`
	Lacks   words.Message `json:"lacks,omitempty"` // what would make it surer
	Chance  float64       `json:"chance"`          // of passing the limit before the next visit
	Minutes float64       `json:"minutes"`
	Gallons float64       `json:"gallons"` // to waste, when cleaned
	School  string        `json:"school"`
}

// SlowsFirst tells of advice that takes the pump down before anything else.
func (a *Advice) SlowsFirst() bool {
	switch a.Text {
	case "upkeep.slow-it-then-clean", "upkeep.slow-it-then-fix", "upkeep.slow-it-until-the-hold-ends":
		return true
	}
	return false
}

// onLine is how far over its clean line, psi, a needle still stands on it.
const onLine = 0.5

// kept holds advice to what the needle itself says: at its limit it is never left, on its clean
// line nothing is cleaned, and over the tank's ceiling the pump is slowed before all else.
func (q *Question) kept(a Advice) Advice {
	byGauge := a.School != string(Calendar) && a.School != string(FixedPsi)
	reads := func() words.Arg { return words.QD("psi", q.Tank.PSI(), 1) }
	mean, past := q.today()
	switch {
	case q.Tank == nil || q.Stopped:
	case q.Ceiling > 0 && *q.Tank >= q.Ceiling:
		cause := a.Action == FixFirst
		if a.Action, a.Text = CleanNow, "upkeep.slow-it-then-clean"; cause {
			a.Action, a.Text = FixFirst, "upkeep.slow-it-then-fix"
		}
		a.Reason = words.Of("upkeep.over-the-ceiling", "read", reads(), "ceiling", words.QD("psi", q.Ceiling.PSI(), 0))
		if q.Now.Before(q.HoldUntil) && !cause {
			a.Action, a.Text = WaitHold, "upkeep.slow-it-until-the-hold-ends"
			a.Reason = words.Join(words.Stop, a.Reason, words.Of("upkeep.hold-until", "until", words.Moment(q.HoldUntil)))
		}
	case q.AtLimit > 0 && a.Action == LeaveIt && a.School == string(FixedPsi): // its limit is another
	case q.AtLimit == 1 && a.Action == LeaveIt && past < believed:
		a.Action, a.Text = ReadHigher, "upkeep.read-it-again"
		a.Reason = words.Of("upkeep.at-its-limit-alone", "read", reads(), "mean", words.Share(mean))
		a.Lacks = "upkeep.read-it-again-there"
		if q.ReadSpeed+aStep < q.SafeSpeed {
			a.Lacks = words.Of("upkeep.read-it-again-at-over", "safeSpeed", words.QD("rpm", float64(q.SafeSpeed), 0))
		}
	case q.AtLimit > 0 && a.Action == LeaveIt && q.Washed.Times > 0: // washing did not bring it back
		a.Action, a.Text, a.Reason = FixFirst, twice[q.Kind], words.Of("upkeep.at-its-limit", "read", reads())
	case q.AtLimit > 0 && a.Action == LeaveIt && !q.Now.Before(q.HoldUntil):
		a.Action, a.Text = CleanNow, "upkeep.clean-today"
		a.Reason = words.Of("upkeep.at-its-limit", "read", reads())
	case q.AtLimit > 0 && a.Action == LeaveIt:
		a.Action, a.Text = WaitHold, "upkeep.wait-chemicals-are-in"
		a.Reason = words.Join(words.Stop, words.Of("upkeep.at-its-limit", "read", reads()),
			words.Of("upkeep.hold-until", "until", words.Moment(q.HoldUntil)))
	case byGauge && a.Action == CleanNow && q.AtLimit == 0 && q.Clean != nil && q.Tank.PSI() <= q.Clean.PSI()+onLine:
		a.Action, a.Text = LeaveIt, "upkeep.leave-it-this-week"
		a.Reason = words.Of("upkeep.on-its-clean-line", "read", reads())
	}
	return a
}

// believed is the chance of a filter past its limit from which one needle at its limit is taken at its word;
// under it the needle is read again, and two of them are.
const believed = 1. / 3

// today is the load in the mean, and the chance that it is past the limit.
func (q *Question) today() (mean, past float64) {
	for i, p := range q.Loads {
		load := q.LoadAt(i)
		if mean += p * load; load >= 1 {
			past += p
		}
	}
	return mean, past
}

// tooVague is the deviation of a load over which a reading can't tell.
const tooVague = 0.33

// Advise answers whether to clean at this visit.
func Advise(q Question) Advice { return q.kept(q.weighed()) }

// weighed is the answer by the company's school, today's readings and the odds.
func (q *Question) weighed() Advice {
	days := math.Max(0, q.NextVisit.Sub(q.Now).Hours()/24)
	a := Advice{School: string(Rise)}
	if q.Settings.School == Differential || q.Settings.School == Share {
		a.School = string(q.Settings.School)
	}
	name, minutes := fault.Cleaning(q.Kind)
	a.Minutes = minutes
	if q.Kind != pad.Cartridge {
		a.Gallons = q.WasteGallons
	}
	if q.Stopped {
		a.Action, a.Text, a.Reason = StopFirst, "upkeep.make-it-safe-first", "upkeep.while-a-danger-stands-nothing"
		return a
	}
	if after, ok := washedAdvice(q, a); ok {
		return after
	}
	switch q.Settings.School {
	case Calendar:
		return calendarAdvice(q, a, name)
	case FixedPsi:
		if q.Tank != nil {
			return fixedAdvice(q, a)
		}
	}
	if !q.Known && !q.HadForecast {
		return calendarAdvice(q, a, name)
	}
	a.Chance = q.State.ChancePast(q.Loads, q.LoadAt, q.KGalPerDay*days)
	vague := q.Known && q.Observed.SD > tooVague
	elsewhere := q.LeadingP > 0.5 && q.LeadingFault != fault.Healthy && q.LeadingFault != fault.FilterLoaded
	switch {
	case !q.Known:
		a.Lacks = "upkeep.no-reading-that-tells-the"
	case elsewhere:
	case vague && q.ReadSpeed >= q.SafeSpeed:
		a.Lacks = "upkeep.even-at-its-fastest-this"
	case vague:
		a.Lacks = words.Of(
			"upkeep.at-the-gauge-can-t",
			"readSpeed",
			words.QD("rpm", float64(q.ReadSpeed), 0),
			"safeSpeed",
			words.QD("rpm", float64(q.SafeSpeed), 0),
		)
	}
	odds := words.Of("upkeep.chance-that-it-passes-its", "chance", words.Share(a.Chance), "by", words.Day(q.NextVisit))
	starved, mean, turns := q.weigh(days, a.Chance)
	switch due := q.Settings.Pays(a.Chance, starved, mean); {
	case due && q.Now.Before(q.HoldUntil):
		a.Action, a.Text = WaitHold, "upkeep.wait-chemicals-are-in"
		a.Reason = words.Of(
			"upkeep.but-a-hold-runs-until",
			"odds",
			words.Msg(odds),
			"holdHours",
			words.QD("h", q.Settings.HoldHours, 0),
			"until",
			words.Moment(q.HoldUntil),
		)
	case elsewhere && q.LeadingFault != fault.MediaFouled:
		a.Action, a.Text = FixFirst, "upkeep.settle-the-suspect-first"
		a.Reason = words.Of(
			"upkeep.cleaning-does-not-cure",
			"leadingName",
			words.Msg(q.LeadingName),
			"leadingP",
			words.Share(q.LeadingP),
			"odds",
			words.Msg(odds),
		)
	case elsewhere:
		a.Action, a.Text = FixFirst, "upkeep.soak-don-t-just-clean"
		a.Reason = words.Of("upkeep.the-media-looks-fouled-a", "leadingP", words.Share(q.LeadingP))
	case q.Known && q.Observed.SD > sharp && turns > worthALook && q.ReadSpeed+aStep < q.SafeSpeed:
		a.Action, a.Text = ReadHigher, "upkeep.look-again-at-higher-speed"
		a.Reason = words.Of("upkeep.as-far-as-this-reading", "odds", words.Msg(odds))
		if a.Lacks == "" {
			a.Lacks = words.Of(
				"upkeep.today-s-load-decides-it",
				"readSpeed",
				words.QD("rpm", float64(q.ReadSpeed), 0),
				"safeSpeed",
				words.QD("rpm", float64(q.SafeSpeed), 0),
			)
		}
	case due:
		a.Action, a.Text, a.Reason = CleanNow, "upkeep.clean-today", odds
	case q.Known && q.Observed.Mean >= 1 && q.ReadSpeed+aStep < q.SafeSpeed && q.Observed.SD > sharp:
		a.Action, a.Text = ReadHigher, "upkeep.read-it-again"
		a.Reason = words.Of("upkeep.by-itself-this-reading-says", "mean", words.Share(q.Observed.Mean))
		a.Lacks = words.Of("upkeep.read-it-again-at-over", "safeSpeed", words.QD("rpm", float64(q.SafeSpeed), 0))
	case q.Known && q.Observed.Mean >= 1:
		a.Action, a.Text = CleanNow, "upkeep.clean-today"
		a.Reason = words.Of("upkeep.by-itself-this-reading-says-2", "mean", words.Share(q.Observed.Mean))
	case a.Chance > q.Settings.CleanAbove:
		a.Action, a.Text = LeaveIt, "upkeep.leave-it-this-week"
		a.Reason = words.Of(
			"upkeep.but-only-by-some-days",
			"odds",
			words.Msg(odds),
			"starved",
			words.ND(starved, 1),
			"mean",
			words.Share(mean),
		)
	default:
		a.Action, a.Text, a.Reason = LeaveIt, "upkeep.leave-it-this-week", odds
	}
	return a
}

// nearFixed is how close under the fixed reading a clean line makes it useless.
const nearFixed = 4 // psi

// worthALook is the chance of another answer over which it is worth reading again,
// aStep how much faster that has to be, rpm; a reading as sharp as this is as good as
// they come.
const (
	worthALook = 0.2
	sharp      = 0.05
	aStep      = 150
)

// weigh gives the days over the limit to be expected before the next visit, today's
// mean load, and the chance that knowing today's load exactly would turn the answer.
func (q *Question) weigh(days, chance float64) (starved, mean, turns float64) {
	past := make([]float64, len(q.Loads)) // days over the limit, were this the load
	const step = 0.5
	for i := range q.Loads {
		for d := step / 2; d < days; d += step {
			past[i] += step * q.State.PastFrom(q.LoadAt(i), q.KGalPerDay*d)
		}
		starved += q.Loads[i] * past[i]
		mean += q.Loads[i] * q.LoadAt(i)
	}
	due := q.Settings.Pays(chance, starved, mean)
	for i, p := range q.Loads {
		if at := q.LoadAt(i); q.Settings.Pays(q.State.PastFrom(at, q.KGalPerDay*days), past[i], at) != due {
			turns += p
		}
	}
	return starved, mean, turns
}

// fixedAdvice cleans at a fixed reading of the gauge, whatever the speed.
func fixedAdvice(q *Question, a Advice) Advice {
	a.School = string(FixedPsi)
	read := q.Tank.PSI()
	a.Reason = words.Of(
		"upkeep.the-gauge-reads-you-clean",
		"read",
		words.QD("psi", read, 1),
		"fixedPsi",
		words.QD("psi", q.Settings.FixedPsi, 0),
	)
	if q.Clean != nil && q.Clean.PSI() > q.Settings.FixedPsi-nearFixed {
		a.Lacks = words.Of(
			"upkeep.at-this-speed-this-pad",
			"clean",
			words.QD("psi", q.Clean.PSI(), 0),
			"fixedPsi",
			words.QD("psi", q.Settings.FixedPsi, 0),
		)
	}
	switch over := read >= q.Settings.FixedPsi; {
	case over && q.Now.Before(q.HoldUntil):
		a.Action, a.Text = WaitHold, "upkeep.wait-chemicals-are-in"
	case over:
		a.Action, a.Text = CleanNow, "upkeep.clean-today"
	default:
		a.Action, a.Text = LeaveIt, "upkeep.leave-it-this-week"
	}
	return a
}

func calendarAdvice(q *Question, a Advice, name words.Message) Advice {
	a.School = string(Calendar)
	if q.Settings.School != Calendar {
		a.Lacks = "upkeep.no-usable-reading-here-yet"
	}
	due := cmp.Or(q.Every, calendarDays[q.Kind])
	if q.DaysSince < 0 {
		a.Action, a.Text = NotKnown, "upkeep.not-sure"
		a.Reason = words.Of("upkeep.no-reading-and-no-cleaning", "due", words.ND(due, 0))
		return a
	}
	ahead := q.NextVisit.Sub(q.Now).Hours() / 24
	over := q.DaysSince+ahead >= due
	a.Reason = words.Of(
		"upkeep.by-the-calendar-every-days",
		"due",
		words.ND(due, 0),
		"daysSince",
		words.ND(q.DaysSince, 0),
	)
	switch {
	case over && q.Now.Before(q.HoldUntil):
		a.Action, a.Text = WaitHold, "upkeep.wait-chemicals-are-in"
	case over:
		a.Action, a.Text = CleanNow, words.Of("upkeep.work-today", "work", words.Msg(name))
	default:
		a.Action, a.Text = LeaveIt, "upkeep.leave-it-this-week"
	}
	return a
}

// HoldUntil is when backwash is free again after chemicals went in.
func HoldUntil(chemicals time.Time, s Settings) time.Time {
	return chemicals.Add(time.Duration(s.HoldHours * float64(time.Hour)))
}
