// Command backtest judges the forecasts and the schools of when to clean on two
// made-up companies and prints what it found; with -write it also writes the
// upkeep chapter of docs/evaluation.md and its plot. It is run from the project's
// root.
package main

import (
	"flag"
	"fmt"
	"os"
	"strings"
	"time"

	"fairlap/core/upkeep"
	"fairlap/internal/backtest"
	"fairlap/internal/chapter"
	"fairlap/internal/demo"
	"fairlap/internal/standin"
)

func main() {
	write := flag.Bool("write", false, "write the chapter of docs/evaluation.md and its plot")
	tuning := flag.Bool("tuning", false, "other seeds, for finding out what to change")
	flag.Parse()
	if err := run(*write, *tuning); err != nil {
		fmt.Fprintln(os.Stderr, "backtest:", err)
		os.Exit(1)
	}
}

// tuningSeeds keeps what is looked at while working apart from what is reported.
const tuningSeeds = 1000

func run(write, tuning bool) error {
	var text strings.Builder
	var plots []company
	for _, h := range backtest.Companies(standin.Sky) {
		if tuning {
			h.Seed += tuningSeeds
			h.Sky = standin.Sky(h.Seed)
		}
		out, err := backtest.Run(h, upkeep.Rise, backtest.ByRise, upkeep.Calendar, upkeep.FixedPsi)
		if err != nil {
			return err
		}
		tables(&text, h, out)
		plots = append(plots, company{h.Name, out})
	}
	h, pools, err := demo.Truths(1, reported)
	if err != nil {
		return err
	}
	out, err := h.Live(pools, upkeep.Rise, backtest.ByRise, upkeep.Calendar, upkeep.FixedPsi, backtest.Recorded)
	if err != nil {
		return err
	}
	tables(&text, h, out)
	plots = append(plots, company{h.Name, out})
	fmt.Print(text.String())
	if !write || tuning {
		return nil
	}
	if err := plotSchools("docs/evaluation-upkeep.svg", plots); err != nil {
		return err
	}
	return chapter.Replace("docs/evaluation.md", "upkeep", text.String())
}

// reported is the day on which the demo's history ends here, so that the chapter's
// figures stay the same.
var reported = time.Date(2026, 11, 24, 18, 0, 0, 0, time.UTC)

type company struct {
	name string
	out  []backtest.Outcome
}

// names of the schools.
var names = map[upkeep.School]string{
	upkeep.Rise:       "Fair Lap (by load, the first of all limits)",
	backtest.ByRise:   "By load, the gauge's rise alone",
	upkeep.Calendar:   "Calendar",
	upkeep.FixedPsi:   "Fixed, 25 psi",
	backtest.Recorded: "As the record has it",
}

func tables(w *strings.Builder, h backtest.Habits, out []backtest.Outcome) {
	fmt.Fprintf(w, "\n### %s%s\n\n%d pools, %d days.\n\n", strings.ToUpper(h.Name[:1]), h.Name[1:], h.Pools, h.Days)
	w.WriteString(
		"| School | Cleanings a pool-year | Needless | Days over the gauge's rise | Days with a third of the flow gone |\n|---|--:|--:|--:|--:|\n",
	)
	for _, o := range out {
		fmt.Fprintf(
			w,
			"| %s | %.1f | %.1f | %.1f | %.1f |\n",
			names[o.School],
			float64(o.Cleanings)/o.PoolYears,
			float64(o.Needless)/o.PoolYears,
			o.StarvedDays/o.PoolYears,
			o.LostDays/o.PoolYears,
		)
	}
	fmt.Fprintf(
		w,
		"\nRead again at a higher speed, as advised: %.1f times a pool-year.\n",
		float64(out[0].Again)/out[0].PoolYears,
	)
	for _, o := range out {
		if len(o.Ahead) > 0 {
			crossings(w, o)
		}
	}
}

func crossings(w *strings.Builder, o backtest.Outcome) {
	s := backtest.Judge(o.Ahead)
	if o.School == backtest.Recorded {
		w.WriteString("\nFollowing the record as it stands:")
	}
	fmt.Fprintf(
		w,
		"\nCrossing date, a week ahead (%d forecasts): off by %.1f days in the mean; the calendar's by %.1f. The 80 %% band holds %.0f %% of %d crossings.\n",
		s.Weeks,
		s.Error,
		s.Calendar,
		100*s.Coverage,
		s.N,
	)
}
