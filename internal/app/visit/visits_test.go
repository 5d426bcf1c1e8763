package visit

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/casefile"
	"fairlap/core/diagnosis"
	"fairlap/core/figure"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/pad/padtest"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/store"
)

func model(t require.TestingT) *plumbing.Model {
	m, err := plumbing.Calibrate(padtest.SandPad(), nil, units.Fahrenheit(80), units.PSI(8))
	require.NoError(t, err)
	return m
}

// seen stands in for the engine: a load that any reading shows.
func seen(*plumbing.Model, diagnosis.Reading) (upkeep.Belief, error) {
	return upkeep.Belief{Mean: 0.1, SD: 0.05}, nil
}

func typed(tank string) judge.TypedReading { return judge.TypedReading{Speed: "2400", Tank: tank} }

// A draft's readings, signs and work are taken in; cleaned is what its work says.
func TestADraftIsTakenIn(t *testing.T) {
	var v store.Visit
	after := typed("11")
	seconds := 42.0
	d := VisitDraft{
		Findings: judge.Findings{
			Readings: []judge.TypedReading{typed("18"), {}, typed("17,5")},
			Signs:    map[string]bool{"air-in-pot": true},
		},
		After:        &after,
		Works:        []Work{{Kind: "basket", Note: "leaves"}, {Kind: "cleaned"}},
		PrimeSeconds: &seconds,
	}
	require.NoError(t, fill(&v, d, model(t), seen))
	assert.True(t, v.Cleaned)
	require.Len(t, v.Readings, 3, "an empty row is no reading")
	for i, phase := range []string{"found", "found", "after"} {
		assert.Equal(t, phase, v.Readings[i].Phase)
		assert.Equal(t, i, v.Readings[i].Seq)
	}
	assert.InDelta(t, 17.5, *TradeRow(v.Readings[1]).TankPsi, 1e-9)
	assert.Equal(t, 0.1, *v.AfterMean)
	assert.Equal(t, []store.VisitSign{{Sign: "air-in-pot", Yes: true}}, v.Signs)
	assert.Equal(t, &seconds, v.PrimeS)
	var only store.Visit
	require.NoError(t, fill(&only, VisitDraft{Works: []Work{{Kind: "basket"}}}, model(t), seen))
	assert.False(t, only.Cleaned)
	assert.Nil(t, only.AfterMean)
}

// A reading after a cleaning needs the cleaning and a pump that runs; each slip is named at
// its field.
func TestAReadingAfterNeedsItsCleaning(t *testing.T) {
	for name, x := range map[string]struct {
		after judge.TypedReading
		works []Work
		field string
	}{
		"no cleaning":    {typed("11"), []Work{{Kind: "basket"}}, "after.tank"},
		"at rest":        {judge.TypedReading{Speed: "0", Tank: "2"}, []Work{{Kind: "cleaned"}}, "after.speed"},
		"no figure":      {typed("eleven"), []Work{{Kind: "cleaned"}}, "after.tank"},
		"without speed":  {judge.TypedReading{Tank: "11"}, []Work{{Kind: "cleaned"}}, "after.speed"},
		"over the pump":  {judge.TypedReading{Speed: "4000", Tank: "11"}, []Work{{Kind: "cleaned"}}, "after.speed"},
		"past any gauge": {typed("900"), []Work{{Kind: "cleaned"}}, "after.tank"},
	} {
		var v store.Visit
		err := fill(&v, VisitDraft{After: &x.after, Works: x.works}, model(t), seen)
		var fields figure.FieldErrors
		require.ErrorAs(t, err, &fields, name)
		at := map[string]bool{}
		for _, f := range fields {
			at[f.Field] = true
			assert.NotEmpty(t, words.Plain.Say(f.Text))
		}
		assert.True(t, at[x.field], "%s: %v", name, at)
		assert.Nil(t, v.AfterMean, name)
	}
	boom := errors.New("no flow")
	after := typed("11")
	err := fill(&store.Visit{}, VisitDraft{After: &after, Works: []Work{{Kind: "cleaned"}}}, model(t),
		func(*plumbing.Model, diagnosis.Reading) (upkeep.Belief, error) { return upkeep.Belief{}, boom })
	assert.ErrorIs(t, err, boom)
}

// The record keeps SI; what comes back from it in the trade's units is what was read, and
// what was not read stays so.
func TestTheRecordGivesBackWhatWasRead(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		maybe := func(name string, low, top float64) *float64 {
			if !rapid.Bool().Draw(t, name+" read") {
				return nil
			}
			v := rapid.Float64Range(low, top).Draw(t, name)
			return &v
		}
		in := casefile.Reading{
			RPM: rapid.Float64Range(0, 3450).Draw(t, "rpm"), Setting: string(pad.SetFilter),
			TankPsi: maybe(
				"tank",
				0,
				60,
			), VacuumInHg: maybe("vacuum", 0, 28), FlowGPM: maybe("flow", 0, 200), PowerW: maybe("power", 0, 4000),
		}
		out := TradeRow(StoredRow(3, "found", judge.Engine(in)))
		assert.InDelta(t, in.RPM, out.RPM, 1e-9)
		assert.Equal(t, in.Setting, out.Setting)
		for name, pair := range map[string][2]*float64{
			"tank": {in.TankPsi, out.TankPsi}, "vacuum": {in.VacuumInHg, out.VacuumInHg},
			"flow": {in.FlowGPM, out.FlowGPM}, "power": {in.PowerW, out.PowerW},
		} {
			if pair[0] == nil {
				assert.Nil(t, pair[1], name)
				continue
			}
			require.NotNil(t, pair[1], name)
			assert.InDelta(t, *pair[0], *pair[1], 1e-9, name)
		}
	})
}

// The same draft has one digest, another content another.
func TestADraftsDigestIsItsContents(t *testing.T) {
	d := VisitDraft{Findings: judge.Findings{Signs: map[string]bool{"a": true, "b": false}}, Note: "x"}
	same := VisitDraft{Findings: judge.Findings{Signs: map[string]bool{"b": false, "a": true}}, Note: "x"}
	assert.Equal(t, d.hash(), same.hash(), "in whatever order a map comes")
	same.Note = "y"
	assert.NotEqual(t, d.hash(), same.hash())
}

// The faults to choose from are those that the pad can have, dirt first, and never "sound".
func TestFaultsToChooseAreThePads(t *testing.T) {
	doc := padtest.SandPad()
	names := map[string]bool{}
	list := faultNames(&doc)
	for _, f := range list {
		assert.False(t, names[f.ID], "%s twice", f.ID)
		names[f.ID] = true
		assert.NotEmpty(t, words.Plain.Say(f.Name))
	}
	assert.Equal(t, "filter-loaded", list[0].ID)
	assert.False(t, names["healthy"])
	spa := padtest.SpaPad()
	assert.Greater(t, len(faultNames(&spa)), len(list), "a spa, a heater and a cell can fail too")
}
