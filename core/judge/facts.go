package judge

import (
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/words"
)

// PadFacts is what the bench needs of the pad.
type PadFacts struct {
	Described    bool          `json:"described" doc:"false: nobody has described this pad, and no page says anything of it"`
	PumpModel    string        `json:"pumpModel"`
	SingleSpeed  bool          `json:"singleSpeed"`
	TopRPM       float64       `json:"topRpm"`
	UsualRPM     float64       `json:"usualRpm" doc:"fastest speed of the programme, where the gauges tell most"`
	HasVacuum    bool          `json:"hasVacuum"`
	HasFlow      bool          `json:"hasFlow"`
	HasPower     bool          `json:"hasPower"`
	FilterKind   string        `json:"filterKind" enum:"sand,cartridge,de"`
	Multiport    bool          `json:"multiport"`
	SpaMode      bool          `json:"spaMode" doc:"suction and return can both lead to the spa"`
	SuctionWords string        `json:"suctionWords"`
	KGalPerDay   float64       `json:"kgalPerDay"`
	CleaningName words.Message `json:"cleaningName"`
	Limit        words.Message `json:"limit" doc:"which rule makes this pad's filter dirty, and what that means in water"`
}

// FactsOf tells of a calibrated pad what the bench shows.
func FactsOf(c *Calibrated) PadFacts {
	d := &c.Model.Doc
	usual := 0.0
	for _, s := range d.Programme {
		usual = max(usual, s.RPM)
	}
	if usual == 0 {
		usual = d.Pump.TopRPM
	}
	lines := ""
	for i, l := range d.Suction {
		if i > 0 {
			lines += " · "
		}
		lines += l.Name
	}
	name, _ := fault.Cleaning(d.Filter.Kind)
	_, spa := d.SpaMode()
	limit := words.Message("")
	if d.Presumed {
		name, _ = fault.Cleaning(pad.Unknown)
	} else {
		limit = limitWords(c.Model)
	}
	return PadFacts{
		Described:   !d.Presumed,
		PumpModel:   d.Pump.Model,
		SingleSpeed: d.Pump.Kind == pad.SingleSpeed,
		TopRPM:      d.Pump.TopRPM,
		UsualRPM:    usual,
		HasVacuum: d.Meters.HasVacuum &&
			d.VacuumTap != pad.NoTap,
		HasFlow:      d.Meters.HasFlow,
		HasPower:     d.Meters.HasPower,
		FilterKind:   string(d.Filter.Kind),
		Multiport:    d.Filter.Valve == pad.Multiport,
		SpaMode:      spa,
		SuctionWords: lines,
		KGalPerDay:   c.KGalPerDay,
		CleaningName: name,
		Limit:        limit,
	}
}

// limitWords say which rule makes a pad's filter dirty, and what that means in water.
func limitWords(m *plumbing.Model) words.Message {
	r := m.Ruling
	var text words.Message
	switch r.Rule {
	case plumbing.RuleRise:
		text = words.Of("app.over-the-clean-line-at", "limitRise", words.QD("psi", m.LimitRise.PSI(), 0))
	case plumbing.RulePump:
		text = words.Of("app.seven-tenths-of-what-this", "limitRise", words.QD("psi", m.LimitRise.PSI(), 0))
	case plumbing.RuleCeiling:
		text = words.Of(
			"app.in-the-tank-at-the",
			"serviceCeiling",
			words.QD("psi", plumbing.ServiceCeiling.PSI(), 0),
			"speed",
			words.QD("rpm", float64(r.Speed), 0),
		)
	case plumbing.RuleLabel:
		text = words.Of("app.the-tank-s-own-limit", "speed", words.QD("rpm", float64(r.Speed), 0))
	case plumbing.RuleFlowLoss:
		text = words.Of(
			"app.of-the-flow-gone-at",
			"clean",
			words.Share((1 - float64(r.Left/r.Clean))),
			"speed",
			words.QD("rpm", float64(r.Speed), 0),
		)
	case plumbing.RuleDevice:
		text = words.Of(
			"app.the-s-least-flow-at",
			"device",
			words.Msg(r.Device),
			"speed",
			words.QD("rpm", float64(r.Speed), 0),
		)
	default:
		return ""
	}
	if r.Daily > 0 {
		text = words.Join(
			words.Semicolon,
			text,
			words.Of(
				"app.of-left-at",
				"left",
				words.QD("gpm", r.Left.GPM(), 0),
				"clean",
				words.QD("gpm", r.Clean.GPM(), 0),
				"daily",
				words.QD("rpm", float64(r.Daily), 0),
			),
		)
	}
	return words.Of("app.limit-here", "limit", words.Msg(text))
}
