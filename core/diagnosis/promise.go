package diagnosis

import (
	"cmp"
	"maps"
	"math"
	"slices"

	"fairlap/core/fault"
	"fairlap/core/loads"
)

// promised gives the looks what each answer leaves on top, by the very weighing that the answer
// will bring: nothing that is promised is another figure than what comes.
func (s *survey) promised(p *posterior, checks []Check) error {
	for i := range checks {
		c := &checks[i]
		if c.Reading != nil {
			continue
		}
		var err error
		if c.IfYes, err = s.answer(p, &c.Sign, true); err != nil {
			return err
		}
		if c.IfNo, err = s.answer(p, &c.Sign, false); err != nil {
			return err
		}
	}
	return nil
}

// answer is what stands on top once a sign is answered.
func (s *survey) answer(base *posterior, sg *fault.SignFact, yes bool) (Outcome, error) {
	then, c := *s, *s.c
	c.Signs = maps.Clone(s.c.Signs)
	if c.Signs == nil {
		c.Signs = map[fault.Sign]bool{}
	}
	c.Signs[sg.ID] = yes
	then.c = &c
	p, err := then.reweigh(base, sg, yes)
	if err != nil {
		return Outcome{}, err
	}
	if err := then.weighPairs(p); err != nil {
		return Outcome{}, err
	}
	return then.topOf(p), nil
}

// topOf is Result.Top without the rows under it.
func (s *survey) topOf(p *posterior) Outcome {
	first := 0
	for i, x := range p.byFault {
		if p.best[i] >= 0 && Steady(x) > Steady(p.byFault[first]) {
			first = i
		}
	}
	for i := range p.pairs {
		if x := &p.pairs[i]; Steady(x.post) > Steady(p.byFault[first]) {
			r := Result{Suspects: s.suspects(p)} // a pair leads: seldom
			return r.Top()
		}
	}
	if first > 0 {
		f := s.surely(p, &p.hyps[p.best[first]])
		return Outcome{f.ID, f.Name, p.byFault[first]}
	}
	r := s.resultOf(p)
	return r.Top()
}

// answerTo weighs a stop from the loads that it starts with: suspects and load, without what
// is said of them.
func (s *survey) answerTo(load loads.Spread) (*Result, *posterior, error) {
	p, err := s.weigh(s.priors(), load)
	if err != nil {
		return nil, nil, err
	}
	if err := s.weighPairs(p); err != nil {
		return nil, nil, err
	}
	return s.resultOf(p), p, nil
}

func (s *survey) resultOf(p *posterior) *Result {
	r := &Result{Kind: s.kind, Expected: s.expected, Other: p.other, AtLimit: s.atLimit(), Suspects: s.suspects(p)}
	var observed []float64
	r.LoadGrid, observed = p.loads(s)
	wide := loads.Summary(r.LoadGrid).SD
	if alone := p.byGauge(s); alone != nil {
		r.LoadGrid = alone
	}
	r.Load, r.Observed, r.Known = loads.Summary(r.LoadGrid), loads.Middle(observed), s.tells()
	r.Load.SD = math.Max(r.Load.SD, wide) // what else it may be leaves it open
	if s.unread() {
		grid := loads.Normal(s.c.Load.Mean, math.Max(s.c.Load.SD, leastLoad))
		r.LoadGrid, r.Load = grid[:], s.c.Load
	}
	return r
}

// Top is the first row as it is shown: a sound pad and a loaded filter are one.
func (r *Result) Top() Outcome {
	rows := r.Rows()
	x := rows[0].Suspect
	if rows[0].Sound {
		return Outcome{x.Fault.ID, SoundName(r), rows[0].P}
	}
	return Outcome{x.Fault.ID, x.Name(), x.P}
}

// Row is a suspect as it is shown; of a sound pad and a loaded filter, which only the load
// parts, the likelier with the chance of both.
type Row struct {
	*Suspect
	P     float64
	Sound bool
}

// Rows are the suspects as they are shown, likeliest first.
func (r *Result) Rows() []Row {
	out := make([]Row, 0, len(r.Suspects))
	sound := -1
	for i := range r.Suspects {
		x := &r.Suspects[i]
		if len(x.With) > 0 || !Sound(x.Fault.ID) {
			out = append(out, Row{x, x.P, false})
			continue
		}
		if sound < 0 {
			sound = len(out)
			out = append(out, Row{x, x.P, true})
			continue
		}
		out[sound].P += x.P
	}
	slices.SortStableFunc(out, func(a, b Row) int { return cmp.Compare(Steady(b.P), Steady(a.P)) })
	return out
}
