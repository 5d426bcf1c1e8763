package diagnosis

import (
	"math"

	"fairlap/core/fault"
	"fairlap/core/learning"
	"fairlap/core/loads"
	"fairlap/core/words"
)

// Stage is what was found at a stop up to a piece of work, and that work.
type Stage struct {
	Readings []Reading
	Signs    map[fault.Sign]bool
	Done     Work
}

// Work is something done to the pad at a stop.
type Work struct {
	Name words.Message
	// Mends are the faults that it puts right where they are the cause.
	Mends []fault.ID
	// Cleaned tells that the filter was cleaned; Seconds is how long the wash ran, of
	// Usual, both 0 where nobody timed it.
	Cleaned        bool
	Seconds, Usual float64
}

// Changed is what was thought before a stop's last work, and what the work was.
type Changed struct {
	Work     words.Message
	Was      []learning.Said // rows of the answer before it, likeliest first
	WasNames []words.Message
	WasLoad  Belief
	// TooShort tells that a wash ran under half its time.
	TooShort bool
}

// TooShort tells a wash under half its time; one that nobody timed is not.
func TooShort(seconds, usual float64) bool { return seconds > 0 && seconds < usual/2 }

func (w *Work) tooShort() bool { return w.Cleaned && TooShort(w.Seconds, w.Usual) }

// stages weighs what was found before each work of the stop and moves on what is
// thought of the pad: a fault whose fix was done is most likely gone, a cleaned
// filter most likely clean, everything else as it was. It gives the case that is
// left, with the chances so far as its priors, and the load to start from.
func stages(c *Case) (*Case, loads.Spread, *Changed, asFound, error) {
	now := *c
	var found asFound
	now.Before = nil
	load := forecastLoad(c.Load, c.stormed())
	var changed *Changed
	for i := range c.Before {
		stage := &c.Before[i]
		then := now
		then.Readings, then.Signs = stage.Readings, stage.Signs
		s, err := surveyed(&then)
		if err != nil {
			return nil, load, nil, found, err
		}
		p, err := s.weigh(s.priors(), load)
		if err != nil {
			return nil, load, nil, found, err
		}
		if err := s.weighPairs(p); err != nil {
			return nil, load, nil, found, err
		}
		grid, observed := p.loads(s)
		if s.tells() && !found.closed {
			found.load, found.known = loads.Middle(observed), true
		}
		found.closed = found.closed || stage.Done.Cleaned
		changed = &Changed{Work: stage.Done.Name, WasLoad: loads.Summary(grid), TooShort: stage.Done.tooShort()}
		for k, x := range s.suspects(p) {
			if k < 3 {
				changed.Was = append(changed.Was, learning.Said{Fault: x.Fault.ID, P: x.P})
				changed.WasNames = append(changed.WasNames, x.Name())
			}
		}
		now.Priors, now.Season, now.Open, now.Worn, now.Called = stage.Done.after(p), "", nil, nil, false
		load = stage.Done.loadAfter(grid)
	}
	return &now, load, changed, found, nil
}

// asFound is what readings say of the load before the filter was cleaned.
type asFound struct {
	load          Belief
	known, closed bool
}

func (c *Case) stormed() bool {
	if c.Signs[fault.Storm] {
		return true
	}
	for _, s := range c.Before {
		if s.Signs[fault.Storm] {
			return true
		}
	}
	return false
}

// after is the chance of each fault once the work is done.
func (w *Work) after(p *posterior) map[fault.ID]float64 {
	chance := append([]float64(nil), p.byFault...)
	for _, x := range p.pairs {
		chance[p.hyps[x.lead].index] += x.post
		chance[p.hyps[x.beside].index] += x.post
	}
	out := make(map[fault.ID]float64, len(chance))
	for i := range fault.Catalogue {
		f := &fault.Catalogue[i]
		if i == 0 || p.best[i] < 0 {
			continue
		}
		// What nobody has looked at yet stays as likely as it was on the way here.
		x := math.Max(chance[i], math.Exp(p.faultPrior(i))*0.5)
		for _, id := range w.Mends {
			if id == f.ID {
				x = notMended * math.Min(x, 0.5)
			}
		}
		out[f.ID] = math.Min(0.9, x)
	}
	return out
}

// loadAfter is the load once the work is done.
func (w *Work) loadAfter(before []float64) loads.Spread {
	var was [loads.N]float64
	copy(was[:], before)
	if !w.Cleaned {
		return loads.Mix(was, was, 0)
	}
	failed := notCleaned
	if w.tooShort() {
		failed = tooShort
	}
	return afterCleaning(was, failed)
}
