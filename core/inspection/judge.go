package inspection

import (
	"fmt"
	"math"
	"slices"

	"fairlap/core/limits"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/words"
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
	Item     ItemID        `json:"item"`
	Name     words.Message `json:"name"`
	Severity Severity      `json:"severity" enum:"stop,act,note"`
	Text     words.Message `json:"says"`
	Who      words.Message `json:"who" doc:"may mend it"`
	Cost     Cost          `json:"cost" enum:"small,middle,large"`
	Source   words.Message `json:"source"`
	Note     string        `json:"note"`
}

// Installation is what the computed verdicts go by.
type Installation struct {
	Model *plumbing.Model
	Pool  units.Volume
	Facts
}

// Facts are what is known of an installation besides its pad.
type Facts struct {
	Year    int             `json:"year" doc:"now"`
	Old     []words.Message `json:"old" doc:"parts past their life, in words"`
	Schools Schools         `json:"schools"`
	Anode   float64         `json:"anode" doc:"years that a zinc anode is expected to last; 0: nobody says"`
	AnodeOf int             `json:"anodeOf" doc:"the year that the equipment has for it; 0: none"`
	Before  []Finding       `json:"before" doc:"of the inspection before"`
}

// The runs that are asked for, in diameters (handbook).
const (
	InstallerRun = 10.0 // before the pump, and before a flow switch
	CodeRun      = 4.0  // before the pump by code; after a flow switch
	restOff      = 1.0  // psi by which a gauge at rest may stray
	farOut       = 1.4  // times the flow of best efficiency from which a pump is too much for its pad (ours)
)

// Wrong lists measures that can't be, by item, in a sentence.
func Wrong(a Answers) map[ItemID]words.Message {
	out := map[ItemID]words.Message{}
	for id, x := range a {
		i := lookUp(id)
		switch {
		case i == nil:
			out[id] = "inspection.there-is-no-such-thing"
		case x.Value != nil && !(*x.Value >= i.Low && *x.Value <= i.Top):
			out[id] = words.Of(
				"inspection.is-not-believable-it-lies",
				"x",
				words.N(*x.Value),
				"low",
				words.N(i.Low),
				"top",
				words.N(i.Top),
				"unit",
				words.Name(i.Unit),
			)
		case x.Value != nil && i.Kind != Measure, x.Yes != nil && i.Kind != YesNo:
			out[id] = "inspection.this-is-answered-in-another"
		}
	}
	return out
}

// Judge says what an inspection found, in the order of the walk. Errors are the
// solver's.
func Judge(in *Installation, a Answers) ([]Finding, error) {
	weighed, err := limits.Figures(in.Model, in.Pool)
	if err != nil {
		return nil, fmt.Errorf("the pad's limits: %w", err)
	}
	out := []Finding{}
	for _, i := range On(&in.Model.Doc, in.Schools) {
		x := a[i.ID]
		var text words.Message
		severity := i.Severity
		switch i.Kind {
		case YesNo:
			if x.Yes != nil && !*x.Yes {
				text = i.Finding
			}
		case Measure:
			if x.Value != nil {
				text, severity = in.measured(&i, *x.Value, a)
			}
		case Computed:
			if text, severity, err = in.computed(&i, weighed, a); err != nil {
				return nil, err
			}
		}
		if text != "" {
			out = append(out, Finding{i.ID, i.Name, severity, text, i.Who, i.Cost, i.Source, x.Note})
		}
	}
	return out, nil
}

// measured judges one figure; empty where it is as it should be.
func (in *Installation) measured(i *Item, v float64, a Answers) (words.Message, Severity) {
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
			return words.Of(
				"inspection.of-straight-pipe-before-the",
				"v",
				words.QD("in", v, 1),
				"short",
				words.QD("in", short, 1),
				"size",
				words.N(size),
			), Act
		case v < CodeRun*size:
			return words.Of(
				"inspection.of-straight-pipe-before-the-2",
				"v",
				words.QD("in", v, 1),
				"v2",
				words.QD("in", InstallerRun*size-v, 1),
				"size",
				words.N(size),
			), Act
		}
		return words.Of(
			"inspection.of-straight-pipe-before-the-3",
			"v",
			words.QD("in", v, 1),
			"short",
			words.QD("in", short, 1),
			"size",
			words.N(size),
		), Note
	case "switch-before":
		if short := InstallerRun*size - v; short > 0 {
			return words.Of(
				"inspection.of-clear-run-before-the",
				"v",
				words.QD("in", v, 1),
				"short",
				words.QD("in", short, 1),
				"size",
				words.QD("in", InstallerRun*size, 0),
			), i.Severity
		}
	case "switch-after":
		if short := CodeRun*size - v; short > 0 {
			return words.Of(
				"inspection.of-clear-run-after-the",
				"v",
				words.QD("in", v, 1),
				"short",
				words.QD("in", short, 1),
				"size",
				words.QD("in", CodeRun*size, 0),
			), i.Severity
		}
	case "drain-year":
		if int(v) < in.Year {
			return words.Of("inspection.the-drain-covers-were-to", "v", words.Year(int(v))), Stop
		} else if int(v) == in.Year {
			return words.Of("inspection.the-drain-covers-are-to", "v", words.Year(int(v))), Act
		}
	case "anode-year":
		if v > float64(in.Year) {
			return words.Of("inspection.is-still-to-come-look", "v", words.Year(int(v))), Note
		}
		if v < float64(in.AnodeOf) {
			return words.Of(
				"inspection.the-equipment-says-that-an",
				"anodeOf",
				words.Year(in.AnodeOf),
				"v",
				words.Year(int(v)),
			), Note
		}
		if age := float64(in.Year) - v; in.Anode > 0 && age > in.Anode {
			return words.Of(
				"inspection.the-anode-is-of-and",
				"v",
				words.Year(int(v)),
				"anode",
				words.N(in.Anode),
			), i.Severity
		}
	case "gauge-rest":
		stands := math.Max(0, -d.GaugeHeightFt*0.433)
		if math.Abs(v-stands) > restOff {
			return words.Of(
				"inspection.the-gauge-shows-at-rest",
				"v",
				words.QD("psi", v, 1),
				"stands",
				words.QD("psi", stands, 1),
			), i.Severity
		}
	case "gauge-dirty":
		ceiling, hard := plumbing.ServiceCeiling.PSI(), 50.0
		if l := a["label"].Value; l != nil {
			hard = *l
		} else if d.Filter.LabelPsi > 0 {
			hard = d.Filter.LabelPsi
		}
		switch {
		case v > hard:
			return words.Of(
				"inspection.the-tank-is-run-to",
				"v",
				words.QD("psi", v, 0),
				"hard",
				words.QD("psi", hard, 0),
			), Stop
		case v > ceiling:
			return words.Of(
				"inspection.the-tank-is-run-to-2",
				"v",
				words.QD("psi", v, 0),
				"ceiling",
				words.QD("psi", ceiling, 0),
			), Act
		}
		// This pad's own clean line and limit at full speed.
		s := in.Model.Solver()
		top := pad.Operation{Speed: in.Model.TopSpeed()}
		clean, err := s.Solve(top, plumbing.Effects{})
		if err != nil {
			return "", i.Severity
		}
		limit, err := s.Solve(top, plumbing.Effects{Load: 1})
		if err != nil {
			return "", i.Severity
		}
		if v > limit.Tank.PSI()+ownLimitOff {
			return words.Of(
				"inspection.the-tank-is-run-to-3",
				"v",
				words.QD("psi", v, 0),
				"tank",
				words.QD("psi", clean.Tank.PSI(), 0),
				"tank2",
				words.QD("psi", limit.Tank.PSI(), 0),
			), Act
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
func (in *Installation) computed(i *Item, weighed []limits.Limit, a Answers) (words.Message, Severity, error) {
	d := &in.Model.Doc
	// worst is the limit that is broken by the largest share, at a programmed speed.
	worst := func(ids ...limits.ID) (limit *limits.Limit, found *limits.LimitAt) {
		most := 0.0
		for k := range weighed {
			l := &weighed[k]
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
			return words.Of(
				"inspection.at-the-programmed-the-filter",
				"speed",
				words.QD("rpm", float64(at.Speed), 0),
				"at",
				words.QD("gpm", at.Value, 0),
				"l",
				words.QD("gpm", l.Value, 0),
			), i.Severity, nil
		}
	case "pump-match":
		st, err := in.Model.Solver().Solve(pad.Operation{Speed: in.Model.TopSpeed()}, plumbing.Effects{})
		if err != nil {
			return "", i.Severity, fmt.Errorf("solving at top speed: %w", err)
		}
		if best := in.Model.BestFlow(); st.Flow > best*units.Flow(farOut) {
			return words.Of(
				"inspection.at-full-speed-the-pump",
				"flow",
				words.QD("gpm", st.Flow.GPM(), 0),
				"best",
				words.QD("gpm", best.GPM(), 0),
			), i.Severity, nil
		}
	case "velocity":
		if l, at := worst("suction-velocity", "return-velocity"); l != nil {
			return words.Of(
				"inspection.of-at-is-good-practice",
				"limit",
				words.Msg(l.Name),
				"at",
				words.QD("ft/s", at.Value, 1),
				"speed",
				words.QD("rpm", float64(at.Speed), 0),
				"l2",
				words.QD("ft/s", l.Value, 0),
			), i.Severity, nil
		}
	case "heater-flow":
		if l, at := worst("heater-flow"); l != nil {
			return words.Of(
				"inspection.the-heater-gets-at-the",
				"at",
				words.QD("gpm", at.Value, 0),
				"speed",
				words.QD("rpm", float64(at.Speed), 0),
				"l",
				words.QD("gpm", l.Value, 0),
			), i.Severity, nil
		}
	case "backwash-lift":
		q, err := in.Model.TopBackwash()
		if err != nil {
			return "", i.Severity, fmt.Errorf("solving the backwash: %w", err)
		}
		if rise := in.Model.BedRise(q); rise < plumbing.WeakBackwash {
			return words.Of(
				"inspection.full-speed-sends-up-through",
				"q",
				words.QD("gpm", q.GPM(), 0),
				"areaFt2",
				words.QD("gpm/ft²", q.GPM()/d.Filter.AreaFt2, 1),
				"rise",
				words.Share(rise),
			), i.Severity, nil
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
			if q := limits.CoverAlone(in.Model, n, in.Model.TopSpeed()); q.GPM() > rating && !math.IsInf(q.GPM(), 1) {
				return words.Of(
					"inspection.with-every-other-suction-shut",
					"l",
					words.Name(l.Name),
					"q",
					words.QD("gpm", q.GPM(), 0),
					"rating",
					words.QD("gpm", rating, 0),
				), i.Severity, nil
			}
		}
	case "cover-rating":
		var names []words.Message
		for _, l := range d.Suction {
			known := l.RatingGPM > 0 || l.Kind == pad.Drain && a["drain-rating"].Value != nil
			if (l.Kind == pad.Drain || l.Kind == pad.SpaDrain) && !known {
				names = append(names, words.Named(l.Name))
			}
		}
		if len(names) > 0 {
			return words.Of("inspection.no-rating", "lines", words.List(words.Comma, names...)), i.Severity, nil
		}
	case "part-age":
		if len(in.Old) > 0 {
			return words.Of("inspection.past-their-life", "parts", words.List(words.Comma, in.Old...)), i.Severity, nil
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
