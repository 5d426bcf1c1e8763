// Package danger lists the states of a pad that are made safe before any thinking.
package danger

import (
	"fairlap/core/hydraulics"
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
