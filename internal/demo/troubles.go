package demo

import (
	"context"
	"hash/fnv"
	"maps"
	"math/rand/v2"
	"slices"
	"time"

	"fairlap/core/fault"
	"fairlap/core/lap"
	"fairlap/internal/store"
)

// usualTroubles are the faults that a route meets in a year, and the work that mends
// them as a visit's record calls it.
var usualTroubles = []struct {
	id    fault.ID
	share float64
	work  string
}{
	{
		fault.BasketFullFault,
		5,
		"basket",
	}, {fault.SkimmerBlocked, 4, "basket"}, {fault.AirLid, 3, ""}, {fault.WaterLow, 2, ""}, {fault.ImpellerClogged, 2, "basket"},
	{
		fault.SuctionValve,
		2,
		"handle",
	}, {fault.PrimeLost, 1, ""}, {fault.AirInlet, 1, ""}, {fault.ReturnRestricted, 1, ""}, {fault.SuctionLine, 0.7, ""},
}

// asked is how likely a sign must be, given its fault, to be looked for.
const asked = 0.25

// troubles draws what went wrong at a pool of the round in its past, one to three times:
// from the catalogue's own effects and signs, settled as a technician settles them.
func (p *place) troubles(seed uint64) []event {
	h := fnv.New64a()
	h.Write([]byte(p.sown()))
	rng := rand.New(rand.NewPCG(seed, h.Sum64()))
	d := p.document()
	total := 0.0
	for _, u := range usualTroubles {
		total += u.share
	}
	var out []event
	for range 1 + rng.IntN(3) {
		at := rng.Float64() * total
		u := usualTroubles[0]
		for _, u = range usualTroubles {
			if at -= u.share; at < 0 {
				break
			}
		}
		f, ok := fault.LookUp(u.id, d.Filter.Kind)
		if !ok || f.Places == nil || d.SmallUnit() {
			continue
		}
		places := f.Places(&d)
		if len(places) == 0 {
			continue
		}
		place := places[rng.IntN(len(places))]
		step := rng.IntN(len(f.Weights))
		f = f.At(&place)
		e := event{
			week:    authored + 1 + rng.IntN(Weeks-authored-2),
			effects: place.Effects(step),
			signs:   map[fault.Sign]bool{},
			confirm: string(u.id),
			work:    u.work,
		}
		for _, id := range slices.Sorted(maps.Keys(f.Signs)) {
			s, known := fault.LookUpSign(id)
			if known && s.On(&d) && !s.Context && f.Signs[id] >= asked {
				e.signs[id] = rng.Float64() < f.Signs[id]
			}
		}
		if f.Air > 0 {
			e.signs[fault.AirInPot] = rng.Float64() < f.Air
		}
		if !slices.ContainsFunc(out, func(o event) bool { return o.week == e.week }) {
			out = append(out, e)
		}
	}
	return out
}

// called are the laps of the troubles that were settled long ago: those visits are
// judged as they were made, and stand in the track record.
func (l *loader) called(ctx context.Context) error {
	laps := map[string]*store.Lap{}
	var order []string
	for i := range l.places {
		p := &l.places[i]
		for _, e := range p.events {
			if e.week <= authored || p.newcomer {
				continue
			}
			at := l.visitTime(p, e.week, i%9)
			day := time.Date(at.Year(), at.Month(), at.Day(), 0, 0, 0, 0, time.UTC)
			tech := l.technician(p)
			key := tech.String() + day.Format(time.DateOnly)
			round := laps[key]
			if round == nil {
				round = &store.Lap{
					ID:           lap.ID(tech, day),
					TechnicianID: tech,
					Day:          day,
					StartsAt:     at.Add(-10 * time.Minute),
					LimitMinutes: 450,
					Version:      1,
				}
				laps[key], order = round, append(order, key)
			}
			st := store.Stop{
				ID:        lap.StopID(round.ID, l.pools[i]),
				LapID:     round.ID,
				PoolID:    l.pools[i],
				Position:  len(round.Stops) + 1,
				Minutes:   p.minutes,
				PlannedAt: at,
			}
			round.Stops = append(round.Stops, st)
			l.stops[stopKey(i, e.week)] = st.ID
		}
	}
	for _, key := range order {
		if err := l.st.Insert(ctx, laps[key]); err != nil {
			return err
		}
	}
	return nil
}
