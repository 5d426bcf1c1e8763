package judge

import (
	"time"

	"fairlap/core/casefile"
)

// inStages parts what was found at a stop by the work done there: each run is one
// stage, its answers and its reading before belong to it, its reading after to what
// follows. What was typed counts before the first run that ended after it was typed;
// without a time, before them all.
func (s *Stop) inStages(c *casefile.Case, f Findings, rows []typed) {
	ofRuns := map[string]bool{}
	for _, r := range s.Done {
		for id := range r.Result.Signs {
			ofRuns[string(id)] = true
		}
	}
	used := map[int]bool{}
	signed := map[string]bool{}
	take := func(until *time.Time, readings *[]casefile.Reading, signs map[string]bool) {
		before := func(when *time.Time) bool { return until == nil || when == nil || !when.After(*until) }
		for i, t := range rows {
			if !used[i] && before(t.at) {
				used[i] = true
				*readings = append(*readings, t.Reading)
			}
		}
		for id, yes := range f.Signs {
			var when *time.Time
			if w, ok := f.SignsAt[id]; ok {
				when = &w
			}
			if !signed[id] && !(ofRuns[id] && when == nil) && before(when) {
				signed[id] = true
				signs[id] = yes
			}
		}
	}
	c.Signs = map[string]bool{}
	var after []casefile.Reading // of the run before
	for _, r := range s.Done {
		res := r.Result
		st := casefile.Stage{
			Readings: after,
			Signs:    map[string]bool{},
			Work: casefile.Done{
				Name:    r.Name,
				Cleaned: res.Work == "cleaned",
				Seconds: res.WashSeconds,
				Usual:   res.WashUsual,
			},
		}
		after = nil
		take(&r.Ended, &st.Readings, st.Signs)
		for id, yes := range res.Signs {
			st.Signs[string(id)] = yes
		}
		for _, id := range res.Mended {
			st.Work.Mends = append(st.Work.Mends, string(id))
		}
		if res.Before != nil && len(st.Readings) == 0 {
			st.Readings = append(st.Readings, *res.Before)
		}
		if res.After != nil {
			after = append(after, *res.After)
		}
		c.Before = append(c.Before, st)
	}
	c.Readings = after
	take(nil, &c.Readings, c.Signs)
	if n := 6; len(c.Readings) > n {
		c.Readings = c.Readings[:n]
	}
}
