package demo

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"time"

	"github.com/google/uuid"

	"fairlap/core/casefile"
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/internal/app"
	"fairlap/internal/standin"
	"fairlap/internal/store"
)

// Zone is the town's time zone.
const Zone = "America/Phoenix"

// companyName is the made-up company's; a demo serves no other.
const companyName = "Pellam Ridge Pool Care"

// ErrNotTheTown is returned for a database that holds somebody's real company: a
// demo lets anybody in by role.
var ErrNotTheTown = errors.New("this database holds a company that is not the demo's: a demo would let anybody in")

// Weeks is how far the town's history reaches back.
const Weeks = 8

// water is what the town's pools are kept at.
var water = units.Fahrenheit(80)

// loader fills one database with the town.
type loader struct {
	st     *store.Store
	rng    *rand.Rand
	seed   uint64
	zone   *time.Location
	now    time.Time
	users  []store.User
	pools  []uuid.UUID
	models []*pad.Model // as they really are
	stops  map[string]uuid.UUID
}

// Clock is the town's time on the day of a moment: 10:42, when the technician
// stands at the first pool, running on from there.
func Clock(day time.Time) func() time.Time {
	zone, err := time.LoadLocation(Zone)
	if err != nil {
		zone = time.UTC
	}
	d := day.In(zone)
	start := time.Date(d.Year(), d.Month(), d.Day(), 10, 42, 0, 0, zone)
	began := time.Now()
	return func() time.Time { return start.Add(time.Since(began)) }
}

// Load writes the town into an empty, migrated database and returns its pads as
// they really are today. A database that already holds the town is left as it
// is; the pads then follow from the same seed. One that holds another company is
// refused with ErrNotTheTown.
func Load(ctx context.Context, st *store.Store, seed uint64, now time.Time) (*standin.Meters, error) {
	zone, err := time.LoadLocation(Zone)
	if err != nil {
		return nil, fmt.Errorf("the town's time zone: %w", err)
	}
	l := &loader{st: st, rng: rand.New(rand.NewPCG(seed, 0x9e3779b97f4a7c15)), seed: seed, zone: zone, now: now.In(zone).Truncate(time.Minute), stops: map[string]uuid.UUID{}}
	if err := l.raise(); err != nil {
		return nil, err
	}
	switch c, err := st.Company(ctx); {
	case err == nil && c.Name != companyName:
		return nil, ErrNotTheTown
	case err == nil:
		return l.meters(), nil
	case !errors.Is(err, store.ErrNotFound):
		return nil, fmt.Errorf("looking for a company: %w", err)
	}
	for _, step := range []func(context.Context) error{l.people, l.places, l.laps, l.history} {
		if err := step(ctx); err != nil {
			return nil, fmt.Errorf("loading the town: %w", err)
		}
	}
	return l.meters(), nil
}

// raise makes every pad as it really is: the description, off by what nobody knows.
func (l *loader) raise() error {
	for i := range town {
		off := func(sd float64) float64 { return math.Exp(sd * l.rng.NormFloat64()) }
		params := pad.Parameters{Suction: off(0.25), Return: off(0.2), Media: off(0.15), Head: off(0.03), Idle: off(0.1), Base: off(0.05), PerFlow: off(0.1)}
		m, err := pad.New(town[i].document(), params, water, units.PSI(8))
		if err != nil {
			return fmt.Errorf("the pad of %s: %w", town[i].street, err)
		}
		l.models = append(l.models, m)
	}
	return nil
}

func (l *loader) id() uuid.UUID { return uuid.Must(uuid.NewV7()) }

func (l *loader) people(ctx context.Context) error {
	for _, u := range []struct{ login, name, role string }{
		{"brandt", "O. Brandt", "technician"}, {"teague", "W. Teague", "technician"}, {"osei", "R. Osei", "office"}, {"lindqvist", "A. Lindqvist", "owner"},
	} {
		// Nobody signs in by password in a demo: the secret is thrown away.
		l.users = append(l.users, store.User{ID: l.id(), Login: u.login, Name: u.name, Role: u.role, PasswordHash: app.HashPassword(uuid.NewString()), Active: true, Version: 1, CreatedAt: l.now})
	}
	return l.st.Insert(ctx, &store.Company{ID: 1, Name: companyName, TimeZone: Zone, Settings: json.RawMessage(`{}`), Version: 1}, &l.users)
}

func (l *loader) technician(p *place) uuid.UUID {
	if p.mine {
		return l.users[0].ID
	}
	return l.users[1].ID
}

func (l *loader) places(ctx context.Context) error {
	for i := range town {
		p := &town[i]
		id, tech := l.id(), l.technician(p)
		l.pools = append(l.pools, id)
		since := l.today()
		if p.since != "" {
			since, _ = time.Parse(time.DateOnly, p.since)
		}
		doc, err := json.Marshal(p.document())
		if err != nil {
			return err
		}
		rows := []any{
			&store.Pool{ID: id, Street: p.street, VolumeM3: float64(units.Gallons(p.gallons)), Surface: p.surface, AccessNote: p.access,
				Weekday: int(l.now.Weekday()), TechnicianID: &tech, BaseMinutes: p.minutes, OnRecordSince: since, Version: 1},
			&store.Plumbing{ID: l.id(), PoolID: id, Revision: 1, Document: doc, CreatedBy: &tech, CreatedAt: l.visitTime(Weeks+1, 0)},
		}
		if !p.newcomer {
			line, err := l.cleanLine(i)
			if err != nil {
				return err
			}
			rows = append(rows, &store.CleanLine{ID: l.id(), PoolID: id, TakenAt: l.visitTime(Weeks+1, 0), Note: "after cleaning", Readings: line, CreatedBy: &tech})
			for _, e := range p.parts() {
				installed := l.now.AddDate(0, 0, -int(e.age*365.25))
				rows = append(rows, &store.Equipment{ID: l.id(), PoolID: id, Kind: e.kind, Model: e.model, InstalledOn: &installed, ExpectedYears: &e.life})
			}
		}
		if err := l.st.Insert(ctx, rows...); err != nil {
			return err
		}
	}
	return nil
}

// cleanLine reads the clean pad at three speeds (or the one it has).
func (l *loader) cleanLine(i int) (json.RawMessage, error) {
	speeds := []float64{1500, 2400, 3450}
	if town[i].pump.Kind == pad.SingleSpeed {
		speeds = []float64{3450}
	}
	truth := standin.Pad{Model: l.models[i]}
	var out []casefile.Reading
	for _, rpm := range speeds {
		t, err := truth.Type(rpm, l.rng)
		if err != nil {
			return nil, err
		}
		r := casefile.Reading{RPM: rpm}
		r.TankPsi, r.VacuumInHg = number(units.KindTank, t.Tank), number(units.KindVacuum, t.Vacuum)
		r.FlowGPM, r.PowerW = number(units.KindFlow, t.Flow), number(units.KindPower, t.Power)
		out = append(out, r)
	}
	return json.Marshal(out)
}

func number(kind units.Kind, text string) *float64 {
	if v, err := units.Parse(kind, text); err == nil {
		return &v
	}
	return nil // a meter that this pad lacks
}

func (l *loader) today() time.Time {
	return time.Date(l.now.Year(), l.now.Month(), l.now.Day(), 0, 0, 0, 0, time.UTC)
}

// visitTime is when a stop at a place in the lap is reached, weeks ago.
func (l *loader) visitTime(weeksAgo, position int) time.Time {
	start := time.Date(l.now.Year(), l.now.Month(), l.now.Day(), 8, 10, 0, 0, l.zone).AddDate(0, 0, -7*weeksAgo)
	return start.Add(time.Duration(position) * 48 * time.Minute)
}

func (l *loader) laps(ctx context.Context) error {
	for week := Weeks; week >= 0; week-- {
		for t := range 2 {
			lap := store.Lap{ID: l.id(), TechnicianID: l.users[t].ID, Day: l.today().AddDate(0, 0, -7*week),
				StartsAt: l.visitTime(week, 0).Add(-10 * time.Minute), LimitMinutes: 450}
			at := lap.StartsAt.Add(10 * time.Minute)
			if week == 0 { // today's lap starts where the demo's clock stands
				lap.StartsAt = l.now.Add(-12 * time.Minute)
				at = lap.StartsAt.Add(10 * time.Minute)
			}
			for i := range town {
				p := &town[i]
				if l.technician(p) != lap.TechnicianID || (p.newcomer && week > 0) {
					continue
				}
				st := store.Stop{ID: l.id(), LapID: lap.ID, PoolID: l.pools[i], Position: len(lap.Stops) + 1, Minutes: p.minutes, PlannedAt: at}
				at = at.Add(time.Duration(p.minutes+9) * time.Minute)
				lap.Stops = append(lap.Stops, st)
				l.stops[stopKey(i, week)] = st.ID
			}
			if err := l.st.Insert(ctx, &lap); err != nil {
				return err
			}
		}
	}
	return l.chemistryCalls(ctx)
}

func stopKey(pool, week int) string { return fmt.Sprintf("%d/%d", pool, week) }

// callWeek marks yesterday's calls in stopKey.
const callWeek = -1

// chemistryCalls plans yesterday's calls at pools that got chemicals.
func (l *loader) chemistryCalls(ctx context.Context) error {
	at := time.Date(l.now.Year(), l.now.Month(), l.now.Day(), 14, 0, 0, 0, l.zone).AddDate(0, 0, -1)
	lap := store.Lap{ID: l.id(), TechnicianID: l.users[0].ID, Day: l.today().AddDate(0, 0, -1), StartsAt: at, LimitMinutes: 450}
	for i := range town {
		if town[i].chemicals {
			st := store.Stop{ID: l.id(), LapID: lap.ID, PoolID: l.pools[i], Position: len(lap.Stops) + 1, Minutes: 15, PlannedAt: at}
			lap.Stops = append(lap.Stops, st)
			l.stops[stopKey(i, callWeek)] = st.ID
		}
	}
	return l.st.Insert(ctx, &lap)
}

// history lives the weeks through: dirt grows, visits read it, cleanings happen.
func (l *loader) history(ctx context.Context) error {
	for i := range town {
		p := &town[i]
		if p.newcomer {
			continue
		}
		load := 0.05
		for week := Weeks; week >= 1; week-- {
			if err := l.visit(ctx, i, week, &load); err != nil {
				return fmt.Errorf("%s, %d weeks ago: %w", p.street, week, err)
			}
			load += l.grown(p)
		}
		if p.chemicals {
			if err := l.chemistryCall(ctx, i); err != nil {
				return err
			}
		}
	}
	return nil
}

func (l *loader) grown(p *place) float64 { return p.weekly * (1 + 0.12*l.rng.NormFloat64()) }

func (p *place) on(week int) event {
	for _, e := range p.events {
		if e.week == week {
			return e
		}
	}
	return event{week: week}
}

func (l *loader) usualRPM(p *place) float64 {
	rpm := 0.0
	for _, s := range p.programme {
		rpm = max(rpm, s.RPM)
	}
	return rpm
}

func (l *loader) visit(ctx context.Context, i, week int, load *float64) error {
	p := &town[i]
	ev := p.on(week)
	truth := standin.Pad{Model: l.models[i], Effects: ev.effects}
	truth.Effects.Load = *load
	found, err := truth.Type(l.usualRPM(p), l.rng)
	if err != nil {
		return err
	}
	arrived := l.visitTime(week, i%9)
	d := app.VisitDraft{ID: l.id(), StopID: l.stops[stopKey(i, week)], ArrivedAt: arrived, ClosedAt: arrived.Add(time.Duration(p.minutes) * time.Minute),
		Findings: app.Findings{Readings: []app.TypedReading{found}, Signs: names(ev.signs)}, Works: []app.Work{}, Confirmed: ev.confirm}
	if ev.work != "" {
		d.Works = append(d.Works, app.Work{Kind: ev.work})
	}
	for _, w := range p.cleaned {
		if w != week {
			continue
		}
		d.Works = append(d.Works, app.Work{Kind: "cleaned"})
		*load = 0.03 + 0.05*l.rng.Float64()
		truth.Effects = pad.Effects{Load: *load}
		after, err := truth.Type(l.usualRPM(p), l.rng)
		if err != nil {
			return err
		}
		d.After = &after
	}
	return l.save(ctx, i, d)
}

func (l *loader) chemistryCall(ctx context.Context, i int) error {
	at := time.Date(l.now.Year(), l.now.Month(), l.now.Day(), 14, 0, 0, 0, l.zone).AddDate(0, 0, -1)
	return l.save(ctx, i, app.VisitDraft{ID: l.id(), StopID: l.stops[stopKey(i, callWeek)], ArrivedAt: at, ClosedAt: at.Add(10 * time.Minute), ChemicalsAt: &at,
		Findings: app.Findings{Readings: []app.TypedReading{}, Signs: map[string]bool{}}, Works: []app.Work{}, Note: "Clarifier in, pump left running."})
}

// save writes a visit through the use case, as its technician, at its time.
func (l *loader) save(ctx context.Context, i int, d app.VisitDraft) error {
	tech := l.technician(&town[i])
	svc := app.New(l.st, func() time.Time { return d.ClosedAt }, nil)
	_, err := svc.SaveVisit(ctx, app.Actor{ID: tech, Role: app.Technician}, d)
	return err
}

func names(signs map[fault.Sign]bool) map[string]bool {
	out := make(map[string]bool, len(signs))
	for id, yes := range signs {
		out[string(id)] = yes
	}
	return out
}

// meters are the pads as they are today.
func (l *loader) meters() *standin.Meters {
	m := &standin.Meters{Pads: map[string]*standin.Pad{}, Seed: l.seed}
	for i := range town {
		p := &town[i]
		last := Weeks
		for _, w := range p.cleaned {
			last = min(last, w)
		}
		ev := p.on(0)
		e := ev.effects
		e.Load += 0.05 + p.weekly*float64(last)
		if p.newcomer {
			e.Load = 0.4
		}
		rpm := p.rpmToday
		if rpm == 0 {
			rpm = l.usualRPM(p)
		}
		m.Pads[p.street] = &standin.Pad{Model: l.models[i], Effects: e, RPM: rpm, Signs: ev.signs}
	}
	return m
}
