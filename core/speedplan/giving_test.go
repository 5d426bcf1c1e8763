package speedplan

import (
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/catalogue"
	"fairlap/core/pad"
)

// A default never makes a day impossible (handbook, speed plan): the usual needs alone have a plan on every pad, and
// what gives way is said; asked for by name it stays, and is named where it collides.
func TestADefaultGivesWayAndANeedDoesNot(t *testing.T) {
	t.Parallel()
	pads := []*Pad{
		drawnPad(t, "Brisk 150 VS", "Stanchion S24", withCell),
		drawnPad(t, "Brisk 270 VS", "Pleat 420", withHeater),
		drawnPad(t, "Brisk 75", "Stanchion S20", nil),
		drawnPad(t, "Brisk 75 Two", "Stanchion S30", withCell),
		drawnPad(t, "Brisk 270 Hold", "Lattice 48", withCell),
	}
	gave := 0
	rapid.Check(t, func(t *rapid.T) {
		p := rapid.SampledFrom(pads).Draw(t, "pad")
		n := usual(p, rapid.Float64Range(4000, 60000).Draw(t, "gallons"), rapid.Float64Range(20, 110).Draw(t, "air"))
		a := Find(p, n)
		if a.Conflict != nil { // the pad's own limits, its slots and frost are no defaults
			for _, id := range a.Conflict.Needs {
				require.NotContains(t, n.defaults(p), id, say(a.Conflict.Text))
			}
			return
		}
		left := slices.DeleteFunc(slices.Clone(a.Plan.Broken), func(b Broken) bool { return b.Need == NeedLimit })
		if len(left) == 0 { // a single speed over its media's rate is said, and no way out of it
			return
		}
		gave++
		for _, b := range left {
			require.Contains(t, n.defaults(p), b.Need, say(b.Text))
		}
		asked := *n
		for _, g := range giving {
			asked.Asked = append(asked.Asked, g.id)
		}
		b := Find(p, &asked)
		require.NotNil(t, b.Conflict, "asked for by name, nothing gives way")
		require.True(t, slices.ContainsFunc(b.Conflict.Needs, func(id NeedID) bool {
			return slices.Contains(asked.Asked, id)
		}))
	})
	t.Logf("in %d days a default gave way", gave)
	// 60,000 gallons a day are more than a small pump turns over: it gives way, and the day stands.
	n := usual(pads[2], 60000, 80)
	a := Find(pads[2], n)
	require.Nil(t, a.Conflict)
	assert.True(t, slices.ContainsFunc(a.Plan.Broken, func(b Broken) bool { return b.Need == NeedTurnover }))
	n.Asked = []NeedID{NeedTurnover}
	require.NotNil(t, Find(pads[2], n).Conflict)
}

// Whatever is typed of a need makes it no default: a changed figure is asked for as much as a name is.
func TestAChangedFieldIsNoDefault(t *testing.T) {
	p := drawnPad(t, "Brisk 150 VS", "Stanchion S24", withCell)
	seen := 0
	for k := range reflect.TypeFor[Needs]().NumField() {
		n := *usual(p, 18000, 78)
		name, _, _ := strings.Cut(reflect.TypeFor[Needs]().Field(k).Tag.Get("json"), ",")
		id, ok := fields[name]
		if !ok {
			continue
		}
		seen++
		require.Contains(t, n.defaults(p), id, name)
		v := reflect.ValueOf(&n).Elem().Field(k)
		if v.Kind() == reflect.Struct {
			v = v.Field(0)
		}
		if v.Kind() == reflect.String {
			v.SetString("otherwise")
		} else {
			v.SetFloat(v.Float() + 1)
		}
		assert.NotContains(t, n.defaults(p), id, name)
	}
	assert.Len(t, fields, seen)
}

// The minutes of priming are part of the day: no plan starts in quiet hours or in a low peak, and an edited day that
// does is said to.
func TestPrimingIsPartOfTheDay(t *testing.T) {
	t.Parallel()
	p := drawnPad(t, "Brisk 150 VS", "Stanchion S24", withCell)
	n := usual(p, 18000, 78)
	rapid.Check(t, func(t *rapid.T) {
		m := *n
		m.Quiet = Span{float64(rapid.IntRange(18, 23).Draw(t, "from")), float64(rapid.IntRange(5, 9).Draw(t, "to"))}
		m.Peak = Span{float64(rapid.IntRange(12, 16).Draw(t, "peak")), float64(rapid.IntRange(17, 20).Draw(t, "until"))}
		m.Asked = []NeedID{NeedQuiet, NeedPeak}
		a := Find(p, &m)
		if a.Conflict != nil {
			return
		}
		if a.Plan.Totals.Starts == 0 {
			return
		}
		for i, b := range a.Plan.Blocks {
			before := a.Plan.Blocks[(i+len(a.Plan.Blocks)-1)%len(a.Plan.Blocks)]
			if end := before.Start + before.Hours; end == b.Start || end-24 == b.Start {
				continue // it runs already
			}
			h := int(b.Start)
			require.False(t, m.Quiet.Holds(h) || m.Peak.Holds(h), "it starts at %d: quiet %v, peak %v", h, m.Quiet, m.Peak)
		}
	})
	early := []pad.Slot{{StartHour: 5, Hours: 12, RPM: 1500}}
	plan, wrong := Evaluate(p, n, early)
	require.Empty(t, wrong)
	assert.True(t, slices.ContainsFunc(plan.Broken, func(b Broken) bool { return b.Need == NeedQuiet && b.Hour == 5 }))
	n.PrimeMin = 0
	plan, _ = Evaluate(p, n, early)
	assert.False(t, slices.ContainsFunc(plan.Broken, func(b Broken) bool { return b.Need == NeedQuiet }))
}

// A pump that holds its flow serves a cell by the flow that it is set to, whatever its filter (handbook, speed plan).
func TestASetFlowServesItsDevice(t *testing.T) {
	p := drawnPad(t, "Brisk 270 Hold", "Pleat 420", func(d *pad.Document) {
		cell := *catalogue.Find("Halide 40").Cell
		cell.LeastGPM = 20
		d.Cell = &cell
	})
	for _, w := range p.Ways[1:] {
		assert.Equal(t, w.HoldGPM >= 20, w.serves(p.cell, 20), "set to %g gpm", w.HoldGPM)
		assert.GreaterOrEqual(t, w.MostRPM, w.RPM, "a loaded filter asks for more speed")
	}
}

// Spa hours run on the spa's own way: its power is on the bill, its covers bound the speed.
func TestSpaHoursAreTheSpasOwn(t *testing.T) {
	k := pad.Sketch{Pump: *catalogue.Find("Brisk 270 VS").Pump, Filter: *catalogue.Find("Pleat 420").Filter, PipeIn: 2,
		LengthFt: 45, Spa: true}
	p := drawnPad(t, "Brisk 270 VS", "Pleat 420", func(d *pad.Document) { *d = k.Document() })
	n := usual(p, 18000, 78)
	n.Spa, n.SpaRPM, n.Tariff = Span{18, 20}, 1500, Tariff{Flat: 0.2}
	day := []pad.Slot{{StartHour: 8, Hours: 12, RPM: 2400}}
	plan, wrong := Evaluate(p, n, day)
	require.Empty(t, wrong)
	w := p.wayAt(day[0])
	require.NotEqual(t, w.W, w.SpaW)
	prime := p.wayAt(pad.Slot{RPM: n.PrimeRPM}).W / 1000 * n.PrimeMin / 60
	assert.InDelta(t, (10*w.W+2*w.SpaW)/1000+prime, plan.Totals.KWh, 1e-6)
	require.Positive(t, p.spaTop)
	n.SpaRPM = p.spaTop + 100
	a := Find(p, n)
	require.NotNil(t, a.Conflict, "faster than the spa's own covers bear")
	assert.Equal(t, []NeedID{NeedSpa}, a.Conflict.Needs)
}
