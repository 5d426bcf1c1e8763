package procedure

import (
	"fairlap/core/words"
)

// Care names a caution.
type Care string

// The cautions (handbook, safety).
const (
	Pressure   Care = "pressure"
	Restart    Care = "restart"
	OverLabel  Care = "over-label"
	OffIsNot   Care = "off-is-not-locked"
	Capacitor  Care = "capacitor"
	Entrapment Care = "entrapment"
	AcidCare   Care = "acid"
	NeverMeet  Care = "never-meet"
	Dust       Care = "dust"
	Scald      Care = "scald"
	Discharge  Care = "discharge"
	DryRun     Care = "dry-run"
	DeadHead   Care = "dead-head"
	HoseEnd    Care = "hose-end"
	ClosedPool Care = "closed-pool"
	GasWork    Care = "gas"
	Ground     Care = "ground-water"
	Lifting    Care = "lifting"
	Swimmers   Care = "swimmers"
	SmallUnit  Care = "small-unit"
	Fumes      Care = "fumes"
)

// cautions are said short, where the hand moves. Label, maker's manual, local code
// and licensed trades rule.
var cautions = map[Care]words.Message{
	Pressure:   "procedure.a-tank-under-pressure-can",
	Restart:    "procedure.stand-clear-of-the-tank",
	OverLabel:  "procedure.above-the-label",
	OffIsNot:   "procedure.off-is-not-locked-off",
	Capacitor:  "procedure.capacitors-and-drives-stay-charged",
	Entrapment: "procedure.never-leave-one-suction-fitting",
	AcidCare:   "procedure.acid-into-water-never-water",
	NeverMeet:  "procedure.detergent-and-acid-never-meet",
	Dust:       "procedure.de-and-silica-dust-mask",
	Scald:      "procedure.after-a-dry-run-the",
	Discharge:  "procedure.this-water-may-be-chlorinated",
	DryRun:     "procedure.minutes-of-dry-running-melt",
	DeadHead:   "procedure.never-start-on-closed-and",
	HoseEnd:    "procedure.keep-clear-of-the-hose",
	ClosedPool: "procedure.if-the-main-drain-can",
	GasWork:    "procedure.look-and-read-the-flow",
	Ground:     "procedure.never-far-down-with-high",
	Lifting:    "procedure.wet-elements-and-sand-bags",
	Swimmers:   "procedure.nobody-in-the-water-while",
	SmallUnit:  "procedure.nobody-in-the-water-while-2",
	Fumes:      "procedure.fumes-gather-in-closed-pump",
}

// smallCautions are those that say something else of a small unit.
var smallCautions = map[Care]words.Message{
	Pressure: "procedure.small-under-pressure",
}
