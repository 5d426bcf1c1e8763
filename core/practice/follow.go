package practice

import (
	"fmt"
	"slices"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/procedure"
)

// mostChoices is when a way through a case is given up.
const mostChoices = 40

// Follow works a case by the engine's own next checks, and gives the events and where they
// led. Errors are the engine's.
func (s *Scene) Follow() ([]Event, *Attempt, error) {
	w := &worker{Attempt: s.Begin(Alone)}
	return w.through(func() (bool, error) {
		h, err := w.Hint()
		if err != nil {
			return false, err
		}
		return w.follow(h)
	})
}

// worker works an attempt and keeps what it did.
type worker struct {
	*Attempt
	events []Event
}

// through makes choices until there are none, and leaves the pad as in daily use.
func (w *worker) through(choose func() (bool, error)) ([]Event, *Attempt, error) {
	for range mostChoices {
		on, err := choose()
		if err != nil {
			return w.events, w.Attempt, err
		}
		if !on || w.Over {
			break
		}
	}
	if !w.Over {
		if err := w.takes(Event{Act: ActRestore}, Event{Act: ActLeave}); err != nil {
			return w.events, w.Attempt, err
		}
	}
	return w.events, w.Attempt, nil
}

func (w *worker) takes(events ...Event) error {
	for _, e := range events {
		if e.Act == ActRestore && w.State == w.rig.Daily() || e.Act == ActReady && needs[e.Need].met(w.State) {
			continue
		}
		if err := w.Take(e); err != nil {
			return fmt.Errorf("working %s, %s: %w", w.ID, e.Act, err)
		}
		w.events = append(w.events, e)
	}
	return nil
}

// looksFor stands the pad ready and looks.
func (w *worker) looksFor(id fault.Sign) error {
	ready := []Event{}
	if need := looks[id]; need == Running {
		ready = append(ready, Event{Act: ActRestore})
	} else if need != Any {
		ready = append(ready, Event{Act: ActReady, Need: need})
	}
	return w.takes(append(ready, Event{Act: ActLook, Sign: id})...)
}

// reads takes a reading in a way of running.
func (w *worker) reads(set string, rpm float64) error {
	if rpm == 0 {
		return w.takes(Event{Act: ActReady, Need: Relieved}, Event{Act: ActRead})
	}
	ready := []Event{{Act: ActRestore}}
	do := func(verb procedure.Verb, arg string) {
		ready = append(ready, Event{Act: ActDo, Do: &procedure.Action{Verb: verb, Arg: arg}})
	}
	switch set {
	case string(pad.SetRecirculate):
		do(procedure.Stop, "")
		do(procedure.Turn, set)
		do(procedure.Start, "")
	case string(diagnosis.SpaMode):
		do(procedure.Stop, "")
		do(procedure.SuctionTo, string(pad.SpaBody))
		do(procedure.ReturnTo, string(pad.SpaBody))
		do(procedure.Start, "")
	}
	if p := &w.doc.Pump; rpm != w.RPM && p.SpeedIsSet() && p.Kind != pad.FlowHolding && p.Nearest(rpm) == rpm {
		ready = append(ready, Event{Act: ActSpeed, RPM: rpm})
	}
	return w.takes(append(ready, Event{Act: ActRead})...)
}

// mend puts a fault right by the shortest work that does it, or leaves it to whom it
// belongs, and reads again.
func (w *worker) mend(id fault.ID, refer bool) error {
	var err error
	run := w.runFor(id)
	fix, byHand := fixes[id]
	switch {
	case refer:
		err = w.takes(Event{Act: ActRefer, Fault: id})
	case run != nil:
		err = w.takes(Event{Act: ActRestore}, Event{Act: ActRun, Run: run.ID})
	case byHand:
		ready := []Event{}
		if fix.need != Any {
			ready = append(ready, Event{Act: ActReady, Need: fix.need})
		}
		err = w.takes(append(ready, Event{Act: ActMend, Fault: id})...)
	default:
		err = w.takes(Event{Act: ActRefer, Fault: id})
	}
	if err != nil {
		return err
	}
	return w.takes(Event{Act: ActRestore}, Event{Act: ActRead})
}

// runFor is the shortest guided run that puts a fault right here, where a hand alone is not
// quicker by more than the run's own safe way is worth.
func (a *Attempt) runFor(id fault.ID) *procedure.Procedure {
	var best *procedure.Procedure
	for _, p := range a.runs() {
		if slices.Contains(p.Mends, id) && (best == nil || p.Minutes < best.Minutes) {
			best = p
		}
	}
	f, _ := a.mendable(id)
	if _, byHand := fixes[id]; best != nil && byHand && best.Minutes > f.Minutes+saferWithin {
		return nil
	}
	return best
}

// saferWithin is how many minutes more a guided run may take than a hand alone.
const saferWithin = 6

// follow does what a hint says; false when it says to leave.
func (w *worker) follow(h Hint) (bool, error) {
	switch {
	case h.Read:
		return true, w.takes(Event{Act: ActRead})
	case h.Sign != "":
		return true, w.looksFor(h.Sign)
	case h.Set != "":
		return true, w.reads(h.Set, h.RPM)
	case h.Fault != "":
		return true, w.mend(h.Fault, h.Refer)
	}
	return false, nil
}

// ByCard works a case by a card's fixed order, whatever the pad is: what is cheap first.
// It is what the engine's checks are held against. Errors are the solver's.
func (s *Scene) ByCard() ([]Event, *Attempt, error) {
	w := &worker{Attempt: s.Begin(Alone)}
	left := slices.Clone(card)
	return w.through(func() (bool, error) {
		if len(w.readings) == 0 {
			return true, w.takes(Event{Act: ActRead})
		}
		if len(w.remains()) == 0 || len(left) == 0 {
			return false, nil // the card's holder sees that it runs as it should
		}
		c := left[0]
		left = left[1:]
		if sg, ok := fault.LookUpSign(c.look); c.look != "" && (!ok || !sg.On(&w.doc)) {
			return true, nil
		}
		if f, ok := known(c.fix, &w.doc); !ok {
			return true, nil
		} else if c.look != "" {
			if err := w.looksFor(c.look); err != nil || !w.seen[c.look].yes {
				return true, err
			}
			return true, w.mend(c.fix, f.Who != "")
		}
		f, _ := w.mendable(c.fix)
		return true, w.mend(c.fix, f.Who != "")
	})
}

// card is the fixed order (common practice): the cheap looks that settle one fault each,
// then a clean filter, then what costs.
var card = []struct {
	look fault.Sign // "": try the fix
	fix  fault.ID
}{
	{fault.LevelLow, fault.WaterLow},
	{fault.SkimmerFull, fault.SkimmerBlocked},
	{fault.HandleWrong, fault.SuctionValve},
	{fault.HandleWrong, fault.SuctionAllShut},
	{fault.HandleWrong, fault.SpaDraining},
	{fault.HandleWrong, fault.SpaFilling},
	{fault.HandleWrong, fault.LeftInSpa},
	{fault.HandleWrong, fault.ReturnAllShut},
	{fault.FilterValveOff, fault.ValvePosition},
	{fault.SpeedOff, fault.SpeedLow},
	{fault.ModeOff, fault.WrongMode},
	{fault.BasketFull, fault.BasketFullFault},
	{fault.Hums, fault.MotorHums},
	{fault.Silent, fault.NoPower},
	{fault.CutsOut, fault.MotorHot},
	{fault.DripSeal, fault.SealLeak},
	{fault.DripSeam, fault.HousingLeak},
	{fault.DripOutlet, fault.OutletLeak},
	{fault.DripBand, fault.TankLeak},
	{fault.FoamLid, fault.AirLid},
	{"", fault.FilterLoaded},
	{fault.FoamInlet, fault.AirInlet},
	{fault.FoamJoint, fault.AirUpstream},
	{fault.BackWhenOff, fault.DrainBack},
	{fault.NeedleAtRest, fault.GaugeBad},
	{fault.DebrisFound, fault.ImpellerClogged},
	{fault.WasteWet, fault.ValveGasket},
	{fault.MediaSeen, fault.MediaInPool},
	{fault.PotNotFull, fault.PrimeLost},
	{"", fault.AirlockSmall},
	{"", fault.ReturnRestricted},
	{"", fault.BypassOpen},
	{"", fault.CheckValveStuck},
	{"", fault.Cavitation},
	{"", fault.MediaFouled},
	{"", fault.BedChannelled},
	{"", fault.SuctionLine},
	{"", fault.CellSwitch},
	{"", fault.ImpellerWorn},
	{"", fault.GaugeBad},
	{"", fault.AirInlet},
	{"", fault.AirUpstream},
	{"", fault.AirLid},
	{"", fault.MediaInPool},
	{"", fault.ValveGasket},
}

// settles are the events of whoever knows what is wrong: the reading, for each fault the
// look that tells most of it, and its work. It always solves the case.
func (s *Scene) settles() ([]Event, *Attempt, error) {
	w := &worker{Attempt: s.Begin(Alone)}
	if err := w.takes(Event{Act: ActRead}); err != nil {
		return nil, nil, err
	}
	for i := range s.causes {
		h := &s.causes[i]
		if id := telling(h, &s.doc); id != "" {
			if _, told := w.seen[id]; !told {
				if err := w.looksFor(id); err != nil {
					return nil, nil, err
				}
			}
		}
		if err := w.mend(h.Fault.ID, h.Fault.Who != "" && h.Fault.Who != fault.Anybody); err != nil {
			return nil, nil, err
		}
	}
	return w.through(func() (bool, error) { return false, nil })
}

// telling is the look that speaks most for a fault a minute.
func telling(h *hidden, d *pad.Document) fault.Sign {
	best, most := fault.Sign(""), 0.0
	for i := range fault.Signs {
		sg := &fault.Signs[i]
		p, listed := h.Fault.Signs[sg.ID]
		if !listed || !sg.On(d) || sg.Context || sg.Minutes <= 0 || sg.Base <= 0 {
			continue
		}
		if x := p * min(p/sg.Base, 200) / (sg.Minutes + needMinutes(looks[sg.ID])); p > 0.4 && x > most {
			best, most = sg.ID, x
		}
	}
	return best
}

func needMinutes(n Need) float64 {
	sum := 0.0
	for _, v := range needs[n].do {
		sum += hands[v]
	}
	return 2 * sum // and back again
}

// Best is the best known way through a case: the engine's own, or where that does not solve
// it, or is dearer, the shortest of whoever knows. Errors are the engine's.
func (s *Scene) Best() ([]Event, *Attempt, error) {
	byEngine, engine, err := s.Follow()
	if err != nil {
		return nil, nil, err
	}
	if engine.Solved() && len(engine.Harms) == 0 && len(engine.Wrong) == 0 {
		return byEngine, engine, nil
	}
	return s.settles()
}
