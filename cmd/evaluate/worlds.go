package main

import (
	"fmt"
	"strings"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/learning"
	"fairlap/internal/chapter"
	"fairlap/internal/evaluation"
)

// known is what is known at a stop.
type known struct {
	name   string
	meters evaluation.Meters
	speeds int
	signs  bool
}

var knowns = []known{
	{"all meters and signs, two speeds", evaluation.AllMeters, 2, true},
	{"gauge and signs, one speed", evaluation.GaugeAndSpeed, 1, true},
	{"all meters, no signs, two speeds", evaluation.AllMeters, 2, false},
}

// world is one world's stops with what judges them.
type world struct {
	name  string
	stops []*evaluation.Stop
	roof  *evaluation.Roof
}

// scored is one judge's track, and the same over the stops at which a look was answered the wrong
// way round.
type scored struct {
	all, mistapped learning.Track
	settled        []learning.Settled
}

func score(stops []*evaluation.Stop, k known, judge evaluation.Judge, alone bool) (scored, error) {
	work := func(s *evaluation.Stop) (learning.Settled, error) {
		seen := evaluation.Seen{Meters: k.meters, Speeds: k.speeds}
		if k.signs {
			seen.Looks = s.AsTheyFell()
		}
		said, err := judge(s, seen)
		return learning.Settled{Said: said, Was: s.Truth}, err
	}
	var settled []learning.Settled
	var err error
	if alone {
		for _, s := range stops {
			one, failed := work(s)
			if failed != nil {
				return scored{}, failed
			}
			settled = append(settled, one)
		}
	} else if settled, err = each(stops, work); err != nil {
		return scored{}, err
	}
	var wrong []learning.Settled
	for i, s := range stops {
		if s.Mistapped() {
			wrong = append(wrong, settled[i])
		}
	}
	return scored{learning.Score(settled), learning.Score(wrong), settled}, nil
}

// worldTables judges the diagnosis and the roof on a world's stops.
func worldTables(w world, list bool) (string, error) {
	var out strings.Builder
	fmt.Fprintf(&out, "### %d stops: %s\n\n", len(w.stops), w.name)
	out.WriteString("| known | who | first | in three | Brier | calibration error |\n|---|---|--:|--:|--:|--:|\n")
	var by [2]scored
	for i, k := range knowns {
		mine, err := score(w.stops, k, evaluation.Ours, false)
		if err != nil {
			return "", err
		}
		roof, err := score(w.stops, k, w.roof.Judge, true)
		if err != nil {
			return "", err
		}
		for _, x := range []struct {
			who string
			t   *learning.Track
		}{{"Fair Lap", &mine.all}, {"the grid", &roof.all}} {
			fmt.Fprintf(&out, "| %s | %s | %.1f %% | %.1f %% | %.3f | %.3f |\n", k.name, x.who,
				percent(x.t.First, x.t.Settled), percent(x.t.Three, x.t.Settled), x.t.Brier, x.t.Calibration)
		}
		if i == 0 {
			by = [2]scored{mine, roof}
		}
		if list {
			fmt.Printf("-- %s\n", k.name)
			for i, s := range w.stops {
				if a, b := mine.settled[i].Said[0], roof.settled[i].Said[0]; a.Fault != s.Truth {
					fmt.Printf(
						"missed %s, severity %d, mistapped %v, flow %.2f, %s: said %s %.2f (truth %.2f), the grid %s %.2f\n",
						s.Truth, s.Severity, s.Mistapped(), s.FlowShare(), s.Pad.Name,
						a.Fault, a.P, chanceOf(mine.settled[i], s.Truth), b.Fault, b.P,
					)
				}
			}
		}
	}
	fmt.Fprintf(&out, "\n| truth, all meters and signs, two speeds | times | Fair Lap in three | the grid |\n|---|--:|--:|--:|\n")
	for _, f := range by[0].all.Faults {
		other := 0
		for _, g := range by[1].all.Faults {
			if g.Fault == f.Fault {
				other = g.Three
			}
		}
		fmt.Fprintf(&out, "| %s | %d | %.0f %% | %.0f %% |\n", f.Fault, f.Times, percent(f.Three, f.Times),
			percent(other, f.Times))
	}
	if n := by[0].mistapped.Settled; n > 0 {
		fmt.Fprintf(&out, "\nA look was answered the wrong way round at %d of them: first %.1f %%, the grid %.1f %%.\n", n,
			percent(by[0].mistapped.First, n), percent(by[1].mistapped.First, n))
	}
	return out.String() + "\n", nil
}

func percent(n, of int) float64 { return 100 * float64(n) / float64(max(1, of)) }

func chanceOf(s learning.Settled, id fault.ID) float64 {
	for _, x := range s.Said {
		if x.Fault == id {
			return x.P
		}
	}
	return 0
}

// onWorlds judges on two worlds' stops, or on the second's alone.
func onWorlds(alone bool) func(n int, tuning, write bool) error {
	return func(n int, tuning, write bool) error {
		maker, err := evaluation.NewSecondMaker(seedOf(tuning), mistapped)
		if err != nil {
			return err
		}
		stops, err := maker.SecondStops(n)
		if err != nil {
			return err
		}
		text, err := worldTables(world{string(evaluation.Second), stops, evaluation.NewRoof(maker)}, tuning)
		if err != nil {
			return err
		}
		if !alone {
			first, err := firstWorld(n, tuning)
			if err != nil {
				return err
			}
			text = first + text
		}
		fmt.Print(text)
		if !write || tuning || alone {
			return nil
		}
		return chapter.Replace("docs/evaluation.md", "worlds", "Engine version "+diagnosis.EngineVersion+".\n\n"+text)
	}
}

// firstWorld judges on stops that EPANET made.
func firstWorld(n int, tuning bool) (string, error) {
	engine, err := evaluation.StartEPANET(".")
	if err != nil {
		return "", err
	}
	maker, err := evaluation.NewMaker(engine.Solve, seedOf(tuning))
	if err != nil {
		return "", err
	}
	stops, err := maker.Stops(n, evaluation.Evenly)
	if err != nil {
		return "", err
	}
	name := string(evaluation.Evenly) + ", water by EPANET"
	text, err := worldTables(world{name, stops, evaluation.NewRoof(maker)}, tuning)
	if err != nil {
		return "", err
	}
	return text, engine.Close()
}

// mistapped is the share of looks of the second world that are answered the wrong way round.
const mistapped = 0.01
