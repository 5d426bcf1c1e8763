package demo

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"time"

	"fairlap/core/casefile"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/internal/backtest"
	"fairlap/internal/standin"
)

// Truths gives what the town's pools really went through, for the backtest: the
// pads behind the descriptions, each day's dirt, and the cleanings on record. Day 0
// is the first visit of all. Newcomers have no past.
func Truths(seed uint64, now time.Time) (backtest.Habits, []*backtest.Pool, error) {
	h := backtest.Habits{
		Name: "the demo's town, its own fourteen months",
		Seed: seed,
		Days: 7*Weeks + weekdays,
		Sky:  standin.Sky(seed),
	}
	zone, err := time.LoadLocation(Zone)
	if err != nil {
		return h, nil, fmt.Errorf("the town's time zone: %w", err)
	}
	l := &loader{
		rng:  rand.New(rand.NewPCG(seed, 0x9e3779b97f4a7c15)),
		seed: seed,
		zone: zone,
		now:  now.In(zone).Truncate(time.Minute),
	}
	roads, err := standin.RoadMap()
	if err != nil {
		return h, nil, err
	}
	if err := l.raise(roads); err != nil {
		return h, nil, err
	}
	h.Start = l.visitTime(&l.places[0], Weeks, 0).Truncate(24 * time.Hour)
	var out []*backtest.Pool
	for i := range l.places {
		p := &l.places[i]
		if p.newcomer {
			continue
		}
		b := &backtest.Pool{Real: l.rises[i], RPM: l.usualRPM(p), Noise: l.rng.Uint64(), Cleaned: map[int]bool{}}
		if b.Known, err = l.known(i); err != nil {
			return h, nil, fmt.Errorf("the clean line of %s: %w", p.street, err)
		}
		if err := b.Tighten(); err != nil {
			return h, nil, fmt.Errorf("the limit of %s: %w", p.street, err)
		}
		// The town lives in its pads' own loads, the backtest in those of the rise.
		rise := 1 / b.TightReal.LoadScale()
		visits, days, _ := p.live(seed, l.visitTime(p, 0, 0))
		late := l.offset(p) // it is seen on a later weekday
		b.Grows = make([]float64, late)
		for range 3 { // years on, to see when a load would have crossed
			for _, g := range days {
				b.Grows = append(b.Grows, rise*g)
			}
		}
		for _, v := range visits {
			day := late + 7*(Weeks-v.week)
			b.Visits = append(b.Visits, day)
			b.Cleaned[day] = v.cleaned
		}
		for n := range 200 {
			b.After = append(b.After, rise*(0.03+0.05*l.rng.Float64()+p.creep*float64(n)))
		}
		out = append(out, b)
	}
	h.Pools = len(out)
	return h, out, nil
}

// Described are the town's pads as they are on record: what was described, and each clean line.
func Described(seed uint64, now time.Time) ([]judge.Pack, error) {
	l, _, err := raised(seed, now)
	if err != nil {
		return nil, err
	}
	out := make([]judge.Pack, 0, len(l.places))
	for i := range l.places {
		p := &l.places[i]
		line, err := l.cleanLine(i)
		if err != nil {
			return nil, fmt.Errorf("the clean line of %s: %w", p.street, err)
		}
		d := judge.Pack{Pool: p.street, Gallons: p.gallons, Zone: Zone, Pad: p.document()}
		if err := json.Unmarshal(line, &d.CleanLine); err != nil {
			return nil, fmt.Errorf("the clean line of %s: %w", p.street, err)
		}
		out = append(out, d)
	}
	return out, nil
}

// known is the pad as its description and a clean line have it.
func (l *loader) known(i int) (*plumbing.Model, error) {
	text, err := l.cleanLine(i)
	if err != nil {
		return nil, err
	}
	var line []casefile.Reading
	if err := json.Unmarshal(text, &line); err != nil {
		return nil, err
	}
	var clean []pad.Reading
	for _, r := range line {
		clean = append(clean, r.Meters())
	}
	return plumbing.Calibrate(l.places[i].document(), clean, water, units.PSI(upkeep.Defaults().LimitRisePsi))
}
