package speedplan

import (
	"math"
	"slices"
	"time"
)

// Month is what the plan should become in a month.
type Month struct {
	Month  time.Month
	AirF   float64
	Needs  Needs
	Answer Answer
}

// Season plans a year month by month: hours and turnovers follow the air, all else is
// as asked for. air gives a month's mean, °F.
func Season(p *Pad, n *Needs, air func(time.Month) float64) []Month {
	out := make([]Month, 0, 12)
	for m := time.January; m <= time.December; m++ {
		needs := *n
		needs.AirF = air(m)
		needs.follow(p, n.AirF)
		if k := slices.IndexFunc(out, func(o Month) bool { return sameDay(&o.Needs, &needs) }); k >= 0 {
			out = append(out, Month{m, needs.AirF, needs, out[k].Answer})
			continue
		}
		out = append(out, Month{m, needs.AirF, needs, Find(p, &needs)})
	}
	return out
}

// follow lets what the air decides follow it, as far as it stood where the air from
// before would have put it: what somebody chose otherwise stays.
func (n *Needs) follow(p *Pad, before float64) {
	was, now := Usual(p, n.Gallons, before), Usual(p, n.Gallons, n.AirF)
	if n.Turnovers == was.Turnovers {
		n.Turnovers = now.Turnovers
	}
	if n.LeastRun == was.LeastRun {
		n.LeastRun = now.LeastRun
	}
	if n.Awake == was.Awake {
		n.Awake = now.Awake
	}
	if n.Frost == was.Frost {
		n.Frost = now.Frost
	}
}

// sameDay tells needs that differ in the air alone.
func sameDay(a, b *Needs) bool {
	return a.Turnovers == b.Turnovers && a.LeastRun == b.LeastRun && a.Awake == b.Awake && a.Frost == b.Frost
}

// HoursOf are the wall-clock hours that a day has in a place: 24, but where the clocks
// change one is left out or comes twice. A pump's clock is set by hand; what a plan
// costs on such a day follows from them.
func HoursOf(day time.Time, zone *time.Location) []int {
	y, m, d := day.Date()
	from := time.Date(y, m, d, 0, 0, 0, 0, zone)
	to := time.Date(y, m, d+1, 0, 0, 0, 0, zone)
	n := int(math.Round(to.Sub(from).Hours()))
	out := make([]int, n)
	for i := range out {
		out[i] = from.Add(time.Duration(i) * time.Hour).Hour()
	}
	return out
}

// CostOn is what a plan's power costs on a day of a place, its clock changes counted.
func CostOn(p *Plan, n *Needs, day time.Time, zone *time.Location) float64 {
	byHour := [24]float64{}
	for _, b := range p.Blocks {
		for i := range int(math.Round(b.Hours * 60)) {
			h := (int(math.Round(b.Start*60)) + i) / 60 % 24
			price, _ := n.Tariff.At(h)
			byHour[h] += b.Way.W / 1000 / 60 * price
		}
	}
	sum := 0.0
	for _, h := range HoursOf(day, zone) {
		sum += byHour[h]
	}
	return sum
}
