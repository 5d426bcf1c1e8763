// Package inspection reads a pad's installation: what to look at and to measure on a
// first visit and once a year, and the verdicts that follow, computed where a figure
// decides. It knows nothing of who looks or where it is kept.
package inspection

import (
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/words"
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
	ID       ItemID        `json:"id"`
	Place    Place         `json:"place" enum:"pool,suction,pump,filter,devices,power,sizing"`
	Kind     Kind          `json:"kind" enum:"measure,yesno,computed"`
	Name     words.Message `json:"name"`
	Look     words.Message `json:"look" doc:"what to look at, and how"`
	Unit     string        `json:"unit"`
	Low      float64       `json:"low" doc:"of a measure: believable from"`
	Top      float64       `json:"top"`
	Severity Severity      `json:"severity" enum:"stop,soon,act,note"`
	Finding  words.Message `json:"-"`
	Who      words.Message `json:"-"`
	Cost     Cost          `json:"-"`
	Source   words.Message `json:"-"`
	Speaks   fault.ID      `json:"-"` // the chronic finding of the diagnosis that it speaks for

	on func(*pad.Document) bool
}

const (
	technician  words.Message = "inspection.technician"
	builder     words.Message = "inspection.pool-builder"
	electrician words.Message = "inspection.licensed-electrician"
	common      words.Message = "inspection.common-practice"
	ours                      = "Ours"
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
	CodeRun   bool `json:"codeRun"`   // four diameters before the pump, as code asks, instead of installers' ten
	CellClear bool `json:"cellClear"` // the cell's own body counts as clear run before its switch
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
	{
		ID:       "drain-covers",
		Place:    AtPool,
		Kind:     YesNo,
		Name:     "inspection.drain-covers.name",
		Look:     "inspection.drain-covers.look",
		Severity: Stop,
		Finding:  "inspection.drain-covers.finding",
		Who:      technician,
		Cost:     Small,
		Source:   "inspection.drain-covers.source",
	},
	{
		ID:       "drain-year",
		Place:    AtPool,
		Kind:     Measure,
		Name:     "inspection.drain-year.name",
		Look:     "inspection.drain-year.look",
		Unit:     "year",
		Low:      1990,
		Top:      2060,
		Severity: Act,
		Who:      technician,
		Cost:     Small,
		Source:   "inspection.drain-year.source",
	},
	{
		ID:       "drain-rating",
		Place:    AtPool,
		Kind:     Measure,
		Name:     "inspection.drain-rating.name",
		Look:     "inspection.drain-rating.look",
		Unit:     "gpm",
		Low:      10,
		Top:      500,
		Severity: Stop,
		Who:      technician,
		Cost:     Small,
		Source:   "inspection.drain-rating.source",
	},
	{
		ID:       "two-suctions",
		Place:    AtPool,
		Kind:     YesNo,
		Name:     "inspection.two-suctions.name",
		Look:     "inspection.two-suctions.look",
		Severity: Stop,
		Finding:  "inspection.two-suctions.finding",
		Who:      builder,
		Cost:     Large,
		Source:   "inspection.two-suctions.source",
	},
	{
		ID:       "auto-fill",
		Place:    AtPool,
		Kind:     YesNo,
		Name:     "inspection.auto-fill.name",
		Look:     "inspection.auto-fill.look",
		Severity: Note,
		Finding:  "inspection.auto-fill.finding",
		Who:      technician,
		Cost:     Small,
		Source:   common,
	},
	{
		ID:       "straight-run",
		Place:    AtSuction,
		Kind:     Measure,
		Name:     "inspection.straight-run.name",
		Look:     "inspection.straight-run.look",
		Unit:     "in",
		Low:      0,
		Top:      120,
		Severity: Note,
		Who:      builder,
		Cost:     Middle,
		Source:   "inspection.straight-run.source",
	},
	{
		ID:       "elbow-in-port",
		Place:    AtSuction,
		Kind:     YesNo,
		Name:     "inspection.elbow-in-port.name",
		Look:     "inspection.elbow-in-port.look",
		Severity: Act,
		Finding:  "inspection.elbow-in-port.finding",
		Who:      builder,
		Cost:     Middle,
		Source:   common,
	},
	{
		ID:       "clear-run",
		Place:    AtSuction,
		Kind:     YesNo,
		Name:     "inspection.clear-run.name",
		Look:     "inspection.clear-run.look",
		Severity: Note,
		Finding:  "inspection.clear-run.finding",
		Who:      builder,
		Cost:     Middle,
		Source:   common,
	},
	{
		ID:       "supports",
		Place:    AtSuction,
		Kind:     YesNo,
		Name:     "inspection.supports.name",
		Look:     "inspection.supports.look",
		Severity: Act,
		Finding:  "inspection.supports.finding",
		Who:      technician,
		Cost:     Small,
		Source:   common,
	},
	{
		ID:       "flexible",
		Place:    AtSuction,
		Kind:     YesNo,
		Name:     "inspection.flexible.name",
		Look:     "inspection.flexible.look",
		Severity: Act,
		Finding:  "inspection.flexible.finding",
		Who:      builder,
		Cost:     Middle,
		Source:   common,
	},
	{
		ID:       "sweeps",
		Place:    AtSuction,
		Kind:     YesNo,
		Name:     "inspection.sweeps.name",
		Look:     "inspection.sweeps.look",
		Severity: Note,
		Finding:  "inspection.sweeps.finding",
		Who:      builder,
		Cost:     Middle,
		Source:   "inspection.sweeps.source",
	},
	{
		ID:       "threads",
		Place:    AtPump,
		Kind:     YesNo,
		Name:     "inspection.threads.name",
		Look:     "inspection.threads.look",
		Severity: Act,
		Finding:  "inspection.threads.finding",
		Who:      technician,
		Cost:     Small,
		Source:   common,
	},
	{
		ID:       "room",
		Place:    AtPump,
		Kind:     YesNo,
		Name:     "inspection.room.name",
		Look:     "inspection.room.look",
		Severity: Act,
		Finding:  "inspection.room.finding",
		Who:      builder,
		Cost:     Middle,
		Source:   common,
	},
	{
		ID:       "gauge-there",
		Place:    AtFilter,
		Kind:     YesNo,
		Name:     "inspection.gauge-there.name",
		Look:     "inspection.gauge-there.look",
		Severity: Act,
		Finding:  "inspection.gauge-there.finding",
		Who:      technician,
		Cost:     Small,
		Source:   common,
	},
	{
		ID:       "gauge-rest",
		Place:    AtFilter,
		Kind:     Measure,
		Name:     "inspection.gauge-rest.name",
		Look:     "inspection.gauge-rest.look",
		Unit:     "psi",
		Low:      -5,
		Top:      60,
		Severity: Act,
		Who:      technician,
		Cost:     Small,
		Source:   "inspection.gauge-rest.source",
	},
	{
		ID:       "gauge-dirty",
		Place:    AtFilter,
		Kind:     Measure,
		Name:     "inspection.gauge-dirty.name",
		Look:     "inspection.gauge-dirty.look",
		Unit:     "psi",
		Low:      0,
		Top:      80,
		Severity: Stop,
		Who:      technician,
		Cost:     Small,
		Source:   "inspection.gauge-dirty.source",
	},
	{
		ID:       "label",
		Place:    AtFilter,
		Kind:     Measure,
		Name:     "inspection.label.name",
		Look:     "inspection.label.look",
		Unit:     "psi",
		Low:      10,
		Top:      150,
		Severity: Note,
		Who:      technician,
		Cost:     Small,
		Source:   "inspection.label.source",
	},
	{
		ID:       "waste-line",
		Place:    AtFilter,
		Kind:     YesNo,
		Name:     "inspection.waste-line.name",
		Look:     "inspection.waste-line.look",
		Severity: Act,
		Finding:  "inspection.waste-line.finding",
		Who:      technician,
		Cost:     Middle,
		Source:   "inspection.waste-line.source",
		on:       wastes,
	},
	{
		ID:       "valves",
		Place:    AtFilter,
		Kind:     YesNo,
		Name:     "inspection.valves.name",
		Look:     "inspection.valves.look",
		Severity: Note,
		Finding:  "inspection.valves.finding",
		Who:      technician,
		Cost:     Small,
		Source:   common,
		on:       valved,
	},
	{
		ID:       "switch-before",
		Place:    AtDevices,
		Kind:     Measure,
		Name:     "inspection.switch-before.name",
		Look:     "inspection.switch-before.look",
		Unit:     "in",
		Low:      0,
		Top:      120,
		Severity: Act,
		Who:      technician,
		Cost:     Middle,
		Source:   "inspection.switch-before.source",
		Speaks:   fault.CellNoFlow,
		on:       withCell,
	},
	{
		ID:       "switch-after",
		Place:    AtDevices,
		Kind:     Measure,
		Name:     "inspection.switch-after.name",
		Look:     "inspection.switch-after.look",
		Unit:     "in",
		Low:      0,
		Top:      120,
		Severity: Act,
		Who:      technician,
		Cost:     Middle,
		Source:   "inspection.switch-after.source",
		Speaks:   fault.CellNoFlow,
		on:       withCell,
	},
	{
		ID:       "switch-arrow",
		Place:    AtDevices,
		Kind:     YesNo,
		Name:     "inspection.switch-arrow.name",
		Look:     "inspection.switch-arrow.look",
		Severity: Act,
		Finding:  "inspection.switch-arrow.finding",
		Who:      technician,
		Cost:     Small,
		Source:   common,
		Speaks:   fault.CellNoFlow,
		on:       withCell,
	},
	{
		ID:       "switch-both-ways",
		Place:    AtDevices,
		Kind:     YesNo,
		Name:     "inspection.switch-both-ways.name",
		Look:     "inspection.switch-both-ways.look",
		Severity: Act,
		Finding:  "inspection.switch-both-ways.finding",
		Who:      technician,
		Cost:     Small,
		Source:   common,
		Speaks:   fault.CellSwitch,
		on:       withCell,
	},
	{
		ID:       "heater-elbows",
		Place:    AtDevices,
		Kind:     YesNo,
		Name:     "inspection.heater-elbows.name",
		Look:     "inspection.heater-elbows.look",
		Severity: Act,
		Finding:  "inspection.heater-elbows.finding",
		Who:      technician,
		Cost:     Middle,
		Source:   common,
		on:       withHeater,
	},
	{
		ID:       "check-valve",
		Place:    AtDevices,
		Kind:     YesNo,
		Name:     "inspection.check-valve.name",
		Look:     "inspection.check-valve.look",
		Severity: Act,
		Finding:  "inspection.check-valve.finding",
		Who:      technician,
		Cost:     Middle,
		Source:   common,
		on:       withBoth,
	},
	{
		ID:       "bypass-shut",
		Place:    AtDevices,
		Kind:     YesNo,
		Name:     "inspection.bypass-shut.name",
		Look:     "inspection.bypass-shut.look",
		Severity: Act,
		Finding:  "inspection.bypass-shut.finding",
		Who:      technician,
		Cost:     Small,
		Source:   common,
		Speaks:   fault.HeaterLowFlow,
		on:       withBypass,
	},
	{
		ID:       "anode",
		Place:    AtPower,
		Kind:     YesNo,
		Name:     "inspection.anode.name",
		Look:     "inspection.anode.look",
		Severity: Act,
		Finding:  "inspection.anode.finding",
		Who:      electrician,
		Cost:     Small,
		Source:   common,
		on:       salty,
	},
	{
		ID:       "anode-year",
		Place:    AtPower,
		Kind:     Measure,
		Name:     "inspection.anode-year.name",
		Look:     "inspection.anode-year.look",
		Unit:     "year",
		Low:      1990,
		Top:      2060,
		Severity: Act,
		Who:      electrician,
		Cost:     Small,
		Source:   "inspection.anode-year.source",
		on:       salty,
	},
	{
		ID:       "bonding",
		Place:    AtPower,
		Kind:     YesNo,
		Name:     "inspection.bonding.name",
		Look:     "inspection.bonding.look",
		Severity: Soon,
		Finding:  "inspection.bonding.finding",
		Who:      electrician,
		Cost:     Middle,
		Source:   "inspection.bonding.source",
	},
	{
		ID:       "rcd",
		Place:    AtPower,
		Kind:     YesNo,
		Name:     "inspection.rcd.name",
		Look:     "inspection.rcd.look",
		Severity: Stop,
		Finding:  "inspection.rcd.finding",
		Who:      electrician,
		Cost:     Middle,
		Source:   "inspection.rcd.source",
	},
	{
		ID:       "media-rate",
		Place:    Sizing,
		Kind:     Computed,
		Name:     "inspection.media-rate.name",
		Look:     "inspection.media-rate.look",
		Severity: Act,
		Who:      technician,
		Cost:     Large,
		Source:   "inspection.media-rate.source",
	},
	{
		ID:       "pump-match",
		Place:    Sizing,
		Kind:     Computed,
		Name:     "inspection.pump-match.name",
		Look:     "inspection.pump-match.look",
		Severity: Note,
		Who:      technician,
		Cost:     Small,
		Source:   "inspection.pump-match.source",
	},
	{
		ID:       "backwash-lift",
		Place:    Sizing,
		Kind:     Computed,
		Name:     "inspection.backwash-lift.name",
		Look:     "inspection.backwash-lift.look",
		Severity: Act,
		Who:      builder,
		Cost:     Large,
		Source:   "inspection.backwash-lift.source",
		on:       func(d *pad.Document) bool { return d.Filter.Kind == pad.Sand && d.Filter.Valve != pad.NoValve },
	},
	{
		ID:       "velocity",
		Place:    Sizing,
		Kind:     Computed,
		Name:     "inspection.velocity.name",
		Look:     "inspection.velocity.look",
		Severity: Note,
		Who:      builder,
		Cost:     Large,
		Source:   "inspection.velocity.source",
	},
	{
		ID:       "cover-flow",
		Place:    Sizing,
		Kind:     Computed,
		Name:     "inspection.cover-flow.name",
		Look:     "inspection.cover-flow.look",
		Severity: Stop,
		Who:      builder,
		Cost:     Large,
		Source:   "inspection.cover-flow.source",
	},
	{
		ID:       "cover-rating",
		Place:    Sizing,
		Kind:     Computed,
		Name:     "inspection.cover-rating.name",
		Look:     "inspection.cover-rating.look",
		Severity: Act,
		Who:      technician,
		Cost:     Small,
		Source:   "inspection.cover-rating.source",
	},
	{
		ID:       "heater-flow",
		Place:    Sizing,
		Kind:     Computed,
		Name:     "inspection.heater-flow.name",
		Look:     "inspection.heater-flow.look",
		Severity: Note,
		Who:      technician,
		Cost:     Small,
		Source:   "inspection.heater-flow.source",
		on:       withHeater,
	},
	{
		ID:       "part-age",
		Place:    Sizing,
		Kind:     Computed,
		Name:     "inspection.part-age.name",
		Look:     "inspection.part-age.look",
		Severity: Note,
		Who:      technician,
		Cost:     Middle,
		Source:   "inspection.part-age.source",
	},
}

// On lists the items of a pad, in the order of the walk, as the schools look at them.
func On(d *pad.Document, s Schools) []Item {
	var out []Item
	for _, i := range Items {
		if i.on != nil && !i.on(d) {
			continue
		}
		if i.ID == "switch-before" && s.CellClear {
			i.Look = "inspection.from-the-switch-back-to"
		}
		out = append(out, i)
	}
	return out
}

// Speaks is which chronic findings of the diagnosis an inspection speaks for, in its
// words.
func Speaks(fs []Finding) map[fault.ID]words.Message {
	out := map[fault.ID]words.Message{}
	for _, f := range fs {
		if i := lookUp(f.Item); i != nil && i.Speaks != "" && out[i.Speaks] == "" {
			out[i.Speaks] = f.Text
		}
	}
	return out
}

// Name is what an item is called; empty where there is none.
func Name(id ItemID) words.Message {
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
