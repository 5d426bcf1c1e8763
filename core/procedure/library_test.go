package procedure

import (
	"fmt"
	"maps"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/drawn"
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/words"
)

// everyFigure is a pad of which everything is known.
func everyFigure() Figures {
	f := Figures{}
	for _, p := range Library {
		texts := []words.Message{p.Aim}
		for _, m := range p.Takes {
			texts = append(texts, m.Amount)
		}
		for _, s := range append(append([]Step{}, p.Steps...), p.Short...) {
			texts = append(texts, s.Text, s.Hint, s.Why)
		}
		for _, text := range texts {
			for _, name := range words.Asks(text) {
				f[name] = words.N(7)
			}
		}
	}
	f["holds"], f["panel"] = words.N(1), words.N(1)
	return f
}

// knownSetup is a pad of which everything is known.
func knownSetup(r Rig) *Setup {
	s := &Setup{
		Rig:     r,
		Ways:    DefaultWays(),
		Figures: everyFigure(),
		Returns: []string{"First return", "Second return"},
		Freeze:  []words.Message{"the pump's pot and volute", "the filter tank"},
		Waste:   map[Count]float64{CountBackwash: 40, CountRinse: 20, CountWaste: 30},
	}
	if r.Valve == pad.Multiport {
		s.InchSeconds = 600
		if r.Drain >= 0 {
			s.DrainInchSeconds = 900
		}
	}
	return s
}

// forms are the ways that a procedure is written out on a pad: whole, and short.
func forms(t *testing.T, p *Procedure, setup *Setup) []*Script {
	t.Helper()
	c, err := p.Write(setup)
	require.NoError(t, err, p.ID)
	if p.Short == nil {
		return []*Script{c}
	}
	short := *setup
	short.Short = true
	few, err := p.Write(&short)
	require.NoError(t, err, "%s in short", p.ID)
	assert.Less(t, len(few.Steps), len(c.Steps), "%s: short is shorter", p.ID)
	return []*Script{c, few}
}

// setups are pads of every sort that the library tells apart, under every way; of them a share now.
func setups() map[string]*Setup {
	all := everySetup()
	out := map[string]*Setup{}
	for _, name := range drawn.Some(slices.Sorted(maps.Keys(all))) {
		out[name] = all[name]
	}
	return out
}

func everySetup() map[string]*Setup {
	out := map[string]*Setup{}
	for _, valve := range []pad.Valve{pad.Multiport, pad.SlideValve, pad.NoValve} {
		for _, kind := range []pad.FilterKind{pad.Sand, pad.Cartridge, pad.DE} {
			for n := 1; n <= 3; n++ {
				for _, flags := range []string{"", "spa", "below", "small", "heater"} {
					for _, prime := range []string{"skimmer", "drain", "shut"} {
						for _, rinse := range []string{"timed", "clear"} {
							if prime != "skimmer" && n == 1 {
								continue
							}
							r := Rig{
								Valve:   valve,
								Kind:    kind,
								Suction: []string{"Skimmer", "Main drain", "Vacuum line"}[:n],
								Spa:     flags == "spa",
								Below:   flags == "below",
								Small:   flags == "small" && valve == pad.NoValve && kind == pad.Cartridge,
								Heater:  flags == "heater",
							}
							r.Cell, r.CheckValve, r.Bypass = r.Heater, r.Heater, r.Heater
							r.Usual = r.all()
							r.Drain = min(1, n-1)
							if n == 1 {
								r.Drain = -1
							}
							if n == 3 {
								r.Usual = 3
							}
							seal := map[string]string{"timed": "greased", "clear": "dry"}[rinse]
							winter := map[string]string{"timed": "blown", "clear": "antifreeze"}[rinse]
							s := knownSetup(r)
							s.Ways = Ways{rinse, prime, seal, winter}
							if flags == "spa" {
								s.DrainInchSeconds = 0 // no rating read: the drain is never alone
							}
							out[fmt.Sprint(valve, kind, n, flags, prime, rinse)] = s
						}
					}
				}
			}
		}
	}
	return out
}

// Every procedure can be written out for every pad that it suits: no step breaks a
// rule, no step is entered in two states, it ends as in daily use, and from every
// step there is a safe way out.
func TestTheLibraryKeepsTheRules(t *testing.T) {
	written := map[ID]int{}
	for name, setup := range setups() {
		for _, p := range For(setup) {
			for _, c := range forms(t, p, setup) {
				written[p.ID]++
				for _, s := range c.Steps {
					assert.NotEmpty(t, s.Text, "%s, %s", p.ID, s.ID)
					end, err := c.Rig.Do(s.State, c.Rig.Leave(s.State)...)
					require.NoError(t, err)
					assert.True(t, c.Rig.Safe(end), "%s on %s: leaving at %s ends unsafe", p.ID, name, s.ID)
				}
			}
		}
	}
	for _, p := range Library {
		assert.Positive(t, written[p.ID], "nothing suits %s", p.ID)
		assert.NotEmpty(t, p.Care, "%s says no caution", p.ID)
		for _, c := range p.Care {
			assert.NotEmpty(t, cautions[c], "%s: %s", p.ID, c)
		}
		for _, id := range p.Mends {
			_, known := fault.LookUp(id, pad.Sand)
			assert.True(t, known, "%s mends %s", p.ID, id)
		}
		for _, id := range p.Checks {
			assert.True(
				t,
				slices.ContainsFunc(fault.Signs, func(s fault.SignFact) bool { return s.ID == id }),
				"%s answers %s",
				p.ID,
				id,
			)
		}
		for _, s := range p.Steps {
			for _, c := range s.Care {
				assert.NotEmpty(t, cautions[c], "%s: %s", p.ID, c)
			}
		}
	}
}

// Whatever acute fault is found has work that fixes it; who may do it is said in its steps.
func TestEveryAcuteFaultHasItsWork(t *testing.T) {
	for _, f := range fault.Catalogue {
		if f.Chronic || f.ID == fault.Healthy {
			continue
		}
		mends := func(p Procedure) bool { return slices.Contains(p.Mends, f.ID) }
		assert.True(t, slices.ContainsFunc(Library, mends), f.ID)
	}
}

// A cut ring of a tank is never closed under pressure: without a new one the run ends locked off.
func TestACutTankRingEndsLockedOff(t *testing.T) {
	for _, id := range []ID{HoseOff, TankRing} {
		c := script(t, id, cartridgeRig)
		r := c.Begin()
		to(t, r, "seats")
		worn := slices.IndexFunc(r.Next().Options, func(o Option) bool { return o.ID == "worn" })
		require.NoError(t, r.Take(onward(r, worn, noon)))
		for r.Ended == nil {
			require.NoError(t, r.Take(onward(r, 0, noon)))
		}
		assert.Equal(t, Locked, r.State.Power)
		assert.False(t, r.State.Running)
		assert.False(t, r.State.Tank)
		assert.Contains(t, r.Result().Parts, "tank-o-ring")
	}
}

// Without any figure the texts still stand, with no brace left in them.
func TestTextsStandWithoutFigures(t *testing.T) {
	for _, setup := range setups() {
		setup.Figures = Figures{}
		for _, p := range For(setup) {
			c, err := p.Write(setup)
			require.NoError(t, err)
			for _, s := range c.Steps {
				assert.NotContains(t, say(s.Text)+say(s.Hint)+say(s.Why), "{")
			}
		}
	}
}

// No way through a run stops the pump of a pad with a heater before the question
// whether it is hot (state rule 8); a pad found in trouble stops at once.
func TestAHeaterIsAskedForBeforeTheFlowStops(t *testing.T) {
	asked := 0
	for name, setup := range setups() {
		for _, p := range For(setup) {
			c, err := p.Write(setup)
			require.NoError(t, err, name)
			if !setup.Rig.Heater {
				assert.Nil(t, c.step("heat-asked"), "%s, %s: nothing to ask", name, p.ID)
				continue
			}
			if p.From != nil || p.AtOnce {
				continue
			}
			seen, next := map[string]bool{}, []string{c.Steps[0].ID}
			for len(next) > 0 {
				s := c.step(next[0])
				next = next[1:]
				if seen[s.ID] || s.ID == "heat-asked" {
					continue
				}
				seen[s.ID] = true
				for _, o := range s.Options {
					for _, a := range o.Do {
						assert.NotEqual(t, Stop, a.Verb, "%s, %s, %s: the pump stops unasked", name, p.ID, s.ID)
					}
					if o.To != "" {
						next = append(next, o.To)
					}
				}
			}
			hot := c.step("heat-flow")
			if hot == nil {
				continue // it never stops the pump: no way above does
			}
			asked++
			assert.True(t, hot.State.Heat, "%s: taken as hot", p.ID)
			assert.NotEmpty(
				t,
				setup.Rig.Refuses(hot.State, Action{Verb: Stop}),
				"and so long the pump can't be stopped",
			)
		}
	}
	assert.Greater(t, asked, 100)
}
