package pad

import (
	"fairlap/core/words"
)

// OwnerHandle is a valve of a pad in the words of an owner's sheet: what it does, how it
// should stand, and why it is left to the technician.
type OwnerHandle struct {
	Name, Does, Usual, Why words.Message
}

// settingWords say what each setting of a filter valve is for (handbook, pads).
var settingWords = map[Setting]words.Message{
	SetFilter: "pad.every-day-through-the-media", SetBackwash: "pad.cleans-the-media-the-water", SetRinse: "pad.settles-the-bed-after-a",
	SetWaste: "pad.lowers-the-level-past-the", SetRecirculate: "pad.moves-the-water-without-filtering", SetClosed: "pad.never-with-the-pump-on", SetWinter: "pad.for-frost-only-never-with",
}

// lineWords say what each kind of line is for.
var lineWords = map[LineKind]words.Message{
	Skimmer: "pad.draws-from-the-surface-most", Drain: "pad.draws-from-the-floor-throttled", VacuumPort: "pad.for-the-vacuum-hose-its",
	SpaDrain: "pad.draws-from-the-spa", Return: "pad.sends-filtered-water-back", SpaJets: "pad.feeds-the-spa-s-jets", InFloor: "pad.turns-the-cleaning-heads", Feature: "pad.feeds-the-water-feature",
}

// Why each kind of handle is left alone (handbook, safety).
const (
	whyFilter  words.Message = "pad.turned-with-the-pump-on"
	whySuction words.Message = "pad.one-turn-empties-the-spa"
	whyReturn  words.Message = "pad.shut-the-pump-pushes-against"
	whySkimmer words.Message = "pad.shutting-the-skimmer-puts-all"
	whyDrain   words.Message = "pad.its-share-is-set-so"
	whyBypass  words.Message = "pad.open-while-it-heats-the"
)

// OwnerHandles tell what every handle of this pad does and how it should stand. None of
// them is an owner's: each can hurt somebody or break something.
func (d *Document) OwnerHandles() []OwnerHandle {
	var out []OwnerHandle
	if d.Filter.Valve != NoValve {
		var does []words.Message
		for _, s := range d.Settings() {
			does = append(
				does,
				words.Of("pad.setting-does", "setting", words.Msg(s.Words()), "does", words.Msg(settingWords[s])),
			)
		}
		out = append(
			out,
			OwnerHandle{"pad.filter-valve", words.Join(words.Stop, does...), "pad.handle-at-filter", whyFilter},
		)
	}
	for _, v := range d.Valves {
		why := whyReturn
		if v.Side == SuctionSide {
			why = whySuction
		}
		out = append(out, OwnerHandle{words.Named(v.Name), d.shares(v), d.standsNow(v), why})
	}
	if d.HeaterBypass != nil {
		out = append(
			out,
			OwnerHandle{
				"pad.heater-bypass",
				"pad.lets-water-round-the-heater",
				stands(d.HeaterBypass.Opening),
				whyBypass,
			},
		)
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
			out = append(out, OwnerHandle{words.Named(l.Name), lineWords[l.Kind], stands(l.Opening), why})
		}
	}
	return out
}

// OwnerMay is what an owner may do at a pad, and nothing else: each with how.
func (d *Document) OwnerMay(singleSpeed bool) [][2]words.Message {
	quiet := words.Message("pad.set-the-pump-to-service")
	if singleSpeed {
		quiet = "pad.switch-the-pump-s-timer"
	}
	out := [][2]words.Message{
		{"pad.empty-the-skimmer-s-basket", words.Join(words.Stop, quiet, "pad.lift-the-lid-in-the")},
	}
	if d.Spa != nil {
		out = append(out, [2]words.Message{"pad.use-the-spa", "pad.press-the-spa-button-once"})
	}
	if d.Heater != nil {
		out = append(out, [2]words.Message{"pad.turn-the-heater-off", "pad.at-its-own-switch-and"})
	}
	return append(out, [2]words.Message{"pad.stop-the-filling", "pad.the-pool-overfills-shut-the"},
		[2]words.Message{"pad.turn-everything-off", "pad.loud-noise-smell-water-under"})
}

func stands(opening float64) words.Message {
	switch {
	case opening >= 0.98:
		return "pad.open-2"
	case opening <= 0.02:
		return "pad.shut"
	}
	return words.Of("pad.open", "opening", words.Share(opening))
}

// portLine is what hangs on a valve's port, short: "spa line", "pool line" or the names.
func (d *Document) portLine(v Diverter, port string) words.Message {
	spa, pool, names := false, false, []string{}
	for _, side := range [][]Line{d.Suction, d.Returns} {
		for _, l := range side {
			if l.On == v.ID+":"+port {
				spa, pool, names = spa || l.OfSpa(), pool || !l.OfSpa(), append(names, l.Name)
			}
		}
	}
	switch {
	case spa && !pool:
		return "pad.spa-line"
	case pool && !spa && d.Spa != nil:
		return "pad.pool-line"
	case len(names) > 0:
		return words.Join(words.And, named(names)...)
	}
	return words.Of("pad.port", "port", words.Name(port))
}

// Dial is a three-way valve for the eye: its two ways by name, and where its closed mark
// points.
func (d *Document) Dial(v Diverter) (a, b words.Message, angleDeg float64) {
	return d.portLine(v, "a"), d.portLine(v, "b"), v.AngleDeg
}

// shares says what hangs on a three-way valve's two ports.
func (d *Document) shares(v Diverter) words.Message {
	at := func(port string) words.Message {
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
		return words.Join(words.Comma, named(names)...)
	}
	return words.Of("pad.chooses-between-and-the-closed", "at", words.Msg(at("a")), "at2", words.Msg(at("b")))
}

// standsNow says which port is shut.
func (d *Document) standsNow(v Diverter) words.Message {
	switch {
	case v.AngleDeg <= 20:
		return words.Of("pad.mark-at", "port", words.Msg(d.portLine(v, "a")))
	case v.AngleDeg >= 160:
		return words.Of("pad.mark-at", "port", words.Msg(d.portLine(v, "b")))
	}
	return "pad.mark-at-neither-both-ways"
}

// SpaWords are what an owner does about a spa that spills or is found empty (handbook,
// pads); nil without a spa.
func (d *Document) SpaWords() []words.Message {
	if d.Spa == nil {
		return nil
	}
	out := []words.Message{
		"pad.the-spa-spills-or-overfills",
		"pad.the-spa-is-found-low",
		"pad.somebody-pressed-the-spa-button",
	}
	for _, l := range d.Returns {
		if l.Kind == InFloor {
			return append(out, "pad.with-cleaning-heads-in-the")
		}
	}
	return out
}

// named are names as messages.
func named(names []string) []words.Message {
	out := make([]words.Message, len(names))
	for i, n := range names {
		out[i] = words.Named(n)
	}
	return out
}
