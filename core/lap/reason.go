// Package lap orders what a technician's day shows: for each stop, the one
// reason that matters before anyone has looked.
package lap

import (
	"fmt"
	"time"

	"fairlap/core/pad"
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
	Mark   Mark   `json:"mark"`
	Word   string `json:"word"`
	Detail string `json:"detail"`
}

// Ahead is what is known of a pool before its visit.
type Ahead struct {
	Kind        pad.FilterKind
	Chance      float64 // of passing the limit before the visit after this one
	CleaningDue bool
	HoldUntil   time.Time
	Arrival     time.Time
	OpenSuspect string // of the last visit, "" none
	FirstVisit  bool
	NoCleanLine bool
	Shortfall   *pad.Shortfall
	NextVisit   time.Time
}

// NextVisit is when a pool that is seen weekly is seen again.
func NextVisit(planned time.Time) time.Time { return planned.AddDate(0, 0, 7) }

// duty is the short name of each kind's cleaning.
var duty = map[pad.FilterKind]string{pad.Sand: "Backwash due", pad.Cartridge: "Hose-off due", pad.DE: "Recharge DE"}

// ReasonFor picks the one reason: what forbids work first, then what is broken,
// then what is due.
func ReasonFor(a Ahead) Reason {
	switch {
	case a.Arrival.Before(a.HoldUntil):
		return Reason{MarkHold, "Hold 24 h", "no backwash before " + a.HoldUntil.Format("Mon 15:04")}
	case a.OpenSuspect != "":
		return Reason{MarkOpen, "Suspect open", a.OpenSuspect}
	case a.FirstVisit:
		return Reason{MarkJob, "First visit", "read the pad, take a clean line"}
	case a.CleaningDue:
		return Reason{MarkAct, duty[a.Kind], fmt.Sprintf("%.0f %% chance of passing the limit by %s", 100*a.Chance, a.NextVisit.Format("Mon 2 Jan"))}
	case a.Shortfall != nil:
		name := map[pad.StationID]string{pad.StationCell: "Salt cell short", pad.StationHeater: "Heater short"}[a.Shortfall.Device]
		return Reason{MarkJob, name, fmt.Sprintf("%.0f of %.0f gpm at %.0f rpm", a.Shortfall.Flow.GPM(), a.Shortfall.Least.GPM(), a.Shortfall.Slot.RPM)}
	case a.NoCleanLine:
		return Reason{MarkJob, "No clean line", "take one after the next cleaning"}
	}
	return Reason{MarkFine, "Fine", "weekly visit"}
}
