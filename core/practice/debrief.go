package practice

import (
	"errors"
	"math"
	"slices"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/stop"
	"fairlap/core/words"
)

// Cost is a way through a case in what it cost.
type Cost struct {
	Minutes float64 `json:"minutes"`
	Gallons float64 `json:"gallons"`
	Dollars float64 `json:"dollars"`
	Wrong   int     `json:"wrong" doc:"put right where they were not there"`
	Harms   int     `json:"harms" doc:"rules broken"`
	Left    int     `json:"left" doc:"of what was hidden, still there"`
	All     float64 `json:"all" doc:"everything in minutes, to lay two ways side by side"`
}

// Costs is what an attempt cost so far.
func (a *Attempt) Costs() Cost {
	return Cost{
		Minutes: a.Minutes,
		Gallons: a.Gallons,
		Dollars: a.Dollars,
		Wrong:   len(a.Wrong),
		Harms:   len(a.Harms),
		Left:    len(a.remains()),
		All:     a.Cost(),
	}
}

// Was is something that was hidden.
type Was struct {
	ID    fault.ID      `json:"id"`
	Name  words.Message `json:"name"`
	Place words.Message `json:"place"`
	// Bad is how bad it was, 0 to 1.
	Bad    float64       `json:"bad"`
	Fix    words.Message `json:"fix"`
	Who    words.Message `json:"who"`
	Mended bool          `json:"mended"`
}

// Moment is a step of the path with what the engine made of it.
type Moment struct {
	Step
	// P is the chance of what was hidden, together, after the step; Top and TopP is who led.
	P    float64       `json:"p"`
	Top  words.Message `json:"top"`
	TopP float64       `json:"topP"`
	Bits float64       `json:"bits" doc:"that the step took from what was open"`
	// Grade is the grade line then, along Reading.
	Grade   *judge.GradeView   `json:"grade"`
	Reading *judge.ReadingView `json:"reading"`
	// Paths is how the water should have gone as the pad stood then.
	Paths judge.PathsView `json:"paths"`
}

// Debrief is everything that is told at the end.
type Debrief struct {
	Solved bool            `json:"solved"`
	Hurt   bool            `json:"hurt"`
	Lesson words.Message   `json:"lesson"`
	Was    []Was           `json:"was" nullable:"false"`
	Yours  Cost            `json:"yours"`
	Best   Cost            `json:"best"`
	Path   []Moment        `json:"path" nullable:"false"`
	Better []Step          `json:"better" nullable:"false"`
	Harms  []Harm          `json:"harms" nullable:"false"`
	Parted []Parting       `json:"parted" nullable:"false" doc:"what would have told apart what was confused"`
	Brier  *float64        `json:"brier" doc:"of the odds that were said, 0 is perfect; absent without any"`
	Said   []Said          `json:"said" nullable:"false" doc:"each chance that was said, with what was true"`
	Pad    pad.Document    `json:"pad"`
	Facts  *judge.PadFacts `json:"facts"`
}

// Said is one chance that somebody gave, and whether it was so.
type Said struct {
	P  float64 `json:"p"`
	So bool    `json:"so"`
}

// ErrOpen says that a case goes on.
var ErrOpen = errors.New("the case is not over")

// over is an attempt that is over, beside the best way through its case.
func (s *Scene) over(m Mode, events []Event) (a, best *Attempt, err error) {
	if a, err = s.Fold(m, events); err != nil {
		return nil, nil, err
	}
	if !a.Over {
		return nil, nil, ErrOpen
	}
	_, best, err = s.Best()
	return a, best, err
}

// Debrief tells of an attempt that is over. Errors are ErrOpen and the engine's.
func (s *Scene) Debrief(m Mode, events []Event) (*Debrief, error) {
	a, best, err := s.over(m, events)
	if err != nil {
		return nil, err
	}
	d := &Debrief{
		Solved: a.Solved(),
		Hurt:   a.Hurt,
		Lesson: s.Lesson,
		Was:    []Was{},
		Yours:  a.Costs(),
		Best:   best.Costs(),
		Better: best.Steps,
		Harms:  append([]Harm{}, a.Harms...),
		Parted: s.confused(a),
		Pad:    s.doc,
	}
	facts := judge.FactsOf(s.stop.Calibrated)
	d.Facts = &facts
	for i := range s.causes {
		h := &s.causes[i]
		bad := 1.0
		if n := len(h.Fault.Weights); n > 1 {
			bad = float64(h.Step) / float64(n-1)
		}
		d.Was = append(d.Was, Was{
			ID:     h.Fault.ID,
			Name:   h.Fault.Name,
			Place:  h.place.Name,
			Bad:    bad,
			Fix:    h.Fault.Fix,
			Who:    h.Fault.Who,
			Mended: !slices.Contains(a.remains(), h.Fault.ID),
		})
	}
	d.Said, d.Brier = a.calibration()
	return d, s.replay(d, m, events)
}

// replay works the events again and asks the engine after each that changed what is known.
func (s *Scene) replay(d *Debrief, m Mode, events []Event) error {
	a := s.Begin(m)
	v, res, err := a.Judge()
	if err != nil {
		return err
	}
	open := entropy(res)
	d.Path = make([]Moment, 0, len(events))
	for _, e := range events {
		works := len(a.works)
		if err := a.Take(e); err != nil {
			return err
		}
		st := a.Steps[len(a.Steps)-1]
		if st.Check || len(a.works) > works {
			if v, res, err = a.Judge(); err != nil {
				return err
			}
		}
		mo := Moment{Step: st, Grade: v.Grade, P: s.hiddenP(res)}
		for i := range v.Readings { // the last that was run so
			if v.Grade != nil && v.Readings[i].RPM == v.Grade.RPM {
				mo.Reading = &v.Readings[i]
			}
		}
		if len(res.Suspects) > 0 {
			mo.Top, mo.TopP = res.Suspects[0].Name(), res.Suspects[0].P
			if diagnosis.Sound(res.Suspects[0].Fault.ID) && res.Suspects[0].Fault.ID != fault.FilterLoaded {
				mo.Top = diagnosis.SoundName(res)
			}
		}
		if mo.Paths, err = a.paths(); err != nil {
			return err
		}
		now := entropy(res)
		mo.Bits, open = open-now, now
		d.Path = append(d.Path, mo)
	}
	return nil
}

// hiddenP is the chance of what is hidden: of each, or of the least likely of two.
func (s *Scene) hiddenP(res *diagnosis.Result) float64 {
	least := 1.0
	for i := range s.causes {
		sum := 0.0
		for _, x := range res.Suspects {
			is := x.Fault.ID == s.causes[i].Fault.ID
			for _, w := range x.With {
				is = is || w.Fault.ID == s.causes[i].Fault.ID
			}
			if is {
				sum += x.P
			}
		}
		least = math.Min(least, sum)
	}
	if len(s.causes) == 0 {
		for _, x := range res.Suspects {
			if x.Fault.ID == fault.Healthy {
				return x.P
			}
		}
	}
	return least
}

// entropy is how open a diagnosis is, bits.
func entropy(res *diagnosis.Result) float64 {
	sum := 0.0
	for _, x := range res.Suspects {
		if x.P > 0 {
			sum -= x.P * math.Log2(x.P)
		}
	}
	return sum
}

// confused are the pairs that somebody took for each other: what was put right in vain, or
// was said to be likeliest, against what was there; without any, the case's own.
func (s *Scene) confused(a *Attempt) []Parting {
	out := []Parting{}
	add := func(that hidden) {
		for i := range s.causes {
			this := &s.causes[i]
			if this.Fault.ID == that.Fault.ID && this.place.Name == that.place.Name {
				continue
			}
			p, ok := part(&s.doc, this, &that)
			if !ok || slices.ContainsFunc(out, func(o Parting) bool { return o.This == p.This && o.That == p.That }) {
				continue
			}
			p.Made = a.looked(p.Sign)
			out = append(out, p)
		}
	}
	for _, id := range a.confusions() {
		add(causeOf(&s.doc, Hidden{Fault: id}))
	}
	if p := s.Parts; len(out) == 0 && p != nil && p.That != fault.Healthy {
		if _, ok := known(p.That, &s.doc); ok {
			add(causeOf(&s.doc, Hidden{Fault: p.That, Place: p.ThatPlace}))
		}
	}
	return out
}

// confusions are the faults that somebody took for what was there.
func (a *Attempt) confusions() []fault.ID {
	out := slices.Clone(a.Wrong)
	for _, s := range a.Sayings {
		top, most := fault.ID(""), 0.0
		for id, p := range s.Odds {
			if p > most || p == most && id < top {
				top, most = id, p
			}
		}
		if most >= 0.4 && top != fault.Healthy && !slices.Contains(s.True, top) {
			out = append(out, top)
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// looked tells whether somebody looked for a sign at any time.
func (a *Attempt) looked(id fault.Sign) bool {
	if _, now := a.seen[id]; now {
		return true
	}
	return slices.ContainsFunc([]stop.Entry(a.works), func(w stop.Entry) bool {
		_, then := w.Run.Result.Signs[id]
		return then
	})
}

// calibration is each chance that was said, with what was true, and their Brier score: the
// mean square of what they were off (Brier 1950). What was there and was not named counts
// as a chance of nothing.
func (a *Attempt) calibration() ([]Said, *float64) {
	out := []Said{}
	for _, s := range a.Sayings {
		ids := make([]fault.ID, 0, len(s.Odds)+len(s.True))
		for id := range s.Odds {
			ids = append(ids, id)
		}
		for _, id := range s.True {
			if _, named := s.Odds[id]; !named {
				ids = append(ids, id)
			}
		}
		slices.Sort(ids)
		for _, id := range ids {
			out = append(out, Said{P: s.Odds[id], So: slices.Contains(s.True, id)})
		}
	}
	return out, Brier(out)
}

// Brier is the score of chances that were said; nil of none.
func Brier(said []Said) *float64 {
	if len(said) == 0 {
		return nil
	}
	sum := 0.0
	for _, s := range said {
		o := 0.0
		if s.So {
			o = 1
		}
		sum += (s.P - o) * (s.P - o)
	}
	sum /= float64(len(said))
	return &sum
}
