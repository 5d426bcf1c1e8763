package pad

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"fairlap/core/units"
	"fairlap/core/words"
)

// ValveK is the loss coefficient of a diverter or ball valve by opening: near
// nothing when open, about 12 at half, steep below (shape common practice).
func ValveK(opening float64) float64 {
	x := (1 - opening) / opening
	return 0.3 + 12*x*x
}

// PortOpening gives how far a diverter's port stands open at a handle angle: the
// closed mark pointing at a port shuts it, a quarter turn away it is open.
func PortOpening(port byte, angle float64) float64 {
	if port == 'b' {
		angle = 180 - angle
	}
	return min(1, max(0, angle/90))
}

// Operation is how the pad is being run.
type Operation struct {
	Speed   units.Speed
	Setting Setting // "" means filter
	Handles Handles // those that stand elsewhere than the document says
}

// Setting is where the filter valve's handle stands.
type Setting string

// The settings of a multiport; a slide valve has the first two, and a filter
// without a valve only the first.
const (
	SetFilter      Setting = "filter"
	SetBackwash    Setting = "backwash"
	SetRinse       Setting = "rinse"
	SetWaste       Setting = "waste"
	SetRecirculate Setting = "recirculate"
	SetClosed      Setting = "closed"
	SetWinter      Setting = "winter"
)

// Port is one of the five ports of a filter valve.
type Port byte

const (
	PortPump   Port = 'P'
	PortReturn Port = 'R'
	PortWaste  Port = 'W'
	PortTop    Port = 'T' // of the media
	PortBottom Port = 'B' // laterals or collector
)

// settingFact is which ports a setting joins, and whether the pump may run.
type settingFact struct {
	Joins    [][2]Port
	PartOpen bool
	mayRun   bool
	path     words.Message
}

// SettingFacts is the handbook's table of the five ports.
var SettingFacts = map[Setting]settingFact{
	SetFilter: {
		Joins:  [][2]Port{{PortPump, PortTop}, {PortBottom, PortReturn}},
		mayRun: true,
		path:   "pad.pump-top-bottom-return",
	},
	SetBackwash: {
		Joins:  [][2]Port{{PortPump, PortBottom}, {PortTop, PortWaste}},
		mayRun: true,
		path:   "pad.pump-bottom-top-waste",
	},
	SetRinse: {
		Joins:  [][2]Port{{PortPump, PortTop}, {PortBottom, PortWaste}},
		mayRun: true,
		path:   "pad.pump-top-bottom-waste",
	},
	SetWaste:       {Joins: [][2]Port{{PortPump, PortWaste}}, mayRun: true, path: "pad.pump-waste-past-the-media"},
	SetRecirculate: {Joins: [][2]Port{{PortPump, PortReturn}}, mayRun: true, path: "pad.pump-return-past-the-media"},
	SetClosed:      {path: "pad.nothing"},
	SetWinter: {
		Joins:    [][2]Port{{PortPump, PortTop}, {PortPump, PortBottom}, {PortPump, PortReturn}, {PortPump, PortWaste}},
		PartOpen: true,
		path:     "pad.all-ports-part-open-to",
	},
}

func (f settingFact) Ports() string {
	var out strings.Builder
	for _, j := range f.Joins {
		out.WriteByte(byte(j[0]))
		out.WriteByte(byte(j[1]))
	}
	return out.String()
}

// settings lists them in the order of a multiport's plate.
var settings = []Setting{SetFilter, SetBackwash, SetRinse, SetWaste, SetRecirculate, SetClosed, SetWinter}

// Settings lists what this pad's filter valve can be set to.
func (d *Document) Settings() []Setting {
	switch d.Filter.Valve {
	case Multiport:
		return slices.Clone(settings)
	case SlideValve:
		return []Setting{SetFilter, SetBackwash}
	default:
		return []Setting{SetFilter}
	}
}

// MayRun tells whether the pump may run in a setting.
func (s Setting) MayRun() bool { return SettingFacts[s].mayRun }

// Words name a setting as its plate does.
func (s Setting) Words() words.Message { return words.Message("pad.setting." + string(s)) }

// Path says where a setting sends the water.
func (s Setting) Path() words.Message { return SettingFacts[s].path }

// HeaterBypass is what Operation.Handles calls the heater's bypass valve.
const HeaterBypass = "heater-bypass"

// Handles are valve positions by id that differ from the document's: degrees for
// a three-way valve, 0 to 1 for the valve of a line or the heater's bypass.
type Handles map[string]float64

// Check says which handle does not belong to the pad or can't stand so.
func (h Handles) Check(d *Document) error {
	for id, v := range h {
		most := 1.0
		if d.valve(id) != nil {
			most = 180
		} else if !d.hasPlainHandle(id) {
			return &FieldError{"handles." + id,
				words.Of("pad.this-pad-has-no-valve", "id", words.Name(id), "handleNames",
					words.Name(strings.Join(d.handleNames(), ", ")))}
		}
		if !(v >= 0 && v <= most) {
			return &FieldError{"handles." + id, words.Of("pad.must-be-between-0-and", "most", words.N(most))}
		}
	}
	return nil
}

func (d *Document) hasPlainHandle(id string) bool {
	if id == HeaterBypass {
		return d.HeaterBypass != nil
	}
	is := func(l Line) bool { return l.ID == id }
	return slices.ContainsFunc(d.Suction, is) || slices.ContainsFunc(d.Returns, is)
}

func (d *Document) handleNames() []string {
	var out []string
	for _, v := range d.Valves {
		out = append(out, v.ID)
	}
	for _, l := range slices.Concat(d.Suction, d.Returns) {
		out = append(out, l.ID)
	}
	if d.HeaterBypass != nil {
		out = append(out, HeaterBypass)
	}
	return out
}

// SetByWords applies one "valve=position" to an operation, as typed on a command
// line: multiport=backwash, suction-valve=90, skimmer=0.5, skimmer=shut. A
// three-way valve also takes a body of water: suction-valve=spa opens the port
// that leads there and shuts the other.
func (d *Document) SetByWords(op *Operation, text string) error {
	id, pos, ok := strings.Cut(text, "=")
	if !ok {
		return &FieldError{text, "pad.write-it-as-valve-position"}
	}
	if id == "multiport" || id == "filter-valve" {
		if !slices.Contains(d.Settings(), Setting(pos)) {
			return &FieldError{
				id,
				words.Of(
					"pad.this-filter-can-t-be",
					"pos",
					words.Name(pos),
					"settings",
					words.Name(fmt.Sprint(d.Settings())),
				),
			}
		}
		op.Setting = Setting(pos)
		return nil
	}
	v, err := strconv.ParseFloat(pos, 64)
	switch {
	case err == nil:
	case pos == "open":
		v = 1
	case pos == "shut":
		v = 0
	case d.valve(id) != nil && (pos == string(PoolBody) || pos == string(SpaBody)):
		angle, found := d.angleTo(id, pos == string(SpaBody))
		if !found {
			return &FieldError{
				id,
				words.Of("pad.neither-port-of-leads-only", "id", words.Name(id), "pos", words.Name(pos)),
			}
		}
		v = angle
	default:
		return &FieldError{id, words.Of("pad.is-not-a-position-give", "pos", words.Name(pos))}
	}
	if op.Handles == nil {
		op.Handles = Handles{}
	}
	op.Handles[id] = v
	return op.Handles.Check(d)
}

// angleTo is the handle angle that shuts the port not leading to the spa (or to
// the pool); false when the ports do not part the two.
func (d *Document) angleTo(id string, spa bool) (float64, bool) {
	a, b := d.leadsTo(id+":a"), d.leadsTo(id+":b")
	switch {
	case a == map[bool]string{true: "spa", false: "pool"}[spa] && b != a:
		return 180, true
	case b == map[bool]string{true: "spa", false: "pool"}[spa] && a != b:
		return 0, true
	}
	return 0, false
}

// leadsTo says which water hangs on a port: "pool", "spa" or "both".
func (d *Document) leadsTo(on string) string {
	pool, spa := false, false
	for _, l := range slices.Concat(d.Suction, d.Returns) {
		if l.On == on {
			if l.OfSpa() {
				spa = true
			} else {
				pool = true
			}
		}
	}
	for _, v := range d.Valves {
		if v.On == on {
			for _, p := range []string{":a", ":b"} {
				switch d.leadsTo(v.ID + p) {
				case "pool":
					pool = true
				case "spa":
					spa = true
				default:
					pool, spa = true, true
				}
			}
		}
	}
	switch {
	case pool && spa:
		return "both"
	case spa:
		return "spa"
	}
	return "pool"
}

// Turned is a three-way valve with the angle that leads it to one water alone.
type Turned struct {
	Valve string
	Angle float64
}

// Dividers finds, for each side, the valve that parts pool and spa.
func (d *Document) Dividers() map[Side]map[Body]Turned {
	out := map[Side]map[Body]Turned{}
	for _, v := range d.Valves {
		toPool, ok := d.angleTo(v.ID, false)
		toSpa, also := d.angleTo(v.ID, true)
		if ok && also {
			out[v.Side] = map[Body]Turned{PoolBody: {v.ID, toPool}, SpaBody: {v.ID, toSpa}}
		}
	}
	return out
}

// SpaMode are the handles of a pad whose suction and return both lead to the
// spa; false when its valves do not part pool and spa on both sides.
func (d *Document) SpaMode() (Handles, bool) {
	div := d.Dividers()
	s, ok := div[SuctionSide][SpaBody]
	r, also := div[ReturnSide][SpaBody]
	if !ok || !also {
		return nil, false
	}
	return Handles{s.Valve: s.Angle, r.Valve: r.Angle}, true
}
