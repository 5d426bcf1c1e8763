package procedure

// Care names a caution.
type Care string

// The cautions (handbook, safety).
const (
	Pressure   Care = "pressure"
	Restart    Care = "restart"
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
var cautions = map[Care]string{
	Pressure:   "A tank under pressure can kill. Pump off, power locked off, bleed open and nothing coming out, before band, clamp or lid is touched. Never adjust a band under pressure. Never compressed air in a tank.",
	Restart:    "Stand clear of the tank: start from a distance, bleed open, and come back when water runs from it steadily. Above the label's pressure: stop.",
	OffIsNot:   "Off is not locked off. Timers, automation and freeze protection restart pumps. A hand goes in only with the breaker or disconnect off.",
	Capacitor:  "Capacitors and drives stay charged: wait the label's time. Wiring, bonding and motors are a licensed electrician's.",
	Entrapment: "Never leave one suction fitting taking the whole pull. A broken, missing or expired drain cover: pump off, pool closed, now.",
	AcidCare:   "Acid into water, never water into acid. Goggles, gloves, outdoors, upwind.",
	NeverMeet:  "Detergent and acid never meet, chlorine and acid never meet: rinse well between. Neutralise and dispose by local rule.",
	Dust:       "DE and silica dust: mask on, wet it before moving it, no dry pouring.",
	Scald:      "After a dry run the pot holds boiling water: cool first, open slowly.",
	Discharge:  "This water may be chlorinated, salty or carry DE: local rules decide where it goes. Never to a storm drain.",
	DryRun:     "Minutes of dry running melt fittings: watch the prime, and stop at its time.",
	DeadHead:   "Never start on closed, and never move the handle with the pump running.",
	HoseEnd:    "Keep clear of the hose end. Stop if the pool drops to the skimmer mouth.",
	ClosedPool: "If the main drain can't be seen through the water, the pool is closed.",
	GasWork:    "Look, and read the flow, only: gas work is licensed.",
	Ground:     "Never far down: with high ground water an empty shell can float.",
	Lifting:    "Wet elements and sand bags are heavy: lift with the legs, mind wet stone.",
	Swimmers:   "Nobody in the water while chemicals go in.",
	SmallUnit:  "Nobody in the water while this pump runs. Ground-fault test before each use, no extension cord, unplugged before a hand touches it.",
	Fumes:      "Fumes gather in closed pump rooms: ventilate first.",
}
