package practice

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/fault"
	"fairlap/core/words"
)

func set(t *testing.T, c *Case) *Scene {
	t.Helper()
	for _, e := range c.Check() {
		t.Errorf("%s: %s: %s", c.ID, e.Path, words.Plain.Say(e.Text))
	}
	s, err := Set(c)
	require.NoError(t, err, c.ID)
	return s
}

// odds are the log-odds of one fault against another, as the engine has them.
func odds(t *testing.T, a *Attempt, this, that fault.ID) float64 {
	t.Helper()
	_, res, err := a.Judge()
	require.NoError(t, err)
	sum := map[fault.ID]float64{}
	for _, x := range res.Suspects {
		sum[x.Fault.ID] += x.P
		for _, w := range x.With {
			sum[w.Fault.ID] += x.P
		}
	}
	return math.Log((sum[this] + 1e-4) / (sum[that] + 1e-4))
}

// Each written case teaches one discrimination: its two faults are both in play when one
// arrives, and the looks and readings that it names part them. How often signs show is
// common practice.
func TestEachWrittenCasePartsWhatItSays(t *testing.T) {
	require.GreaterOrEqual(t, len(Library()), 30)
	for _, c := range Library() {
		t.Run(c.ID, func(t *testing.T) {
			t.Parallel()
			s := set(t, c)
			if c.Parts.This == c.Parts.That {
				this, that := s.causes[0], causeOf(&s.doc, Hidden{Fault: c.Parts.That, Place: c.Parts.ThatPlace})
				for _, id := range c.Parts.Signs {
					sg, ok := fault.LookUpSign(id)
					require.True(t, ok)
					a, b := shows(sg, &this), shows(sg, &that)
					assert.Greater(
						t,
						a*math.Log(a/b)+(1-a)*math.Log((1-a)/(1-b)),
						math.Log(3),
						"two places of one fault",
					)
				}
				return
			}
			w := &worker{Attempt: s.Begin(Alone)}
			atFirst := slices.ContainsFunc(
				c.Parts.Reads,
				func(r Way) bool { return r.RPM == s.usual() && r.Set == "filter" },
			)
			if !atFirst {
				require.NoError(t, w.takes(Event{Act: ActRead}))
			}
			before := odds(t, w.Attempt, c.Parts.This, c.Parts.That)
			for _, id := range c.Parts.Signs {
				require.NoError(t, w.looksFor(id))
				assert.Contains(t, w.seen, id)
			}
			for _, r := range c.Parts.Reads {
				require.NoError(t, w.reads(r.Set, r.RPM))
			}
			after := odds(t, w.Attempt, c.Parts.This, c.Parts.That)
			assert.Less(t, math.Abs(before), math.Log(40), "before it, either is thinkable")
			assert.Greater(t, after, math.Log(3), "after it, one is not")
			assert.Greater(t, after-before, math.Log(3), "and that is its doing")
		})
	}
}

// A written case's words are there, its hidden thing is found by its best way, and nobody is
// hurt on it.
func TestEveryWrittenCaseIsSolvedByItsBestWay(t *testing.T) {
	for _, c := range Library() {
		t.Run(c.ID, func(t *testing.T) {
			t.Parallel()
			s := set(t, c)
			for _, m := range []words.Message{c.Title, c.Story, c.Lesson} {
				assert.NotContains(t, words.Plain.Say(m), "Fair Lap wrote this")
			}
			events, best, err := s.Best()
			require.NoError(t, err)
			assert.True(t, best.Solved())
			assert.Empty(t, best.Harms)
			assert.Empty(t, best.remains())
			assert.Equal(t, s.rig.Daily(), best.State, "left as in daily use")
			again, err := s.Fold(Alone, events)
			require.NoError(t, err)
			assert.Equal(t, best.Costs(), again.Costs(), "the same acts, the same price")
			_, sure, err := s.settles()
			require.NoError(t, err)
			assert.True(t, sure.Solved(), "whoever knows, solves it")
		})
	}
}
