package lap

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"fairlap/core/pad"
	"fairlap/core/plumbing"
)

func TestTheOneReasonThatMatters(t *testing.T) {
	now := time.Date(2026, 11, 24, 10, 0, 0, 0, time.UTC)
	due := Ahead{Kind: pad.DE, Chance: 0.9, CleaningDue: true, Arrival: now, NextVisit: now.AddDate(0, 0, 7)}
	assert.Equal(t, MarkAct, ReasonFor(due).Mark)
	assert.Equal(t, "Recharge DE", say(ReasonFor(due).Word))
	assert.Equal(t, "90 % chance of passing the limit by Tue, Dec 1", say(ReasonFor(due).Detail))
	suspect := due
	suspect.OpenSuspect = "air at the pot lid"
	assert.Equal(t, MarkOpen, ReasonFor(suspect).Mark, "what is broken comes before what is due")
	hold := suspect
	hold.HoldUntil = now.Add(4 * time.Hour)
	assert.Equal(
		t,
		"no backwash before Tue 2:00 PM",
		say(ReasonFor(hold).Detail),
		"what forbids comes before what is broken",
	)
	assert.Equal(t, MarkFine, ReasonFor(Ahead{Chance: 0.1, Arrival: now}).Mark)
	short := Ahead{
		Arrival:   now,
		Shortfall: &plumbing.Shortfall{Device: plumbing.StationCell, Slot: pad.Slot{RPM: 1000}},
	}
	assert.Equal(t, "Salt cell short", say(ReasonFor(short).Word))
	assert.Equal(t, "First visit", say(ReasonFor(Ahead{FirstVisit: true, Arrival: now}).Word))
	assert.Equal(t, "No clean line", say(ReasonFor(Ahead{NoCleanLine: true, Arrival: now}).Word))
}
