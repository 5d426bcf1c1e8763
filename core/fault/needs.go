package fault

import "fairlap/core/pad"

// Need is how the pump must be for a look to be possible.
type Need string

// The needs.
const (
	Either Need = ""
	Turns  Need = "turns"  // water moves
	Stands Need = "stands" // it does not turn
)

// needs are the looks that a state of the pump makes impossible: nobody feels the returns of a dead
// pump, nor reads the alarm of one that is seen to run (common practice).
var needs = map[Sign]Need{
	AirInPot:      Turns,
	Bubbles:       Turns,
	NeedleBounces: Turns,
	PotNotFull:    Turns,
	Slurping:      Turns,
	NoPull:        Turns,
	WeakAll:       Turns,
	WeakOne:       Turns,
	Gravel:        Turns,
	DeviceNoFlow:  Turns,
	FoamDents:     Turns,
	FoamLid:       Turns,
	FoamInlet:     Turns,
	FoamJoint:     Turns,
	SpaFalling:    Turns,
	SpaRising:     Turns,
	WasteWet:      Turns,
	Screech:       Turns,
	DripOutlet:    Turns,
	DripSeal:      Turns,
	DripSeam:      Turns,
	DripBand:      Turns,
	CutsOut:       Turns,
	Hums:          Stands,
	Silent:        Stands,
	ResetRuns:     Stands,
	DisplayAlarm:  Stands, // a pump that shows an alarm has stopped, or waits to start
	AlarmSuction:  Stands,
	AlarmPrime:    Stands,
	AlarmCurrent:  Stands,
	AlarmHeat:     Stands,
	AlarmDrive:    Stands,
}

// Needs is how the pump must be to look for a sign.
func (s *SignFact) Needs() Need { return needs[s.ID] }

// Open tells whether a sign is still to be looked for on a pad, and can be.
func (s *SignFact) Open(d *pad.Document, seen map[Sign]bool, running bool) bool {
	_, done := seen[s.ID]
	return !done && !s.Context && s.On(d) && s.Possible(seen, running)
}

// Possible tells whether a sign can be looked for where these were answered and, running, the pump
// was read at a speed. A motor that hums, or whose shaft is stuck, is never reset: the shaft comes
// before the breaker.
func (s *SignFact) Possible(seen map[Sign]bool, running bool) bool {
	dead := seen[Hums] || seen[Silent]
	free, felt := seen[ShaftFree]
	switch {
	case s.ID == ResetRuns && (seen[Hums] || felt && !free):
		return false
	case s.Needs() == Turns:
		return !dead
	case s.Needs() == Stands:
		return dead || !running
	}
	return true
}

// Reassures tells of a sign whose yes says that something is in order.
func (s *SignFact) Reassures() bool {
	switch s.ID {
	case SpaFine, ShaftFree, LidTestHolds, ResetRuns:
		return true
	}
	return false
}
