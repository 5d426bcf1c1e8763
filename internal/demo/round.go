package demo

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"time"

	"fairlap/core/lap"
	"fairlap/core/pad"
	"fairlap/internal/standin"
)

// size is how many pools the town has.
const size = 48

// weekdays are the days of a week's rounds.
const weekdays = 5

// streets are the made-up names that the rest of the town lives in.
var streets = []string{
	"Thistle Row",
	"Mill Hill",
	"Orchard Street",
	"Quarry Road",
	"Pellam Road",
	"Ridge Road",
	"Wren Close",
	"Cinder Path",
	"Marl Lane",
	"Bracken Way",
	"Linnet Walk",
	"Tanner Street",
}

// round makes up the pools beyond today's: each with its pad, its dirt and the habit
// of whoever cleans it, and a few with troubles of their own.
func round(seed uint64) []place {
	rng := rand.New(rand.NewPCG(seed, 0x51ed270b))
	programme := func() []pad.Slot {
		return []pad.Slot{
			{StartHour: 8, Hours: 3 + float64(rng.IntN(3)), RPM: 2400 + 50*float64(rng.IntN(6))},
			{StartHour: 13, Hours: 6 + float64(rng.IntN(4)), RPM: 1700 + 50*float64(rng.IntN(7))},
		}
	}
	kinds := []string{"S24", "P320", "S30", "L48", "S20", "P420", "L36", "S24L", "P150", "S24", "P320"}
	growth := map[pad.FilterKind]float64{pad.Sand: 0.34, pad.Cartridge: 0.13, pad.DE: 0.18}
	var out []place
	for i := range size - len(today) {
		p := place{
			street:    fmt.Sprintf("%d %s", 3+7*(i/len(streets))+2*(i%5), streets[i%len(streets)]),
			gallons:   12000 + 1000*float64(rng.IntN(14)),
			surface:   []string{"plaster", "pebble", "vinyl", "tile"}[rng.IntN(4)],
			pump:      brisk150,
			filter:    kinds[i%len(kinds)],
			programme: programme(),
			suctionFt: 30 + 5*float64(rng.IntN(7)),
			returnFt:  35 + 5*float64(rng.IntN(7)),
			minutes: 22 + 2*rng.IntN(
				11,
			),
			since: fmt.Sprintf("20%02d-%02d-14", 15+rng.IntN(9), 1+rng.IntN(12)),
			habit: 0.7 + 0.35*rng.Float64(),
			aged:  map[string]float64{},
		}
		if i >= 2 { // two more today, the others on the days after
			p.offset, p.hand = 1+(i-2)%(weekdays-1), (i-2)/(weekdays-1)%3
		} else {
			p.hand = 2
		}
		if rng.IntN(3) == 0 {
			p.pump, p.heater = brisk270, ember
		}
		if rng.IntN(3) == 0 {
			p.cell = halide
		}
		p.weekly = growth[filters[p.filter].Kind] * math.Exp(0.3*rng.NormFloat64())
		for kind, most := range map[string]float64{"sand": 3.5, "cartridge": 1.7, "grids": 6, "pump": 7,
			"filter-tank": 15, "lid-o-ring": 1.7, "tank-gauge": 5.5, "heater": 10, "salt-cell": 4.5, "zinc-anode": 2.2,
			"multiport-gasket": 5.5} {
			// A share of the life from the name, so that the order of the map says nothing.
			p.aged[kind] = most * float64((len(kind)*7+i*13)%23) / 22
		}
		switch i {
		case 4: // sand due by wear
			p.filter, p.creep, p.weekly, p.aged["sand"] = "S24", 0.022, 0.4, 3.9
		case 9: // a cartridge fouled by a pump too big for it
			p.filter, p.pump, p.creep, p.weekly, p.aged["cartridge"] = "P150", brisk270, 0.06, 0.3, 1.9
		case 13:
			p.stuck = "14"
		case 17: // run too short in the heat
			p.pump, p.heater, p.cell, p.filter, p.noMeters = brisk75, nil, nil, "S20", true
			p.programme = []pad.Slot{{StartHour: 10, Hours: 4, RPM: 3450}}
		case 21: // a small unit above ground
			p.pump, p.heater, p.cell, p.filter, p.noMeters, p.gallons, p.minutes = brook25, nil, nil, "P40", true, 4200,
				15
			p.programme, p.weekly = []pad.Slot{{StartHour: 9, Hours: 6, RPM: 3450}}, 0.45
		case 26:
			p.pump, p.filter = hold270, "P420"
		}
		p.events = p.troubles(seed)
		out = append(out, p)
	}
	return out
}

// sown is what a place's chances are drawn from: its street, then its number.
func (p *place) sown() string {
	number, street, _ := strings.Cut(p.street, " ")
	return street + " " + number
}

// put gives each pool a place beside one of the town's corners.
func put(corners []lap.Place, n int, seed uint64) []lap.Place {
	rng := rand.New(rand.NewPCG(seed, 0x70071e))
	order := rng.Perm(len(corners))
	out := make([]lap.Place, n)
	for i := range out {
		at := corners[order[i%len(order)]]
		out[i] = lap.Place{Lon: at.Lon + 0.0005*rng.NormFloat64(), Lat: at.Lat + 0.0005*rng.NormFloat64()}
	}
	return out
}

// Weeks is how far the town's history reaches back: fourteen months.
const Weeks = 61

// authored is how many weeks back the pools of the day follow their own story.
const authored = 8

// lived is what was true of a pool at one visit.
type lived struct {
	week    int // before the next visit
	load    float64
	cleaned bool
	after   float64
}

// live runs a pool from long ago to its last visit: its visits, what each day
// brought, and its load now.
func (p *place) live(seed uint64, next time.Time) (visits []lived, days []float64, now float64) {
	name := p.sown()
	rng := rand.New(rand.NewPCG(seed, uint64(len(name))<<32|uint64(name[0])<<8|uint64(p.minutes)))
	sky := standin.Sky(seed)
	season := func(day time.Time) float64 { return 1 + 0.3*math.Cos(2*math.Pi*float64(day.YearDay()-200)/365.25) }
	today := season(next)
	load, cleanings := 0.05, 0
	for week := Weeks; week >= 1; week-- {
		v := lived{week: week, load: load}
		v.cleaned = load >= p.habit
		if p.habit == 0 {
			v.cleaned = load >= 0.85
			if week <= authored {
				v.cleaned = false
				for _, w := range p.cleaned {
					v.cleaned = v.cleaned || w == week
				}
			}
		}
		if v.cleaned {
			cleanings++
			v.after = 0.03 + 0.05*rng.Float64() + p.creep*float64(cleanings)
			load = v.after
		}
		visits = append(visits, v)
		grown := [7]float64{}
		even := p.weekly * math.Max(0, 1+0.12*rng.NormFloat64()) / 7
		for d := range grown {
			day := next.AddDate(0, 0, d-7*week)
			if grown[d] = even; week > authored || p.habit > 0 {
				grown[d] = p.weekly / 7 * season(day) / today * math.Exp(0.3*rng.NormFloat64())
			}
			if w, known := sky(day); known && w.Storm() {
				grown[d] += p.weekly * 3 / 7
			}
			load += grown[d]
		}
		days = append(days, grown[:]...)
	}
	return visits, days, load
}
