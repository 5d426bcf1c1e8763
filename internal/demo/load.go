package demo

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"github.com/google/uuid"

	"fairlap/core/casefile"
	"fairlap/core/fault"
	"fairlap/core/figure"
	"fairlap/core/judge"
	"fairlap/core/lap"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/internal/app"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/office"
	"fairlap/internal/app/visit"
	"fairlap/internal/clock"
	"fairlap/internal/standin"
	"fairlap/internal/store"
)

// Zone is the town's time zone, unless its clock is of another.
const Zone = "America/Phoenix"

// companyName is the made-up company's; a demo serves no other.
const companyName = "Pellam Ridge Pool Care"

// ErrNotTheTown is returned for a database that holds somebody's real company: a
// demo lets anybody in by role.
var ErrNotTheTown = errors.New("this database holds a company that is not the demo's: a demo would let anybody in")

// water is what the town's pools are kept at.
var water = units.Fahrenheit(80)

// loader fills one database with the town.
type loader struct {
	st     *store.Store
	svc    *app.Rooms
	rng    *rand.Rand
	seed   uint64
	zone   *time.Location
	now    time.Time
	users  []store.User
	places []place
	at     []lap.Place
	pools  []uuid.UUID
	models []*plumbing.Model // as they really are, and rises with the rise alone as their limit
	rises  []*plumbing.Model
	stops  map[string]uuid.UUID
}

// Today is a moment in the town's zone.
func Today(at time.Time) time.Time {
	zone, err := time.LoadLocation(Zone)
	if err != nil {
		zone = time.UTC
	}
	return at.In(zone)
}

// Clock is the town's time on a day, in the day's zone: 10:42, when the technician is at the first pool, running on
// from there.
func Clock(day time.Time) func() time.Time {
	start := time.Date(day.Year(), day.Month(), day.Day(), 10, 42, 0, 0, day.Location())
	began := clock.Now()
	return func() time.Time { return start.Add(clock.Since(began)) }
}

// Load writes the town into an empty, migrated database and returns the world
// around it (its zone is now's): its pads as they really are today, its weather, its roads. A database that already
// holds the town is left as it
// is; the pads then follow from the same seed. One that holds another company is
// refused with ErrNotTheTown.
func Load(ctx context.Context, st *store.Store, seed uint64, now time.Time) (company.World, error) {
	l, world, err := raised(seed, now)
	if err != nil {
		return company.World{}, err
	}
	switch c, err := st.Company(ctx); {
	case err == nil && c.Name != companyName:
		return company.World{}, ErrNotTheTown
	case err == nil:
		return world, nil
	case !errors.Is(err, store.ErrNotFound):
		return company.World{}, fmt.Errorf("looking for a company: %w", err)
	}
	l.st, l.svc = st, app.New(st, func() time.Time { return l.now }, world)
	for _, step := range []func(context.Context) error{l.people, l.setUp, l.laps, l.history} {
		if err := step(ctx); err != nil {
			return company.World{}, fmt.Errorf("loading the town: %w", err)
		}
	}
	return world, nil
}

// World is what is around a town that was loaded before, from the same seed and moment.
func World(seed uint64, now time.Time) (company.World, error) {
	_, world, err := raised(seed, now)
	return world, err
}

// raised is a loader with its pads as they really are, and the world around them.
func raised(seed uint64, now time.Time) (*loader, company.World, error) {
	l := &loader{
		rng:   rand.New(rand.NewPCG(seed, 0x9e3779b97f4a7c15)),
		seed:  seed,
		zone:  now.Location(),
		now:   now.Truncate(time.Minute),
		stops: map[string]uuid.UUID{},
	}
	roads, err := standin.RoadMap()
	if err != nil {
		return nil, company.World{}, err
	}
	if err := l.raise(roads); err != nil {
		return nil, company.World{}, err
	}
	return l, company.World{Demo: l.meters(), Sky: standin.Sky(seed), Roads: roads.Way, Streets: roads.Lines}, nil
}

// raise makes every pad as it really is: the description, off by what nobody knows.
func (l *loader) raise(roads *standin.Town) error {
	l.places = append(slices.Clone(today), round(l.seed)...)
	l.at = put(roads.Corners, len(l.places), l.seed)
	for i := range l.places {
		off := func(sd float64) float64 { return math.Exp(sd * l.rng.NormFloat64()) }
		params := plumbing.Parameters{
			Suction: off(0.25),
			Return:  off(0.2),
			Media:   off(0.15),
			Head:    off(0.03),
			Idle:    off(0.1),
			Base:    off(0.05),
			PerFlow: off(0.1),
		}
		m, err := plumbing.New(l.places[i].document(), params, water, units.PSI(8))
		if err != nil {
			return fmt.Errorf("the pad of %s: %w", l.places[i].street, err)
		}
		tight, err := m.Within(upkeep.Defaults().FlowLoss())
		if err != nil {
			return fmt.Errorf("the limit of %s: %w", l.places[i].street, err)
		}
		l.rises, l.models = append(l.rises, m), append(l.models, tight)
	}
	return nil
}

func (l *loader) id() uuid.UUID { return uuid.Must(uuid.NewV7()) }

func (l *loader) people(ctx context.Context) error {
	for _, u := range []struct{ login, name, role string }{
		{"brandt", "O. Brandt", "technician"}, {"teague", "W. Teague", "technician"},
		{"yarrow", "T. Yarrow", "technician"}, {"osei", "R. Osei", "office"},
		{"lindqvist", "A. Lindqvist", "owner"},
	} {
		// Nobody signs in by password in a demo: the secret is thrown away.
		l.users = append(
			l.users,
			store.User{
				ID:           l.id(),
				Login:        u.login,
				Name:         u.name,
				Role:         u.role,
				PasswordHash: office.HashPassword(uuid.NewString()),
				Active:       true,
				Version:      1,
				CreatedAt:    l.now,
			},
		)
	}
	return l.st.Insert(
		ctx,
		&store.Company{
			ID:       1,
			Name:     companyName,
			TimeZone: l.zone.String(),
			Settings: json.RawMessage(`{}`),
			Version:  1,
		},
		&l.users,
	)
}

func (l *loader) technician(p *place) uuid.UUID {
	if p.habit == 0 && !p.mine {
		return l.users[1].ID
	}
	return l.users[p.hand].ID
}

// offset is the days from today to a place's next visit. Rounds are on five days:
// today, and those after it that are no Saturday or Sunday.
func (l *loader) offset(p *place) int {
	days := 0
	for range p.offset {
		days++
		for wd := l.now.AddDate(0, 0, days).Weekday(); wd == time.Saturday ||
			wd == time.Sunday; wd = l.now.AddDate(0, 0, days).Weekday() {
			days++
		}
	}
	return days
}

func (l *loader) setUp(ctx context.Context) error {
	for i := range l.places {
		p := &l.places[i]
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
		who := store.Customer{
			ID:        l.id(),
			Name:      owner(i),
			Phone:     fmt.Sprintf("555 01%02d", (i*7+3)%100),
			Version:   1,
			CreatedAt: l.visitTime(p, Weeks+1, 0),
		}
		rows := []any{&who,
			&store.Pool{
				ID:         id,
				CustomerID: &who.ID,
				InGround:   filters[p.filter].AreaFt2 != 40,
				Street:     p.street,
				VolumeM3:   float64(units.Gallons(p.gallons)),
				Surface:    p.surface,
				AccessNote: p.access,
				Lon:        &l.at[i].Lon,
				Lat:        &l.at[i].Lat,
				LapOrder:   i,
				Weekday: int(
					l.now.AddDate(0, 0, l.offset(p)).Weekday(),
				),
				TechnicianID:  &tech,
				BaseMinutes:   p.minutes,
				OnRecordSince: since,
				Version:       1,
				Cleaning:      json.RawMessage(`{}`),
			},
			&store.Plumbing{
				ID:        l.id(),
				PoolID:    id,
				Revision:  1,
				Document:  doc,
				CreatedBy: &tech,
				CreatedAt: l.visitTime(p, Weeks+1, 0),
			},
		}
		if !p.newcomer {
			line, err := l.cleanLine(i)
			if err != nil {
				return err
			}
			taken := l.visitTime(p, authored+1, 0)
			if p.habit > 0 {
				taken = l.visitTime(p, 3+i%45, 0)
			}
			rows = append(
				rows,
				&store.CleanLine{
					ID:        l.id(),
					PoolID:    id,
					TakenAt:   taken,
					Note:      "after cleaning",
					Readings:  line,
					CreatedBy: &tech,
				},
			)
			placed := map[string]uuid.UUID{}
			for _, e := range p.parts() {
				installed := l.now.AddDate(0, 0, -int(e.age*365.25))
				cost := e.cost()
				part := store.Equipment{
					ID:          l.id(),
					PoolID:      id,
					Kind:        e.kind,
					Model:       e.model,
					InstalledOn: &installed,
					CostCents:   &cost,
				}
				if of, ok := placed[belongsTo[e.kind]]; ok {
					part.PartOf = &of
				}
				placed[e.kind] = part.ID
				rows = append(rows, &part)
			}
			rows = append(rows, l.done(i, id, tech)...)
		}
		if err := l.st.Insert(ctx, rows...); err != nil {
			return err
		}
	}
	return nil
}

// belongsTo says which part a part is a part of.
var belongsTo = map[string]string{
	"lid-o-ring":       "pump",
	"sand":             "filter-tank",
	"cartridge":        "filter-tank",
	"grids":            "filter-tank",
	"multiport-gasket": "filter-tank",
	"tank-gauge":       "filter-tank",
	"zinc-anode":       "salt-cell",
}

// costs are what parts cost, made up, in money.
var costs = map[string]float64{
	"pump":             1180,
	"filter-tank":      890,
	"lid-o-ring":       9.5,
	"tank-gauge":       16,
	"sand":             145,
	"multiport-gasket": 34,
	"cartridge":        260,
	"grids":            410,
	"heater":           2350,
	"salt-cell":        640,
	"zinc-anode":       42,
}

// cost is what a part cost, in cents.
func (p part) cost() int64 { return int64(100 * costs[p.kind]) }

// owner makes a customer's name up.
func owner(i int) string {
	first, last := "ABCDEFGHJKLMNPRSTVW", []string{
		"Appleyard",
		"Birchwood",
		"Cotterel",
		"Dunmore",
		"Eastlake",
		"Farrowby",
		"Greenhalt",
		"Hollis",
		"Ironside",
		"Jessop",
		"Kettering",
		"Lowther",
		"Marchbank",
		"Nettleton",
		"Oakhurst",
		"Penhale",
		"Quillfeather",
		"Rushmere",
		"Selwick",
		"Thornbury",
		"Underhay",
		"Vexley",
		"Windrush",
	}
	return string(first[(i*5+2)%len(first)]) + ". " + last[(i*7+1)%len(last)]
}

// done are the recurring services that somebody did at a pool within their interval.
func (l *loader) done(i int, pool, tech uuid.UUID) []any {
	var out []any
	p := &l.places[i]
	if p.habit == 0 {
		return nil // today's pools ask for what nobody has recorded
	}
	doc := p.document()
	gear := upkeep.GearOf(&doc)
	for j, s := range upkeep.Services {
		if s.Season || (s.On != nil && !s.On(&gear)) {
			continue
		}
		ago := s.Days * (0.1 + 0.95*float64((i*5+j*11)%17)/16)
		out = append(
			out,
			&store.DueMark{
				ID:     l.id(),
				PoolID: pool,
				Item:   string(s.ID),
				Act:    string(upkeep.MarkDone),
				MadeBy: tech,
				MadeAt: l.now.AddDate(0, 0, -int(ago)),
			},
		)
	}
	return out
}

// cleanLine reads the clean pad at three speeds (or the one it has).
func (l *loader) cleanLine(i int) (json.RawMessage, error) {
	speeds := []float64{1500, 2400, 3450}
	if l.places[i].pump.Kind == pad.SingleSpeed {
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
		r.TankPsi, r.VacuumInHg = number(figure.Tank, t.Tank), number(figure.Vacuum, t.Vacuum)
		r.FlowGPM, r.PowerW = number(figure.Flow, t.Flow), number(figure.Power, t.Power)
		out = append(out, r)
	}
	return json.Marshal(out)
}

func number(kind figure.Kind, text string) *float64 {
	if v, err := figure.Read(kind, text); err == nil {
		return &v
	}
	return nil // a meter that this pad lacks
}

func (l *loader) today() time.Time {
	return time.Date(l.now.Year(), l.now.Month(), l.now.Day(), 0, 0, 0, 0, time.UTC)
}

// visitTime is when a stop at a position in the lap is reached, weeks before the
// place's next visit.
func (l *loader) visitTime(p *place, weeksAgo, position int) time.Time {
	start := time.Date(l.now.Year(), l.now.Month(), l.now.Day(), 8, 10, 0, 0, l.zone).
		AddDate(0, 0, l.offset(p)-7*weeksAgo)
	return start.Add(time.Duration(position) * 48 * time.Minute)
}

// laps are today's and those of a week ago, of all technicians.
func (l *loader) laps(ctx context.Context) error {
	for week := 1; week >= 0; week-- {
		for t := range 3 {
			day := l.today().AddDate(0, 0, -7*week)
			round := store.Lap{ID: lap.ID(l.users[t].ID, day), TechnicianID: l.users[t].ID, Day: day,
				StartsAt: l.visitTime(&l.places[0], week, 0).Add(-10 * time.Minute), LimitMinutes: 450, Version: 1}
			at := round.StartsAt.Add(10 * time.Minute)
			if week == 0 { // today's lap starts where the demo's clock stands
				round.StartsAt = l.now.Add(-12 * time.Minute)
				at = round.StartsAt.Add(10 * time.Minute)
			}
			for i := range l.places {
				p := &l.places[i]
				if p.offset > 0 || l.technician(p) != round.TechnicianID || (p.newcomer && week > 0) {
					continue
				}
				st := store.Stop{
					ID:        lap.StopID(round.ID, l.pools[i]),
					LapID:     round.ID,
					PoolID:    l.pools[i],
					Position:  len(round.Stops) + 1,
					Minutes:   p.minutes,
					PlannedAt: at,
				}
				at = at.Add(time.Duration(p.minutes+9) * time.Minute)
				round.Stops = append(round.Stops, st)
				l.stops[stopKey(i, week)] = st.ID
			}
			if err := l.st.Insert(ctx, &round); err != nil {
				return err
			}
		}
	}
	if err := l.called(ctx); err != nil {
		return err
	}
	return l.chemistryCalls(ctx)
}

func stopKey(pool, week int) string { return fmt.Sprintf("%d/%d", pool, week) }

// callWeek marks yesterday's calls in stopKey.
const callWeek = -1

// chemistryCalls plans yesterday's calls at pools that got chemicals.
func (l *loader) chemistryCalls(ctx context.Context) error {
	at := time.Date(l.now.Year(), l.now.Month(), l.now.Day(), 14, 0, 0, 0, l.zone).AddDate(0, 0, -1)
	round := store.Lap{
		ID:           lap.ID(l.users[0].ID, l.today().AddDate(0, 0, -1)),
		TechnicianID: l.users[0].ID,
		Day:          l.today().AddDate(0, 0, -1),
		StartsAt:     at,
		LimitMinutes: 450,
		Version:      1,
	}
	for i := range l.places {
		if l.places[i].chemicals {
			st := store.Stop{
				ID:        lap.StopID(round.ID, l.pools[i]),
				LapID:     round.ID,
				PoolID:    l.pools[i],
				Position:  len(round.Stops) + 1,
				Minutes:   15,
				PlannedAt: at,
			}
			round.Stops = append(round.Stops, st)
			l.stops[stopKey(i, callWeek)] = st.ID
		}
	}
	return l.st.Insert(ctx, &round)
}

// history lives the weeks through: dirt grows, visits read it, cleanings happen.
// The visits of a week ago are closed as a technician closes them; those before
// come as an earlier record does.
func (l *loader) history(ctx context.Context) error {
	office := access.Actor{ID: l.users[len(l.users)-1].ID, Role: access.Owner}
	for i := range l.places {
		p := &l.places[i]
		if p.newcomer {
			continue
		}
		visits, _, _ := p.live(l.seed, l.visitTime(p, 0, 0))
		var earlier []visit.TakenOver
		var settled []visit.VisitDraft
		var last *visit.VisitDraft
		for _, v := range visits {
			d, err := l.visit(i, v)
			if err != nil {
				return fmt.Errorf("%s, %d weeks ago: %w", p.street, v.week, err)
			}
			if _, ok := l.stops[stopKey(i, v.week)]; ok && v.week > authored {
				settled = append(settled, d)
				continue
			} else if ok && p.habit == 0 {
				last = &d
				continue
			}
			if d.ClosedAt.Before(l.now) {
				earlier = append(earlier, visit.TakenOver{VisitDraft: d, Technician: l.technician(p)})
			}
		}
		if err := l.svc.Visit.TakeOver(ctx, office, l.pools[i], earlier); err != nil {
			return fmt.Errorf("the record of %s: %w", p.street, err)
		}
		for _, d := range settled {
			if err := l.save(ctx, i, d); err != nil {
				return fmt.Errorf("a trouble of %s: %w", p.street, err)
			}
		}
		if last != nil {
			if err := l.save(ctx, i, *last); err != nil {
				return fmt.Errorf("last week's visit of %s: %w", p.street, err)
			}
		}
		if p.chemicals {
			if err := l.chemistryCall(ctx, i); err != nil {
				return err
			}
		}
	}
	return nil
}

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

func (l *loader) visit(i int, v lived) (visit.VisitDraft, error) {
	p := &l.places[i]
	ev := p.on(v.week)
	truth := standin.Pad{Model: l.models[i], Effects: ev.effects}
	truth.Effects.Load = v.load
	read := func() (judge.TypedReading, error) {
		r, err := truth.Type(l.usualRPM(p), l.rng)
		if p.stuck != "" && v.week < 7 {
			r.Tank = p.stuck
		}
		return r, err
	}
	found, err := read()
	if err != nil {
		return visit.VisitDraft{}, err
	}
	arrived := l.visitTime(p, v.week, i%9)
	d := visit.VisitDraft{
		ID:        l.id(),
		StopID:    l.stops[stopKey(i, v.week)],
		ArrivedAt: arrived,
		ClosedAt:  arrived.Add(time.Duration(p.minutes) * time.Minute),
		Findings: judge.Findings{
			Readings: []judge.TypedReading{found},
			Signs:    names(ev.signs),
		},
		Works:     []visit.Work{},
		Confirmed: ev.confirm,
	}
	if ev.work != "" {
		d.Works = append(d.Works, visit.Work{Kind: ev.work})
	}
	if v.cleaned {
		d.Works = append(d.Works, visit.Work{Kind: "cleaned"})
		truth.Effects = plumbing.Effects{Load: v.after}
		after, err := read()
		if err != nil {
			return d, err
		}
		d.After = &after
	}
	return d, nil
}

func (l *loader) chemistryCall(ctx context.Context, i int) error {
	at := time.Date(l.now.Year(), l.now.Month(), l.now.Day(), 14, 0, 0, 0, l.zone).AddDate(0, 0, -1)
	return l.save(
		ctx,
		i,
		visit.VisitDraft{
			ID:          l.id(),
			StopID:      l.stops[stopKey(i, callWeek)],
			ArrivedAt:   at,
			ClosedAt:    at.Add(10 * time.Minute),
			ChemicalsAt: &at,
			Findings: judge.Findings{
				Readings: []judge.TypedReading{},
				Signs:    map[string]bool{},
			},
			Works: []visit.Work{},
			Note:  "Clarifier in, pump left running.",
		},
	)
}

// save writes a visit through the use case, as its technician, at its time.
func (l *loader) save(ctx context.Context, i int, d visit.VisitDraft) error {
	tech := l.technician(&l.places[i])
	svc := app.New(l.st, func() time.Time { return d.ClosedAt }, company.World{})
	_, err := svc.Visit.SaveVisit(ctx, access.Actor{ID: tech, Role: access.Technician}, d)
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
	for i := range l.places {
		p := &l.places[i]
		last := authored
		for _, w := range p.cleaned {
			last = min(last, w)
		}
		ev := p.on(0)
		e := ev.effects
		e.Load += 0.05 + p.weekly*float64(last)
		if p.newcomer {
			e.Load = 0.4
		}
		if p.habit > 0 {
			_, _, e.Load = p.live(l.seed, l.visitTime(p, 0, 0))
		}
		rpm := p.rpmToday
		if rpm == 0 {
			rpm = l.usualRPM(p)
		}
		m.Pads[p.street] = &standin.Pad{Model: l.models[i], Effects: e, RPM: rpm, Signs: ev.signs}
	}
	return m
}
