package judge

import (
	"fmt"
	"math"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"fairlap/core/casefile"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/procedure"
	"fairlap/core/units"
	"fairlap/core/upkeep"
)

func TestSweepProbe(t *testing.T) {
	files, err := filepath.Glob("../../docs/examples/*.case.json")
	require.NoError(t, err)
	now := time.Date(2026, 11, 24, 11, 0, 0, 0, time.UTC)
	total, falls, wrong := 0, 0, 0
	seen := map[string]bool{}
	for _, f := range files {
		r, _ := os.Open(f)
		c, bad := casefile.Read(r)
		r.Close()
		require.Empty(t, bad)
		key := c.Pad.Pump.Model + c.Pad.Filter.Model + fmt.Sprint(len(c.CleanLine), c.Pad.Suction)
		if seen[key] || c.Pad.SmallUnit() {
			continue
		}
		seen[key] = true
		p := Pack{Pool: "x", Zone: "UTC", Pad: c.Pad, CleanLine: c.CleanLine, Gallons: 15000, Settings: upkeep.Defaults(),
			Ways: procedure.DefaultWays(), Next: now.AddDate(0, 0, 7), History: upkeep.History{Filter: upkeep.Filter{
				State: upkeep.State{Load: 0.5, Growth: 0.005, VarLoad: 0.1, VarGrowth: 1e-5}, HadForecast: true, PerDay: 15, Scale: 1}}}
		s, err := p.Ready()
		require.NoError(t, err)
		rpm := 2400.0
		if c.Pad.Pump.Kind == pad.SingleSpeed {
			rpm = c.Pad.Pump.TopRPM
		}
		st, err := s.Model.Solver().Solve(pad.Operation{Speed: units.Speed(rpm)}, plumbing.Effects{})
		require.NoError(t, err)
		lim, err := s.Model.Solver().Solve(pad.Operation{Speed: units.Speed(rpm)}, plumbing.Effects{Load: 1})
		require.NoError(t, err)
		closed, err := s.Model.Solver().Solve(pad.Operation{Speed: units.Speed(rpm)}, plumbing.Effects{Load: 60})
		require.NoError(t, err)
		shut := closed.Tank.PSI() + 2
		fmt.Printf("== %s clean %.1f limit %.1f shut %.1f\n", filepath.Base(f), st.Tank.PSI(), lim.Tank.PSI(), shut)
		last, lastAt := math.Inf(-1), 0.0
		for psi := 0.0; psi <= shut+2; psi += 0.5 {
			v, _, err := s.Judge(Findings{Readings: []TypedReading{{Speed: fmt.Sprint(rpm), Tank: fmt.Sprint(psi)}}, Signs: map[string]bool{}}, now, nil)
			require.NoError(t, err)
			total++
			mark := ""
			if v.Load.Mean < last-0.01 {
				falls++
				mark += fmt.Sprintf(" FALLS from %.2f at %.1f", last, lastAt)
			}
			past := psi >= lim.Tank.PSI()
			if past && (v.State == "sound" || v.State == "dirt" || v.Advice.Action == "leave") {
				wrong++
				mark += " PAST-LEFT"
			}
			if psi <= st.Tank.PSI()+0.5 && v.Advice.Action == "clean" {
				wrong++
				mark += " CLEAN-CLEANS"
			}
			last, lastAt = v.Load.Mean, psi
			if mark != "" || os.Getenv("ALL") != "" {
				lead := v.Suspects[0]
				fmt.Printf("%5.1f load %.2f±%.2f %s p=%.2f %s | %s |%s\n", psi, v.Load.Mean, v.Load.SD, v.State, v.P, v.Advice.Action, lead.ID+fmt.Sprintf(" %.2f other %.2f", lead.P, v.Other), mark)
			}
		}
	}
	fmt.Printf("TOTAL %d falls %d wrong %d\n", total, falls, wrong)
}
