package procedure

import (
	"slices"

	"fairlap/core/fault"
	"fairlap/core/pad"
)

// The procedures on the filter (handbook; times and amounts common practice).
const (
	Backwash      ID = "backwash"
	BackwashDE    ID = "backwash-de"
	BackwashSlide ID = "backwash-slide"
	HoseOff       ID = "hose-off"
	CleanLine     ID = "clean-line"
	AroundFilter  ID = "around-the-filter"
)

// Library is every procedure.
var Library = slices.Concat(filterLibrary, mediaLibrary, pumpLibrary, suctionLibrary, waterLibrary, seasonLibrary, smallLibrary)

func where() Step {
	return Step{ID: "where", Says: "May this water go where the hose ends?", Hint: "About {wasteGpm} gpm: some {backwashGal} gal for the two minutes.", Care: []Care{Discharge},
		Answers: []Answer{{ID: "no", Says: "No: not today", Ends: true}, {ID: "yes", Says: "Yes, by the local rules"}}}
}

// backwashing are the steps from the hose to the pump that stands still.
func backwashing() []Step {
	return []Step{where(), {ID: "hose", Says: "Lay the hose out, free of kinks, its end held", Care: []Care{HoseEnd}}, pumpOff("off-1", "the handle moves")}
}

// backwashRun runs water up through the media at the speed that works on this pad: a
// strong pump at full speed lifts the sand out of the tank. A glass is clear before any
// dirt comes: clear counts only after dirty.
func backwashRun(id string, clears Timer) []Step {
	return append([]Step{{ID: id + "-on", Says: "Start the pump. Set {backSpeed} rpm.", Hint: backwashHint, Why: backwashWhy, Care: []Care{HoseEnd, DeadHead}, Do: []Action{do(Start)}}}, washed(id, clears)...)
}

const (
	backwashHint = "The target is {workingGpm} gpm; this pad gives about {wasteGpm} gpm there, which lifts the bed by {expansion} % in water of {waterF} °F. {backwashNote}"
	backwashWhy  = "Too slow only rearranges the dirt; too fast carries the sand away."
)

// washed are the two looks at the glass.
func washed(id string, clears Timer) []Step {
	return []Step{
		{ID: id + "-dirty", Says: "Has the sight glass turned dirty?", Hint: "It starts clear: wait for the dirt to come. No glass: look at the hose's end.", Timer: &Timer{Count: CountBackwash, Low: 5, High: 30, Most: 120}, Care: []Care{HoseEnd},
			Answers: []Answer{{ID: "stays", Says: "A minute, and it stays clear", Glass: "clear"}, {ID: "dirty", Says: "Dirty", Glass: "dirty"}}},
		{ID: id + "-clear", Says: "Is the sight glass clear again?", Hint: "You can see the far side of the glass.", Timer: &clears, Care: []Care{HoseEnd}, Answers: glassAnswers(id + "-clear")},
	}
}

func glassAnswers(step string) []Answer {
	return []Answer{{ID: "not-yet", Says: "Not yet", To: step, Glass: "dirty"}, {ID: "clear", Says: "Clear", Glass: "clear"}}
}

// How long a wash takes: in one go, or each of a slide valve's short cycles.
var (
	oneWash    = Timer{Count: CountBackwash, Low: 90, High: 150, Most: 300}
	shortCycle = Timer{Count: CountBackwash, Low: 20, High: 30, Most: 60}
)

func isRinse(way string) func(*Setup) bool {
	return func(s *Setup) bool { return s.Ways.Rinse == way }
}

// rinsing are the ways to rinse a bed, the pump on.
func rinsing() []Step {
	return []Step{
		{ID: "rinse", Says: "Rinse 10 to 15 seconds", Timer: &Timer{Count: CountRinse, Low: 10, High: 15, Most: 60}, When: isRinse("timed"), Care: []Care{HoseEnd}},
		{ID: "rinse-clear", Says: "Is the sight glass clear?", Hint: "Usually 30 to 60 seconds.", Timer: &Timer{Count: CountRinse, Low: 30, High: 60, Most: 120}, When: isRinse("clear"), Care: []Care{HoseEnd}, Answers: glassAnswers("rinse-clear")},
	}
}

const rinseWhy = "It settles the bed and sends the last dirt to waste, not to the pool."

func bandClear() Step {
	return Step{ID: "band", Says: "Lid and band clear of hands and tools?", Care: []Care{Restart}, Answers: []Answer{{ID: "yes", Says: "Clear"}}}
}

func bleedOnce(why string) Step {
	return Step{ID: "bleed", Says: "Open the bleed until water runs, then close it", Why: why, Do: []Action{do(OpenBleed), do(CloseBleed)}}
}

// charge are the steps that lay DE on the grids, the pump running on filter and bled.
func mixDE(charge string) Step {
	return Step{ID: "mix", Says: "Mask on: stir {" + charge + "} lb of DE into a bucket of water", Hint: "{" + charge + "Scoops} level one-pound scoops. {gridFt2} ft² of grid take {deFull} lb for a full charge; after a backwash about four fifths, since some stays. The label rules.", Why: "Dry DE is bad for the lungs, and dry it cakes in the pipe.", Care: []Care{Dust}, Do: []Action{do(MixSlurry)}, When: kindIs(pad.DE)}
}

func pourDE() []Step {
	return []Step{
		{ID: "pour", Says: "Pour the slurry in at the skimmer, slowly", Hint: "Stir as you pour; no lumps.", Care: []Care{Dust}, Do: []Action{do(PourDE)}, When: kindIs(pad.DE)},
		{ID: "settle", Says: "Let the cake form for two minutes", Timer: &Timer{Count: CountWait, Low: cakeLow, High: cakeHigh, Least: cakeLow}, When: kindIs(pad.DE)},
	}
}

var filterLibrary = []Procedure{
	{ID: Backwash, Name: "Backwash and rinse", Aim: "Turn the sand bed over and throw its dirt out.", Minutes: 10, On: valveIs(pad.Multiport, pad.Sand), Item: "clean-filter", Work: "cleaned", Mends: []fault.ID{fault.FilterLoaded}, Discharges: true,
		Care: []Care{DeadHead, HoseEnd, Discharge}, Steps: join(before(), backwashing(), turn("to-backwash", pad.SetBackwash, "Up through the bed and out to waste."),
			bandClear(), backwashRun("wash", oneWash), pumpOff("off-2", "the handle moves"),
			turn("to-rinse", pad.SetRinse, rinseWhy),
			Step{ID: "rinse-on", Says: "Start the pump, gently. Set {rinseSpeed} rpm.", Hint: "{rinseGpm} gpm down through the bed keep it where it lies.", Care: []Care{HoseEnd}, Do: []Action{do(Start)}},
			rinsing(), pumpOff("off-3", "the handle moves"), turnBack("to-filter"),
			Step{ID: "on", Says: "Start the pump", Care: []Care{Restart}, Do: []Action{do(Start)}},
			bleedOnce("Air that came in with the handle's turns leaves here."), after(), holdFlow()),
		Short: join(before(), where(),
			Step{ID: "to-backwash", Says: "Pump OFF. When it stands still: handle to backwash.", Hint: "Hose laid, its end held. Always the same way round.", Care: []Care{DeadHead, HoseEnd}, Do: []Action{do(Stop), do(Turn, string(pad.SetBackwash))}},
			Step{ID: "wash-on", Says: "Lid and band clear? Start the pump. Set {backSpeed} rpm.", Hint: backwashHint, Why: backwashWhy, Care: []Care{HoseEnd, Restart}, Do: []Action{do(Start)}},
			washed("wash", oneWash),
			Step{ID: "to-rinse", Says: "Pump OFF. When it stands still: handle to rinse.", Care: []Care{DeadHead}, Do: []Action{do(Stop), do(Turn, string(pad.SetRinse))}},
			Step{ID: "rinse-on", Says: "Start the pump, gently. Set {rinseSpeed} rpm.", Care: []Care{HoseEnd}, Do: []Action{do(Start)}}, rinsing(),
			Step{ID: "to-filter", Says: "Pump OFF. When it stands still: handle to filter.", Care: []Care{DeadHead}, Do: []Action{do(Stop), do(Turn, string(pad.SetFilter))}},
			Step{ID: "on", Says: "Start the pump, open the bleed until water runs, and close it", Care: []Care{Restart}, Do: []Action{do(Start), do(OpenBleed), do(CloseBleed)}}, after(), holdFlow())},
	{ID: BackwashDE, Name: "Backwash and recharge", Aim: "Throw the dirty cake off the grids and lay a fresh one.", Minutes: 20, On: valveIs(pad.Multiport, pad.DE), Item: "clean-filter", Work: "cleaned", Mends: []fault.ID{fault.FilterLoaded}, Discharges: true,
		Care: []Care{DeadHead, Dust, Discharge, HoseEnd}, Takes: []Take{{"DE powder", "{deAfter} lb"}}, Steps: join(before(), backwashing(), turn("to-backwash", pad.SetBackwash, "Off the grids and out to waste."),
			backwashRun("wash", oneWash), pumpOff("off-2", "the handle moves"), turn("to-rinse", pad.SetRinse, "A few seconds clear the pipe."),
			Step{ID: "rinse-on", Says: "Start the pump. Set {rinseSpeed} rpm.", Care: []Care{HoseEnd}, Do: []Action{do(Start)}},
			Step{ID: "rinse", Says: "Rinse 5 to 10 seconds", Timer: &Timer{Count: CountRinse, Low: 5, High: 10, Most: 30}, Care: []Care{HoseEnd}},
			pumpOff("off-3", "the handle moves"), turnBack("to-filter"), mixDE("deAfter"),
			Step{ID: "on", Says: "Start the pump", Care: []Care{Restart, Dust}, Do: []Action{do(Start)}},
			bleedOnce("Air left on top keeps the upper grids bare: before the charge."), pourDE(), after(), holdFlow())},
	{ID: BackwashSlide, Name: "Backwash with the slide valve", Aim: "Several short cycles throw more out than one long one.", Minutes: 15, On: valveIs(pad.SlideValve, pad.Sand, pad.DE), Item: "clean-filter", Work: "cleaned", Mends: []fault.ID{fault.FilterLoaded}, Discharges: true,
		Care: []Care{DeadHead, HoseEnd, Discharge}, Takes: []Take{{"DE powder", "{deAfter} lb"}}, Steps: join(before(), backwashing(),
			Step{ID: "to-backwash", Says: "Unlock the slide and move it to backwash", Do: []Action{do(Turn, string(pad.SetBackwash))}, Why: "Two positions only: the other way through the filter and out."},
			Step{ID: "wash-on", Says: "Start the pump. Set {backSpeed} rpm.", Hint: backwashHint, Why: backwashWhy, Care: []Care{HoseEnd, DeadHead}, Do: []Action{do(Start)}},
			Step{ID: "wash", Says: "Twenty to thirty seconds to waste", Timer: &shortCycle, Care: []Care{HoseEnd}}, pumpOff("off-2", "the slide moves"),
			Step{ID: "back", Says: "Move the slide back to filter", Hint: "Lock it: a slide that creeps sends the pool to waste.", Do: []Action{do(Turn, string(pad.SetFilter))}},
			Step{ID: "short-on", Says: "Start the pump for some seconds", Hint: "It shakes loose what still clings.", Care: []Care{Restart}, Do: []Action{do(Start)}},
			Step{ID: "short", Says: "Run 10 to 20 seconds on filter", Timer: &Timer{Count: CountWait, Low: 10, High: 20, Most: 60}},
			pumpOff("off-3", "the slide moves"),
			Step{ID: "again", Says: "Was the last water to waste still dirty?", Hint: "Three to five cycles are usual.", Answers: []Answer{{ID: "dirty", Says: "Still dirty: once more", To: "to-backwash", Glass: "dirty"}, {ID: "clear", Says: "Clear", Glass: "clear"}}},
			mixDE("deAfter"),
			Step{ID: "on", Says: "Start the pump", Care: []Care{Restart}, Do: []Action{do(Start)}},
			bleedOnce("Air left on top keeps the upper part of the media bare."), pourDE(), after(), holdFlow())},
	{ID: HoseOff, Name: "Hose off the cartridge", Aim: "Wash the pleats, look at them, and put them back tight.", Minutes: 30, On: kindIs(pad.Cartridge), Item: "clean-filter", Work: "cleaned", Mends: []fault.ID{fault.FilterLoaded},
		Care: []Care{Pressure, OffIsNot, Restart, Lifting}, Takes: []Take{{Name: "Tank O-ring lubricant"}}, Steps: join(before(), opening(),
			Step{ID: "lift", Says: "Lift the cartridge out", Care: []Care{Lifting}},
			Step{ID: "look", Says: "How do the pleats look?", Hint: "Torn, flattened together, cracked at the ends?", Answers: []Answer{{ID: "worn", Says: "Torn, flat or cracked: plan a new one", Part: "cartridge"}, {ID: "sound", Says: "Sound"}}},
			Step{ID: "wash", Says: "Hose from the top down, turning it", Hint: "A fan nozzle along the pleats; no pressure washer.", Why: "From the top the dirt runs out, not in."},
			seats(), Step{ID: "seat", Says: "Seat it on its locator, square and down", Why: "Off its seat, dirt goes past it."}, closing(), startBled("re-"),
			Step{ID: "retight", Says: "Bleed shut tight, band dry?", Answers: []Answer{{ID: "wet", Says: "It weeps: stop", Do: []Action{do(Stop), do(LockOff)}, Ends: true}, {ID: "dry", Says: "Dry"}}},
			after(), holdFlow())},
	{ID: CleanLine, Name: "Take a clean line", Aim: "What this pad reads clean, at several speeds: all later readings are judged by it.", Minutes: 12, On: func(s *Setup) bool { return s.Figures["walk2"] != "" }, Item: "clean-line",
		Care: []Care{ClosedPool}, Steps: join(
			Step{ID: "clean", Says: "Was the filter cleaned just now, and the baskets?", Answers: []Answer{{ID: "no", Says: "No: clean it first", Ends: true}, {ID: "yes", Says: "Yes"}}},
			Step{ID: "top", Says: "Set {walkTop} rpm, wait until the needle stands, and read", Hint: "The fastest that keeps this pad's limits.", Read: Walk, Speed: "walkTop"}, walk(Walk))},
	{ID: AroundFilter, Name: "Filter leaks: run around it", Aim: "The water moves past the filter until it is mended; nothing is filtered so long.", Minutes: 8, On: valveIs(pad.Multiport), Narrows: []fault.ID{fault.TankLeak}, Care: []Care{DeadHead, Pressure},
		Ends: func(r *Rig, s State) bool {
			s.Setting = pad.SetFilter
			return r.Unlike(s) == ""
		},
		Steps: join(pumpOff("off", "the handle moves"), turn("to-recirculate", pad.SetRecirculate, "Past the tank and back to the pool: no water leaves, and none is filtered."),
			Step{ID: "on", Says: "Start the pump", Care: []Care{DeadHead}, Do: []Action{do(Start)}},
			Step{ID: "dry", Says: "Has the leak stopped?", Hint: "Never tighten a band or a clamp under pressure.", Care: []Care{Pressure}, Answers: []Answer{{ID: "no", Says: "It still leaks: stop", Do: []Action{do(Stop), do(LockOff)}, Ends: true}, {ID: "yes", Says: "Stopped"}}},
			Step{ID: "tag", Says: "Leave a tag on the handle: recirculate until the filter is mended", Hint: "Both seats clean, a lubricated or a new O-ring: with the pressure relieved. Until then the water clouds in a day or two.", Why: "Whoever comes next must know that nothing is filtered."})},
}

// Lifts tells whether a procedure lifts a bed of sand: then the water's temperature
// counts.
func (p *Procedure) Lifts(r *Rig) bool {
	return r.Kind == pad.Sand && (p.ID == Backwash || p.ID == BackwashSlide || p.ID == SandChange)
}

// walk are readings at the other speeds of a clean line, as many as this pump has.
func walk(phase Phase) []Step {
	var out []Step
	for _, n := range []string{"1", "2", "3"} {
		at := "walk" + n
		out = append(out, Step{ID: string(phase) + "-" + n, Says: "Set {" + at + "} rpm, wait until the needle stands, and read", Read: phase, Speed: at, When: func(s *Setup) bool { return s.Figures[at] != "" }})
	}
	return out
}

// opening are the steps until the tank stands open.
func opening() []Step {
	return join(pumpOff("off", "the tank is opened"), lockOff("lock"), isolate("isolate"), openBleed("open-bleed"), relieved("relieved"),
		Step{ID: "open", Says: "Take the band or clamp off, and the lid", Care: []Care{Pressure}, Do: []Action{do(OpenTank)}})
}

func seats() Step {
	return Step{ID: "seats", Says: "Clean the seats and the tank O-ring: is it whole?", Hint: "No cut, no flat place; lubricate it. Wipe the lubricant off your hands with a dry paper towel: water does not take it.", Why: "One grain under it and the band weeps.",
		Answers: []Answer{{ID: "worn", Says: "Cut or flat: plan a new one", Part: "tank-o-ring"}, {ID: "whole", Says: "Whole"}}}
}

func closed() Step {
	return Step{ID: "close", Says: "Lid on, the gauge facing you; band until it locks", Hint: "A click, or the spring coils closed, as its maker says.", Care: []Care{Pressure}, Do: []Action{do(CloseTank)}}
}

// closing are the steps until the power is back.
func closing() []Step { return join(closed(), deisolate("deisolate"), powerBack("power")) }
