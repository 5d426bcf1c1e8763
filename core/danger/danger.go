// Package danger lists the states of a pad that are made safe before any thinking.
package danger

import (
	"slices"

	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/words"
)

// Danger is a state to make safe before any thinking.
type Danger struct {
	Code string        `json:"code"`
	Text words.Message `json:"says"`
	Stop bool          `json:"stop"`
}

// Halt is a danger that stops all else.
func Halt(code string, text words.Message) Danger { return Danger{code, text, true} }

// Heed is one under which work goes on.
func Heed(code string, text words.Message) Danger { return Danger{code, text, false} }

// HeaterHot is the code of a heater that crackles or is hot: before anything else it goes off,
// and water moves on.
const HeaterHot = "heater-hot"

// CoverUnknown is the code of a cover that takes the whole pull and whose rating nobody read: no reading is taken at a
// higher speed.
const CoverUnknown = "cover-unknown"

// ByHandles are the dangers of a pad whose handles, as recorded, leave the water no path.
var ByHandles = map[hydraulics.Condition]Danger{
	hydraulics.DeadHead:  {"dead-head", "diagnosis.stop-with-the-handles-as", true},
	hydraulics.DrySource: {"dry", "diagnosis.stop-with-the-handles-as-2", true},
	hydraulics.NoPath:    {"no-path", "diagnosis.stop-with-the-handles-as-3", true},
}

// BySuspect are the dangers of suspects under which a running pump moves nothing.
var BySuspect = map[hydraulics.Condition]Danger{
	hydraulics.DeadHead:  {"never-run", "diagnosis.stop-all-points-to-a", true},
	hydraulics.DrySource: {"no-suction", "diagnosis.stop-all-points-to-a-2", true},
}

// vesselCeiling is the vessel's hard limit (handbook, common practice; the label rules).
var vesselCeiling = units.PSI(50)

// OverCeiling is the danger of a tank's pressure by its label (0: not read), the vessel's limit and what
// service bears; false: it is under all of them.
func OverCeiling(worst, label units.Pressure) (Danger, bool) {
	switch {
	case label > 0 && worst > label:
		text := words.Of("diagnosis.stop-the-tank-is-at",
			"worst", words.QD("psi", worst.PSI(), 0), "label", words.QD("psi", label.PSI(), 0))
		return Danger{"tank-over-label", text, true}, true
	case worst >= vesselCeiling:
		return Danger{"tank-over-vessel", "diagnosis.stop-the-tank-is-at-2", true}, true
	case worst >= plumbing.ServiceCeiling:
		return Danger{"tank-over-service", "diagnosis.the-tank-is-over-the", false}, true
	}
	return Danger{}, false
}

// OneCover is the danger of a pool whose one skimmer is blocked: the whole pull, 0 for not known, goes through the one
// cover of the main drain, which is held to its rating at once; one that nobody read is asked for before the pump runs
// faster. False: there is another way, or the cover bears it.
func OneCover(d *pad.Document, q units.Flow) (Danger, bool) {
	skimmers, drain := 0, -1
	for i, l := range d.Suction {
		switch {
		case l.Kind == pad.Skimmer:
			skimmers++
		case l.Kind == pad.Drain && l.CoverCount() == 1:
			drain = i
		}
	}
	if skimmers != 1 || drain < 0 {
		return Danger{}, false
	}
	rating := d.Suction[drain].RatingGPM
	switch {
	case rating <= 0 && q > 0:
		return Heed(CoverUnknown, words.Of("diagnosis.cover-unknown", "q", words.QD("gpm", q.GPM(), 0))), true
	case rating <= 0:
		return Heed(CoverUnknown, "diagnosis.cover-unknown"), true
	case q.GPM() > rating:
		return Halt("one-cover", words.Of("diagnosis.stop-one-cover", "q", words.QD("gpm", q.GPM(), 0),
			"ratingGPM", words.QD("gpm", rating, 0))), true
	}
	return Danger{}, false
}

// Forbids tells of dangers under which the pump may not run faster than it was read at.
func Forbids(all []Danger, speed, read units.Speed) bool {
	return speed > read && slices.ContainsFunc(all, func(d Danger) bool { return d.Code == CoverUnknown })
}
