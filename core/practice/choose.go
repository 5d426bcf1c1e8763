package practice

import (
	"cmp"
	"slices"

	"fairlap/core/fault"
	"fairlap/core/words"
)

// Past is an attempt that is over, as far as the next one depends on it.
type Past struct {
	Case     string     `json:"case"`
	Level    Level      `json:"level"`
	Theme    Theme      `json:"theme"`
	Hidden   []fault.ID `json:"hidden" nullable:"false"`
	Confused []fault.ID `json:"confused" nullable:"false" doc:"taken for what was there"`
	Solved   bool       `json:"solved"`
	Hurt     bool       `json:"hurt"`
	Harms    int        `json:"harms"`
	Yours    Cost       `json:"yours"`
	Best     Cost       `json:"best"`
	Said     []Said     `json:"said" nullable:"false"`
	Brier    *float64   `json:"brier" doc:"of the odds that were said; absent without any"`
}

// Sum is what an attempt that is over amounts to. Errors are ErrOpen and the engine's.
func (s *Scene) Sum(m Mode, events []Event) (*Past, error) {
	a, best, err := s.over(m, events)
	if err != nil {
		return nil, err
	}
	p := &Past{
		Case:     s.ID,
		Level:    s.Level,
		Theme:    s.Theme,
		Hidden:   []fault.ID{},
		Confused: append([]fault.ID{}, a.confusions()...),
		Solved:   a.Solved(),
		Hurt:     a.Hurt,
		Harms:    len(a.Harms),
		Yours:    a.Costs(),
		Best:     best.Costs(),
	}
	for i := range s.causes {
		p.Hidden = append(p.Hidden, s.causes[i].Fault.ID)
	}
	p.Said, p.Brier = a.calibration()
	return p, nil
}

// clean tells an attempt that needs no other like it: solved, nothing confused, no rule
// broken.
func (p *Past) clean() bool { return p.Solved && len(p.Confused) == 0 && p.Harms == 0 }

// Next is the written case worth taking next: one that parts what this person confuses most,
// else the easiest not yet done well. nil when all were.
func Next(past []Past) *Case {
	confused := map[[2]fault.ID]int{}
	well := map[string]bool{}
	last := map[string]int{}
	for i := range past {
		p := &past[i]
		last[p.Case] = i + 1
		if p.clean() {
			well[p.Case] = true
		}
		for _, was := range p.Hidden {
			for _, took := range p.Confused {
				confused[pairOf(was, took)]++
			}
		}
	}
	all := Library()
	worth := func(c *Case) int {
		if c.Parts == nil {
			return 0
		}
		return confused[pairOf(c.Parts.This, c.Parts.That)]
	}
	open := slices.DeleteFunc(all, func(c *Case) bool { return well[c.ID] })
	if len(open) == 0 {
		return nil
	}
	return slices.MinFunc(open, func(a, b *Case) int {
		return cmp.Or(
			cmp.Compare(worth(b), worth(a)),
			cmp.Compare(last[a.ID], last[b.ID]), // what was not tried before what was
			cmp.Compare(slices.Index(Levels, a.Level), slices.Index(Levels, b.Level)),
		)
	})
}

func pairOf(a, b fault.ID) [2]fault.ID {
	if a > b {
		a, b = b, a
	}
	return [2]fault.ID{a, b}
}

// Discrimination is how somebody stands with two faults that look alike.
type Discrimination struct {
	This   words.Message `json:"this"`
	That   words.Message `json:"that"`
	Met    int           `json:"met" doc:"cases in which either was hidden"`
	Parted int           `json:"parted" doc:"of them, solved with neither taken for the other"`
	Mixed  int           `json:"mixed" doc:"of them, one taken for the other"`
}

// Discriminations are the pairs of the library that somebody met, and those that they
// confused.
func Discriminations(past []Past) []Discrimination {
	type row struct{ met, parted, mixed int }
	rows := map[[2]fault.ID]*row{}
	var order [][2]fault.ID
	at := func(p [2]fault.ID) *row {
		if rows[p] == nil {
			rows[p] = &row{}
			order = append(order, p)
		}
		return rows[p]
	}
	taught := map[[2]fault.ID]bool{}
	for _, c := range Library() {
		if c.Parts != nil && c.Parts.This != c.Parts.That {
			taught[pairOf(c.Parts.This, c.Parts.That)] = true
		}
	}
	for i := range past {
		p := &past[i]
		touched := map[[2]fault.ID]bool{}
		for _, was := range p.Hidden {
			for pair := range taught {
				touched[pair] = touched[pair] || pair[0] == was || pair[1] == was
			}
			for _, took := range p.Confused {
				if took != was {
					touched[pairOf(was, took)] = true
				}
			}
		}
		for _, pair := range sortedPairs(touched) {
			r := at(pair)
			r.met++
			mixed := slices.ContainsFunc(p.Hidden, func(was fault.ID) bool {
				return slices.ContainsFunc(p.Confused, func(took fault.ID) bool { return pairOf(was, took) == pair })
			})
			switch {
			case mixed:
				r.mixed++
			case p.Solved:
				r.parted++
			}
		}
	}
	out := make([]Discrimination, 0, len(order))
	for _, pair := range order {
		r := rows[pair]
		out = append(
			out,
			Discrimination{This: nameOf(pair[0]), That: nameOf(pair[1]), Met: r.met, Parted: r.parted, Mixed: r.mixed},
		)
	}
	slices.SortStableFunc(out, func(a, b Discrimination) int {
		return cmp.Or(cmp.Compare(b.Mixed, a.Mixed), cmp.Compare(b.Met, a.Met), cmp.Compare(a.This, b.This))
	})
	return out
}

func sortedPairs(in map[[2]fault.ID]bool) [][2]fault.ID {
	var out [][2]fault.ID
	for p, is := range in {
		if is {
			out = append(out, p)
		}
	}
	slices.SortFunc(out, func(a, b [2]fault.ID) int {
		return cmp.Or(cmp.Compare(a[0], b[0]), cmp.Compare(a[1], b[1]))
	})
	return out
}

// nameOf is a fault's name; a loaded filter's and a sound pad's are their own.
func nameOf(id fault.ID) words.Message {
	switch id {
	case fault.FilterLoaded:
		return "practice.loaded-filter"
	}
	f, _ := fault.LookUp(id, "")
	return f.Name
}

// Band is one tenth of the chances that were said: how often it was so.
type Band struct {
	From float64 `json:"from"`
	To   float64 `json:"to"`
	Said float64 `json:"said" doc:"mean of what was said"`
	So   float64 `json:"so" doc:"share that was so"`
	N    int     `json:"n"`
}

// Bands sorts chances by fifths: what an honest hand says lies on the diagonal.
func Bands(said []Said) []Band {
	const fifths = 5
	out := make([]Band, fifths)
	for i := range out {
		out[i].From, out[i].To = float64(i)/fifths, float64(i+1)/fifths
	}
	for _, s := range said {
		b := &out[min(fifths-1, int(s.P*fifths))]
		b.N++
		b.Said += s.P
		if s.So {
			b.So++
		}
	}
	for i := range out {
		if n := float64(out[i].N); n > 0 {
			out[i].Said /= n
			out[i].So /= n
		}
	}
	return out
}
