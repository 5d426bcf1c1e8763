package judge

import (
	"errors"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/figure"
	"fairlap/core/pad"
	"fairlap/core/procedure"
	"fairlap/core/stop"
)

func nothing() Findings { return Findings{Readings: []TypedReading{}, Signs: map[string]bool{}} }

// A cleaning that no run did is a stage like a run's: what was read before it belongs to it, what was
// read after it is what the stop is judged by.
func TestACleaningByHandIsAStage(t *testing.T) {
	s := stopWith(t)
	f := nothing()
	f.Readings = []TypedReading{typedAt("20", at(5))}
	f.Cleaned = &CleanedBy{At: *at(20), After: &TypedReading{Speed: "2400", Tank: "11"}}
	c, err := s.Case(f, *at(40))
	require.NoError(t, err)
	require.Len(t, c.Before, 1)
	assert.True(t, c.Before[0].Work.Cleaned)
	assert.NotEmpty(t, c.Before[0].Work.Name)
	assert.Equal(t, []float64{20}, tanks(c.Before[0].Readings))
	assert.Equal(t, []float64{11}, tanks(c.Readings))
	v, res, err := s.Judge(f, *at(40), nil)
	require.NoError(t, err)
	require.True(t, res.AsFoundKnown)
	assert.Greater(t, res.AsFound.Mean, res.Observed.Mean, "as found it was dirtier")
	assert.True(t, v.Readings[0].Before)
	assert.Equal(t, 0, v.Readings[0].Row)
	assert.Equal(t, -1, v.Readings[1].Row)
}

// What is typed after a cleaning is refused at its own field; a sign that is none, and a reading at
// rest, alike.
func TestWhatComesAfterIsReadLikeTheRest(t *testing.T) {
	s := stopWith(t)
	wrong := func(f Findings) string {
		_, err := s.State(f)
		var fields figure.FieldErrors
		require.True(t, errors.As(err, &fields), "%v", err)
		return fields[0].Field
	}
	f := nothing()
	f.Cleaned = &CleanedBy{At: *at(5), After: &TypedReading{Speed: "2400", Tank: "eleven"}}
	assert.Equal(t, "cleaned.after.tank", wrong(f))
	f.Cleaned.After = &TypedReading{Speed: "0", Tank: "11"}
	assert.Equal(t, "cleaned.after.speed", wrong(f))
	f.Cleaned.After = &TypedReading{}
	_, err := s.State(f)
	require.NoError(t, err, "nothing was read after it")
	f = nothing()
	f.Seen = []SeenSign{{Sign: "no-such-sign", Yes: true}}
	assert.Equal(t, "seen[0].sign", wrong(f))
}

// A sign that is looked for again after work was answered twice: each answer belongs to its stage.
func TestASignIsAnsweredOnceAStage(t *testing.T) {
	s := stopWith(t, ran(20, procedure.Result{}))
	f := nothing()
	f.Signs = map[string]bool{"level-low": false}
	f.Seen = []SeenSign{{Sign: "level-low", Yes: true, At: at(5)}, {Sign: "level-low", Yes: false, At: at(30)}}
	c, err := s.Case(f, *at(40))
	require.NoError(t, err)
	assert.Equal(t, map[string]bool{"level-low": true}, c.Before[0].Signs)
	assert.Equal(t, map[string]bool{"level-low": false}, c.Signs)
}

// The plate says what somebody made or said, by whom and when; by its program where nobody set a
// speed; and nothing that nobody said.
func TestThePlateSaysWhatIsKnown(t *testing.T) {
	s := stopWith(t)
	_, known := s.Slot(*at(40))
	assert.False(t, known, "no program is on record")
	s.Model.Doc.Programme = []pad.Slot{{StartHour: 8, Hours: 10, RPM: 2100}}
	v, _, err := s.Judge(nothing(), *at(40), nil)
	require.NoError(t, err)
	assert.Equal(t, stop.Unknown, v.Stop.Pump)
	assert.Empty(t, v.Stop.Says)
	assert.Empty(t, v.Stop.Open)
	assert.InDelta(t, 2100, v.Stop.RPM, 1e-9)
	off, known := s.Slot(at(0).Add(10 * time.Hour))
	assert.True(t, known)
	assert.Zero(t, off, "at 19:00 it is off")
	assert.True(t, v.Stop.Program)

	f := nothing()
	f.Said = []SaidPump{{At: *at(3), By: "somebody else", Pump: stop.Locked}}
	f = f.SignedBy("O. Brandt")
	v, _, err = s.Judge(f, *at(40), nil)
	require.NoError(t, err)
	assert.Equal(t, stop.Locked, v.Stop.Pump)
	assert.Contains(t, say(v.Stop.Says), "by O. Brandt, 9:03 AM")
	require.Len(t, v.Stop.Open, 1)
	assert.Zero(t, v.Stop.RPM)

	f.Readings = []TypedReading{typedAt("14", at(9))}
	v, _, err = s.Judge(f, *at(40), nil)
	require.NoError(t, err)
	assert.Equal(t, stop.Running, v.Stop.Pump, "it was read at a speed")
	assert.InDelta(t, 2400, v.Stop.RPM, 1e-9)
	assert.False(t, v.Stop.Program)
	assert.Empty(t, v.Stop.Open)
}

// What the visit before left is how this stop begins, until somebody reads it otherwise.
func TestAStopBeginsAsTheOneBeforeLeftIt(t *testing.T) {
	s := stopWith(t)
	rig := procedure.RigOf(&s.Model.Doc)
	left := rig.Daily()
	left.Running, left.Power = false, procedure.Locked
	s.Left = &left
	st, err := s.State(nothing())
	require.NoError(t, err)
	assert.Equal(t, stop.Locked, st.Pump)
	assert.True(t, st.At.Equal(time.Time{}))
	f := nothing()
	f.Said = []SaidPump{{At: *at(1), Pump: stop.Running}}
	st, err = s.State(f)
	require.NoError(t, err)
	assert.Empty(t, st.Open)
}
