package practice

import (
	"math"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/procedure"
	"fairlap/core/words"
)

// Chance is even, and what it has for one thing says nothing of another.
func TestChanceIsEven(t *testing.T) {
	const n = 20000
	mean, square, with := 0.0, 0.0, 0.0
	normals, spread := 0.0, 0.0
	for i := range n {
		a, b := chance(uint64(i), "sign/a"), chance(uint64(i), "sign/b")
		require.GreaterOrEqual(t, a, 0.0)
		require.Less(t, a, 1.0)
		mean += a / n
		square += a * a / n
		with += (a - 0.5) * (b - 0.5) / n
		z := normal(uint64(i), "meter")
		normals += z / n
		spread += z * z / n
	}
	assert.InDelta(t, 0.5, mean, 0.01)
	assert.InDelta(t, 1.0/3, square, 0.01, "of an even spread")
	assert.InDelta(t, 0, with, 0.003)
	assert.InDelta(t, 0, normals, 0.03)
	assert.InDelta(t, 1, spread, 0.05)
	assert.Equal(t, chance(7, "x"), chance(7, "x"))
}

func TestPickFollowsItsWeights(t *testing.T) {
	weights := []float64{1, 0, 3}
	var got [3]int
	for i := range 8000 {
		got[pick(uint64(i), "p", 3, func(k int) float64 { return weights[k] })]++
	}
	assert.Zero(t, got[1])
	assert.InDelta(t, 0.25, float64(got[0])/8000, 0.03)
}

// Every pad of the library stands: it is described rightly, its clean line is read, and sound
// and clean the engine finds nothing wrong on it.
func TestEveryPadOfTheLibraryIsSound(t *testing.T) {
	for _, name := range PadNames() {
		t.Run(name, func(t *testing.T) {
			c := plain(name)
			s := set(t, c)
			assert.Empty(t, s.doc.Validate())
			a := s.Begin(Alone)
			require.NoError(t, a.Take(Event{Act: ActRead}))
			_, res, err := a.Judge()
			require.NoError(t, err)
			sound := 0.0
			for _, x := range res.Suspects {
				if x.Fault.ID == fault.Healthy {
					sound += x.P
				}
			}
			assert.Greater(t, sound, 0.1, "somebody expects something: it is not ruled out that there is nothing")
			assert.NotEmpty(t, a.runs())
			v, err := a.View()
			require.NoError(t, err)
			assert.NotEmpty(t, v.Hands)
			assert.NotEmpty(t, v.Looks)
			assert.True(t, v.Daily)
			assert.Positive(t, v.Paths.FlowGPM)
		})
	}
}

// A pump that holds its flow finds its own speed, and pays for dirt with it.
func TestAPumpThatHoldsItsFlowPaysWithSpeed(t *testing.T) {
	speed := func(load float64) float64 {
		c := plain(HoldsFlow)
		c.Load = load
		a := worked(t, c, Event{Act: ActRead})
		v, err := strconv.ParseFloat(a.readings[0].Speed, 64)
		require.NoError(t, err)
		return v
	}
	assert.Greater(t, speed(1.2), speed(0)+50)
	a := worked(t, plain(HoldsFlow))
	assert.ErrorIs(t, a.Take(Event{Act: ActSpeed, RPM: 2000}), ErrUnknown, "it sets its own")
}

// Water only goes where handles lead it: with the returns shut the pump stands dead-headed, with
// one suction line shut the other takes more.
func TestHandlesMoveTheWater(t *testing.T) {
	c := plain(SandSpeeds)
	flow := func(events ...Event) float64 {
		a := worked(t, c, events...)
		st, err := a.water()
		require.NoError(t, err)
		return st.Flow.GPM()
	}
	daily := flow()
	one := flow(do(procedure.ShutLine, "1"))
	assert.Less(t, one, daily)
	assert.Greater(t, one, 0.4*daily)
	around := flow(do(procedure.Stop), do(procedure.Turn, string(pad.SetRecirculate)), do(procedure.Start))
	assert.Greater(t, around, daily, "past the media")
	a := worked(t, c, do(procedure.ShutLine, "1"), Event{Act: ActRead})
	assert.False(t, a.readings[0].judged, "the engine does not know that way of running")
	assert.Empty(t, a.findings().Readings)
}

// At rest the gauge says what stands in the tank, and what it is off by.
func TestAGaugeAtRestTellsOnItself(t *testing.T) {
	rest := func(c *Case) float64 {
		a := worked(t, c, Event{Act: ActReady, Need: Relieved}, Event{Act: ActRead})
		v, err := strconv.ParseFloat(a.readings[0].Tank, 64)
		require.NoError(t, err)
		assert.Equal(t, "0", a.readings[0].Speed)
		return v
	}
	sound := plain(SandSpeeds)
	bad := plain(SandSpeeds)
	bad.Hidden, bad.Seed = one(fault.GaugeBad, 0, 2), 3
	for way := range uint64(40) { // a seed that puts it up
		if chance(way, "gauge/way") >= 0.5 {
			bad.Seed, sound.Seed = way, way
			break
		}
	}
	assert.LessOrEqual(t, rest(sound), 1.5)
	assert.InDelta(
		t,
		offsets[2],
		rest(bad)-rest(sound),
		2,
		"the needle stops at its pin: below nothing it shows nothing",
	)
}

// Two things at once are both there, and mending one leaves the other.
func TestTwoThingsAtOnceAreMendedOneByOne(t *testing.T) {
	c, ok := Find("dirty-and-drawing-air")
	require.True(t, ok)
	a := worked(t, c, Event{Act: ActRun, Run: procedure.Backwash})
	assert.Equal(t, []fault.ID{fault.AirLid}, a.remains())
	assert.Less(t, a.Load, dirty)
	for _, e := range []Event{{Act: ActReady, Need: OpenPot}, {Act: ActMend, Fault: fault.AirLid}, {Act: ActRestore},
		{Act: ActLeave}} {
		require.NoError(t, a.Take(e))
	}
	assert.True(t, a.Solved())
	assert.Empty(t, a.Wrong)
	assert.Positive(t, a.Gallons, "a backwash sends water away")
}

// Nothing costs less than nothing, and every way of going wrong costs more.
func TestWhatGoesWrongCosts(t *testing.T) {
	c, ok := Find("gulping-by-the-steps")
	require.True(t, ok)
	right := worked(t, c, Event{Act: ActMend, Fault: fault.WaterLow}, Event{Act: ActLeave})
	vain := worked(
		t,
		c,
		Event{Act: ActReady, Need: OpenPot},
		Event{Act: ActMend, Fault: fault.AirLid},
		Event{Act: ActRestore},
		Event{Act: ActMend, Fault: fault.WaterLow},
		Event{Act: ActLeave},
	)
	left := worked(t, c, Event{Act: ActLeave})
	hurt := worked(t, c, do(procedure.Stop), do(procedure.LockOff), do(procedure.OpenTank))
	assert.Positive(t, right.Cost())
	assert.Greater(t, vain.Cost(), right.Cost())
	assert.Greater(t, left.Cost(), right.Cost())
	assert.Greater(t, hurt.Cost(), left.Cost())
	assert.False(t, math.IsNaN(hurt.Cost()))
	assert.Equal(t, []fault.ID{fault.AirLid}, vain.Wrong)
}

// An act that there is not is refused, and changes nothing.
func TestAnUnknownActChangesNothing(t *testing.T) {
	a := worked(t, plain(SandSpeeds), Event{Act: ActRead})
	before := a.Costs()
	for _, e := range []Event{
		{Act: "jump"},
		{Act: ActDo},
		{Act: ActDo, Do: &procedure.Action{Verb: procedure.AddAcid}},
		{Act: ActDo, Do: &procedure.Action{Verb: procedure.OpenLine, Arg: "9"}},
		{Act: ActSpeed, RPM: 9000},
		{Act: ActWait, Minutes: 1e9},
		{Act: ActLook, Sign: "no-such"},
		{Act: ActLook, Sign: fault.SpaFalling},
		{Act: ActRun, Run: "no-such"},
		{Act: ActMend, Fault: fault.FilterLoaded},
		{Act: ActRefer, Fault: "no-such"},
		{Act: ActReady, Need: Any},
	} {
		err := a.Take(e)
		if err == nil { // the hand sees that it makes no sense, and is told
			assert.NotEmpty(t, a.Steps[len(a.Steps)-1].Told, "%+v", e)
			continue
		}
		assert.ErrorIs(t, err, ErrUnknown, "%+v", e)
	}
	assert.Equal(t, before.Harms, a.Costs().Harms)
	assert.Equal(t, before.Gallons, a.Costs().Gallons)
}

// A desk keeps the last case ready, and answers another as if it were new.
func TestADeskAnswersOneCaseAfterAnother(t *testing.T) {
	var d Desk
	first, err := d.Scene(Which{ID: "used-on-sunday"})
	require.NoError(t, err)
	again, err := d.Scene(Which{ID: "used-on-sunday"})
	require.NoError(t, err)
	assert.Same(t, first, again)
	_, err = d.Answer(Ask{Which: Which{Draw: &Drawn{Level: Season, Theme: Air, Seed: 9}}, Mode: Alone})
	require.NoError(t, err)
	_, err = d.Scene(Which{ID: "no-such"})
	assert.ErrorIs(t, err, ErrCase)
	_, err = d.Scene(Which{Draw: &Drawn{Level: "hard", Theme: Air, Seed: 9}})
	assert.ErrorIs(t, err, ErrCase)
	out, err := d.Answer(Ask{Which: Which{ID: "used-on-sunday"}, Mode: Alone, Events: []Event{{Act: ActLeave}}})
	require.NoError(t, err)
	require.NotNil(t, out.Debrief)
	assert.False(t, out.Debrief.Solved)
	assert.Len(t, Rows(), len(Library()))
	for _, r := range Rows() {
		assert.NotEqual(t, string(r.Title), words.Plain.Say(r.Title), "it has words")
	}
}
