package guided

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"fairlap/core/judge"
	"fairlap/core/pad/padtest"
	"fairlap/core/procedure"
	"fairlap/core/upkeep"
)

// Whatever a device says happened in a run, it is refused or followed; each event that is taken
// moves the run on by a turn, and it can be shown.
func FuzzEvents(f *testing.F) {
	s, err := judge.Pack{
		Pool:     "14 Quince Court",
		Gallons:  18500,
		Zone:     "UTC",
		Pad:      padtest.SandPad(),
		Settings: upkeep.Defaults(),
	}.Ready()
	require.NoError(f, err)
	script, err := Begin(s, Ask{Procedure: procedure.Backwash, Speed: 2400}, nil, morning)
	require.NoError(f, err)
	first := script.Steps[0]
	begun, err := json.Marshal(
		[]Typed{
			{
				Act:     procedure.ActGo,
				Step:    first.ID,
				Option:  first.Options[0].ID,
				At:      morning,
				Reading: &judge.TypedReading{Speed: "2400", Tank: "14"},
			},
		},
	)
	require.NoError(f, err)
	f.Add(begun)
	f.Add([]byte(`[{"act":"note","turn":0,"note":"x","at":"2026-11-24T17:45:00Z"},{"act":"break","turn":0}]`))
	f.Add([]byte(`[{"act":"back","turn":1,"step":"` + first.ID + `"}]`))
	f.Add([]byte(`[{"act":"go","turn":-1,"step":"","option":"?","reading":{"speed":"1e9","tank":"-"}}]`))
	f.Fuzz(func(t *testing.T, text []byte) {
		var typed []Typed
		if json.Unmarshal(text, &typed) != nil || len(typed) > 40 {
			return
		}
		run := Run{ID: "r", By: "Us", StartedAt: morning, Script: script}
		turn := 0
		for i := range typed {
			reading, errs := typed[i].Read("events", s.Model)
			if len(errs) > 0 {
				continue
			}
			next := run
			next.Events = append(
				run.Events[:len(run.Events):len(run.Events)],
				typed[i].Event(typed[i].At, reading, run.By),
			)
			v, err := View(s, &next, morning.Add(time.Hour))
			if err != nil {
				continue
			}
			if v.Turn < turn {
				t.Fatalf("a run went back from turn %d to %d", turn, v.Turn)
			}
			run, turn = next, v.Turn
		}
		if _, err := View(s, &run, morning.Add(48*time.Hour)); err != nil {
			t.Fatal(err)
		}
	})
}
