package judge

import (
	"fmt"
	"math"

	"fairlap/core/diagnosis"
	"fairlap/core/limits"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/words"
)

// LimitView is one limit of a pad with its figures.
type LimitView struct {
	ID     string        `json:"id"`
	Job    string        `json:"job" enum:"filter,backwash"`
	Name   words.Message `json:"name"`
	Bound  string        `json:"bound" enum:"most,least"`
	Value  float64       `json:"value"`
	Unit   string        `json:"unit"`
	Reason words.Message `json:"reason"`
	Source words.Message `json:"source"`
	Advice bool          `json:"advice" doc:"good practice; false: over it something breaks"`
	At     []LimitAtView `json:"at" nullable:"false"`
	// SpeedBound is the side of rpm that keeps it.
	SpeedBound string   `json:"speedBound" enum:"most,least,"`
	RPM        *float64 `json:"rpm" doc:"the most or least speed that keeps it; absent when no speed does or none matters"`
}

// LimitAtView is a limit's figure at one speed.
type LimitAtView struct {
	RPM   float64 `json:"rpm"`
	Value float64 `json:"value"`
	OK    bool    `json:"ok"`
}

// WindowView is the span of speeds that keeps a job's limits.
type WindowView struct {
	Job         string          `json:"job" enum:"filter,backwash"`
	Low         float64         `json:"low"`
	Top         float64         `json:"top"`
	Empty       bool            `json:"empty"`
	Collide     []words.Message `json:"collide" nullable:"false" doc:"names of the two limits that leave no speed"`
	StrictLow   float64         `json:"strictLow"`
	StrictTop   float64         `json:"strictTop"`
	StrictEmpty bool            `json:"strictEmpty"`
}

// LimitsView is a pad's limits at its programmed speeds.
type LimitsView struct {
	Speeds  []float64    `json:"speeds" nullable:"false"`
	Limits  []LimitView  `json:"limits" nullable:"false"`
	Windows []WindowView `json:"windows" nullable:"false"`
}

// ViewLimits weighs a pad's limits for a pool of some volume. Errors are ErrUnsolved.
func ViewLimits(m *plumbing.Model, pool units.Volume) (LimitsView, error) {
	rep, err := limits.Of(m, pool)
	if err != nil {
		return LimitsView{}, fmt.Errorf("weighing the limits: %w", Unsolved(err))
	}
	v := LimitsView{Speeds: []float64{}, Limits: []LimitView{}, Windows: []WindowView{}}
	for _, s := range rep.Speeds {
		v.Speeds = append(v.Speeds, float64(s))
	}
	names := map[limits.ID]words.Message{}
	for _, l := range rep.Limits {
		names[l.ID] = l.Name
		lv := LimitView{
			ID:         string(l.ID),
			Job:        string(l.Job),
			Name:       l.Name,
			Bound:      string(l.Bound),
			Value:      l.Value,
			Unit:       l.Unit,
			Reason:     l.Reason,
			Source:     l.Source,
			Advice:     l.Advice,
			SpeedBound: string(l.SpeedBound),
			At:         []LimitAtView{},
		}
		for _, at := range l.At {
			lv.At = append(lv.At, LimitAtView{RPM: float64(at.Speed), Value: at.Value, OK: at.OK})
		}
		if rpm := float64(l.Speed); rpm > 0 && !math.IsInf(rpm, 0) {
			lv.RPM = &rpm
		}
		v.Limits = append(v.Limits, lv)
	}
	finite := func(s units.Speed) float64 { return math.Min(float64(s), 9999) }
	for _, w := range rep.Windows {
		wv := WindowView{
			Job:         string(w.Job),
			Low:         finite(w.Low),
			Top:         finite(w.Top),
			Empty:       w.Empty,
			Collide:     []words.Message{},
			StrictLow:   finite(w.StrictLow),
			StrictTop:   finite(w.StrictTop),
			StrictEmpty: w.StrictEmpty,
		}
		if w.Empty {
			for _, id := range w.Collide {
				if id != "" {
					wv.Collide = append(wv.Collide, names[id])
				}
			}
		}
		v.Windows = append(v.Windows, wv)
	}
	return v, nil
}

// ReversedWords say which reading can't be beside which.
func ReversedWords(rows []pad.Reading, r *plumbing.Reversal) words.Message {
	slow, _ := rows[r.Slow].Value(r.Meter)
	fast, _ := rows[r.Fast].Value(r.Meter)
	told := func(v float64) words.Arg { return words.Q(MeterUnits[r.Meter], InTrade(r.Meter, v)) }
	speed := func(i int) words.Arg { return words.Q("rpm", float64(rows[i].Speed)) }
	return words.Of("app.line-reversed", "meter", words.Msg(diagnosis.MeterName(r.Meter)),
		"slow", told(slow), "at", speed(r.Slow), "fast", told(fast), "above", speed(r.Fast))
}
