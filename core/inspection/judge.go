package inspection

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"fairlap/core/pad"
	"fairlap/core/units"
)

// Answer is what was found at an item; an item without one was not looked at.
type Answer struct {
	Value *float64 `json:"value,omitempty" doc:"of a measure"`
	Yes   *bool    `json:"yes,omitempty" doc:"of a yes-or-no: as it should be"`
	Note  string   `json:"note,omitempty" maxLength:"500"`
}

// isAnswered says whether an item was looked at; the pad's own figures always are.
func isAnswered(id ItemID, x Answer) bool {
	i := lookUp(id)
	return x.Value != nil || x.Yes != nil || i != nil && i.Kind == Computed
}

// Answers are an inspection's, by item.
type Answers map[ItemID]Answer

// Finding is what an inspection says must or should be mended.
type Finding struct {
	Item     ItemID   `json:"item"`
	Name     string   `json:"name"`
	Severity Severity `json:"severity" enum:"stop,act,note"`
	Says     string   `json:"says"`
	Who      string   `json:"who" doc:"may mend it"`
	Cost     Cost     `json:"cost" enum:"small,middle,large"`
	Source   string   `json:"source"`
	Note     string   `json:"note"`
}

// Installation is what the computed verdicts go by.
type Installation struct {
	Model   *pad.Model
	Pool    units.Volume
	Year    int      // now
	Old     []string // parts past their life, in words
	Schools Schools
	Anode   float64 // years that a zinc anode is expected to last; 0: nobody says
	AnodeOf int     // the year that the equipment has for it; 0: none
}

// The runs that are asked for, in diameters (handbook).
const (
	InstallerRun = 10.0 // before the pump, and before a flow switch
	CodeRun      = 4.0  // before the pump by code; after a flow switch
	restOff      = 1.0  // psi by which a gauge at rest may stray
	farOut       = 1.4  // times the flow of best efficiency from which a pump is too much for its pad (ours)
)

// Wrong lists measures that can't be, by item, in a sentence.
func Wrong(a Answers) map[ItemID]string {
	out := map[ItemID]string{}
	for id, x := range a {
		i := lookUp(id)
		switch {
		case i == nil:
			out[id] = "There is no such thing to look at."
		case x.Value != nil && !(*x.Value >= i.Low && *x.Value <= i.Top):
			out[id] = fmt.Sprintf("%g is not believable: it lies between %g and %g %s.", *x.Value, i.Low, i.Top, i.Unit)
		case x.Value != nil && i.Kind != Measure, x.Yes != nil && i.Kind != YesNo:
			out[id] = "This is answered in another way."
		}
	}
	return out
}

// Judge says what an inspection found, in the order of the walk. Errors are the
// solver's.
func Judge(in *Installation, a Answers) ([]Finding, error) {
	limits, err := in.Model.LimitFigures(in.Pool)
	if err != nil {
		return nil, fmt.Errorf("the pad's limits: %w", err)
	}
	out := []Finding{}
	for _, i := range On(&in.Model.Doc, in.Schools) {
		x := a[i.ID]
		var says string
		severity := i.Severity
		switch i.Kind {
		case YesNo:
			if x.Yes != nil && !*x.Yes {
				says = i.Finding
			}
		case Measure:
			if x.Value != nil {
				says, severity = in.measured(&i, *x.Value, a)
			}
		case Computed:
			if says, severity, err = in.computed(&i, limits, a); err != nil {
				return nil, err
			}
		}
		if says != "" {
			out = append(out, Finding{i.ID, i.Name, severity, says, i.Who, i.Cost, i.Source, x.Note})
		}
	}
	return out, nil
}

// measured judges one figure; empty where it is as it should be.
func (in *Installation) measured(i *Item, v float64, a Answers) (string, Severity) {
	d := &in.Model.Doc
	bore := d.SuctionTrunk.BoreIn
	size := nominal(bore)
	switch i.ID {
	case "straight-run":
		asked := in.Schools.Straight()
		short := asked*size - v
		switch {
		case short <= 0:
			return "", i.Severity
		case asked == CodeRun:
			return fmt.Sprintf("%.1f in of straight pipe before the pump, %.1f in short of the four diameters of %g-in pipe that code asks for.", v, short, size), Act
		case v < CodeRun*size:
			return fmt.Sprintf("%.1f in of straight pipe before the pump, %.1f in short of ten diameters of %g-in pipe and short of the four that code asks for too.", v, InstallerRun*size-v, size), Act
		}
		return fmt.Sprintf("%.1f in of straight pipe before the pump: %.1f in short of ten diameters of %g-in pipe. The four diameters of the code are there.", v, short, size), Note
	case "switch-before":
		if short := InstallerRun*size - v; short > 0 {
			return fmt.Sprintf("%.1f in of clear run before the flow switch: %.1f in short of ten diameters (%.0f in). It may say no flow where there is some.", v, short, InstallerRun*size), i.Severity
		}
	case "switch-after":
		if short := CodeRun*size - v; short > 0 {
			return fmt.Sprintf("%.1f in of clear run after the flow switch: %.1f in short of four diameters (%.0f in).", v, short, CodeRun*size), i.Severity
		}
	case "drain-year":
		if int(v) < in.Year {
			return fmt.Sprintf("The drain covers were to be replaced by %.0f: pump off, pool closed, until they are.", v), Stop
		} else if int(v) == in.Year {
			return fmt.Sprintf("The drain covers are to be replaced within %.0f.", v), Act
		}
	case "anode-year":
		if v > float64(in.Year) {
			return fmt.Sprintf("%.0f is still to come: look at the anode's year again.", v), Note
		}
		if v < float64(in.AnodeOf) {
			return fmt.Sprintf("The equipment says that an anode was put in in %d, here it says %.0f: one of them is wrong. The equipment stays as it is; change it in the record if need be.", in.AnodeOf, v), Note
		}
		if age := float64(in.Year) - v; in.Anode > 0 && age > in.Anode {
			return fmt.Sprintf("The anode is of %.0f and lasts %g years: look how much of it is left; what it protected corrodes instead.", v, in.Anode), i.Severity
		}
	case "gauge-rest":
		stands := math.Max(0, -d.GaugeHeightFt*0.433)
		if math.Abs(v-stands) > restOff {
			return fmt.Sprintf("The gauge shows %.1f psi at rest with the bleed open; %.1f psi of water stands above it. It can't be trusted: replace it.", v, stands), i.Severity
		}
	case "gauge-dirty":
		ceiling, hard := pad.ServiceCeiling.PSI(), 50.0
		if l := a["label"].Value; l != nil {
			hard = *l
		} else if d.Filter.LabelPsi > 0 {
			hard = d.Filter.LabelPsi
		}
		switch {
		case v > hard:
			return fmt.Sprintf("The tank is run to %.0f psi, over its limit of %.0f psi: stop. Stored pressure can kill.", v, hard), Stop
		case v > ceiling:
			return fmt.Sprintf("The tank is run to %.0f psi, over the usual ceiling of %.0f psi: clean sooner or run slower.", v, ceiling), Act
		}
		// This pad's own clean line and limit at full speed.
		s := in.Model.Solver()
		top := pad.Operation{Speed: in.Model.TopSpeed()}
		clean, err := s.Solve(top, pad.Effects{})
		if err != nil {
			return "", i.Severity
		}
		limit, err := s.Solve(top, pad.Effects{Load: 1})
		if err != nil {
			return "", i.Severity
		}
		if v > limit.Tank.PSI()+ownLimitOff {
			return fmt.Sprintf("The tank is run to %.0f psi; at full speed this pad reads %.0f psi clean and its limit is %.0f psi: it is cleaned too late.", v, clean.Tank.PSI(), limit.Tank.PSI()), Act
		}
	}
	return "", i.Severity
}

// ownLimitOff is how far over its own limit a pad's highest reading is told, psi (ours:
// a gauge's step and slack).
const ownLimitOff = 1

// nominal is the size that a bore is called by: runs are counted in it, as the trade
// does (ten diameters of 2-in pipe are 20 in).
func nominal(bore float64) float64 {
	best, off := bore, math.Inf(1)
	for size, b := range pad.Bores {
		if d := math.Abs(b - bore); d < off && d < 0.1 {
			best, off = size, d
		}
	}
	return best
}

// computed judges what the pad's own figures decide.
func (in *Installation) computed(i *Item, limits []pad.Limit, a Answers) (string, Severity, error) {
	d := &in.Model.Doc
	// worst is the limit that is broken by the largest share, at a programmed speed.
	worst := func(ids ...pad.LimitID) (limit *pad.Limit, found *pad.LimitAt) {
		most := 0.0
		for k := range limits {
			l := &limits[k]
			if !slices.Contains(ids, l.ID) {
				continue
			}
			for n := range l.At {
				at := &l.At[n]
				if at.OK || !in.programmed(at.Speed) {
					continue
				}
				if by := math.Abs(at.Value-l.Value) / math.Max(l.Value, 1e-9); found == nil || by > most {
					limit, found, most = l, at, by
				}
			}
		}
		return limit, found
	}
	switch i.ID {
	case "media-rate":
		if l, at := worst("media-rate"); l != nil {
			return fmt.Sprintf("At the programmed %.0f rpm the filter gets %.0f gpm and bears %.0f gpm: dirt is driven deep, media die in months. Run it slower, or give it a larger filter.", float64(at.Speed), at.Value, l.Value), i.Severity, nil
		}
	case "pump-match":
		st, err := in.Model.Solver().Solve(pad.Operation{Speed: in.Model.TopSpeed()}, pad.Effects{})
		if err != nil {
			return "", i.Severity, fmt.Errorf("solving at top speed: %w", err)
		}
		if best := in.Model.BestFlow(); st.Flow > best*units.Flow(farOut) {
			return fmt.Sprintf("At full speed the pump moves %.0f gpm through this pad and is at its best at %.0f gpm: a high-head pump on a pad that asks for little head. It wastes power and may cavitate: run it slower.", st.Flow.GPM(), best.GPM()), i.Severity, nil
		}
	case "velocity":
		if l, at := worst("suction-velocity", "return-velocity"); l != nil {
			return fmt.Sprintf("%s of %.1f ft/s at %.0f rpm, %.0f ft/s is good practice.", l.Name, at.Value, float64(at.Speed), l.Value), i.Severity, nil
		}
	case "heater-flow":
		if l, at := worst("heater-flow"); l != nil {
			return fmt.Sprintf("The heater gets %.0f gpm at the programmed %.0f rpm with a dirty filter and needs %.0f gpm: fire it at a faster hour only.", at.Value, float64(at.Speed), l.Value), i.Severity, nil
		}
	case "backwash-lift":
		q, err := in.Model.TopBackwash()
		if err != nil {
			return "", i.Severity, fmt.Errorf("solving the backwash: %w", err)
		}
		if rise := in.Model.BedRise(q); rise < pad.WeakBackwash {
			return fmt.Sprintf("Full speed sends %.0f gpm up through the sand (%.1f gpm/ft²) and lifts it by %.0f %%: too little to clean it. The target is 15 gpm/ft².", q.GPM(), q.GPM()/d.Filter.AreaFt2, 100*rise), i.Severity, nil
		}
	case "cover-flow":
		for n, l := range d.Suction {
			rating := l.RatingGPM
			if v := a["drain-rating"].Value; v != nil && l.Kind == pad.Drain {
				rating = *v
			}
			if rating <= 0 {
				continue
			}
			if q := in.Model.CoverAlone(n, in.Model.TopSpeed()); q.GPM() > rating && !math.IsInf(q.GPM(), 1) {
				return fmt.Sprintf("With every other suction shut one cover of “%s” draws %.0f gpm at full speed and is rated for %.0f gpm: nobody should be held by it. Never shut the others; a slower top speed or larger covers mend it.", l.Name, q.GPM(), rating), i.Severity, nil
			}
		}
	case "cover-rating":
		var names []string
		for _, l := range d.Suction {
			known := l.RatingGPM > 0 || l.Kind == pad.Drain && a["drain-rating"].Value != nil
			if (l.Kind == pad.Drain || l.Kind == pad.SpaDrain) && !known {
				names = append(names, l.Name)
			}
		}
		if len(names) > 0 {
			return "No rating is on record for the cover of " + strings.Join(names, ", ") + ": read it off the cover, or have it replaced by one that says.", i.Severity, nil
		}
	case "part-age":
		if len(in.Old) > 0 {
			words := in.Old[0]
			for _, w := range in.Old[1:] {
				words += ", " + w
			}
			return "Past their expected life: " + words + ".", i.Severity, nil
		}
	}
	return "", i.Severity, nil
}

func (in *Installation) programmed(rpm units.Speed) bool {
	for _, s := range in.Model.Doc.Programme {
		if units.Speed(s.RPM) == rpm {
			return true
		}
	}
	return false
}

// Into is the pad with what an inspection measured of it.
func Into(d pad.Document, a Answers) pad.Document {
	if v := a["straight-run"].Value; v != nil {
		d.StraightIn = *v
	}
	if v := a["label"].Value; v != nil {
		d.Filter.LabelPsi = *v
	}
	if v := a["drain-rating"].Value; v != nil {
		suction := append([]pad.Line(nil), d.Suction...)
		for i := range suction {
			if suction[i].Kind == pad.Drain {
				suction[i].RatingGPM = *v
			}
		}
		d.Suction = suction
	}
	return d
}
