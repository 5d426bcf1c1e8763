package upkeep

import (
	"math"
	"time"
)

// Weather is one day outdoors.
type Weather struct {
	AirF, RainIn, WindMph float64
}

// Storm tells a day that leaves dirt behind: half an inch of rain, or wind from
// 30 mph in the day's mean (ours).
func (w Weather) Storm() bool { return w.RainIn >= 0.5 || w.WindMph >= 30 }

// Sky gives a day's weather, and whether it is known. Days are whole, in the
// place's own zone.
type Sky func(day time.Time) (Weather, bool)

// dirtSwing is how far a thousand gallons' dirt swings about the year's mean, most
// in mid July, least in mid January (ours: pollen, bathers, dust; common practice
// has summer's cycles about half as long as winter's).
const dirtSwing = 0.3

// dirt is how much a thousand gallons bring on a day, the year's mean being one.
func dirt(day time.Time, south bool) float64 {
	from := float64(day.YearDay() - 197)
	if south {
		from += 182.5
	}
	return 1 + dirtSwing*math.Cos(2*math.Pi*from/365.25)
}

// stormDays is how many days' dirt a stormy day brings on top of its own (ours).
const stormDays = 3

// Exposure counts the water that a filter passes, weighed by how dirty it comes:
// what load grows with.
type Exposure struct {
	KGalPerDay float64
	// Scale is how many loads of this pad the load of the rise alone is: where a
	// stricter limit rules, the same water brings more of them. 0 is 1.
	Scale float64
	Zone  *time.Location
	South bool
	Sky   Sky // nil: no weather is known
	// Idle tells days on which the pump does not run at all; nil is none.
	Idle func(day time.Time) bool
}

func (e *Exposure) scale() float64 {
	if e.Scale > 0 {
		return e.Scale
	}
	return 1
}

// At is the weighed thousand gallons of one day.
func (e *Exposure) At(day time.Time) float64 {
	if e.Idle != nil && e.Idle(day) {
		return 0
	}
	k := e.KGalPerDay * e.scale() * dirt(day, e.South)
	if e.Sky != nil {
		if w, known := e.Sky(day); known && w.Storm() {
			k *= 1 + stormDays
		}
	}
	return k
}

// Between is the weighed thousand gallons from one moment to a later one; nought
// when it is not later. Days are the zone's own: clock changes make one longer or
// shorter.
func (e *Exposure) Between(from, to time.Time) float64 {
	if !to.After(from) {
		return 0
	}
	zone := e.Zone
	if zone == nil {
		zone = time.UTC
	}
	from, to = from.In(zone), to.In(zone)
	sum := 0.0
	for at := from; at.Before(to); {
		y, m, d := at.Date()
		midnight := time.Date(y, m, d, 0, 0, 0, 0, zone)
		next := time.Date(y, m, d+1, 0, 0, 0, 0, zone)
		until := next
		if to.Before(next) {
			until = to
		}
		sum += e.At(midnight) * until.Sub(at).Hours() / next.Sub(midnight).Hours()
		at = next
	}
	return sum
}

// PerDay is the mean weighed thousand gallons a day over the days ahead, weather
// unknown.
func (e *Exposure) PerDay(from time.Time, days int) float64 {
	calm := *e
	calm.Sky = nil
	return calm.Between(from, from.AddDate(0, 0, days)) / math.Max(1, float64(days))
}
