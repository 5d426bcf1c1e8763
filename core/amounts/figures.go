// Package amounts works out what procedures take from a pad: charges and baths, the
// speeds to work at, the water that leaves, and whether a cleaning worked.
package amounts

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"

	"fairlap/core/hydraulics"
	"fairlap/core/limits"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/procedure"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
)

// Amounts of common practice; labels rule.
const (
	// BathParts is how many parts of water one of muriatic acid goes into.
	BathParts = 15
	// meanDepth is how deep a pool is in the mean, ft, where nobody has said (ours).
	meanDepth = 5
	// usualBackwash is how long a backwash runs, minutes.
	usualBackwash = 2
)

// DECharge is a full charge for an area of grid, lb; after a backwash some stays.
func DECharge(areaFt2 float64, afterBackwash bool) float64 {
	lb := upkeep.DEChargePerFt2 * areaFt2
	if afterBackwash {
		lb *= upkeep.DEAfterBackwash
	}
	return lb
}

// Bath parts a bath of at least some gallons into water and muriatic acid, 15 to one, in
// whole measures of the acid: quarts or gallons, and litres for who reads metric.
func Bath(gallons float64) (water, acid words.Arg) {
	const quartsInGallon, litresInGallon = 4, 3.785411784
	litres := math.Ceil(gallons * litresInGallon / (BathParts + 1))
	n, unit := math.Ceil(gallons*quartsInGallon/(BathParts+1)), "qt"
	if n == quartsInGallon*math.Round(n/quartsInGallon) {
		n, unit = n/quartsInGallon, "US gal"
	}
	return words.Either(
			words.Q(unit, BathParts*n),
			words.Q("L", BathParts*litres),
		), words.Either(
			words.Q(unit, n),
			words.Q("L", litres),
		)
}

// bathGallons is the bath that covers one of a filter's elements, to five gallons
// (ours: a cartridge is some 0.06 gal of room to the square foot and comes in fours over
// 200 ft²; grids lie side by side).
func bathGallons(f *pad.Filter) float64 {
	gal := 0.6 * f.AreaFt2
	if f.Kind == pad.Cartridge {
		gal = 0.12 * f.AreaFt2
		if f.AreaFt2 > 200 {
			gal /= 4
		}
	}
	return 5 * math.Ceil(math.Max(5, gal)/5)
}

// SandPounds is about the sand of a filter, to 25 lb (ours: 100 lb to the square foot;
// the tank's label rules).
func SandPounds(areaFt2 float64) float64 { return 25 * math.Round(100*areaFt2/25) }

// InchMinutes is how long a flow takes to lower a pool by an inch.
func InchMinutes(poolGallons float64, waste units.Flow) float64 {
	if waste <= 0 {
		return math.Inf(1)
	}
	return poolGallons / (meanDepth * 12) / waste.GPM()
}

// Known is what a pad's figures follow from.
type Known struct {
	Model       *plumbing.Model
	PoolGallons float64
	Speed       units.Speed       // read at the bench; 0 unknown
	Water       units.Temperature // of the pool today; 0 is as the model has it
	Guessed     bool              // nobody took the water's temperature: it is usual for the month
	HoldHours   float64
	Primes      []upkeep.Timed
	Drains      []upkeep.Timed
}

// expectedLoad is the load that a usual cleaning leaves.
var expectedLoad = upkeep.AfterCleaning.Mean

// Measure writes a pad down for its procedures, with its figures as far as they are
// known. Errors are the solver's.
func Measure(k *Known) (*procedure.Setup, error) {
	d := &k.Model.Doc
	f := procedure.Figures{"bathGal": amount("gal", bathGallons(&d.Filter))}
	s := &procedure.Setup{
		Rig:     procedure.RigOf(d),
		Ways:    procedure.DefaultWays(),
		Figures: f,
		Waste:   map[procedure.Count]float64{},
	}
	for _, l := range d.Returns {
		s.Returns = append(s.Returns, l.Name)
	}
	s.Freeze = freezes(d)
	f["bathWater"], f["bathAcid"] = Bath(bathGallons(&d.Filter))
	if d.Pump.Kind == pad.FlowHolding {
		f["holds"] = words.N(1)
	}
	if d.Pump.Kind == pad.FlowHolding || d.Pump.Kind == pad.VariableSpeed {
		f["panel"] = words.N(1)
	}
	if k.HoldHours > 0 {
		f["holdHours"] = amount("h", k.HoldHours)
	}
	switch d.Filter.Kind {
	case pad.DE:
		f["gridFt2"] = amount("ft²", d.Filter.AreaFt2)
		for name, after := range map[string]bool{"deFull": false, "deAfter": true} {
			lb := DECharge(d.Filter.AreaFt2, after)
			f[name], f[name+"Scoops"] = amount("lb", lb), words.Name(quarters(lb))
		}
	case pad.Sand:
		f["sandLb"] = amount("lb", SandPounds(d.Filter.AreaFt2))
	}
	if k.Speed > 0 {
		psi, err := Expect(k.Model, k.Speed)
		if err != nil {
			return nil, err
		}
		f["speed"], f["expectPsi"] = rpm(k.Speed), amount("psi", 0.5*math.Round(psi.PSI()/0.5))
	}
	if n := len(k.Primes); n >= 3 {
		f["primeUsual"] = amount("s", math.Round(median(k.Primes)))
	}
	if len(k.Drains) > 0 {
		f["drainBest"] = amount(
			"s",
			math.Round(
				slices.MinFunc(
					k.Drains,
					func(a, b upkeep.Timed) int { return cmp.Compare(a.Seconds, b.Seconds) },
				).Seconds,
			),
		)
	}
	for _, measure := range []func(*Known, *procedure.Setup) error{walkSpeeds, backwashWater, levelWater} {
		if err := measure(k, s); err != nil {
			return nil, err
		}
	}
	return s, nil
}

// freezes names the parts of a pad that hold water.
func freezes(d *pad.Document) []words.Message {
	out := []words.Message{"procedure.the-pump-s-pot-and", "procedure.the-filter-tank"}
	if d.Filter.Valve != pad.NoValve {
		out = append(out, "procedure.the-filter-valve-s-body")
	}
	if d.Heater != nil {
		out = append(out, "procedure.the-heater-s-exchanger-and")
	}
	if d.Cell != nil {
		out = append(out, "procedure.the-salt-cell-and-its")
	}
	for _, v := range d.Valves {
		out = append(out, words.Of("procedure.the-part", "part", words.Name(v.Name)))
	}
	for _, l := range d.Returns {
		if l.Kind == pad.Feature {
			out = append(out, words.Of("procedure.pipe-to", "part", words.Name(l.Name)))
		}
	}
	return append(out, "procedure.the-gauge-and-the-air")
}

// walkSpeeds are the speeds of a clean line, the fastest that keeps the pad's limits
// first, and the timed full speed for vacuuming.
func walkSpeeds(k *Known, s *procedure.Setup) error {
	d, f := &k.Model.Doc, s.Figures
	best, err := k.Model.FastestKeeping(pad.Operation{Setting: pad.SetFilter}, false)
	if err != nil {
		return err
	}
	f["walkTop"], f["vacuumSpeed"] = rpm(best.Speed), rpm(best.Speed)
	switch {
	case !best.Keeps:
		f["vacuumNote"] = words.Msg("procedure.it-is-more-than-this")
	case best.Speed < k.Model.TopSpeed():
		f["vacuumNote"] = words.Msg(words.Of("procedure.faster-than-rpm-this-pad", "speed", rpm(best.Speed)))
	}
	if d.Pump.Kind == pad.SingleSpeed {
		return nil
	}
	speeds := []units.Speed{best.Speed, units.Speed(d.Pump.LeastRPM)}
	if d.Pump.Kind != pad.TwoSpeed {
		least := max(units.Speed(d.Pump.LeastRPM), best.Speed/2)
		speeds = speeds[:0]
		for i := range 4 {
			speeds = append(speeds, roundTo(best.Speed-units.Speed(i)*(best.Speed-least)/3, 50))
		}
	}
	speeds = slices.Compact(speeds)
	// The reading after the cleaning stands at the speed of the one before: that is one.
	near := 0
	for i, v := range speeds {
		if k.Speed > 0 && math.Abs(float64(v-k.Speed)) < math.Abs(float64(speeds[near]-k.Speed)) {
			near = i
		}
	}
	for i, v := range slices.Delete(speeds, near, near+1) {
		f[fmt.Sprintf("walk%d", i+1)] = rpm(v)
	}
	return nil
}

// washed is a pad with a bed in water of a temperature; 0 is as the model has it.
func washed(m *plumbing.Model, water units.Temperature) *plumbing.Model {
	if water <= 0 || m.Doc.Filter.Kind != pad.Sand {
		return m
	}
	out := *m
	out.Water = hydraulics.WaterAt(water)
	return &out
}

// ToWaste is what a usual backwash of a pad throws out in water of a temperature, gal to five; 0 where it has no way
// to waste.
func ToWaste(m *plumbing.Model, water units.Temperature) float64 {
	if m.Doc.Filter.Valve == pad.NoValve {
		return 0
	}
	w, err := washed(m, water).WorkingBackwash()
	if err != nil {
		return 0 // the figure is left out
	}
	return BackwashGallons(w.Flow)
}

// backwashWater are the figures of a backwash at its working speed and of a gentle
// rinse.
func backwashWater(k *Known, s *procedure.Setup) error {
	d, f := &k.Model.Doc, s.Figures
	if d.Filter.Valve == pad.NoValve {
		return nil
	}
	m := washed(k.Model, k.Water)
	if k.Water > 0 && d.Filter.Kind == pad.Sand {
		f["waterF"] = amount("°F", math.Round(k.Water.Fahrenheit()))
		if k.Guessed {
			f["waterGuess"] = words.Msg("procedure.water-guess")
		}
	}
	wash, err := m.WorkingBackwash()
	if err != nil || wash.Flow <= 0 {
		return err
	}
	flow, rise := wash.Flow, wash.Rise
	s.Waste[procedure.CountBackwash] = flow.GPM()
	f["wasteGpm"], f["backwashGal"] = amount("gpm", math.Round(flow.GPM())), amount("gal", BackwashGallons(flow))
	if d.Filter.Valve == pad.Multiport {
		rinse, err := m.FastestKeeping(pad.Operation{Setting: pad.SetRinse}, true)
		if err != nil {
			return err
		}
		s.Waste[procedure.CountRinse] = rinse.Waste.GPM()
		f["rinseGpm"] = amount("gpm", math.Round(rinse.Waste.GPM()))
		if d.Pump.Kind != pad.SingleSpeed {
			f["rinseSpeed"] = rpm(rinse.Speed)
		}
	}
	if d.Pump.Kind != pad.SingleSpeed {
		f["backSpeed"] = rpm(wash.Speed)
	}
	if d.Filter.Kind != pad.Sand {
		f["mediaGpm"] = amount("gpm", math.Round(plumbing.MediaRate[d.Filter.Kind]*d.Filter.AreaFt2))
		if !wash.Keeps {
			f["backwashNote"] = words.Msg("procedure.wash-past-limits")
		}
		return nil
	}
	if !math.IsInf(rise, 0) {
		f["expansion"] = amount("%", math.Round(100*rise))
	}
	switch {
	case wash.Held:
		f["backwashNote"] = words.Msg("procedure.wash-held-by-limits")
	case rise < plumbing.WeakBackwash:
		f["backwashNote"] = words.Msg("procedure.this-pump-is-too-weak")
	case rise > plumbing.SandLoss:
		f["backwashNote"] = words.Msg("procedure.that-is-too-much-for")
	}
	return nil
}

// levelWater are the figures of the waste path: what it takes to lower the pool.
func levelWater(k *Known, s *procedure.Setup) error {
	d, f := &k.Model.Doc, s.Figures
	inch := k.PoolGallons / (meanDepth * 12)
	if inch > 0 {
		f["inchGal"] = amount("gal", math.Round(inch))
		f["closeInches"], f["closeGal"] = amount(
			"in",
			procedure.MouthEdge+procedure.BelowReturn,
		), amount(
			"gal",
			10*math.Round((procedure.MouthEdge+procedure.BelowReturn)*inch/10),
		)
	}
	if i := s.Rig.Drain; i >= 0 {
		if o := d.Suction[i].Opening; o > 0 && o < 1 {
			f["drainShare"] = words.Msg(words.Of("procedure.drain-share", "line", words.Name(d.Suction[i].Name),
				"angle", words.QD("°", 5*math.Round(90*o/5), 0), "share", words.Share(o)))
		}
		if q := limits.CoverAlone(k.Model, i, k.Model.TopSpeed()); !math.IsInf(float64(q), 0) {
			f["coverFlow"] = amount("gpm", math.Round(q.GPM()))
		}
		if r := d.Suction[i].RatingGPM; r > 0 {
			f["coverRating"] = amount("gpm", r)
		}
	}
	left := procedure.MouthEdge + procedure.BelowReturn
	if d.Filter.Valve == pad.Multiport {
		left = procedure.BelowReturn
		all, err := k.Model.FastestKeeping(pad.Operation{Setting: pad.SetWaste}, true)
		if err != nil {
			return err
		}
		f["wastePathGpm"], s.Waste[procedure.CountWaste] = amount("gpm", math.Round(all.Waste.GPM())), all.Waste.GPM()
		if d.Pump.Kind != pad.SingleSpeed {
			f["wasteSpeed"] = rpm(all.Speed)
		}
		if !all.Keeps {
			f["wasteNote"] = words.Msg("procedure.that-is-more-than-this")
		}
		if inch > 0 && all.Waste > 0 {
			s.InchSeconds = 60 * InchMinutes(k.PoolGallons, all.Waste)
			f["inchMinutes"] = amount("min", s.InchSeconds/60)
		}
		alone, ok, err := k.Model.DrainAlone(s.Rig.Drain)
		if err != nil {
			return err
		}
		if ok && inch > 0 && s.Rig.Usual.Has(s.Rig.Drain) { // one that stands shut every day stays so
			s.DrainInchSeconds, left = 60*InchMinutes(k.PoolGallons, alone.Waste), 0
			f["drainSpeed"], f["drainGpm"] = rpm(alone.Speed), amount("gpm", math.Round(alone.Waste.GPM()))
		}
	}
	if left > 0 {
		f["subInches"] = amount("in", left)
		if inch > 0 {
			f["subGal"] = amount("gal", 10*math.Round(left*inch/10))
		}
	}
	return nil
}

// quarters writes a count of measures down to the quarter, as they are filled: 3¾.
func quarters(n float64) string {
	q := int(math.Max(1, math.Round(4*n)))
	whole := strconv.Itoa(q / 4)
	if q < 4 {
		whole = ""
	}
	return whole + []string{"", "¼", "½", "¾"}[q%4]
}

// Expect is what the gauge should read at a speed right after a usual cleaning.
func Expect(m *plumbing.Model, speed units.Speed) (units.Pressure, error) {
	st, err := m.Solver().Solve(pad.Operation{Speed: speed}, plumbing.Effects{Load: expectedLoad})
	if err != nil {
		return 0, fmt.Errorf("solving the clean pad at %.0f rpm: %w", float64(speed), err)
	}
	return st.Tank, nil
}

// BackwashGallons is what a usual backwash throws out, to five gallons.
func BackwashGallons(waste units.Flow) float64 { return 5 * math.Round(usualBackwash*waste.GPM()/5) }

func rpm(s units.Speed) words.Arg { return words.Q("rpm", float64(s)) }

func roundTo(s units.Speed, step float64) units.Speed {
	return units.Speed(step * math.Round(float64(s)/step))
}

// amount is a figure with a digit after the point where it says something.
func amount(unit string, v float64) words.Arg {
	if v >= 20 || v == math.Trunc(v) {
		return words.QD(unit, v, 0)
	}
	return words.QD(unit, v, 1)
}

func median(t []upkeep.Timed) float64 {
	all := make([]float64, len(t))
	for i := range t {
		all[i] = t[i].Seconds
	}
	slices.Sort(all)
	return all[len(all)/2]
}
