package stop

import (
	"encoding/json"
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/casefile"
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/procedure"
)

var morning = time.Date(2026, 11, 24, 10, 40, 0, 0, time.UTC)

func minute(n int) time.Time { return morning.Add(time.Duration(n) * time.Minute) }

// kinds are pads of eight sorts.
var kinds = []procedure.Rig{
	{Valve: pad.Multiport, Kind: pad.Sand, Suction: []string{"Skimmer", "Main drain"}, Usual: 3, Drain: 1},
	{Valve: pad.Multiport, Kind: pad.Sand, Suction: []string{"Skimmer"}, Usual: 1, Drain: -1, Heater: true},
	{Valve: pad.Multiport, Kind: pad.DE, Suction: []string{"Skimmer", "Main drain"}, Usual: 3, Drain: 1, Spa: true},
	{Valve: pad.SlideValve, Kind: pad.DE, Suction: []string{"Skimmer"}, Usual: 1, Drain: -1},
	{Valve: pad.SlideValve, Kind: pad.Sand, Suction: []string{"Skimmer", "Vacuum"}, Usual: 1, Drain: -1, Below: true},
	{Valve: pad.NoValve, Kind: pad.Cartridge, Suction: []string{"Skimmer", "Main drain"}, Usual: 3, Drain: 1},
	{Valve: pad.NoValve, Kind: pad.Cartridge, Suction: []string{"Skimmer"}, Usual: 1, Drain: -1, Below: true,
		Heater: true},
	{Valve: pad.NoValve, Kind: pad.Cartridge, Suction: []string{"Hose"}, Usual: 1, Drain: -1, Small: true},
}

// setup is a pad of which little is known.
func setup(r procedure.Rig) *procedure.Setup {
	return &procedure.Setup{Rig: r, Ways: procedure.DefaultWays(), Figures: procedure.Figures{}}
}

func reading(rpm, tank float64, setting string) *casefile.Reading {
	return &casefile.Reading{RPM: rpm, TankPsi: &tank, Setting: setting}
}

// drawn is a stop's day: words, readings, signs and runs, each run begun as the stop left the pad
// and worked on at random. The runs' moves come with it.
func drawn(t *rapid.T, rig *procedure.Rig) Book {
	var b Book
	at := 0
	for i := range rapid.IntRange(0, 8).Draw(t, "entries") {
		at += rapid.IntRange(0, 5).Draw(t, "minutes")
		e := Entry{ID: fmt.Sprintf("e%d", i), At: minute(at),
			By: rapid.SampledFrom([]string{"Ann", "Bo"}).Draw(t, "by")}
		switch e.Kind = rapid.SampledFrom([]Kind{Said, Read, Seen, Ran, Done}).Draw(t, "kind"); e.Kind {
		case Said:
			e.Pump = rapid.SampledFrom([]Pump{Running, Off, Locked, Unknown}).Draw(t, "pump")
		case Read:
			e.Row, e.Reading = i, reading(rapid.Float64Range(0, 3450).Draw(t, "rpm"), 14, "")
		case Seen:
			e.Sign = rapid.SampledFrom([]fault.Sign{fault.BasketFull, fault.HeaterCrackles, fault.Silent}).Draw(t,
				"sign")
			e.Yes = rapid.Bool().Draw(t, "yes")
		case Done:
			e.Work = &casefile.Done{Cleaned: true}
		case Ran:
			if b.State(rig, nil).Going != nil { // one run at a time
				continue
			}
			began, ok := begun(t, b, rig, at, e.ID)
			if !ok {
				continue
			}
			e = began
			at += 40
		}
		b = append(b, e)
	}
	return b
}

func begun(t *rapid.T, b Book, rig *procedure.Rig, at int, id string) (Entry, bool) {
	st := b.State(rig, nil)
	s := setup(*rig)
	s.Start = &st.Pad
	p := rapid.SampledFrom(procedure.For(s)).Draw(t, "procedure")
	script, err := p.Write(s)
	if err != nil {
		return Entry{}, false
	}
	r := script.Begin()
	var events []procedure.Event
	for n := range rapid.IntRange(0, 60).Draw(t, "events") {
		if r.Ended != nil || r.Left != nil {
			break
		}
		next := r.Next()
		ev := procedure.Event{
			At: minute(at).Add(time.Duration(n) * time.Second), By: "Ann", Act: procedure.ActGo, Turn: r.Turn,
			Step:   next.ID,
			Option: rapid.SampledFrom(next.Options).Draw(t, "option").ID, Reading: reading(2400, 14, ""),
			Note: "no time",
		}
		if rapid.IntRange(0, 30).Draw(t, "leave") == 0 {
			ev = procedure.Event{At: ev.At, Act: procedure.ActLeave, Turn: r.Turn}
		}
		require.NoError(t, r.Take(ev))
		events = append(events, ev)
	}
	e, err := OfRun(id, "Ann", script, minute(at), events)
	require.NoError(t, err)
	return e, true
}

// However a day goes: entries of two devices fold as their merged order does, in whatever order
// they come and however often; and nothing is open or locked that nobody made or said.
func TestADayFoldsTheSameForEveryDevice(t *testing.T) {
	locked, open := 0, 0
	law := func(t *rapid.T) {
		rig := rapid.SampledFrom(kinds).Draw(t, "pad")
		all := drawn(t, &rig)
		want := all.State(&rig, nil)
		var a, b Book
		for _, e := range all {
			switch rapid.IntRange(0, 2).Draw(t, "device") {
			case 0:
				a = append(a, e)
			case 1:
				b = append(b, e)
			default: // both have it
				a, b = append(a, e), append(b, e)
			}
		}
		slices.Reverse(b)
		got := Merge(a, b).State(&rig, nil)
		one, err := json.Marshal(want)
		require.NoError(t, err)
		two, err := json.Marshal(got)
		require.NoError(t, err)
		assert.Equal(t, string(one), string(two))
		assert.Equal(t, string(one), func() string {
			x, err := json.Marshal(append(a, b...).State(&rig, nil))
			require.NoError(t, err)
			return string(x)
		}())

		said, lock := false, false
		for _, e := range all {
			said = said || e.Kind == Said || e.Kind == Read || e.Kind == Ran || e.Kind == Seen && e.Yes
			lock = lock || e.Pump == Locked || e.Run != nil && e.Run.State.Power == procedure.Locked
		}
		if !said {
			assert.Equal(t, Unknown, want.Pump)
			assert.Empty(t, want.Open)
		}
		if want.Pump == Locked || want.Pad.Power == procedure.Locked {
			assert.True(t, lock, "locked by nobody")
			locked++
		}
		assert.Equal(t, want.Pump == Locked, want.Pad.Power == procedure.Locked, "plate and pad say one thing")
		for _, o := range want.Open {
			open++
			assert.NotEmpty(t, o.Says)
			assert.False(t, o.At.IsZero(), "somebody made it so: %s", o.Part)
		}
		n := len(want.Now.Readings)
		for _, st := range want.Before {
			n += len(st.Readings)
		}
		reads := 0
		for _, e := range all {
			if e.Kind == Read {
				reads++
			}
		}
		assert.GreaterOrEqual(t, n, reads, "no reading is lost")
	}
	rapid.Check(t, law)
	for range 20 { // a few draws may meet no lock: more of them do
		if locked > 0 && open > 0 {
			break
		}
		rapid.Check(t, law)
	}
	assert.Positive(t, locked)
	assert.Positive(t, open)
}

// Of one run the entry with more moves is kept, whichever device has it, though the clock stood still.
func TestTheLaterOfOneRunIsKept(t *testing.T) {
	rig := kinds[0]
	locked := rig.Daily()
	locked.Running, locked.Power = false, procedure.Locked
	early := Entry{ID: "r", At: minute(1), Kind: Ran, Run: &Run{ID: "r", Turn: 2, State: rig.Daily()}}
	late := Entry{ID: "r", At: minute(1), Kind: Ran, Run: &Run{ID: "r", Turn: 3, State: locked}}
	for _, b := range []Book{Merge(Book{early}, Book{late}), Merge(Book{late}, Book{early})} {
		assert.Equal(t, Locked, b.State(&rig, nil).Pump)
	}
}

// The stop of the design, entry by entry.
func TestAStopEntryByEntry(t *testing.T) {
	rig := kinds[0]
	daily := rig.Daily()
	b := Book{}
	assert.Equal(t, Unknown, b.State(&rig, nil).Pump)
	b = append(b, Entry{ID: "1", At: minute(2), Kind: Said, Pump: Running, By: "O. Brandt"})
	assert.Equal(t, Running, b.State(&rig, nil).Pump)
	b = append(b, Entry{ID: "2", At: minute(3), Kind: Read, Reading: reading(2400, 14, "")})
	b = append(b, Entry{ID: "3", At: minute(4), Kind: Seen, Sign: fault.BasketFull, Yes: true})
	st := b.State(&rig, nil)
	assert.Equal(t, 2400.0, st.Speed)
	assert.True(t, st.Now.Signs[fault.BasketFull])
	locked := daily
	locked.Running, locked.Power, locked.ByHand = false, procedure.Locked, true
	run := Entry{ID: "run", At: minute(9), By: "O. Brandt", Kind: Ran,
		Run: &Run{ID: "run", Name: "Baskets", State: locked}}
	st = append(b, run).State(&rig, nil)
	assert.Equal(t, Locked, st.Pump)
	require.NotNil(t, st.Going)
	assert.Equal(t, []procedure.Part{procedure.PartLock, PartRun}, parts(st.Open))
	assert.Equal(t, "O. Brandt", st.Open[0].By)
	assert.Len(t, st.Now.Readings, 1, "a run that goes on has closed nothing")
	ended := run
	ended.At, ended.Run = minute(15), &Run{ID: "run", Name: "Baskets", Over: true, Turn: 9, State: daily}
	b = Merge(append(b, run), Book{ended})
	st = b.State(&rig, nil)
	assert.Equal(t, Running, st.Pump)
	assert.Empty(t, st.Open)
	require.Len(t, st.Before, 1)
	assert.Len(t, st.Before[0].Readings, 1)
	assert.Empty(t, st.Now.Readings)
	around := daily
	around.Setting = pad.SetRecirculate
	b = append(b,
		Entry{ID: "r2", At: minute(22), Kind: Ran, Run: &Run{ID: "r2", Name: "Around", Over: true, State: around}},
		Entry{ID: "4", At: minute(24), Kind: Read, Reading: reading(2400, 9, "")})
	st = b.State(&rig, nil)
	assert.Equal(t, []procedure.Part{procedure.PartValve}, parts(st.Open))
	assert.Equal(t, minute(22), st.Open[0].At)
	assert.Equal(t, "recirculate", st.Now.Readings[0].Setting, "read as the pad was left")
	later := append(b, Entry{ID: "5", At: minute(25), Kind: Read, Reading: reading(2400, 12, "filter")})
	assert.Empty(t, later.State(&rig, nil).Open, "somebody read it on Filter")
	next := Book{}.State(&rig, &st.Pad)
	assert.Equal(t, []procedure.Part{procedure.PartValve}, parts(next.Open), "the next visit opens with it")
}

func parts(all []Open) (out []procedure.Part) {
	for _, o := range all {
		out = append(out, o.Part)
	}
	return out
}

// Whatever is locked off is not made to run by a sign, and what is said of it undoes what can't
// be with it.
func TestWhatIsSaidUndoesWhatCantBe(t *testing.T) {
	rig := kinds[0]
	open := rig.Daily()
	open.Running, open.Power, open.Pot, open.Opened, open.Suction = false, procedure.Locked, true, true, 0
	b := Book{{ID: "r", At: minute(1), Kind: Ran, Run: &Run{ID: "r", Left: true, State: open}}}
	st := append(b, Entry{ID: "s", At: minute(2), Kind: Said, Pump: Running}).State(&rig, nil)
	assert.False(t, st.Pad.Pot)
	assert.Equal(t, rig.Usual, st.Pad.Suction)
	assert.Equal(t, procedure.Live, st.Pad.Power)
	st = append(b, Entry{ID: "s", At: minute(2), Kind: Said, Pump: Off}).State(&rig, nil)
	assert.Equal(t, Off, st.Pump)
	assert.Equal(t, procedure.Live, st.Pad.Power)
	silent := Book{{ID: "s", Kind: Seen, Sign: fault.Silent, Yes: true}}.State(&rig, nil)
	assert.Equal(t, Off, silent.Pump)
}

// A run that was written out before an end put the pump back on its program says nothing of it.
func TestOldRunsSayNothingOfTheProgram(t *testing.T) {
	rig := kinds[0]
	script := &procedure.Script{Procedure: "old", Name: "Old", Rig: rig, Start: rig.Daily(),
		Steps: []procedure.ScriptStep{
			{ID: "off", Options: []procedure.Option{{ID: "done", To: "on",
				Do: []procedure.Action{{Verb: procedure.Stop}}}}},
			{ID: "on", Options: []procedure.Option{{ID: "done", Do: []procedure.Action{{Verb: procedure.Start}}}}},
		}}
	go1 := procedure.Event{At: minute(1), Act: procedure.ActGo, Step: "off", Option: "done"}
	go2 := procedure.Event{At: minute(2), Act: procedure.ActGo, Turn: 1, Step: "on", Option: "done"}
	e, err := OfRun("x", "Ann", script, minute(0), []procedure.Event{go1, go2})
	require.NoError(t, err)
	assert.Empty(t, Book{e}.State(&rig, nil).Open)
}
