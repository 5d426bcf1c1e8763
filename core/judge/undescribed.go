package judge

import (
	"fmt"

	"fairlap/core/danger"
	"fairlap/core/diagnosis"
	"fairlap/core/stop"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/verdict"
	"fairlap/core/words"

	"time"
)

// undescribed is what can be said at a pad that nobody has described: the dangers and findings that need
// no pump curve, and when the calendar has its filter cleaned. Readings are kept and not judged.
func (s *Stop) undescribed(v *Verdict, asked *diagnosis.Case, st *stop.State, now time.Time, chemicals *time.Time) (
	*diagnosis.Result, error,
) {
	worst := units.Pressure(0)
	for _, r := range asked.Readings {
		if r.Tank != nil {
			worst = max(worst, *r.Tank)
		}
	}
	seen := *asked
	seen.Readings, seen.Before = nil, nil
	res, err := diagnosis.Diagnose(seen)
	if err != nil {
		return nil, fmt.Errorf("what was seen at %s: %w", s.Pool, Unsolved(err))
	}
	if d, over := danger.OverCeiling(worst, 0); over {
		res.Dangers = append(res.Dangers, d)
	}
	v.Dangers = append(v.Dangers, res.Dangers...)
	for _, x := range res.Found {
		v.Found = append(v.Found, FoundView{Sign: string(x.Sign.ID), Name: x.Sign.Name, Mend: x.Mend, Text: x.Text})
	}
	s.advise(v, res, st, nil, now, chemicals)
	v.Forecast = upkeep.Forecast{}
	v.State, v.Text = Undescribed, "app.undescribed"
	if v.Advice.Action != upkeep.NotKnown {
		v.Text = words.Of("app.verdict", "says", words.Msg(v.Text), "advice", words.Msg(v.Advice.Text))
	}
	if res.Stopped() {
		said := verdict.Judge(res)
		v.State, v.Text = string(said.State), said.Text
	}
	return res, nil
}

// Undescribed is the state of an answer at a pad that nobody has described.
const Undescribed = "undescribed"
