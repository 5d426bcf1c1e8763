// Package procedure is the guided work at a pad: a small state machine whose rules
// no text can break, the trade's procedures as data over it, and runs as the fold
// of what was done. It knows no clock, screen or store.
package procedure

import (
	"slices"

	"fairlap/core/pad"
	"fairlap/core/words"
)

// Power is how the pump's power stands.
type Power string

// The ways that power stands. Only Locked keeps the pump off: a service or time-out
// mode expires, and timers, automation and freeze protection start pumps.
const (
	Live    Power = "live"
	TimeOut Power = "time-out"
	Locked  Power = "locked" // off at the breaker or disconnect
)

// Prime is how far a start on shut suction lines has come.
type Prime string

// The stages of the timed exception.
const (
	NotPriming Prime = ""
	Priming    Prime = "priming" // started on shut lines: one must open at once
)

// Soak is what stands in the bath, and on the elements.
type Soak string

// What a bath holds.
const (
	Nothing   Soak = ""
	Water     Soak = "water"
	Degreaser Soak = "degreaser"
	Acid      Soak = "acid"
)

// Powder is how DE stands.
type Powder string

// DE, from the bag to the grids.
const (
	NoPowder Powder = ""
	Slurry   Powder = "slurry"
)

// State is the state of a pad during work. It is comparable: two states are the
// same state when they are equal.
type State struct {
	Running bool        `json:"running"`
	Power   Power       `json:"power" enum:"live,time-out,locked"`
	Setting pad.Setting `json:"setting" doc:"of the filter valve"`
	// Pressed is that water may stand under pressure in the tank: it does from every
	// start until the bleed is open and nothing comes out.
	Pressed bool `json:"pressed"`
	Bleed   bool `json:"bleed" doc:"open"`
	// Opened is that the tank or the pot was open since the last start.
	Opened  bool  `json:"opened"`
	Suction Lines `json:"suction" doc:"bits of the suction lines that are open"`
	Returns bool  `json:"returns" doc:"open"`
	Tank    bool  `json:"tank" doc:"open"`
	Pot     bool  `json:"pot" doc:"open"`
	PotFull bool  `json:"potFull" doc:"of water"`
	Hand    bool  `json:"hand" doc:"in the pump"`
	Hot     bool  `json:"hot" doc:"it ran dry: the pot may hold boiling water"`
	// The two handles that part pool and spa.
	SuctionTo pad.Body `json:"suctionTo"`
	ReturnTo  pad.Body `json:"returnTo"`
	Prime     Prime    `json:"prime"`
	Bath      Soak     `json:"bath"`
	Elements  Soak     `json:"elements" doc:"what is still on them"`
	Powder    Powder   `json:"powder"`
	Heat      bool     `json:"heat" doc:"heater fired within its cool-down"`
	People    bool     `json:"people" doc:"in the water"`
	Filled    bool     `json:"filled" doc:"the pool, to over its suction"`
	ByHand    bool     `json:"byHand,omitempty" doc:"started or set by hand, and not yet back on its program"`
}

// Lines is a set of suction lines by their place in the document.
type Lines uint16

// Has tells whether line i is in the set.
func (l Lines) Has(i int) bool { return l&(1<<i) != 0 }

// Rig is what a pad's rules depend on.
type Rig struct {
	Valve pad.Valve      `json:"valve"`
	Kind  pad.FilterKind `json:"kind"`
	// Suction names the lines that a hand can shut, in order.
	Suction []string `json:"suction" nullable:"false"`
	Usual   Lines    `json:"usual" doc:"lines open in daily use"`
	First   int      `json:"first" doc:"the line to prime first: the first skimmer"`
	Drain   int      `json:"drain" doc:"the main drain's line, −1 for none that can be shut apart"`
	Spa     bool     `json:"spa" doc:"handles part pool and spa on both sides"`
	Below   bool     `json:"below" doc:"pad under the water's surface"`
	Small   bool     `json:"small" doc:"small above-ground unit on hoses, plugged in"`
	Heater  bool     `json:"heater"`
	// What some pads have, and a repair is for.
	Cell       bool `json:"cell,omitempty"`
	CheckValve bool `json:"checkValve,omitempty"`
	Bypass     bool `json:"bypass,omitempty"`
}

// RigOf reads a pad's document.
func RigOf(d *pad.Document) Rig {
	r := Rig{Valve: d.Filter.Valve, Kind: d.Filter.Kind, Below: d.PumpHeightFt < 0, Heater: d.Heater != nil,
		Cell: d.Cell != nil, CheckValve: d.CheckValve, Bypass: d.HeaterBypass != nil}
	_, spa := d.SpaMode()
	r.Drain, r.Spa = -1, spa
	r.First = max(0, slices.IndexFunc(d.Suction, func(l pad.Line) bool { return l.Kind == pad.Skimmer }))
	for i, l := range d.Suction {
		r.Suction = append(r.Suction, l.Name)
		if l.Kind == pad.Drain && i != r.First && r.Drain < 0 {
			r.Drain = i
		}
		// What draws from the spa is shut by its handle while the pool is on.
		if l.Opening > 0 && !(spa && l.Kind == pad.SpaDrain) {
			r.Usual |= 1 << i
		}
	}
	if r.Usual == 0 { // handles alone decide
		r.Usual = r.all()
	}
	r.Small = d.SmallUnit()
	return r
}

func (r *Rig) all() Lines { return 1<<len(r.Suction) - 1 }

// Daily is the state that a pad is left in: running by its programme on filter,
// everything shut that holds pressure, pool to pool.
func (r *Rig) Daily() State {
	return State{
		Running:   true,
		Power:     Live,
		Setting:   pad.SetFilter,
		Pressed:   true,
		Suction:   r.Usual,
		Returns:   true,
		PotFull:   true,
		SuctionTo: pad.PoolBody,
		ReturnTo:  pad.PoolBody,
		Filled:    true,
	}
}

// Part is a part of a pad that may differ from daily use.
type Part string

// The parts, what holds a hand back first.
const (
	PartHand     Part = "hand"
	PartTank     Part = "tank"
	PartPot      Part = "pot"
	PartBath     Part = "bath"
	PartPowder   Part = "powder"
	PartValve    Part = "valve"
	PartSpa      Part = "spa"
	PartSuction  Part = "suction"
	PartReturns  Part = "returns"
	PartLock     Part = "lock"
	PartTimeOut  Part = "time-out"
	PartUntested Part = "untested"
	PartBleed    Part = "bleed"
	PartProgram  Part = "program"
	PartHot      Part = "hot"
	PartHeat     Part = "heat"
)

// Difference is one part that is not as in daily use, in words for a hand.
type Difference struct {
	Part Part
	Text words.Message
}

// Differences are all parts of a pad that are not as in daily use, what holds a hand back
// first. A pump that its program has off is no difference.
func (r *Rig) Differences(s State) []Difference {
	var out []Difference
	add := func(is bool, part Part, text words.Message) {
		if is {
			out = append(out, Difference{part, text})
		}
	}
	chemical := func(s Soak) bool { return s == Acid || s == Degreaser }
	add(s.Hand, PartHand, "procedure.a-hand-or-a-tool-2")
	add(s.Tank, PartTank, "procedure.the-filter-tank-is-still")
	add(s.Pot, PartPot, "procedure.the-pot-is-still-open")
	add(chemical(s.Elements) || chemical(s.Bath), PartBath, "procedure.a-bath-is-not-rinsed")
	add(s.Powder == Slurry, PartPowder, "procedure.the-de-slurry-is-mixed")
	add(s.Setting != pad.SetFilter, PartValve,
		words.Of("procedure.the-filter-valve-still-stands", "setting", words.Msg(s.Setting.Words())))
	add(r.Spa && (s.SuctionTo != pad.PoolBody || s.ReturnTo != pad.PoolBody), PartSpa,
		"procedure.the-spa-valves-are-not")
	add(s.Suction != r.Usual, PartSuction, "procedure.the-suction-lines-are-not")
	add(!s.Returns, PartReturns, "procedure.the-returns-are-still-shut")
	add(s.Power == Locked, PartLock, "procedure.the-power-is-still-locked")
	add(s.Power == TimeOut, PartTimeOut, "procedure.the-automation-is-still-in")
	add(s.Opened && !s.Running && s.Power != Locked, PartUntested, "procedure.it-has-not-been-started")
	add(s.Bleed, PartBleed, "procedure.the-bleed-is-still-open")
	add(s.ByHand && s.Power == Live, PartProgram, "procedure.not-back-on-program")
	return out
}

// Hot are the parts of a pad that burn whoever opens them, or that lose their water.
func Hot(s State) []Difference {
	var out []Difference
	if s.Hot {
		out = append(out, Difference{PartHot, "procedure.the-pump-ran-dry-and-is-hot"})
	}
	if s.Heat {
		out = append(out, Difference{PartHeat, "procedure.the-heater-is-hot"})
	}
	return out
}

// Unlike says what still differs from the daily state first; empty when nothing does.
func (r *Rig) Unlike(s State) words.Message {
	if all := r.Differences(s); len(all) > 0 {
		return all[0].Text
	}
	return ""
}

// Safe says whether a pad may be left alone as it is: as in daily use, or locked off with
// nobody's hand and no open chemicals in it.
func (r *Rig) Safe(s State) bool {
	if r.Unlike(s) == "" {
		return true
	}
	return !s.Running && s.Power == Locked && !s.Hand && s.Bath == Nothing && s.Powder != Slurry &&
		(s.Elements == Nothing || s.Elements == Water)
}
