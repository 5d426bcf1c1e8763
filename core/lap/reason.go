// Package lap orders what a technician's day shows: for each stop, the one
// reason that matters before anyone has looked.
package lap

import (
	"time"

	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/words"
)

// Mark is the state mark of a stop: shape and word, colour last.
type Mark string

// The marks.
const (
	MarkAct  Mark = "act"
	MarkFine Mark = "fine"
	MarkHold Mark = "hold"
	MarkOpen Mark = "open"
	MarkJob  Mark = "job"
)

// Reason is why a stop stands out.
type Reason struct {
	Mark   Mark          `json:"mark"`
	Word   words.Message `json:"word"`
	Detail words.Message `json:"detail"`
}

// Ahead is what is known of a pool before its visit.
type Ahead struct {
	Kind        pad.FilterKind
	Chance      float64 // of passing the limit before the visit after this one
	CleaningDue bool
	HoldUntil   time.Time
	Arrival     time.Time
	OpenSuspect words.Message // of the last visit, "" none
	Left        words.Message // unlike daily use by the last visit, "" nothing
	FirstVisit  bool
	NoCleanLine bool
	Shortfall   *plumbing.Shortfall
	NextVisit   time.Time
}

// NextVisit is when a pool that is seen weekly is seen again.
func NextVisit(planned time.Time) time.Time { return planned.AddDate(0, 0, 7) }

// duty is the short name of each kind's cleaning.
var duty = map[pad.FilterKind]words.Message{
	pad.Sand:      "lap.backwash-due",
	pad.Cartridge: "lap.hose-off-due",
	pad.DE:        "lap.recharge-de",
}

// ReasonFor picks the one reason: what forbids work first, then what is broken,
// then what is due.
func ReasonFor(a Ahead) Reason {
	switch {
	case a.Left != "":
		return Reason{MarkOpen, "lap.left-open", a.Left}
	case a.Arrival.Before(a.HoldUntil):
		return Reason{MarkHold, "lap.hold-24-h", words.Of("lap.no-backwash-before", "until", words.Moment(a.HoldUntil))}
	case a.OpenSuspect != "":
		return Reason{MarkOpen, "lap.suspect-open", a.OpenSuspect}
	case a.FirstVisit:
		return Reason{MarkJob, "lap.first-visit", "lap.read-the-pad-take-a"}
	case a.CleaningDue:
		return Reason{
			MarkAct,
			duty[a.Kind],
			words.Of("lap.chance-of-passing-the-limit", "chance", words.Share(a.Chance), "by", words.Day(a.NextVisit)),
		}
	case a.Shortfall != nil:
		name := map[plumbing.StationID]words.Message{plumbing.StationCell: "lap.salt-cell-short",
			plumbing.StationHeater: "lap.heater-short"}[a.Shortfall.Device]
		return Reason{
			MarkJob,
			name,
			words.Of(
				"lap.of-at",
				"flow",
				words.QD("gpm", a.Shortfall.Flow.GPM(), 0),
				"least",
				words.QD("gpm", a.Shortfall.Least.GPM(), 0),
				"rpm",
				words.QD("rpm", a.Shortfall.Slot.RPM, 0),
			),
		}
	case a.NoCleanLine:
		return Reason{MarkJob, "lap.no-clean-line", "lap.take-one-after-the-next"}
	}
	return Reason{MarkFine, "lap.fine", "lap.weekly-visit"}
}
