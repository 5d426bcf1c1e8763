package pad

import (
	"fmt"
	"strings"
)

// OwnerHandle is a valve of a pad in the words of an owner's sheet: what it does, how it
// should stand, and why it is left to the technician.
type OwnerHandle struct {
	Name, Does, Usual, Why string
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

// Why each kind of handle is left alone (handbook, safety).
const (
	whyFilter  = "Turned with the pump on it tears its seal, and on closed it can burst."
	whySuction = "One turn empties the spa or starves the pump."
	whyReturn  = "Shut, the pump pushes against a dead end and the pressure rises."
	whySkimmer = "Shutting the skimmer puts all the pull on one drain: a body or hair can be held there."
	whyDrain   = "Its share is set so that nobody is held at its cover."
	whyBypass  = "Open while it heats, the heater overheats."
)

// OwnerHandles tell what every handle of this pad does and how it should stand. None of
// them is an owner's: each can hurt somebody or break something.
func (d *Document) OwnerHandles() []OwnerHandle {
	var out []OwnerHandle
	if d.Filter.Valve != NoValve {
		var words []string
		for _, s := range d.Settings() {
			words = append(words, strings.ToUpper(string(s[:1]))+string(s[1:])+": "+settingWords[s])
		}
		out = append(out, OwnerHandle{"Filter valve", strings.Join(words, ". ") + ".", "Handle at Filter", whyFilter})
	}
	for _, v := range d.Valves {
		why := whyReturn
		if v.Side == SuctionSide {
			why = whySuction
		}
		out = append(out, OwnerHandle{v.Name, d.shares(v), d.standsNow(v), why})
	}
	if d.HeaterBypass != nil {
		out = append(out, OwnerHandle{"Heater bypass", "Lets water round the heater.", stands(d.HeaterBypass.Opening), whyBypass})
	}
	for _, side := range [][]Line{d.Suction, d.Returns} {
		for _, l := range side {
			why := whyReturn
			switch {
			case l.Kind == Skimmer:
				why = whySkimmer
			case lineFacts[l.Kind].suction:
				why = whyDrain
			}
			out = append(out, OwnerHandle{l.Name, strings.ToUpper(lineWords[l.Kind][:1]) + lineWords[l.Kind][1:] + ".", stands(l.Opening), why})
		}
	}
	return out
}

// OwnerMay is what an owner may do at a pad, and nothing else: each with how.
func (d *Document) OwnerMay(singleSpeed bool) [][2]string {
	quiet := "Set the pump to service or time-out on its panel, then switch its breaker off: off alone is not safe, a timer starts it again."
	if singleSpeed {
		quiet = "Switch the pump's timer off, then its breaker: off alone is not safe, a timer starts it again."
	}
	out := [][2]string{{"Empty the skimmer's basket", quiet + " Lift the lid in the deck, empty the basket, put it back. Breaker on, panel back to its schedule or AUTO."}}
	if d.Spa != nil {
		out = append(out, [2]string{"Use the spa", "Press the spa button once and wait until its display says spa. Afterwards press on until it says pool, the same evening: a weekend in spa mode turns the pool dull."})
	}
	if d.Heater != nil {
		out = append(out, [2]string{"Turn the heater off", "At its own switch, and let the pump run for 20 minutes: standing water boils in it. It crackles or knocks: off, pump on, call us."})
	}
	return append(out, [2]string{"Stop the filling", "The pool overfills: shut the auto-fill's own tap, and call us."},
		[2]string{"Turn everything off", "Loud noise, smell, water under the pump, no water at the returns, the needle far over its usual: pump breaker off, and call us."})
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

// portLine is what hangs on a valve's port, short: "spa line", "pool line" or the names.
func (d *Document) portLine(v Diverter, port string) string {
	spa, pool, names := false, false, []string{}
	for _, side := range [][]Line{d.Suction, d.Returns} {
		for _, l := range side {
			if l.On == v.ID+":"+port {
				spa, pool, names = spa || lineFacts[l.Kind].spa, pool || !lineFacts[l.Kind].spa, append(names, l.Name)
			}
		}
	}
	switch {
	case spa && !pool:
		return "spa line"
	case pool && !spa && d.Spa != nil:
		return "pool line"
	case len(names) > 0:
		return strings.Join(names, " and ")
	}
	return "port " + port
}

// Dial is a three-way valve for the eye: its two ways by name, and where its closed mark
// points.
func (d *Document) Dial(v Diverter) (a, b string, angleDeg float64) {
	return d.portLine(v, "a"), d.portLine(v, "b"), v.AngleDeg
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
		return "Mark at the " + d.portLine(v, "a") + ": that way is shut"
	case v.AngleDeg >= 160:
		return "Mark at the " + d.portLine(v, "b") + ": that way is shut"
	}
	return "Mark at neither: both ways share"
}

// SpaWords are what an owner does about a spa that spills or is found empty (handbook,
// pads); nil without a spa.
func (d *Document) SpaWords() []string {
	if d.Spa == nil {
		return nil
	}
	out := []string{
		"The spa spills or overfills while the pump runs: the water is drawn from the pool and all of it goes to the spa. Press the spa button until it says pool; it goes on spilling: pump off, call us.",
		"The spa is found low or empty: the water was drawn from the spa and sent to the pool. Turn the pump off at its breaker at once and call us: it must not run dry, and after a dry run its pot is scalding.",
		"Somebody pressed the spa button again and again: each press goes one step on, pool, spa, fill, drain. Press on until it says pool.",
	}
	for _, l := range d.Returns {
		if l.Kind == InFloor {
			return append(out, "With cleaning heads in the floor it spills over about every fifth cycle: that is normal.")
		}
	}
	return out
}
