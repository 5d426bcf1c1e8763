package practice

import (
	"fmt"
	"slices"

	"fairlap/core/fault"
	"fairlap/core/words"
)

// about are the faults and pads of each theme; a fault that a pad can't have is not drawn on
// it.
var about = map[Theme]struct {
	faults []fault.ID
	pads   []string
	months []int
}{
	Air: {
		faults: []fault.ID{
			fault.AirLid,
			fault.WaterLow,
			fault.AirInlet,
			fault.AirUpstream,
			fault.PrimeLost,
			fault.DrainBack,
		},
		pads: []string{SandSpeeds, SandSingle, Cartridge, GridsDE},
	},
	Suction: {
		faults: []fault.ID{
			fault.BasketFullFault,
			fault.SkimmerBlocked,
			fault.SuctionValve,
			fault.SuctionLine,
			fault.SuctionAllShut,
			fault.ImpellerClogged,
			fault.ImpellerWorn,
			fault.Cavitation,
		},
		pads: []string{SandSpeeds, SandSingle, Cartridge, GridsDE, SandSpa},
	},
	Filter: {
		faults: []fault.ID{
			fault.FilterLoaded,
			fault.ReturnRestricted,
			fault.MediaFouled,
			fault.BedChannelled,
			fault.MediaInPool,
			fault.ValveGasket,
			fault.ValvePosition,
			fault.GaugeBad,
			fault.TankLeak,
		},
		pads: []string{SandSpeeds, SandSingle, Cartridge, GridsDE, SlideTwo},
	},
	SpaValves: {
		faults: []fault.ID{fault.SpaDraining, fault.SpaFilling, fault.LeftInSpa, fault.SuctionValve, fault.SuctionLine},
		pads:   []string{SandSpa},
	},
	Electrical: {
		faults: []fault.ID{
			fault.MotorHums,
			fault.NoPower,
			fault.MotorHot,
			fault.SpeedLow,
			fault.WrongMode,
			fault.SealLeak,
		},
		pads: []string{SandSpeeds, SandSingle, GridsDE, SlideTwo},
	},
	Holding: {
		faults: []fault.ID{
			fault.FilterLoaded,
			fault.SkimmerBlocked,
			fault.ImpellerWorn,
			fault.ImpellerClogged,
			fault.ReturnRestricted,
			fault.GaugeBad,
		},
		pads: []string{HoldsFlow},
	},
	Small: {
		faults: []fault.ID{fault.AirlockSmall, fault.FilterLoaded, fault.SkimmerBlocked, fault.AirLid, fault.WaterLow},
		pads:   []string{SmallUnit},
		months: []int{5, 6, 7, 8},
	},
	Opening: {
		faults: []fault.ID{
			fault.ReturnRestricted,
			fault.AirLid,
			fault.SuctionAllShut,
			fault.ValvePosition,
			fault.PrimeLost,
			fault.ReturnAllShut,
			fault.MotorHums,
			fault.OutletLeak,
		},
		pads:   []string{SandSpeeds, SandSingle, Cartridge, GridsDE},
		months: []int{3, 4},
	},
}

// second is how often an old hand's case hides two things.
const second = 0.5

// Draw draws a case: the same level, theme and seed give the same one.
func Draw(level Level, theme Theme, seed uint64) (*Case, error) {
	t, ok := about[theme]
	if !ok || !slices.Contains(Levels, level) {
		return nil, ErrCase
	}
	var last error
	for again := range 40 { // until there is something to be found
		c := draw(level, theme, seed, again, t.pads, t.months, t.faults)
		if errs := c.Check(); len(errs) > 0 {
			last = fmt.Errorf("%w: %w", ErrCase, &errs[0])
			continue
		}
		s, err := Set(c)
		if err != nil {
			last = err
			continue
		}
		if found, err := s.shown(); err != nil || !found {
			last = err
			continue
		}
		return c, nil
	}
	return nil, fmt.Errorf("drawing %s, %s, %d: %w", level, theme, seed, last)
}

func draw(level Level, theme Theme, seed uint64, again int, on []string, months []int, faults []fault.ID) *Case {
	name := func(what string) string { return fmt.Sprintf("%s/%s/%d/%s", level, theme, again, what) }
	c := &Case{
		ID:      fmt.Sprintf("drawn-%s-%s-%d", level, theme, seed),
		Level:   level,
		Theme:   theme,
		Pad:     on[pick(seed, name("pad"), len(on), evenly)],
		Month:   1 + pick(seed, name("month"), 12, evenly),
		Seed:    seed<<8 | uint64(again),
		Typical: level == FirstWeek,
		Called:  chance(seed, name("called")) < 0.5,
	}
	if len(months) > 0 {
		c.Month = months[pick(seed, name("month"), len(months), evenly)]
	}
	d, _ := c.document()
	c.Load = 0.1 + 0.6*chance(seed, name("load"))
	can := slices.DeleteFunc(slices.Clone(faults), func(id fault.ID) bool {
		_, ok := known(id, &d)
		return !ok
	})
	if len(can) == 0 {
		return c
	}
	hide := func(what string) Hidden {
		id := can[pick(seed, name(what), len(can), evenly)]
		h := Hidden{Fault: id}
		if id == fault.FilterLoaded {
			c.Load = 1.3 + 0.9*chance(seed, name("dirt"))
			return h
		}
		f, _ := known(id, &d)
		places := f.Places(&d)
		h.Place = pick(seed, name(what+"/place"), len(places), func(i int) float64 { return max(places[i].Share, 0.2) })
		h.Step = pick(seed, name(what+"/step"), len(f.Weights), func(i int) float64 {
			if level == FirstWeek && i < len(f.Weights)/2 { // plain to see
				return 0
			}
			return f.Weights[i]
		})
		return h
	}
	c.Hidden = []Hidden{hide("first")}
	if level == OldHand && chance(seed, name("two")) < second {
		if two := append(slices.Clone(c.Hidden), hide("second")); together(&d, two) {
			c.Hidden = two
		} else if c.Hidden[0].Fault != fault.FilterLoaded {
			c.Load = min(c.Load, 0.7)
		}
	}
	c.Forecast = max(0, min(1, c.Load+0.15*normal(seed, name("forecast"))))
	c.tells()
	return c
}

// shown tells whether a case can be found out: a look that tells of each hidden thing shows,
// or a meter stands off.
func (s *Scene) shown() (bool, error) {
	a := s.Begin(Alone)
	for i := range s.causes {
		h := &s.causes[i]
		if h.Fault.ID == fault.FilterLoaded {
			continue
		}
		sg, ok := fault.LookUpSign(telling(h, &s.doc))
		if !ok {
			with, without, err := s.sides(h)
			if err != nil {
				return false, err
			}
			if with == without {
				return false, nil
			}
			continue
		}
		yes, err := a.shows(sg)
		if err != nil || !yes {
			return false, err
		}
	}
	return true, nil
}

// tells writes the story of a drawn case: who is there and why, and what they saw.
func (c *Case) tells() {
	s, err := Set(c)
	if err != nil {
		return
	}
	c.Title = words.Of(
		"practice.drawn.title",
		"theme",
		words.Msg(c.Theme.Words()),
		"seed",
		words.N(float64(c.Seed>>8)),
	)
	if !c.Called {
		c.Story = words.Of("practice.drawn.routine", "load", words.Share(c.Forecast))
		return
	}
	a := s.Begin(Alone)
	c.Story = words.Of("practice.drawn.called", "load", words.Share(c.Forecast))
	for _, id := range complaints {
		sg, ok := fault.LookUpSign(id)
		if !ok || !sg.On(&s.doc) {
			continue
		}
		if yes, err := a.shows(sg); err == nil && yes {
			c.Told = map[fault.Sign]bool{id: true}
			c.Story = words.Of("practice.drawn.saw", "load", words.Share(c.Forecast), "sign", words.Msg(sg.Name))
			return
		}
	}
}

// complaints are what an owner sees and calls for, in the order that it is told.
var complaints = []fault.Sign{
	fault.Silent,
	fault.Hums,
	fault.CutsOut,
	fault.SpaFalling,
	fault.SpaRising,
	fault.WaterGreen,
	fault.Bubbles,
	fault.WeakAll,
	fault.WeakOne,
	fault.WaterDull,
}

// Words name a theme.
func (t Theme) Words() words.Message { return words.Message("practice.theme." + string(t)) }

// Words name a level.
func (l Level) Words() words.Message { return words.Message("practice.level." + string(l)) }
