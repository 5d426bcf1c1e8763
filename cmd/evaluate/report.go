package main

import (
	"fmt"
	"strings"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/internal/evaluation"
)

func share(n, of int) string {
	if of == 0 {
		return "–"
	}
	return fmt.Sprintf("%.1f %%", 100*float64(n)/float64(of))
}

// tables is what was found, as Markdown.
func tables(mixes []mixResult) string {
	var out strings.Builder
	fmt.Fprintf(&out, "Engine version %s.\n", diagnosis.EngineVersion)
	if len(mixes) == 4 {
		asked(&out, mixes)
	}
	for _, m := range mixes {
		fmt.Fprintf(&out, "\n### %d stops: %s\n\n", m.Stops, m.Mix)
		if m.Mix == evaluation.Pairs {
			fmt.Fprintf(
				&out,
				"All meters, two speeds, signs as they fell: both in the first three rows at %d.\n",
				m.Both,
			)
			continue
		}
		out.WriteString(
			"| Who | Meters | Speeds | Signs | First | In three | The same to the water: first | Gauges show it: first | In three | Brier | Calibration error |\n|---|---|--:|---|--:|--:|--:|--:|--:|--:|--:|\n",
		)
		for _, x := range m.Rows {
			odds := "– | –"
			if x.Odds {
				odds = fmt.Sprintf("%.3f | %.3f", x.Brier, x.Calibration)
			}
			fmt.Fprintf(
				&out,
				"| %s | %s | %d | %s | %s | %s | %s | %s | %s | %s |\n",
				x.Judge,
				x.Meters,
				x.Speeds,
				x.Looks,
				share(
					x.First,
					x.Settled,
				),
				share(x.Three, x.Settled),
				share(x.Water.First, x.Water.Settled),
				share(x.Shown.First, x.Shown.Settled),
				share(x.Shown.Three, x.Shown.Settled),
				odds,
			)
		}
		fmt.Fprintf(
			&out,
			"\nGauges show %d of them. An honest meter is called odd at %d.\n\n| Minutes to the true cause, at the %d stops that have one | Meters | Mean |\n|---|---|--:|\n",
			m.Rows[0].Shown.Settled,
			m.Accused,
			m.ill,
		)
		for _, x := range m.Minutes {
			fmt.Fprintf(&out, "| %s | %s | %.1f |\n", x.Who, x.Meters, x.Mean)
		}
	}
	return out.String()
}

// asked is the table of what must be reached, with what was.
func asked(out *strings.Builder, mixes []mixResult) {
	by := map[evaluation.Mix]*mixResult{}
	for i := range mixes {
		by[mixes[i].Mix] = &mixes[i]
	}
	even, thirteen, route, pairs := by[evaluation.Evenly], by[evaluation.Thirteen], by[evaluation.ByRoute],
		by[evaluation.Pairs]
	firsts := func(m *mixResult, meters evaluation.Meters, speeds int, looks string) string {
		r := m.find(ours, meters, speeds, looks)
		return share(r.First, r.Settled) + " / " + share(r.Three, r.Settled)
	}
	signs := even.find(ours, evaluation.AllMeters, 2, asTheyFell)
	one := func(id fault.ID) string {
		for _, f := range signs.Faults {
			if f.Fault == id {
				return share(f.First, f.Times)
			}
		}
		return "–"
	}
	out.WriteString("\n| What is asked | To reach | Every acute fault | Thirteen |\n|---|---|--:|--:|\n")
	for _, x := range []struct {
		text, reach string
		meters      evaluation.Meters
		speeds      int
		looks       string
	}{
		{"all meters and signs, two speeds: first / in three", "87 / 98 %", evaluation.AllMeters, 2, asTheyFell},
		{"all meters and signs, one speed", "", evaluation.AllMeters, 1, asTheyFell},
		{"gauge and signs, one speed", "79 / 93 %", evaluation.GaugeAndSpeed, 1, asTheyFell},
		{"all meters, no signs, two speeds", "70 / 96 %", evaluation.AllMeters, 2, noLooks},
	} {
		fmt.Fprintf(
			out,
			"| %s | %s | %s | %s |\n",
			x.text,
			x.reach,
			firsts(even, x.meters, x.speeds, x.looks),
			firsts(thirteen, x.meters, x.speeds, x.looks),
		)
	}
	fmt.Fprintf(
		out,
		"| calibration error, all meters and signs, two speeds | 0.04 | %.3f | %.3f |\n",
		signs.Calibration,
		thirteen.find(ours, evaluation.AllMeters, 2, asTheyFell).Calibration,
	)
	fmt.Fprintf(
		out,
		"| impeller worn, clogged, filter loaded: first | 85 %% each | %s, %s, %s | |\n",
		one(fault.ImpellerWorn),
		one(fault.ImpellerClogged),
		one(fault.FilterLoaded),
	)
	fmt.Fprintf(out, "| two at once: both in the first three | 70 %% | %s | |\n", share(pairs.Both, pairs.Stops))
	fmt.Fprintf(
		out,
		"| minutes by route frequency, all meters / gauge | under the best rival | %.1f / %.1f; card %.1f, cheapest first %.1f | |\n",
		route.spent(
			ours,
			evaluation.AllMeters,
		),
		route.spent(ours, evaluation.GaugeAndSpeed),
		route.spent(gaugeCard, evaluation.GaugeAndSpeed),
		route.spent(cheapFirst, evaluation.GaugeAndSpeed),
	)
}
