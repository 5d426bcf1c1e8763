// Package inspection reads a pad's installation: what to look at and to measure on a
// first visit and once a year, and the verdicts that follow, computed where a figure
// decides. It knows nothing of who looks or where it is kept.
package inspection

import (
	"fairlap/core/fault"
	"fairlap/core/pad"
)

// ItemID names something to look at.
type ItemID string

// Kind says how an item is answered.
type Kind string

// The kinds of item.
const (
	Measure  Kind = "measure"  // a figure, in Unit
	YesNo    Kind = "yesno"    // is it as it should be?
	Computed Kind = "computed" // nothing to answer: the pad's own figures decide
)

// Severity is how grave a finding is.
type Severity string

// The severities: stop means pump off and pool closed now, soon before the next
// visit.
const (
	Stop Severity = "stop"
	Soon Severity = "soon"
	Act  Severity = "act"
	Note Severity = "note"
)

// Cost is about what mending takes (ours).
type Cost string

// The classes of cost.
const (
	Small  Cost = "small"
	Middle Cost = "middle"
	Large  Cost = "large"
)

// Place groups items in the order of a walk round the pad.
type Place string

// The places of a walk.
const (
	AtPool    Place = "pool"
	AtSuction Place = "suction"
	AtPump    Place = "pump"
	AtFilter  Place = "filter"
	AtDevices Place = "devices"
	AtPower   Place = "power"
	Sizing    Place = "sizing"
)

// Item is one thing to look at, with what its answer means. Of a yes-or-no item the
// finding is what "no" means.
type Item struct {
	ID       ItemID   `json:"id"`
	Place    Place    `json:"place" enum:"pool,suction,pump,filter,devices,power,sizing"`
	Kind     Kind     `json:"kind" enum:"measure,yesno,computed"`
	Name     string   `json:"name"`
	Look     string   `json:"look" doc:"what to look at, and how"`
	Unit     string   `json:"unit"`
	Low      float64  `json:"low" doc:"of a measure: believable from"`
	Top      float64  `json:"top"`
	Severity Severity `json:"severity" enum:"stop,soon,act,note"`
	Finding  string   `json:"-"`
	Who      string   `json:"-"`
	Cost     Cost     `json:"-"`
	Source   string   `json:"-"`
	Speaks   fault.ID `json:"-"` // the chronic finding of the diagnosis that it speaks for

	on func(*pad.Document) bool
}

const (
	technician  = "technician"
	builder     = "pool builder"
	electrician = "licensed electrician"
	common      = "Common practice"
	ours        = "Ours"
)

func withCell(d *pad.Document) bool   { return d.Cell != nil }
func withHeater(d *pad.Document) bool { return d.Heater != nil }
func withBoth(d *pad.Document) bool   { return d.Heater != nil && d.Cell != nil }
func withBypass(d *pad.Document) bool { return d.HeaterBypass != nil }
func salty(d *pad.Document) bool      { return d.Cell != nil }
func valved(d *pad.Document) bool     { return len(d.Valves) > 0 || d.Filter.Valve != pad.NoValve }
func wastes(d *pad.Document) bool     { return d.Filter.Valve != pad.NoValve }

// Schools are what practitioners disagree about in an installation.
type Schools struct {
	CodeRun   bool // four diameters before the pump, as code asks, instead of installers' ten
	CellClear bool // the cell's own body counts as clear run before its switch
}

// Straight is how many diameters of straight pipe are asked for before the pump.
func (s Schools) Straight() float64 {
	if s.CodeRun {
		return CodeRun
	}
	return InstallerRun
}

// Items are all there are, in the order of the walk (handbook, inspection).
var Items = []Item{
	{ID: "drain-covers", Place: AtPool, Kind: YesNo, Name: "Drain covers whole and fast", Look: "Every suction cover: whole, both screws in, no crack. Feel it with a pole, never with a hand while the pump runs.", Severity: Stop,
		Finding: "A suction cover is broken, loose or missing: pump off, pool closed, until it is replaced.", Who: technician, Cost: Small, Source: "Safety rule"},
	{ID: "drain-year", Place: AtPool, Kind: Measure, Name: "Drain covers replace by", Look: "The year moulded into the cover, or in its papers.", Unit: "year", Low: 1990, Top: 2060, Severity: Act, Who: technician, Cost: Small, Source: "The cover's own date"},
	{ID: "drain-rating", Place: AtPool, Kind: Measure, Name: "Drain cover's rating", Look: "The flow on the cover, for the way it lies (floor or wall).", Unit: "gpm", Low: 10, Top: 500, Severity: Stop, Who: technician, Cost: Small, Source: "The cover's own rating"},
	{ID: "two-suctions", Place: AtPool, Kind: YesNo, Name: "Two suction points share the pull", Look: "Two drains, or a drain and a skimmer that can't be shut off together, three feet apart at least.", Severity: Stop,
		Finding: "One suction fitting can be left to take the whole pull: pool closed until there is a second one, or a release.", Who: builder, Cost: Large, Source: "Safety rule"},
	{ID: "auto-fill", Place: AtPool, Kind: YesNo, Name: "Auto-fill's own shut-off is known", Look: "Where is it, does it close?", Severity: Note, Finding: "Nobody knows where the auto-fill is shut off: an overfilled pool can't be stopped.", Who: technician, Cost: Small, Source: common},
	{ID: "straight-run", Place: AtSuction, Kind: Measure, Name: "Straight pipe before the pump", Look: "From the pump's inlet back to the first elbow, tee, valve or union: full bore all the way.", Unit: "in", Low: 0, Top: 120, Severity: Note, Who: builder, Cost: Middle, Source: "Ten diameters by installers, four by the California Energy Code 150.0(p) (from memory)"},
	{ID: "elbow-in-port", Place: AtSuction, Kind: YesNo, Name: "No elbow screwed into the inlet", Look: "What is threaded into the pump's suction port?", Severity: Act, Finding: "An elbow sits in the suction port: the water meets the eye from one side, with noise and lost head.", Who: builder, Cost: Middle, Source: common},
	{ID: "clear-run", Place: AtSuction, Kind: YesNo, Name: "No valve or union in the straight run", Look: "Look along it.", Severity: Note, Finding: "A valve or union stands in the straight run: it does not count as clear.", Who: builder, Cost: Middle, Source: common},
	{ID: "supports", Place: AtSuction, Kind: YesNo, Name: "Pipes carried, none hanging", Look: "Lift a little at each run: does it hang on a threaded fitting?", Severity: Act, Finding: "A pipe hangs free: its weight backs the threads off. Support it first; tightening only strains it.", Who: technician, Cost: Small, Source: common},
	{ID: "flexible", Place: AtSuction, Kind: YesNo, Name: "No old or bulging flexible pipe", Look: "Flexible runs: bulges, whitening, kinks.", Severity: Act, Finding: "Flexible pipe is bulging or old: it bursts when nobody is there.", Who: builder, Cost: Middle, Source: common},
	{ID: "sweeps", Place: AtSuction, Kind: YesNo, Name: "Sweep elbows, unions where parts are serviced", Look: "Tight elbows; can the pump be taken out without a saw?", Severity: Note, Finding: "Tight elbows or no unions: more head lost, and a saw for every repair.", Who: builder, Cost: Middle, Source: "California Energy Code 150.0(p) asks for sweep elbows (from memory)"},
	{ID: "threads", Place: AtPump, Kind: YesNo, Name: "Threaded joints dry", Look: "A dry cloth under inlet, outlet and drain plugs.", Severity: Act, Finding: "A threaded joint weeps: look for the weight on it before touching it.", Who: technician, Cost: Small, Source: common},
	{ID: "room", Place: AtPump, Kind: YesNo, Name: "Air and room round motor and filter", Look: "Vents of an enclosure, a hand's breadth behind the motor, room to swing the filter's lid.", Severity: Act, Finding: "The motor has no air or nobody can work there: motors burn in boxes, one after the other.", Who: builder, Cost: Middle, Source: common},
	{ID: "gauge-there", Place: AtFilter, Kind: YesNo, Name: "A pressure gauge on the tank", Look: "On the tank's lid or its valve; can it be read?", Severity: Act, Finding: "The tank has no gauge that can be read: nobody can tell when it is dirty, or over its limit.", Who: technician, Cost: Small, Source: common},
	{ID: "gauge-rest", Place: AtFilter, Kind: Measure, Name: "Gauge at rest, bleed open", Look: "Pump off at the breaker, bleed open, nothing coming out: what does the needle show?", Unit: "psi", Low: -5, Top: 60, Severity: Act, Who: technician, Cost: Small, Source: "The water standing above the gauge, 0.433 psi a foot"},
	{ID: "gauge-dirty", Place: AtFilter, Kind: Measure, Name: "Highest reading in service", Look: "From the record or from the owner: how high does it go before it is cleaned, at full speed?", Unit: "psi", Low: 0, Top: 80, Severity: Stop, Who: technician, Cost: Small, Source: "30 psi is the usual ceiling, 50 the vessel's (common practice); the label rules"},
	{ID: "label", Place: AtFilter, Kind: Measure, Name: "Working pressure on the label", Look: "The tank's plate.", Unit: "psi", Low: 10, Top: 150, Severity: Note, Who: technician, Cost: Small, Source: "The label"},
	{ID: "waste-line", Place: AtFilter, Kind: YesNo, Name: "Backwash goes where it may", Look: "Follow the waste line to its end: never a storm drain; DE must be caught.", Severity: Act, Finding: "Backwash water ends where local rules may not allow it.", Who: technician, Cost: Middle, Source: "Local rules", on: wastes},
	{ID: "valves", Place: AtFilter, Kind: YesNo, Name: "Valves labelled, handles tell the truth", Look: "Turn each a little with the pump off: does the mark point at what is shut?", Severity: Note, Finding: "Valves bear no names, or a handle points wrong: the next one drains a spa.", Who: technician, Cost: Small, Source: common, on: valved},
	{ID: "switch-before", Place: AtDevices, Kind: Measure, Name: "Straight pipe before the flow switch", Look: "From the switch back to the first fitting; the cell's body ends it.", Unit: "in", Low: 0, Top: 120, Severity: Act, Who: technician, Cost: Middle, Source: "Ten diameters before, four after (common practice)", Speaks: fault.CellNoFlow, on: withCell},
	{ID: "switch-after", Place: AtDevices, Kind: Measure, Name: "Straight pipe after the flow switch", Look: "From the switch on to the next fitting.", Unit: "in", Low: 0, Top: 120, Severity: Act, Who: technician, Cost: Middle, Source: "Ten diameters before, four after (common practice)", Speaks: fault.CellNoFlow, on: withCell},
	{ID: "switch-arrow", Place: AtDevices, Kind: YesNo, Name: "Flow switch's arrow goes with the water", Look: "The arrow on its body.", Severity: Act, Finding: "The flow switch stands backwards: it never closes, or never opens.", Who: technician, Cost: Small, Source: common, Speaks: fault.CellNoFlow, on: withCell},
	{ID: "switch-both-ways", Place: AtDevices, Kind: YesNo, Name: "Flow switch closes with the flow and opens without", Look: "Pump on: its lamp says flow. Pump off: it says no flow.", Severity: Act, Finding: "The flow switch does not follow the flow: the cell makes chlorine without water, or none with it.", Who: technician, Cost: Small, Source: common, Speaks: fault.CellSwitch, on: withCell},
	{ID: "heater-elbows", Place: AtDevices, Kind: YesNo, Name: "Heater joined by its own street elbows", Look: "At its two ports: the maker's heat-proof elbows and unions, or plain plastic screwed in?", Severity: Act, Finding: "Plain plastic is screwed into the heater's ports: heat softens the thread, and it drips on the burner. The maker's own street elbows belong there.", Who: technician, Cost: Middle, Source: common, on: withHeater},
	{ID: "check-valve", Place: AtDevices, Kind: YesNo, Name: "Check valve between heater and chlorinator", Look: "A clear-lidded valve between them, its arrow with the water.", Severity: Act, Finding: "Nothing keeps chlorinated water from standing in the heater: it eats the exchanger.", Who: technician, Cost: Middle, Source: common, on: withBoth},
	{ID: "bypass-shut", Place: AtDevices, Kind: YesNo, Name: "Heater bypass closed", Look: "Its handle.", Severity: Act, Finding: "The heater's bypass is open: the exchanger overheats while it fires.", Who: technician, Cost: Small, Source: common, Speaks: fault.HeaterLowFlow, on: withBypass},
	{ID: "anode", Place: AtPower, Kind: YesNo, Name: "Sacrificial anode there and grounded", Look: "A zinc body at the pad, its wire fast.", Severity: Act, Finding: "A salt pool without a grounded anode: heater, lights and rails corrode instead.", Who: electrician, Cost: Small, Source: common, on: salty},
	{ID: "anode-year", Place: AtPower, Kind: Measure, Name: "Anode put in", Look: "The year on it, or in its papers. It goes into the equipment.", Unit: "year", Low: 1990, Top: 2060, Severity: Act, Who: electrician, Cost: Small, Source: "The company's service lives; two to three years by common practice", on: salty},
	{ID: "bonding", Place: AtPower, Kind: YesNo, Name: "Bonding wire on pump, heater and metal", Look: "Look only: a bare copper wire fast on every lug. Touch nothing.", Severity: Soon, Finding: "A bonding wire is missing or loose. Look only: a licensed electrician, before the next visit.", Who: electrician, Cost: Middle, Source: "Electrical code; look only"},
	{ID: "rcd", Place: AtPower, Kind: YesNo, Name: "GFCI or RCD there and trips on test", Look: "Press its test button where it may be pressed.", Severity: Stop, Finding: "No ground-fault protection, or it does not trip: power off at the disconnect, nobody in the water, until a licensed electrician has been.", Who: electrician, Cost: Middle, Source: "Electrical code"},
	{ID: "media-rate", Place: Sizing, Kind: Computed, Name: "Pump against filter", Look: "Flow over area at each programmed speed.", Severity: Act, Who: technician, Cost: Large, Source: "NSF/ANSI 50, residential (from memory)"},
	{ID: "pump-match", Place: Sizing, Kind: Computed, Name: "Pump against the pad", Look: "Where full speed lies on the pump's curve, filter clean.", Severity: Note, Who: technician, Cost: Small, Source: "ANSI/HI 9.6.3 prefers 70 to 120 % of the flow of best efficiency (from memory); told from 140 % (ours)"},
	{ID: "backwash-lift", Place: Sizing, Kind: Computed, Name: "Backwash lifts the bed", Look: "Rise of the bed at full speed.", Severity: Act, Who: builder, Cost: Large, Source: "Richardson & Zaki 1954; 15 gpm/ft² as the target (common practice)", on: func(d *pad.Document) bool { return d.Filter.Kind == pad.Sand && d.Filter.Valve != pad.NoValve }},
	{ID: "velocity", Place: Sizing, Kind: Computed, Name: "Water's speed in the pipes", Look: "Suction and return at the fastest programmed speed.", Severity: Note, Who: builder, Cost: Large, Source: "California Energy Code 150.0(p) (from memory)"},
	{ID: "cover-flow", Place: Sizing, Kind: Computed, Name: "One cover with the others shut", Look: "Flow at each rated cover, every other suction blocked, at full speed.", Severity: Stop, Who: builder, Cost: Large, Source: "The cover's own rating"},
	{ID: "cover-rating", Place: Sizing, Kind: Computed, Name: "Every suction cover's rating known", Look: "Drains of pool and spa: which have no rating on record?", Severity: Act, Who: technician, Cost: Small, Source: "Safety rule"},
	{ID: "heater-flow", Place: Sizing, Kind: Computed, Name: "Heater's least flow", Look: "At each programmed speed, with a dirty filter.", Severity: Note, Who: technician, Cost: Small, Source: "The heater's label", on: withHeater},
	{ID: "part-age", Place: Sizing, Kind: Computed, Name: "Parts against their lives", Look: "From the record of equipment.", Severity: Note, Who: technician, Cost: Middle, Source: "The company's service lives"},
}

// On lists the items of a pad, in the order of the walk, as the schools look at them.
func On(d *pad.Document, s Schools) []Item {
	var out []Item
	for _, i := range Items {
		if i.on != nil && !i.on(d) {
			continue
		}
		if i.ID == "switch-before" && s.CellClear {
			i.Look = "From the switch back to the first fitting, the cell's own body counted as clear run."
		}
		out = append(out, i)
	}
	return out
}

// Speaks is which chronic findings of the diagnosis an inspection speaks for, in its
// words.
func Speaks(fs []Finding) map[fault.ID]string {
	out := map[fault.ID]string{}
	for _, f := range fs {
		if i := lookUp(f.Item); i != nil && i.Speaks != "" && out[i.Speaks] == "" {
			out[i.Speaks] = f.Says
		}
	}
	return out
}

// Name is what an item is called; empty where there is none.
func Name(id ItemID) string {
	if i := lookUp(id); i != nil {
		return i.Name
	}
	return ""
}

// lookUp finds an item.
func lookUp(id ItemID) *Item {
	for i := range Items {
		if Items[i].ID == id {
			return &Items[i]
		}
	}
	return nil
}
