package procedure

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/upkeep"
)

// Amounts of common practice; labels rule.
const (
	// WorkingRate is the plain-words target of a sand backwash, gpm/ft² (NSF/ANSI 50:
	// about 15).
	WorkingRate = 15
	// BathParts is how many parts of water one of muriatic acid goes into.
	BathParts = 15
	// BathGallons is the bath that a filter's elements fit into (ours).
	BathGallons = 15
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

// Bath parts a bath into water and muriatic acid, gal.
func Bath(gallons float64) (water, acid float64) {
	acid = gallons / (BathParts + 1)
	return gallons - acid, acid
}

// InchMinutes is how long a flow takes to lower a pool by an inch.
func InchMinutes(poolGallons float64, waste units.Flow) float64 {
	if waste <= 0 {
		return math.Inf(1)
	}
	return poolGallons / (meanDepth * 12) / waste.GPM()
}

// Known is what a pad's figures follow from.
type Known struct {
	Model       *pad.Model
	PoolGallons float64
	Speed       units.Speed       // read at the bench; 0 unknown
	Water       units.Temperature // of the pool today; 0 is as the model has it
	HoldHours   float64
	Primes      []upkeep.Timed
	Drains      []upkeep.Timed
}

// expectedLoad is the load that a usual cleaning leaves.
var expectedLoad = upkeep.AfterCleaning.Mean

// Measure computes a pad's figures, as far as they are known, and the flow to waste.
func Measure(k *Known) (Figures, float64, error) {
	d := &k.Model.Doc
	top := k.Model.TopSpeed()
	f := Figures{"topSpeed": rpm(top), "bathGal": fmt.Sprintf("%d", BathGallons)}
	water, acid := Bath(BathGallons)
	f["bathWater"], f["bathAcid"] = number(water), number(acid)
	if d.Pump.Kind != pad.SingleSpeed && d.Pump.Kind != pad.TwoSpeed {
		f["middleSpeed"], f["lowSpeed"] = rpm(roundTo(0.72*top, 50)), rpm(roundTo(max(0.5*top, units.Speed(d.Pump.LeastRPM)), 50))
	}
	if d.Pump.Kind == pad.FlowHolding {
		f["holds"] = "1"
	}
	if k.HoldHours > 0 {
		f["holdHours"] = number(k.HoldHours)
	}
	if d.Filter.Kind == pad.DE {
		f["gridFt2"] = number(d.Filter.AreaFt2)
		f["deFull"], f["deAfter"] = number(DECharge(d.Filter.AreaFt2, false)), number(DECharge(d.Filter.AreaFt2, true))
	}
	if k.Speed > 0 {
		psi, err := Expect(k.Model, k.Speed)
		if err != nil {
			return f, 0, err
		}
		f["speed"], f["expectPsi"] = rpm(k.Speed), number(0.5*math.Round(psi.PSI()/0.5))
	}
	if n := len(k.Primes); n >= 3 {
		f["primeUsual"] = number(math.Round(median(k.Primes)))
	}
	if len(k.Drains) > 0 {
		f["drainBest"] = number(math.Round(slices.MinFunc(k.Drains, func(a, b upkeep.Timed) int { return cmp.Compare(a.Seconds, b.Seconds) }).Seconds))
	}
	if i := RigOf(d, k.PoolGallons).Drain; i >= 0 {
		if q := k.Model.CoverAlone(i, top); !math.IsInf(float64(q), 0) {
			f["coverFlow"] = number(math.Round(q.GPM()))
		}
		if r := d.Suction[i].RatingGPM; r > 0 {
			f["coverRating"] = number(r)
		}
	}
	waste, err := wasteFlow(k, f)
	if err != nil || waste <= 0 {
		return f, 0, err
	}
	f["wasteGpm"], f["backwashGal"] = number(math.Round(waste.GPM())), number(BackwashGallons(waste))
	if m := InchMinutes(k.PoolGallons, waste); k.PoolGallons > 0 {
		f["inchMinutes"] = number(math.Round(m))
	}
	return f, waste.GPM(), nil
}

// Expect is what the gauge should read at a speed right after a usual cleaning.
func Expect(m *pad.Model, speed units.Speed) (units.Pressure, error) {
	st, err := m.Solver().Solve(pad.Operation{Speed: speed}, pad.Effects{Load: expectedLoad})
	if err != nil {
		return 0, fmt.Errorf("solving the clean pad at %.0f rpm: %w", float64(speed), err)
	}
	return st.Tank, nil
}

// BackwashGallons is what a usual backwash throws out, to five gallons.
func BackwashGallons(waste units.Flow) float64 { return 5 * math.Round(usualBackwash*waste.GPM()/5) }

// wasteFlow is what leaves the pool in a backwash at its working speed.
func wasteFlow(k *Known, f Figures) (units.Flow, error) {
	d := &k.Model.Doc
	if d.Filter.Valve == pad.NoValve {
		return 0, nil
	}
	m := *k.Model
	if k.Water > 0 && d.Filter.Kind == pad.Sand {
		m.Water = hydraulics.WaterAt(k.Water)
		f["waterF"] = number(math.Round(k.Water.Fahrenheit()))
	}
	speed, flow, rise, err := m.WorkingBackwash()
	if err != nil {
		return 0, err
	}
	if d.Pump.Kind != pad.SingleSpeed {
		f["backSpeed"] = rpm(speed)
	}
	if d.Filter.Kind != pad.Sand {
		return flow, nil
	}
	f["workingGpm"] = number(math.Round(WorkingRate * d.Filter.AreaFt2))
	if !math.IsInf(rise, 0) {
		f["expansion"] = number(math.Round(100 * rise))
	}
	switch {
	case rise < pad.WeakBackwash:
		f["backwashNote"] = "This pump is too weak to lift the bed: the wash clears the top of it only."
	case rise > pad.SandLoss:
		f["backwashNote"] = "That is too much for this sand: throttle the pump until no grains show in the glass."
	}
	return flow, nil
}

func rpm(s units.Speed) string { return fmt.Sprintf("%.0f", float64(s)) }

func roundTo(s units.Speed, step float64) units.Speed {
	return units.Speed(step * math.Round(float64(s)/step))
}

// number writes a figure with a digit after the point where it says something.
func number(v float64) string {
	if v >= 20 || v == math.Trunc(v) {
		return fmt.Sprintf("%.0f", v)
	}
	return fmt.Sprintf("%.1f", v)
}

func median(t []upkeep.Timed) float64 {
	all := make([]float64, len(t))
	for i := range t {
		all[i] = t[i].Seconds
	}
	slices.Sort(all)
	return all[len(all)/2]
}

// Outcome is whether a cleaning worked.
type Outcome struct {
	Back     string  `json:"back" enum:"back,partly,not"`
	Says     string  `json:"says"`
	Load     float64 `json:"load" doc:"that is left"`
	Expected float64 `json:"expectedPsi" doc:"at the speed of the reading after, clean"`
}

// Loads up to which a cleaning was a whole one, and a half one (ours: the gauge back
// within 1.5 and 4 psi of the clean line, of the 8 that are a full load).
const (
	wholeUnder  = 0.2
	partlyUnder = 0.5
)

// Judge says what a load read after a cleaning means, by the filter's kind.
func Judge(load upkeep.Belief, expected units.Pressure, kind pad.FilterKind) Outcome {
	out := Outcome{Back: "back", Load: load.Mean, Expected: 0.5 * math.Round(expected.PSI()/0.5), Says: "Back on its clean line."}
	again := map[pad.FilterKind]string{pad.Sand: "Backwash once more; a soak with sand cleaner or new sand if that does not bring it back.",
		pad.Cartridge: "Hose it once more; a soak if that does not bring it back.", pad.DE: "Backwash once more; tear it down and soak if that does not bring it back."}[kind]
	left := fmt.Sprintf("%.0f %% load is left (± %.0f). ", 100*math.Max(0, load.Mean), 100*load.SD)
	switch {
	case load.SD > wholeUnder && load.Mean+load.SD < partlyUnder:
		out.Says = fmt.Sprintf("Back on its clean line, as far as this speed tells (± %.0f %% load).", 100*load.SD)
	case load.SD > wholeUnder && load.Mean < 1:
		out.Back, out.Says = "partly", "This reading can't tell: "+left+"Read at a higher speed."
	case load.Mean >= partlyUnder:
		out.Back, out.Says = "not", "It did not work: "+left+again+" Look past the filter too: valves, returns, heater."
	case load.Mean >= wholeUnder:
		out.Back, out.Says = "partly", "Partly: "+left+again
	}
	return out
}
