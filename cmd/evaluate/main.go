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
	"fairlap/core/learning"
	"fairlap/internal/chapter"
	"fairlap/internal/evaluation"
)

// Seeds of the two sets: the first is for finding out what to change, the second
// only for what is reported. They share no plumbing and no stop.
const (
	tuningSeed = 1
	reportSeed = 20261
)

func seedOf(tuning bool) uint64 {
	if tuning {
		return tuningSeed
	}
	return reportSeed
}

func main() {
	stops := flag.Int("stops", 350, "stops in each mix")
	tuning := flag.Bool("tuning", false, "use the tuning set, and list what was missed")
	write := flag.Bool("write", false, "write docs/evaluation.md and its plot")
	two := flag.Bool("worlds", false, "judge on two worlds, beside a grid that knows each pad")
	second := flag.Bool("second", false, "the same on the second world alone")
	numbers := flag.Bool("numbers", false, "write the table of docs/method.md alone")
	flag.Parse()
	if *numbers {
		if err := chapter.Replace("docs/method.md", "numbers", diagnosis.Table()); err != nil {
			fmt.Fprintln(os.Stderr, "evaluate:", err)
			os.Exit(1)
		}
		return
	}
	work := run
	if *two || *second {
		work = onWorlds(*second)
	}
	if err := work(*stops, *tuning, *write); err != nil {
		fmt.Fprintln(os.Stderr, "evaluate:", err)
		os.Exit(1)
	}
}

func run(n int, tuning, write bool) error {
	engine, err := evaluation.StartEPANET(".")
	if err != nil {
		return err
	}
	maker, err := evaluation.NewMaker(engine.Solve, seedOf(tuning))
	if err != nil {
		return err
	}
	var all []mixResult
	for _, mix := range []evaluation.Mix{evaluation.Evenly, evaluation.Thirteen, evaluation.ByRoute, evaluation.Pairs} {
		many := n
		if mix == evaluation.Pairs {
			many = n / 4
		}
		stops, err := maker.Stops(many, mix)
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
	text := tables(all)
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
	Speeds int
	Looks  string
	learning.Track
	// Shown is the same over the stops where the gauges show it, Water the same where
	// what no meter parts counts as one.
	Shown, Water learning.Track
	Odds         bool // the judge gives chances
}

// What signs a judge is given.
const (
	usual      = "usual of the fault"
	asTheyFell = "as they fell"
	untold     = "the telling sign not looked at"
	noLooks    = "none looked at"
)

// Names of the judges.
const (
	ours       = "Fair Lap"
	signTable  = "Sign table (naive Bayes)"
	fixedRule  = "Fixed rule"
	cheapFirst = "Cheapest look first"
	gaugeCard  = "Card by the gauge"
)

// mixResult is everything found on one mix of stops.
type mixResult struct {
	Mix   evaluation.Mix
	Stops int
	Rows  []row
	// Minutes are the mean to the true cause, by who and meters.
	Minutes []minutes
	ill     int
	Both    int // of two at once, both in the first three
	Accused int // an honest meter called odd
}

type minutes struct {
	Who    string
	Meters evaluation.Meters
	Mean   float64
}

// find gives one row, nil when it is not there.
func (m *mixResult) find(judge string, meters evaluation.Meters, speeds int, looks string) *row {
	for i := range m.Rows {
		if r := &m.Rows[i]; r.Judge == judge && r.Meters == meters && r.Speeds == speeds && r.Looks == looks {
			return r
		}
	}
	return nil
}

// spent gives the mean minutes of one way.
func (m *mixResult) spent(who string, meters evaluation.Meters) float64 {
	for _, x := range m.Minutes {
		if x.Who == who && x.Meters == meters {
			return x.Mean
		}
	}
	return 0
}

type looks struct {
	name   string
	choose func(*evaluation.Stop) map[fault.Sign]bool
}

var (
	fell     = looks{asTheyFell, (*evaluation.Stop).AsTheyFell}
	usuals   = looks{usual, (*evaluation.Stop).Typical}
	atypical = looks{untold, (*evaluation.Stop).Atypical}
	nothing  = looks{noLooks, func(*evaluation.Stop) map[fault.Sign]bool { return nil }}
)

type plan struct {
	name   string
	judge  evaluation.Judge
	meters evaluation.Meters
	speeds int
	looks
}

func plans(few bool) []plan {
	var out []plan
	if few {
		return []plan{
			{ours, evaluation.Ours, evaluation.AllMeters, 2, fell},
			{ours, evaluation.Ours, evaluation.AllMeters, 1, fell},
			{
				ours,
				evaluation.Ours,
				evaluation.GaugeAndSpeed,
				1,
				fell,
			},
			{ours, evaluation.Ours, evaluation.AllMeters, 2, nothing},
		}
	}
	for _, m := range evaluation.MeterSets {
		out = append(out, plan{ours, evaluation.Ours, m, 1, fell})
	}
	for _, m := range []evaluation.Meters{evaluation.GaugeAndSpeed, evaluation.AllMeters} {
		out = append(out, plan{ours, evaluation.Ours, m, 2, fell}, plan{ours, evaluation.Ours, m, 2, nothing})
	}
	out = append(out, plan{ours, evaluation.Ours, evaluation.AllMeters, 1, usuals})
	out = append(out, plan{ours, evaluation.Ours, evaluation.AllMeters, 1, atypical})
	for _, m := range []evaluation.Meters{evaluation.GaugeAndSpeed, evaluation.AllMeters} {
		for _, l := range []looks{fell, usuals} {
			out = append(out, plan{signTable, evaluation.SignTable, m, 1, l})
		}
	}
	return append(
		out,
		plan{fixedRule, evaluation.FixedRule, evaluation.GaugeAndSpeed, 1, nothing},
		plan{
			gaugeCard,
			evaluation.GaugeCard,
			evaluation.GaugeAndSpeed,
			1,
			nothing,
		},
		plan{cheapFirst, evaluation.CheapFirst, evaluation.GaugeAndSpeed, 1, nothing},
	)
}

func judge(stops []*evaluation.Stop, mix evaluation.Mix, list bool) (mixResult, error) {
	out := mixResult{Mix: mix, Stops: len(stops)}
	if mix == evaluation.Pairs {
		both, err := each(stops, func(s *evaluation.Stop) (bool, error) {
			return evaluation.BothFound(
				s,
				evaluation.Seen{Meters: evaluation.AllMeters, Speeds: 2, Looks: s.AsTheyFell()},
			)
		})
		for i, yes := range both {
			if yes {
				out.Both++
			} else if list {
				fmt.Printf("not both: %s and %s, severity %d, %s\n", stops[i].Truth, stops[i].Also, stops[i].Severity, stops[i].Pad.Name)
			}
		}
		return out, err
	}
	for _, p := range plans(list) {
		settled, err := each(stops, func(s *evaluation.Stop) (learning.Settled, error) {
			said, err := p.judge(s, evaluation.Seen{Meters: p.meters, Speeds: p.speeds, Looks: p.choose(s)})
			return learning.Settled{Said: said, Was: s.Truth}, err
		})
		if err != nil {
			return out, err
		}
		var shown, water []learning.Settled
		for i, s := range settled {
			if stops[i].Shown {
				shown = append(shown, s)
			}
			water = append(water, evaluation.AsWater(s))
			if list && p.name == ours && p.looks.name == asTheyFell && p.meters == evaluation.AllMeters &&
				p.speeds == 2 &&
				mix != evaluation.ByRoute &&
				s.Said[0].Fault != s.Was {
				fmt.Printf(
					"missed %-22s severity %d, %s: said %s %.2f, %s %.2f\n",
					s.Was,
					stops[i].Severity,
					stops[i].Pad.Name,
					s.Said[0].Fault,
					s.Said[0].P,
					s.Said[1].Fault,
					s.Said[1].P,
				)
			}
		}
		out.Rows = append(
			out.Rows,
			row{
				p.name,
				p.meters,
				p.speeds,
				p.looks.name,
				learning.Score(settled),
				learning.Score(shown),
				learning.Score(water),
				p.name == ours || p.name == signTable,
			},
		)
	}
	accused, err := each(stops, func(s *evaluation.Stop) (bool, error) {
		return evaluation.Accused(s, evaluation.Seen{Meters: evaluation.AllMeters, Speeds: 2, Looks: s.AsTheyFell()})
	})
	if err != nil {
		return out, err
	}
	for _, yes := range accused {
		if yes {
			out.Accused++
		}
	}
	return out, out.follow(stops)
}

// follow counts minutes to the true cause, by our checks and by the rivals' orders.
func (m *mixResult) follow(stops []*evaluation.Stop) error {
	var ill []*evaluation.Stop
	for _, s := range stops {
		if s.Truth != fault.Healthy {
			ill = append(ill, s)
		}
	}
	m.ill = len(ill)
	ways := []struct {
		who    string
		meters evaluation.Meters
		spent  func(*evaluation.Stop) (float64, error)
	}{
		{
			ours,
			evaluation.AllMeters,
			func(s *evaluation.Stop) (float64, error) { return evaluation.FollowChecks(s, evaluation.AllMeters) },
		},
		{
			ours,
			evaluation.GaugeAndSpeed,
			func(s *evaluation.Stop) (float64, error) { return evaluation.FollowChecks(s, evaluation.GaugeAndSpeed) },
		},
		{
			fixedRule,
			evaluation.GaugeAndSpeed,
			func(s *evaluation.Stop) (float64, error) { return evaluation.FollowOrder(s, evaluation.FixedRule) },
		},
		{
			gaugeCard,
			evaluation.GaugeAndSpeed,
			func(s *evaluation.Stop) (float64, error) { return evaluation.FollowOrder(s, evaluation.GaugeCard) },
		},
		{
			cheapFirst,
			evaluation.GaugeAndSpeed,
			func(s *evaluation.Stop) (float64, error) { return evaluation.FollowOrder(s, evaluation.CheapFirst) },
		},
	}
	for _, w := range ways {
		all, err := each(ill, w.spent)
		if err != nil {
			return err
		}
		sum := 0.0
		for _, x := range all {
			sum += x
		}
		m.Minutes = append(m.Minutes, minutes{w.who, w.meters, sum / float64(max(1, len(ill)))})
	}
	return nil
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
