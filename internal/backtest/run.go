package backtest

import (
	"fmt"
	"math"
	"math/rand/v2"
	"runtime"
	"time"

	"golang.org/x/sync/errgroup"

	"fairlap/core/diagnosis"
	"fairlap/core/loads"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/upkeep"
)

// burnIn is how long a company keeps its record before it is judged, days.
const burnIn = 60

// Outcome is what a school did at a company.
type Outcome struct {
	School                      upkeep.School
	PoolYears                   float64
	Cleanings, Needless, Visits int
	Again                       int     // readings taken again at a higher speed, as advised
	StarvedDays                 float64 // over the gauge's rise
	LostDays                    float64 // with more than the stated share of the daily flow gone
	Ahead                       []Ahead // of the forecasts; where the load is followed
}

// Ahead is one forecast of the crossing, in days from its visit, and the truth.
type Ahead struct {
	True              float64
	Low, Median, High float64 // beyond the horizon: +Inf
	Calendar          float64 // when the calendar has it due
}

// Recorded is no school: the cleanings that the record has. ByRise goes by load, with the
// gauge's rise alone as the limit; upkeep.Rise by the first of all limits.
const (
	Recorded upkeep.School = "recorded"
	ByRise   upkeep.School = "by-rise"
)

// Run makes a company up and lives it through under each school.
func Run(h Habits, schools ...upkeep.School) ([]Outcome, error) {
	pools := make([]*Pool, h.Pools)
	var g errgroup.Group
	g.SetLimit(runtime.NumCPU())
	for i := range pools {
		g.Go(func() (err error) {
			pools[i], err = h.pool(i)
			return err
		})
	}
	if err := g.Wait(); err != nil {
		return nil, err
	}
	return h.Live(pools, schools...)
}

// Live takes a company's pools through its days under each school.
func (h *Habits) Live(pools []*Pool, schools ...upkeep.School) ([]Outcome, error) {
	var g errgroup.Group
	g.SetLimit(runtime.NumCPU())
	out := make([]Outcome, len(schools))
	for s, school := range schools {
		parts := make([]Outcome, len(pools))
		for i, p := range pools {
			g.Go(func() (err error) {
				parts[i], err = h.live(p, school)
				return err
			})
		}
		if err := g.Wait(); err != nil {
			return nil, err
		}
		out[s].School = school
		for _, o := range parts {
			out[s].add(o)
		}
	}
	return out, nil
}

func (o *Outcome) add(x Outcome) {
	o.PoolYears += x.PoolYears
	o.Cleanings += x.Cleanings
	o.Needless += x.Needless
	o.Visits += x.Visits
	o.Again += x.Again
	o.StarvedDays += x.StarvedDays
	o.LostDays += x.LostDays
	o.Ahead = append(o.Ahead, x.Ahead...)
}

// crossing is the days until a load passes a limit if nobody cleans, in parts
// of a day.
func (p *Pool) crossing(load, limit float64, day int) float64 {
	if load >= limit {
		return 0
	}
	for d := day; d < len(p.Grows); d++ {
		if load+p.Grows[d] >= limit {
			return float64(d-day) + (limit-load)/p.Grows[d]
		}
		load += p.Grows[d]
	}
	return math.Inf(1)
}

// needlessUnder is the real load under which a cleaning that could have waited a
// week is called needless.
const needlessUnder = 0.6

// live takes one pool through the days under a school.
func (h *Habits) live(p *Pool, school upkeep.School) (Outcome, error) {
	out := Outcome{School: school, PoolYears: float64(h.Days-burnIn) / 365.25}
	rng := rand.New(rand.NewPCG(p.Noise, 9))
	kind := p.Known.Doc.Filter.Kind
	settings := upkeep.Defaults()
	if settings.School = school; school == Recorded || school == ByRise {
		settings.School = upkeep.Rise
	}
	// Loads of the truth are the rise's; what is known may count in a stricter limit's.
	known, limit := p.TightKnown, 1/p.TightReal.LoadScale()
	if school == ByRise {
		known, limit = p.Known, 1
	}
	lost := 1 / p.TightReal.LoadScale()
	observes := settings.School == upkeep.Rise
	perDay, err := p.Known.FilteredPerDay()
	if err != nil {
		return out, fmt.Errorf("its water a day: %w", err)
	}
	exposure := upkeep.Exposure{
		KGalPerDay: perDay.Gallons() / 1000,
		Scale:      known.LoadScale(),
		Zone:       h.Start.Location(),
		Sky:        h.Sky,
	}
	var record []upkeep.Visit
	load, cleanings, next := p.After[0], 0, 0
	for day := range h.Days {
		if next < len(p.Visits) && p.Visits[next] == day {
			next++
			at := h.Start.AddDate(0, 0, day).Add(10 * time.Hour)
			due := at.AddDate(0, 0, 7)
			rpm := p.RPM
			if school == upkeep.FixedPsi { // a fixed figure needs a fixed speed: at full speed it does best
				rpm = p.Known.Doc.Pump.TopRPM
			}
			r, err := p.read(rpm, load, rng)
			if err != nil {
				return out, err
			}
			v := upkeep.Visit{Arrived: at, Closed: at}
			history := upkeep.Follow(record, kind, &exposure, at)
			q := upkeep.Question{
				Now:         at,
				NextVisit:   due,
				Settings:    settings,
				Kind:        kind,
				DaysSince:   history.DaysSince(at),
				State:       history.State,
				KGalPerDay:  history.PerDay,
				HadForecast: history.HadForecast,
				Tank:        r.Tank,
				ReadSpeed:   r.Speed,
				SafeSpeed:   r.Speed,
			}
			look := func(readings ...pad.Reading) (*diagnosis.Result, error) {
				res, err := p.observe(known, history.State.LoadBelief(), readings...)
				if err != nil {
					return nil, err
				}
				v.Load = &res.Observed
				q.Known, q.Observed, q.Loads, q.LoadAt = res.Known, res.Observed, res.LoadGrid, loads.At
				q.ReadSpeed, q.SafeSpeed = readings[len(readings)-1].Speed, known.FastestUnder(
					plumbing.ServiceCeiling,
					res.Load.Mean+res.Load.SD,
				)
				return res, nil
			}
			if observes {
				res, err := look(r)
				if err != nil {
					return out, err
				}
				if day >= burnIn && history.LastCleaned != nil {
					out.Ahead = append(out.Ahead, p.ahead(history, res.Load, load, limit, day, at, kind))
				}
				if (school == upkeep.Rise || school == ByRise) &&
					upkeep.Advise(
						q,
					).Action == upkeep.ReadHigher { // as the fixed reading's technician does at every visit
					higher, err := p.read(float64(q.SafeSpeed), load, rng)
					if err != nil {
						return out, err
					}
					if _, err := look(r, higher); err != nil {
						return out, err
					}
					if day >= burnIn {
						out.Again++
					}
				}
			}
			act := upkeep.Advise(q).Action
			switch {
			case school == Recorded:
				if act = upkeep.LeaveIt; p.Cleaned[day] {
					act = upkeep.CleanNow
				}
			case day == 0 || day < 7 && cleanings == 0:
				act = upkeep.CleanNow // a new customer's filter is cleaned first
			}
			if day >= burnIn {
				out.Visits++
			}
			if act == upkeep.CleanNow {
				v.Cleaned = true
				if day >= burnIn {
					out.Cleanings++
					if load < needlessUnder*limit && p.crossing(load, limit, day) > 7 {
						out.Needless++
					}
				}
				cleanings++
				load = p.After[cleanings%len(p.After)]
				if observes {
					after, err := p.read(p.RPM, load, rng)
					if err != nil {
						return out, err
					}
					res, err := p.observe(known, upkeep.AfterCleaning, after)
					if err != nil {
						return out, err
					}
					v.After = &res.Observed
				}
			}
			record = append(record, v)
		}
		if day >= burnIn {
			out.StarvedDays += over(load, p.Grows[day], 1)
			out.LostDays += over(load, p.Grows[day], lost)
		}
		load += p.Grows[day]
	}
	return out, nil
}

// over is the part of a day that a growing load is over a limit.
func over(load, grows, limit float64) float64 {
	switch end := load + grows; {
	case load >= limit:
		return 1
	case end > limit:
		return (end - limit) / grows
	}
	return 0
}

// ahead is the forecast at a visit beside the truth and the calendar.
func (p *Pool) ahead(
	h upkeep.History,
	today upkeep.Belief,
	load, limit float64,
	day int,
	at time.Time,
	kind pad.FilterKind,
) Ahead {
	f := h.State.Ahead(today, h.PerDay, 0)
	beyond := func(d float64) float64 {
		if d < 0 {
			return math.Inf(1)
		}
		return d
	}
	return Ahead{
		True:     p.crossing(load, limit, day),
		Low:      beyond(f.Cross10),
		Median:   beyond(f.Cross50),
		High:     beyond(f.Cross90),
		Calendar: upkeep.CalendarDays(kind) - h.DaysSince(at),
	}
}

// Score is what forecasts were worth.
type Score struct {
	N               int
	Error, Calendar float64 // mean absolute error of the crossing, days, one week ahead
	Weeks           int     // forecasts that one week ahead is judged on
	Coverage        float64 // of the 80 % band
}

// Judge scores forecasts made while the load was under its limit: the crossing's
// error of those made half a week to a week and a half before it, and the band of
// all whose crossing came within sixty days.
func Judge(fs []Ahead) Score {
	s := Score{}
	held := 0
	for _, f := range fs {
		if f.True <= 0 || f.True > 60 {
			continue
		}
		s.N++
		if f.Low <= f.True && f.True <= f.High {
			held++
		}
		if f.True >= 3.5 && f.True <= 10.5 {
			s.Weeks++
			s.Error += math.Abs(math.Min(f.Median, 60) - f.True)
			s.Calendar += math.Abs(f.Calendar - f.True)
		}
	}
	if s.N > 0 {
		s.Coverage = float64(held) / float64(s.N)
	}
	if s.Weeks > 0 {
		s.Error /= float64(s.Weeks)
		s.Calendar /= float64(s.Weeks)
	}
	return s
}

// Companies are the two that are reported: one like the demo's town, and one with
// other habits, on other pads.
func Companies(sky func(seed uint64) upkeep.Sky) []Habits {
	start := time.Date(2025, 9, 1, 0, 0, 0, 0, time.UTC)
	kinds := []pad.FilterKind{pad.Sand, pad.DE, pad.Sand, pad.Cartridge}
	return []Habits{
		{
			Name:   "a town like the demo's: weekly, read at speed",
			Seed:   41,
			Pools:  40,
			Days:   425,
			Start:  start,
			Sky:    sky(41),
			Swing:  0.25,
			Storm:  2.5,
			Wild:   0.25,
			Missed: 0.02,
			Speeds: []float64{2750, 3250, 2400},
			Kinds:  kinds,
		},
		{
			Name:   "another: missed weeks, lower speeds, wilder dirt, more storms felt",
			Seed:   97,
			Pools:  40,
			Days:   425,
			Start:  start.AddDate(0, 4, 0),
			Sky:    sky(97),
			Swing:  0.45,
			Storm:  4,
			Wild:   0.4,
			Missed: 0.12,
			Speeds: []float64{2100, 1750, 2750},
			Kinds:  []pad.FilterKind{pad.Cartridge, pad.Sand, pad.DE},
		},
	}
}
