package speedplan

import (
	"fmt"
	"math"

	"fairlap/core/pad"
	"fairlap/core/words"
)

// Span is a part of the day, from an hour to an hour; it may reach over midnight. A zero
// span is none.
type Span struct {
	From float64 `json:"from" minimum:"0" maximum:"24"`
	To   float64 `json:"to" minimum:"0" maximum:"24"`
}

// None tells an empty span.
func (s Span) None() bool { return s.From == s.To }

// Holds tells whether any of a whole hour lies in the span.
func (s Span) Holds(hour int) bool {
	h := float64(hour)
	if s.None() {
		return false
	}
	if s.From < s.To {
		return h+1 > s.From && h < s.To
	}
	return h+1 > s.From || h < s.To
}

// Whole tells whether all of a whole hour lies in the span.
func (s Span) Whole(hour int) bool {
	h := float64(hour)
	if s.From < s.To {
		return h >= s.From && h+1 <= s.To
	}
	return !s.None() && (h >= s.From || h+1 <= s.To)
}

// Words is the span as it is read.
func (s Span) Words() words.Message { return words.Hours(s.From, s.To) }

// PeakWay is a school of what to do in the utility's peak hours.
type PeakWay string

// The schools of the peak.
const (
	PeakLow  PeakWay = "low"  // run low through it (default), never off all day
	PeakOff  PeakWay = "off"  // stand still
	PeakFree PeakWay = "free" // the price alone decides
)

// MediaWay is a school of how hard a filter may be run.
type MediaWay string

// The schools of the media rate.
const (
	MediaHard   MediaWay = "hard"   // up to the media's limit (default)
	MediaGentle MediaWay = "gentle" // up to half of it
)

// Needs are what a day must meet.
type Needs struct {
	Gallons   float64  `json:"gallons" doc:"the pool's volume; 0: not known, no turnover is asked for"`
	Turnovers float64  `json:"turnovers" minimum:"0" maximum:"6" doc:"a day: 1, in the heat 2; a school holds to 3"`
	AirF      float64  `json:"airF" minimum:"-40" maximum:"130" doc:"of the air; a single speed runs an hour for each ten"`
	HighHours float64  `json:"highHours" minimum:"0" maximum:"24" doc:"fast hours for skimming and mixing: 3 to 4"`
	HighRPM   float64  `json:"highRpm" minimum:"0" maximum:"4000" doc:"what counts as fast"`
	HighIn    Span     `json:"highIn,omitempty" required:"false" doc:"fast hours count within these: by day the surface is skimmed and the sun works; none: whenever"`
	Unheated  bool     `json:"unheated,omitempty" doc:"somebody said that this pool's heater is not used: no hours are asked for"`
	CellHours float64  `json:"cellHours" minimum:"0" maximum:"24" doc:"hours over the salt cell's least flow"`
	Heat      Span     `json:"heat" doc:"when the heater fires"`
	Clean     Span     `json:"clean" doc:"when the cleaner or the floor heads run"`
	CleanRPM  float64  `json:"cleanRpm" minimum:"0" maximum:"4000" doc:"what the cleaner needs; 0: its line's own least flow"`
	Spa       Span     `json:"spa" doc:"when the spa is used"`
	SpaRPM    float64  `json:"spaRpm" minimum:"0" maximum:"4000" doc:"what the jets need"`
	Awake     Span     `json:"awake" doc:"hottest hours, in which the water may not stand"`
	Frost     Span     `json:"frost,omitempty" required:"false" doc:"hours of frost, in which the water has to move; none in cold air: the pool is closed for the winter, or freezes"`
	Quiet     Span     `json:"quiet" doc:"hours near bedrooms"`
	QuietRPM  float64  `json:"quietRpm" minimum:"0" maximum:"4000" doc:"at most in quiet hours"`
	Peak      Span     `json:"peak" doc:"the utility's peak hours"`
	PeakWay   PeakWay  `json:"peakWay" enum:"low,off,free"`
	LowRPM    float64  `json:"lowRpm" minimum:"0" maximum:"4000" doc:"at most in the peak, where it runs low"`
	Media     MediaWay `json:"media" enum:"hard,gentle"`
	SkimRPM   float64  `json:"skimRpm" minimum:"0" maximum:"4000" doc:"never slower, so that the surface moves; 0: as slow as the pump goes"`
	LeastRun  float64  `json:"leastRun" minimum:"0" maximum:"24" doc:"hours that the pump runs at least"`
	Slots     int      `json:"slots" minimum:"1" maximum:"24" doc:"that the pump's programme has"`
	Starts    int      `json:"starts" minimum:"0" maximum:"4" doc:"a day, at most; 0: any number"`
	PrimeMin  float64  `json:"primeMin" minimum:"0" maximum:"30" doc:"minutes at high speed after each start"`
	PrimeRPM  float64  `json:"primeRpm" minimum:"0" maximum:"4000"`
	StartWear float64  `json:"startWear" minimum:"0" maximum:"10" doc:"what a start is worth beside its power; 0: nothing, the bill alone is weighed"`
	Tariff    Tariff   `json:"tariff"`
	// Asked are the needs that somebody asked for by name, though they are as usual: they do not give way.
	Asked []NeedID `json:"asked,omitempty" required:"false" doc:"needs that do not give way though they are as usual"`
}

// Band is a price for some hours of the day.
type Band struct {
	Span
	Price float64 `json:"price" minimum:"-10" maximum:"10" doc:"of a kilowatt hour; below zero where the utility pays"`
}

// Tariff is what power costs by the hour. Without a band every hour costs Flat.
type Tariff struct {
	Flat  float64 `json:"flat" minimum:"-10" maximum:"10"`
	Bands []Band  `json:"bands,omitempty" maxItems:"24"`
}

// At is the price in an hour of the day; a band that begins or ends within it counts by
// its share. ok is false where no band covers all of it.
func (t Tariff) At(hour int) (price float64, ok bool) {
	if len(t.Bands) == 0 {
		return t.Flat, true
	}
	const steps = 12
	sum := 0.0
	for i := range steps {
		at := float64(hour) + (float64(i)+0.5)/steps
		found := false
		for _, b := range t.Bands {
			if b.covers(at) {
				sum, found = sum+b.Price, true
				break
			}
		}
		if !found {
			return 0, false
		}
	}
	return sum / steps, true
}

func (s Span) covers(at float64) bool {
	if s.From < s.To {
		return at >= s.From && at < s.To
	}
	return at >= s.From || at < s.To
}

// Mistake is what is wrong with the needs: where, and one sentence.
type Mistake struct {
	Field string
	Text  words.Message
}

// Run time and turnover (handbook, common practice): a single speed an hour for each ten
// degrees and eight at least; the water once round, twice from 90 °F.
const (
	leastSingle  = 8
	degreesAHour = 10
	hotF         = 90
	usualHigh    = 2400
	usualSlots   = 8
)

// SingleHours are the hours that a single speed runs at an air temperature.
func SingleHours(airF float64) float64 {
	return math.Max(leastSingle, math.Round(airF/degreesAHour))
}

// Frost (handbook: below about 36 °F of air the water must move; nights are some 12 °F under a day's mean, common
// practice).
const frostF, nightUnder = 36, 12

// frostHours are the hours of a day of some mean air in which water has to move.
func frostHours(airF float64) Span {
	switch {
	case airF <= frostF:
		return Span{0, 24}
	case airF-nightUnder <= frostF:
		return Span{21, 9}
	}
	return Span{}
}

// Usual are the needs that a pool has until somebody says otherwise; each is a setting.
func Usual(p *Pad, gallons, airF float64) Needs {
	n := Needs{
		Gallons:   gallons,
		Turnovers: 1,
		AirF:      airF,
		PeakWay:   PeakLow,
		Peak:      Span{16, 21},
		Quiet:     Span{22, 7},
		QuietRPM:  2000,
		LowRPM:    1800,
		Media:     MediaHard,
		HighIn:    Span{7, 20},
		Slots:     usualSlots,
		PrimeMin:  4,
		Tariff:    Tariff{Flat: 0.16},
	}
	if airF >= hotF {
		n.Turnovers, n.Awake = 2, Span{12, 18}
	}
	n.Frost = frostHours(airF)
	top := math.Max(p.Top(n.Media), p.slowest())
	n.PrimeRPM = p.Doc.Pump.TopRPM
	switch p.Doc.Pump.Kind {
	case pad.SingleSpeed:
		n.LeastRun, n.PeakWay, n.Quiet, n.PrimeMin = SingleHours(airF), PeakFree, Span{}, 0
		n.Slots = 4
	case pad.TwoSpeed:
		n.HighHours, n.HighRPM, n.QuietRPM, n.LowRPM = 3, p.Doc.Pump.TopRPM, p.Doc.Pump.LeastRPM, p.Doc.Pump.LeastRPM
		if top < p.Doc.Pump.TopRPM {
			n.HighHours = 0
		}
	default:
		n.HighHours, n.HighRPM = 3, math.Min(usualHigh, math.Floor(top/50)*50)
		n.SkimRPM = p.skims(top)
	}
	if p.Doc.Cell != nil {
		n.CellHours = 8
	}
	return n
}

// Skimming (common practice: about 1,000 to 1,200 rpm; slower the surface hardly moves
// and no gauge can be read).
const skimLow, skimHigh = 1000, 1200

// skims is the slowest speed that a plan usually takes on this pad: the gauge is read
// there, if that is within skimming's span, and the media bear it.
func (p *Pad) skims(top float64) float64 {
	at := float64(skimHigh)
	for _, w := range p.Ways[1:] {
		if w.Gauge >= readable {
			at = w.RPM
			break
		}
	}
	return math.Min(math.Max(skimLow, math.Min(at, skimHigh)), math.Max(p.slowest(), math.Floor(top/rpmStep)*rpmStep))
}

// Check lists what is wrong with the needs, each in a sentence.
func (n *Needs) Check(p *Pad) []Mistake {
	var out []Mistake
	wrong := func(field string, text words.Message) { out = append(out, Mistake{field, text}) }
	within := func(field string, v, low, high float64) {
		if !(v >= low && v <= high) {
			wrong(field, words.Of("speedplan.between-and", "low", words.N(low), "high", words.N(high)))
		}
	}
	within("turnovers", n.Turnovers, 0, 6)
	within("airF", n.AirF, -40, 130)
	within("highHours", n.HighHours, 0, 24)
	within("cellHours", n.CellHours, 0, 24)
	within("leastRun", n.LeastRun, 0, 24)
	within("primeMin", n.PrimeMin, 0, 30)
	within("startWear", n.StartWear, 0, 10)
	within("slots", float64(n.Slots), 1, 24)
	within("starts", float64(n.Starts), 0, 4)
	if !(n.Gallons >= 0 && n.Gallons <= 1e6) {
		wrong("gallons", "speedplan.between-0-and-0-where")
	}
	if n.Gallons == 0 && n.Turnovers > 0 {
		wrong("gallons", "speedplan.without-the-pool-s-volume")
	}
	for field, s := range map[string]Span{"heat": n.Heat, "highIn": n.HighIn, "clean": n.Clean, "spa": n.Spa,
		"awake": n.Awake, "frost": n.Frost, "quiet": n.Quiet, "peak": n.Peak} {
		if !(s.From >= 0 && s.From <= 24 && s.To >= 0 && s.To <= 24) {
			wrong(field, "speedplan.hours-of-the-day-from")
		}
	}
	for field, v := range map[string]float64{"highRpm": n.HighRPM, "quietRpm": n.QuietRPM, "lowRpm": n.LowRPM,
		"cleanRpm": n.CleanRPM, "spaRpm": n.SpaRPM, "skimRpm": n.SkimRPM, "primeRpm": n.PrimeRPM} {
		within(field, v, 0, 4000)
	}
	if n.HighHours > 0 && n.HighRPM <= 0 {
		wrong("highRpm", "speedplan.say-from-which-speed-an")
	}
	if !n.Spa.None() && n.SpaRPM <= 0 {
		wrong("spaRpm", "speedplan.say-which-speed-the-jets")
	}
	if !n.Heat.None() && p.Doc.Heater == nil {
		wrong("heat", "speedplan.this-pad-has-no-heater")
	}
	if !n.Heat.None() && p.Doc.Heater != nil && p.Doc.Heater.LeastGPM <= 0 {
		wrong("heat", "speedplan.this-heater-s-least-flow")
	}
	if n.CellHours > 0 && p.Doc.Cell == nil {
		wrong("cellHours", "speedplan.this-pad-has-no-salt")
	}
	if !n.Clean.None() && n.CleanRPM <= 0 && p.clean <= 0 {
		wrong("cleanRpm", "speedplan.say-which-speed-the-cleaner")
	}
	switch n.PeakWay {
	case PeakLow, PeakOff, PeakFree:
	default:
		wrong("peakWay", "speedplan.choose-low-off-or-free")
	}
	if n.Media != MediaHard && n.Media != MediaGentle {
		wrong("media", "speedplan.choose-hard-or-gentle")
	}
	return append(out, n.Tariff.check()...)
}

// check names the hours without a price, and prices that nobody pays.
func (t Tariff) check() []Mistake {
	var out []Mistake
	priced := func(v float64) bool { return v >= -10 && v <= 10 }
	if !priced(t.Flat) {
		out = append(out, Mistake{"tariff.flat", "speedplan.a-price-between-10-and"})
	}
	for i, b := range t.Bands {
		field := fmt.Sprintf("tariff.bands[%d]", i)
		if !(b.From >= 0 && b.From <= 24 && b.To >= 0 && b.To <= 24) || b.None() {
			out = append(out, Mistake{field, "speedplan.from-an-hour-to-another"})
		}
		if !priced(b.Price) {
			out = append(out, Mistake{field + ".price", "speedplan.a-price-between-10-and"})
		}
	}
	if len(out) > 0 {
		return out
	}
	for h := 0; h < 24; {
		if _, ok := t.At(h); ok {
			h++
			continue
		}
		to := h
		for to < 24 {
			if _, ok := t.At(to); ok {
				break
			}
			to++
		}
		out = append(
			out,
			Mistake{
				"tariff.bands",
				words.Of("speedplan.no-price-covers", "span", words.Msg(words.Hours(float64(h), float64(to)))),
			},
		)
		h = to
	}
	return out
}
