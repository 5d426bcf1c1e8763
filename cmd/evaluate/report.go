package main

import (
	"fmt"
	"strings"

	"fairlap/core/diagnosis"
)

func share(n, of int) string {
	if of == 0 {
		return "–"
	}
	return fmt.Sprintf("%.1f %%", 100*float64(n)/float64(of))
}

// tables is what was found, as Markdown.
func tables(stops int, mixes []mixResult) string {
	var out strings.Builder
	fmt.Fprintf(&out, "%d stops in each mix, engine version %s.\n", stops, diagnosis.EngineVersion)
	for _, m := range mixes {
		fmt.Fprintf(&out, "\n### Stops: %s\n\n", m.Mix)
		out.WriteString("| Who | Meters | Signs | First | In three | Gauges show it: first | In three | Brier | Calibration error |\n|---|---|---|--:|--:|--:|--:|--:|--:|\n")
		for _, x := range m.Rows {
			odds := "– | –"
			if x.Odds {
				odds = fmt.Sprintf("%.3f | %.3f", x.Brier, x.Calibration)
			}
			fmt.Fprintf(&out, "| %s | %s | %s | %s | %s | %s | %s | %s |\n", x.Judge, x.Meters, x.Looks,
				share(x.First, x.Settled), share(x.Three, x.Settled), share(x.Shown.First, x.Shown.Settled), share(x.Shown.Three, x.Shown.Settled), odds)
		}
		fmt.Fprintf(&out, "\nGauges show %d of them. Mean minutes to the true cause at the %d stops that have one: %.1f by following the next checks, %.1f by the fixed rule.\n",
			m.Rows[0].Shown.Settled, m.ill, m.Minutes, m.Rule)
	}
	return out.String()
}
