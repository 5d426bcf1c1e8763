package fault

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/pad"
	"fairlap/core/plumbing"
)

func TestTheCatalogueIsWhole(t *testing.T) {
	d := &pad.Document{
		Suction: []pad.Line{
			{Name: "Skimmer", Kind: pad.Skimmer, Opening: 1},
			{Name: "Main drain", Kind: pad.Drain, Opening: 0.5},
		},
		Returns: []pad.Line{{Name: "A", Opening: 1}, {Name: "B", Opening: 1}},
		Filter: pad.Filter{
			Kind:    pad.Cartridge,
			AreaFt2: 40,
			Valve:   pad.Multiport,
		}, CheckValve: true, Cell: &pad.Device{}, HeaterBypass: &pad.Bypass{}, PumpHeightFt: -1, Spa: &pad.Spa{},
		Valves: []pad.Diverter{{ID: "s", Side: pad.SuctionSide}, {ID: "r", Side: pad.ReturnSide}},
	}
	d.Suction = append(d.Suction, pad.Line{Name: "Spa drain", Kind: pad.SpaDrain, Opening: 1, On: "s:b"})
	d.Returns = append(d.Returns, pad.Line{Name: "Jets", Kind: pad.SpaJets, Opening: 1, On: "r:b"})
	d.Suction[0].On, d.Returns[0].On = "s:a", "r:a"
	seen, total := map[ID]bool{}, 0.0
	require.Equal(t, Healthy, Catalogue[0].ID, "the engine takes the first entry for healthy")
	for _, f := range Catalogue {
		assert.False(t, seen[f.ID], "%s stands twice", f.ID)
		seen[f.ID] = true
		total += f.Prior
		assert.NotEmpty(t, f.Name, f.ID)
		assert.NotEmpty(t, f.Settle, f.ID)
		assert.NotEmpty(t, f.Fix, f.ID)
		assert.True(t, f.Air > 0 && f.Air < 1, "%s: P(air) must leave room for doubt", f.ID)
		for id, p := range f.Signs {
			_, ok := LookUpSign(id)
			assert.True(t, ok, "%s: sign %s", f.ID, id)
			assert.True(t, p > 0 && p < 1, "%s: P(%s) must leave room for doubt", f.ID, id)
		}
		places := f.Places(d)
		require.NotEmpty(t, places, f.ID)
		for _, pl := range places {
			var last plumbing.Effects
			for step, w := range f.Weights {
				assert.Positive(t, w, f.ID)
				e := pl.Effects(step)
				if step > 0 && pl.Gauge == "" {
					assert.NotEqual(t, last, e, "%s: steps %d and %d are one", f.ID, step-1, step)
				}
				last = e
			}
		}
		got, ok := LookUp(f.ID, pad.Sand)
		assert.True(t, ok)
		assert.Equal(t, say(f.Name), say(got.Name))
	}
	assert.Less(t, total, 0.3, "most pool-visits find nothing wrong")
	_, ok := LookUp("gremlins", pad.Sand)
	assert.False(t, ok)
}

func TestSignsAreWhole(t *testing.T) {
	for _, s := range Signs {
		assert.NotEmpty(t, s.Where, s.ID)
		assert.True(t, s.Base > 0 && s.Base <= 0.5, s.ID)
		if s.Context {
			continue
		}
		assert.NotEmpty(t, s.Look, s.ID)
		assert.Positive(t, s.Minutes, s.ID)
		if s.Air {
			assert.Greater(t, s.GivenAir, s.Base, s.ID)
		}
	}
}

// Safety: whatever puts a hand into a pot, a pump or a tank says so first.
func TestHandsAreWarned(t *testing.T) {
	for _, f := range Catalogue {
		if f.Who == Electrician {
			assert.NotEmpty(t, f.Caution, "%s is a licensed trade's", f.ID)
		}
	}
	for _, id := range []ID{BasketFullFault, MotorHums, SealLeak, HousingLeak, OutletLeak, ValveGasket, ValvePosition,
		TankLeak, MediaInPool, CheckValveStuck, SpaDraining, AirLid, ImpellerClogged, ImpellerWorn, PrimeLost,
		MediaFouled, BedChannelled, GaugeBad, SuctionValve, ReturnRestricted} {
		f, _ := LookUp(id, pad.Sand)
		assert.NotEmpty(t, f.Caution, id)
	}
	for _, id := range []Sign{BasketCracked, ShaftFree, SpaFine, FilterValveOff, DripBand, BasketFull, LidTestHolds,
		DebrisFound, SlowDrainTest, NeedleAtRest, HandleWrong} {
		f, _ := LookUpSign(id)
		assert.NotEmpty(t, f.Caution, id)
	}
	for _, k := range []pad.FilterKind{pad.Sand, pad.Cartridge, pad.DE} {
		assert.Contains(t, say(Loaded(k).Caution), "power locked off")
		name, minutes := Cleaning(k)
		assert.NotEmpty(t, name)
		assert.Positive(t, minutes)
	}
}

func TestSignsAreAskedOnlyWhereTheyCanShow(t *testing.T) {
	bare := &pad.Document{
		Pump:    pad.Pump{Kind: pad.SingleSpeed},
		Filter:  pad.Filter{Kind: pad.Sand, Valve: pad.NoValve},
		Suction: []pad.Line{{Kind: pad.Skimmer, Opening: 1}},
	}
	asked := map[Sign]bool{}
	for _, s := range SignsOn(bare) {
		asked[s.ID] = true
	}
	for _, id := range []Sign{FilterValveOff, WasteWet, HeaterCrackles, SpaFalling, SpeedOff, SlowDrainTest, SpaFine,
		DeviceNoFlow} {
		assert.False(t, asked[id], "%s on a pad without the thing", id)
	}
	for _, id := range []Sign{AirInPot, BasketFull, DrainCoverBad, Storm} {
		assert.True(t, asked[id], id)
	}
	full := *bare
	full.Heater, full.Cell, full.Spa = &pad.Device{}, &pad.Device{}, &pad.Spa{}
	full.Pump.Kind, full.Filter.Valve, full.Filter.Kind = pad.VariableSpeed, pad.Multiport, pad.DE
	full.Suction = append(full.Suction, pad.Line{Kind: pad.Drain, Opening: 1})
	assert.Len(t, SignsOn(&full), len(Signs))
}

func TestWornPartsBringOnKnownFaults(t *testing.T) {
	for kind, ids := range WearsInto {
		for _, id := range ids {
			_, ok := LookUp(id, pad.Sand)
			assert.True(t, ok, "%s wears into %s", kind, id)
		}
	}
}

// Whoever may not do it is told so: wiring is a licensed electrician's.
func TestDangerSignsSayWhatToDo(t *testing.T) {
	for _, s := range Signs {
		if s.Danger != "" {
			assert.Contains(t, say(s.Danger), map[bool]string{false: "Stop", true: "Close the pool"}[s.Closes], s.ID)
			assert.Equal(t, "danger", s.Where, s.ID)
		} else {
			assert.NotEqual(t, "danger", s.Where, s.ID)
		}
	}
}

// A season moves a fault's odds within the year, never the year's count.
func TestSeasonsKeepTheYearsCount(t *testing.T) {
	for i := range Catalogue {
		f := &Catalogue[i]
		sum := 0.0
		for _, s := range []Season{Winter, Spring, Summer, Autumn} {
			assert.Positive(t, f.Seasonal(s), f.ID)
			sum += f.Seasonal(s)
		}
		assert.InDelta(t, 4, sum, 1e-9, f.ID)
		assert.Equal(t, 1.0, f.Seasonal(""), f.ID)
	}
	for month, want := range map[int]Season{1: Winter, 3: Spring, 7: Summer, 11: Autumn, 12: Winter, 0: "", 13: ""} {
		assert.Equal(t, want, SeasonOf(month, false), month)
	}
	assert.Equal(t, Winter, SeasonOf(7, true))
	assert.Equal(t, Spring, SeasonOf(10, true))
}

// A state of the pump makes looks impossible: the returns of a dead pump are not felt, one that runs
// is not asked whether it hums, and what hums or is stuck is never reset (handbook, faults).
func TestALookIsPossible(t *testing.T) {
	look := func(id Sign) *SignFact {
		sg, ok := LookUpSign(id)
		require.True(t, ok, id)
		return sg
	}
	none := map[Sign]bool{}
	assert.True(t, look(WeakAll).Possible(none, true))
	assert.True(t, look(WeakAll).Possible(none, false), "nobody said that it does not turn")
	assert.False(t, look(WeakAll).Possible(map[Sign]bool{Hums: true}, false))
	assert.False(t, look(DeviceNoFlow).Possible(map[Sign]bool{Silent: true}, false))
	assert.False(t, look(Hums).Possible(none, true))
	assert.True(t, look(Hums).Possible(none, false))
	assert.False(t, look(ResetRuns).Possible(map[Sign]bool{Hums: true}, false))
	assert.False(t, look(ResetRuns).Possible(map[Sign]bool{Silent: true, ShaftFree: false}, false))
	assert.True(t, look(ResetRuns).Possible(map[Sign]bool{Silent: true}, false))
	assert.True(t, look(ShaftFree).Possible(map[Sign]bool{Hums: true}, false))
	assert.True(t, look(BasketFull).Possible(map[Sign]bool{Hums: true}, true), "it asks for the pump off by itself")
	for id := range needs {
		assert.NotEmpty(t, look(id).Needs(), id)
	}
}

// A pump that shows an alarm has stopped, or waits to start: none is asked of one that was read at a speed (handbook,
// faults).
func TestNoAlarmIsAskedOfARunningPump(t *testing.T) {
	asked := 0
	for i := range Signs {
		s := &Signs[i]
		if !strings.HasPrefix(string(s.ID), "alarm-") && s.ID != DisplayAlarm {
			continue
		}
		asked++
		assert.False(t, s.Possible(nil, true), s.ID)
		assert.True(t, s.Possible(nil, false), s.ID)
		assert.True(t, s.Possible(map[Sign]bool{Silent: true}, true), "%s: it is dead now", s.ID)
	}
	assert.Equal(t, 6, asked)
}
