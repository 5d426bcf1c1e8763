package pad

import (
	"fmt"
	"strings"
)

// OwnerHandle is a valve or a button of a pad in the words of an owner's sheet: what it
// does, how it usually stands, and whether an owner may touch it.
type OwnerHandle struct {
	Name, Does, Usual string
	LeaveAlone        bool
}

// settingWords say what each setting of a filter valve is for (handbook, pads).
var settingWords = map[Setting]string{
	SetFilter: "every day: through the media to the pool", SetBackwash: "cleans the media; the water goes to waste", SetRinse: "settles the bed after a backwash; to waste",
	SetWaste: "lowers the level, past the media", SetRecirculate: "moves the water without filtering it", SetClosed: "never with the pump on", SetWinter: "for frost only, never with the pump on",
}

// lineWords say what each kind of line is for.
var lineWords = map[LineKind]string{
	Skimmer: "draws from the surface: most of the pull belongs here", Drain: "draws from the floor: throttled, never shut", VacuumPort: "for the vacuum hose; its cover stays shut",
	SpaDrain: "draws from the spa", Return: "sends filtered water back", SpaJets: "feeds the spa's jets", InFloor: "turns the cleaning heads", Feature: "feeds the water feature",
}

// Handles tell what every handle of this pad does. Whatever can start the pump on
// closed, drain a spa or turn under flow is left to the technician.
func (d *Document) OwnerHandles() []OwnerHandle {
	var out []OwnerHandle
	if d.Filter.Valve != NoValve {
		var words []string
		for _, s := range d.Settings() {
			words = append(words, strings.ToUpper(string(s[:1]))+string(s[1:])+": "+settingWords[s])
		}
		out = append(out, OwnerHandle{"Filter valve", strings.Join(words, ". ") + ".", "Filter", true})
	}
	for _, v := range d.Valves {
		out = append(out, OwnerHandle{v.Name, d.shares(v), d.standsNow(v), false})
	}
	if d.HeaterBypass != nil {
		out = append(out, OwnerHandle{"Heater bypass", "Lets water round the heater. Open while heating, the heater overheats.", stands(d.HeaterBypass.Opening), true})
	}
	for _, side := range [][]Line{d.Suction, d.Returns} {
		for _, l := range side {
			out = append(out, OwnerHandle{l.Name, strings.ToUpper(lineWords[l.Kind][:1]) + lineWords[l.Kind][1:] + ".", stands(l.Opening), l.Kind == Drain || l.Kind == SpaDrain || l.Kind == VacuumPort})
		}
	}
	return out
}

func stands(opening float64) string {
	switch {
	case opening >= 0.98:
		return "open"
	case opening <= 0.02:
		return "shut"
	}
	return fmt.Sprintf("%.0f %% open", 100*opening)
}

// shares says what hangs on a three-way valve's two ports.
func (d *Document) shares(v Diverter) string {
	at := func(port string) string {
		var names []string
		for _, side := range [][]Line{d.Suction, d.Returns} {
			for _, l := range side {
				if l.On == v.ID+":"+port {
					names = append(names, l.Name)
				}
			}
		}
		for _, o := range d.Valves {
			if o.On == v.ID+":"+port {
				names = append(names, o.Name)
			}
		}
		return strings.Join(names, ", ")
	}
	return fmt.Sprintf("Chooses between %s and %s. The closed mark on its handle points at the one that is shut; in between both share.", at("a"), at("b"))
}

// standsNow says which port is shut.
func (d *Document) standsNow(v Diverter) string {
	switch {
	case v.AngleDeg <= 20:
		return "mark at its first port"
	case v.AngleDeg >= 160:
		return "mark at its second port"
	}
	return "both open"
}

// SpaWords are what an owner does about a spa that spills or is found empty (handbook,
// pads); nil without a spa.
func (d *Document) SpaWords() []string {
	if d.Spa == nil {
		return nil
	}
	out := []string{
		"The spa spills or overfills while the pump runs: the water is drawn from the pool and all of it goes to the spa. Set suction and return both to the pool.",
		"The spa is found low or empty: the water was drawn from the spa and sent to the pool. Turn the pump off at once, set both handles to the pool, call us; the pump must not run dry.",
		"Somebody pressed the spa button again and again: each press goes one step on, pool, spa, fill, drain. Press on until it says pool.",
		"Do not leave it on spa for days: the pool stands still meanwhile and turns dull.",
	}
	for _, l := range d.Returns {
		if l.Kind == InFloor {
			return append(out, "With cleaning heads in the floor it spills over about every fifth cycle: that is normal.")
		}
	}
	return out
}
