// Command evaluate judges the diagnosis on made-up stops solved by EPANET and
// prints what it found; with -write it also writes docs/evaluation.md and its
// plot. It is run from the project's root.
package main

import (
	"flag"
	"fmt"
	"os"
	"runtime"

	"golang.org/x/sync/errgroup"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/internal/chapter"
	"fairlap/internal/evaluation"
)

// Seeds of the two sets: the first is for finding out what to change, the second
// only for what is reported. They share no plumbing and no stop.
const (
	tuningSeed = 1
	reportSeed = 20261
)

func main() {
	stops := flag.Int("stops", 1000, "stops in each mix")
	tuning := flag.Bool("tuning", false, "use the tuning set, and list what was missed")
	write := flag.Bool("write", false, "write docs/evaluation.md and its plot")
	flag.Parse()
	if err := run(*stops, *tuning, *write); err != nil {
		fmt.Fprintln(os.Stderr, "evaluate:", err)
		os.Exit(1)
	}
}

func run(n int, tuning, write bool) error {
	engine, err := evaluation.StartEPANET(".")
	if err != nil {
		return err
	}
	seed := uint64(reportSeed)
	if tuning {
		seed = tuningSeed
	}
	maker, err := evaluation.NewMaker(engine.Solve, seed)
	if err != nil {
		return err
	}
	var all []mixResult
	for _, mix := range []evaluation.Mix{evaluation.Evenly, evaluation.ByRoute} {
		stops, err := maker.Stops(n, mix)
		if err != nil {
			return err
		}
		m, err := judge(stops, mix, tuning)
		if err != nil {
			return err
		}
		all = append(all, m)
	}
	if err := engine.Close(); err != nil {
		return err
	}
	text := tables(n, all)
	fmt.Print(text)
	if !write || tuning {
		return nil
	}
	if err := reliability("docs/evaluation-reliability.svg", all); err != nil {
		return err
	}
	return chapter.Replace("docs/evaluation.md", "diagnosis", text)
}

// row is one judge on one set of meters and looks.
type row struct {
	Judge  string
	Meters evaluation.Meters
	Looks  string
	diagnosis.Track
	// Shown is the same over the stops where the gauges show it.
	Shown diagnosis.Track
	Odds  bool // the judge gives chances
}

// What signs a judge is given.
const (
	usual      = "usual of the fault"
	asTheyFell = "as they fell"
)

// mixResult is everything found on one mix of stops.
type mixResult struct {
	Mix           evaluation.Mix
	Rows          []row
	Minutes, Rule float64 // mean, to the true cause
	ill           int
}

// find gives one row, nil when it is not there.
func (m *mixResult) find(judge string, meters evaluation.Meters, looks string) *row {
	for i := range m.Rows {
		if r := &m.Rows[i]; r.Judge == judge && r.Meters == meters && r.Looks == looks {
			return r
		}
	}
	return nil
}

// Names of the judges.
const (
	ours      = "Fair Lap"
	signTable = "Sign table (naive Bayes)"
	fixedRule = "Fixed rule"
)

func judge(stops []*evaluation.Stop, mix evaluation.Mix, list bool) (mixResult, error) {
	out := mixResult{Mix: mix}
	typical, fell, atypical := (*evaluation.Stop).Typical, (*evaluation.Stop).AsTheyFell, (*evaluation.Stop).Atypical
	none := func(*evaluation.Stop) map[fault.Sign]bool { return nil }
	type plan struct {
		name   string
		judge  evaluation.Judge
		meters evaluation.Meters
		looks  string
		choose func(*evaluation.Stop) map[fault.Sign]bool
	}
	var plans []plan
	for _, j := range []plan{{name: ours, judge: evaluation.Ours}, {name: signTable, judge: evaluation.SignTable}} {
		for _, m := range evaluation.MeterSets {
			plans = append(plans, plan{j.name, j.judge, m, usual, typical})
		}
		for _, m := range evaluation.MeterSets {
			plans = append(plans, plan{j.name, j.judge, m, asTheyFell, fell})
		}
		plans = append(plans,
			plan{j.name, j.judge, evaluation.AllMeters, "the telling sign not looked at", atypical},
			plan{j.name, j.judge, evaluation.AllMeters, "none looked at", none})
	}
	plans = append(plans, plan{fixedRule, evaluation.FixedRule, evaluation.GaugeAndSpeed, "not used", none})
	for _, p := range plans {
		settled, err := each(stops, func(s *evaluation.Stop) (diagnosis.Settled, error) {
			said, err := p.judge(s, p.meters, p.choose(s))
			return diagnosis.Settled{Said: said, Was: s.Truth}, err
		})
		if err != nil {
			return out, err
		}
		var shown []diagnosis.Settled
		for i, s := range settled {
			if stops[i].Shown {
				shown = append(shown, s)
			}
			if list && p.name == ours && p.looks == asTheyFell && p.meters == evaluation.AllMeters && mix == evaluation.Evenly && s.Said[0].Fault != s.Was {
				fmt.Printf("missed %-22s severity %d, %s: said %s %.2f, %s %.2f\n", s.Was, stops[i].Severity, stops[i].Pad.Name,
					s.Said[0].Fault, s.Said[0].P, s.Said[1].Fault, s.Said[1].P)
			}
		}
		out.Rows = append(out.Rows, row{p.name, p.meters, p.looks, diagnosis.Score(settled), diagnosis.Score(shown), p.name != fixedRule})
	}
	ill := make([]*evaluation.Stop, 0, len(stops))
	for _, s := range stops {
		if s.Truth != fault.Healthy {
			ill = append(ill, s)
		}
	}
	out.ill = len(ill)
	minutes, err := each(ill, func(s *evaluation.Stop) ([2]float64, error) {
		mine, err := evaluation.FollowChecks(s, evaluation.AllMeters)
		if err != nil {
			return [2]float64{}, err
		}
		rule, err := evaluation.FollowRule(s)
		return [2]float64{mine, rule}, err
	})
	for _, m := range minutes {
		out.Minutes += m[0] / float64(len(ill))
		out.Rule += m[1] / float64(len(ill))
	}
	return out, err
}

// each does the work for every stop on all cores, in order.
func each[T any](stops []*evaluation.Stop, work func(*evaluation.Stop) (T, error)) ([]T, error) {
	out := make([]T, len(stops))
	var g errgroup.Group
	g.SetLimit(runtime.NumCPU())
	for i, s := range stops {
		g.Go(func() error {
			var err error
			out[i], err = work(s)
			return err
		})
	}
	return out, g.Wait()
}
