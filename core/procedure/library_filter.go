package procedure

import (
	"fairlap/core/fault"
	"fairlap/core/pad"
)

// The procedures on the filter (handbook; times and amounts common practice).
const (
	Backwash      ID = "backwash"
	BackwashDE    ID = "backwash-de"
	BackwashSlide ID = "backwash-slide"
	HoseOff       ID = "hose-off"
	Soaking       ID = "soak"
	TearDown      ID = "tear-down"
	CleanLine     ID = "clean-line"
)

// backwashing are the steps from the hose to clear water.
func backwashing() []Step {
	return []Step{
		{ID: "where", Says: "May this water go where the hose ends?", Hint: "About {wasteGpm} gpm: some {backwashGal} gal for the two minutes.", Care: []Care{Discharge},
			Answers: []Answer{{ID: "yes", Says: "Yes, by the local rules"}, {ID: "no", Says: "No: not today", Ends: true}}},
		{ID: "hose", Says: "Lay the hose out, free of kinks, its end held", Care: []Care{HoseEnd}},
		pumpOff("off-1", "the handle moves"),
	}
}

var glassAnswers = func(step string) []Answer {
	return []Answer{{ID: "not-yet", Says: "Not yet", To: step, Glass: "dirty"}, {ID: "clear", Says: "Clear", Glass: "clear"}}
}

// backwashRun runs water up through the media at the speed that works on this pad: a
// strong pump at full speed lifts the sand out of the tank.
func backwashRun(id string, clears Timer) []Step {
	return []Step{
		{ID: id + "-on", Says: "Start the pump. Set {backSpeed} rpm.", Hint: "The target is {workingGpm} gpm; this pad gives about {wasteGpm} gpm there, which lifts the bed by {expansion} % in water of {waterF} °F. {backwashNote}", Why: "Too slow only rearranges the dirt; too fast carries the sand away.", Care: []Care{HoseEnd, DeadHead}, Do: []Action{do(Start)}},
		{ID: id + "-clear", Says: "Is the sight glass clear?", Hint: "Clear first, then dirty, then clear again: you can see the far side of the glass.", Timer: &clears, Care: []Care{HoseEnd}, Answers: glassAnswers(id + "-clear")},
	}
}

// How long a wash takes: in one go, or each of a slide valve's short cycles.
var (
	oneWash    = Timer{Count: CountBackwash, Low: 120, High: 180, Most: 300}
	shortCycle = Timer{Count: CountBackwash, Low: 20, High: 30, Most: 60}
)

func isRinse(way string) func(*Setup) bool {
	return func(s *Setup) bool { return s.Ways.Rinse == way }
}

var filterLibrary = []Procedure{
	{ID: Backwash, Name: "Backwash and rinse", Aim: "Turn the sand bed over and throw its dirt out.", Minutes: 10, On: valveIs(pad.Multiport, pad.Sand), Item: "clean-filter", Work: "cleaned", Mends: []fault.ID{fault.FilterLoaded}, Discharges: true,
		Care: []Care{DeadHead, HoseEnd, Discharge}, Steps: join(before(), backwashing(), turn("to-backwash", pad.SetBackwash, "Up through the bed and out to waste."),
			Step{ID: "band", Says: "Lid and band clear of hands and tools?", Care: []Care{Restart}, Answers: []Answer{{ID: "yes", Says: "Clear"}}},
			backwashRun("wash", oneWash), pumpOff("off-2", "the handle moves"),
			turn("to-rinse", pad.SetRinse, "It settles the bed and sends the last dirt to waste, not to the pool."),
			Step{ID: "rinse-on", Says: "Start the pump", Care: []Care{HoseEnd}, Do: []Action{do(Start)}},
			Step{ID: "rinse", Says: "Rinse 10 to 15 seconds", Timer: &Timer{Count: CountRinse, Low: 10, High: 15, Most: 60}, When: isRinse("timed"), Care: []Care{HoseEnd}},
			Step{ID: "rinse-clear", Says: "Is the sight glass clear?", Hint: "Usually 30 to 60 seconds.", Timer: &Timer{Count: CountRinse, Low: 30, High: 60, Most: 120}, When: isRinse("clear"), Care: []Care{HoseEnd}, Answers: glassAnswers("rinse-clear")},
			pumpOff("off-3", "the handle moves"), turnBack("to-filter"),
			Step{ID: "on", Says: "Start the pump", Care: []Care{Restart}, Do: []Action{do(Start)}},
			Step{ID: "bleed", Says: "Open the bleed until water runs, then close it", Why: "Air that came in with the handle's turns leaves here.", Do: []Action{do(OpenBleed), do(CloseBleed)}},
			after(), holdFlow())},
	{ID: BackwashDE, Name: "Backwash and recharge", Aim: "Throw the dirty cake off the grids and lay a fresh one.", Minutes: 20, On: valveIs(pad.Multiport, pad.DE), Item: "clean-filter", Work: "cleaned", Mends: []fault.ID{fault.FilterLoaded}, Discharges: true,
		Care: []Care{DeadHead, Dust, Discharge, HoseEnd}, Takes: []Take{{"DE powder", "{deAfter} lb"}}, Steps: join(before(), backwashing(), turn("to-backwash", pad.SetBackwash, "Off the grids and out to waste."),
			backwashRun("wash", oneWash), pumpOff("off-2", "the handle moves"), turn("to-rinse", pad.SetRinse, "A few seconds clear the pipe."),
			Step{ID: "rinse-on", Says: "Start the pump", Care: []Care{HoseEnd}, Do: []Action{do(Start)}},
			Step{ID: "rinse", Says: "Rinse 5 to 10 seconds", Timer: &Timer{Count: CountRinse, Low: 5, High: 10, Most: 30}, Care: []Care{HoseEnd}},
			pumpOff("off-3", "the handle moves"), turnBack("to-filter"),
			Step{ID: "mix", Says: "Mask on: stir {deAfter} lb of DE into a bucket of water", Hint: "{gridFt2} ft² of grid: a full charge is {deFull} lb; after a backwash about four fifths, since some stays. The label rules.", Why: "Dry DE is bad for the lungs, and dry it cakes in the pipe.", Care: []Care{Dust}, Do: []Action{do(MixSlurry)}},
			Step{ID: "on", Says: "Start the pump", Care: []Care{Restart, Dust}, Do: []Action{do(Start)}},
			Step{ID: "bleed", Says: "Open the bleed until water runs, then close it", Why: "Air left on top keeps the upper grids bare: before the charge.", Do: []Action{do(OpenBleed), do(CloseBleed)}},
			Step{ID: "pour", Says: "Pour the slurry in at the skimmer, slowly", Hint: "Stir as you pour; no lumps.", Care: []Care{Dust}, Do: []Action{do(PourDE)}},
			Step{ID: "settle", Says: "Let the cake form for two minutes", Timer: &Timer{Count: CountWait, Low: 120, High: 180}},
			after(), holdFlow())},
	{ID: BackwashSlide, Name: "Backwash with the slide valve", Aim: "Several short cycles throw more out than one long one.", Minutes: 15, On: valveIs(pad.SlideValve, pad.Sand, pad.DE), Item: "clean-filter", Work: "cleaned", Mends: []fault.ID{fault.FilterLoaded}, Discharges: true,
		Care: []Care{DeadHead, HoseEnd, Discharge}, Takes: []Take{{"DE powder", "{deAfter} lb"}}, Steps: join(before(), backwashing(),
			Step{ID: "to-backwash", Says: "Unlock the slide and move it to backwash", Do: []Action{do(Turn, string(pad.SetBackwash))}, Why: "Two positions only: the other way through the filter and out."},
			backwashRun("wash", shortCycle), pumpOff("off-2", "the slide moves"),
			Step{ID: "back", Says: "Move the slide back to filter", Hint: "Lock it: a slide that creeps sends the pool to waste.", Do: []Action{do(Turn, string(pad.SetFilter))}},
			Step{ID: "short-on", Says: "Start the pump for some seconds", Hint: "It shakes loose what still clings.", Care: []Care{Restart}, Do: []Action{do(Start)}},
			Step{ID: "short", Says: "Run 10 to 20 seconds on filter", Timer: &Timer{Count: CountWait, Low: 10, High: 20, Most: 60}},
			pumpOff("off-3", "the slide moves"),
			Step{ID: "again", Says: "Was the last water to waste still dirty?", Answers: []Answer{{ID: "dirty", Says: "Still dirty: once more", To: "to-backwash", Do: []Action{}}, {ID: "clear", Says: "Clear"}}},
			Step{ID: "mix", Says: "Mask on: stir {deAfter} lb of DE into a bucket of water", Care: []Care{Dust}, Do: []Action{do(MixSlurry)}, When: kindIs(pad.DE)},
			Step{ID: "on", Says: "Start the pump", Care: []Care{Restart}, Do: []Action{do(Start)}},
			Step{ID: "pour", Says: "Pour the slurry in at the skimmer, slowly", Care: []Care{Dust}, Do: []Action{do(PourDE)}, When: kindIs(pad.DE)},
			Step{ID: "settle", Says: "Let the cake form for two minutes", Timer: &Timer{Count: CountWait, Low: 120, High: 180}, When: kindIs(pad.DE)},
			after(), holdFlow())},
	{ID: HoseOff, Name: "Hose off the cartridge", Aim: "Wash the pleats, look at them, and put them back tight.", Minutes: 30, On: kindIs(pad.Cartridge), Item: "clean-filter", Work: "cleaned", Mends: []fault.ID{fault.FilterLoaded},
		Care: []Care{Pressure, OffIsNot, Restart, Lifting}, Takes: []Take{{Name: "Tank O-ring lubricant"}}, Steps: join(before(), opening(),
			Step{ID: "lift", Says: "Lift the cartridge out", Care: []Care{Lifting}},
			Step{ID: "look", Says: "How do the pleats look?", Hint: "Torn, flattened together, cracked at the ends?", Answers: []Answer{{ID: "sound", Says: "Sound"}, {ID: "worn", Says: "Torn, flat or cracked: plan a new one"}}},
			Step{ID: "wash", Says: "Hose from the top down, turning it", Hint: "A fan nozzle along the pleats; no pressure washer.", Why: "From the top the dirt runs out, not in."},
			seats(), Step{ID: "seat", Says: "Seat it on its locator, square and down", Why: "Off its seat, dirt goes past it."}, closing(), startBled("re-"),
			Step{ID: "retight", Says: "Bleed shut tight, band dry?", Answers: []Answer{{ID: "dry", Says: "Dry"}, {ID: "wet", Says: "It weeps: stop", Do: []Action{do(Stop), do(LockOff)}, Ends: true}}},
			after(), holdFlow())},
	{ID: Soaking, Name: "Soak the elements", Aim: "Take out of the media what a hose does not: oils first, then scale.", Minutes: 60, On: func(s *Setup) bool { return s.Rig.Kind != pad.Sand && !s.Rig.Small }, Work: "cleaned", Item: "thorough-clean", Mends: []fault.ID{fault.MediaFouled},
		Care: []Care{Pressure, AcidCare, NeverMeet, Fumes, Lifting}, Takes: []Take{{"Degreaser", "{bathGal} gal bath by its label"}, {"Muriatic acid", "{bathAcid} gal"}}, Checks: []fault.Sign{fault.SlowDrainTest}, Steps: join(before(), opening(),
			Step{ID: "lift", Says: "Lift the elements out", Care: []Care{Lifting}},
			drainTest("drain-before", "Drain test before: fill the element, tip it, count", ""),
			Step{ID: "bath-1", Says: "Fill the bath with water", Hint: "{bathGal} gal, enough to cover them.", Do: []Action{do(BathWater)}},
			Step{ID: "degrease", Says: "Stir the degreaser in and lay the elements down", Hint: "By its label. Two to three hours, moved now and then.", Why: "Oil under the acid would set for good.", Do: []Action{do(AddDegrease)}, Care: []Care{NeverMeet}},
			Step{ID: "degreasing", Says: "Degreasing: two to three hours", Hint: "Go on with the rest: this waits, and tells you when it is time.", Timer: &Timer{Count: CountWait, Low: 7200, High: 10800}},
			Step{ID: "empty-1", Says: "Empty the degreaser bath", Care: []Care{NeverMeet}, Do: []Action{do(EmptyBath)}},
			Step{ID: "rinse-1", Says: "Rinse the elements well", Hint: "Until nothing foams. Rinse the bath too.", Why: "Detergent and acid must not meet.", Care: []Care{NeverMeet}, Do: []Action{do(RinseOff)}},
			Step{ID: "scale", Says: "Is there scale that needs acid?", Hint: "White, hard, does not brush off.", Answers: []Answer{{ID: "yes", Says: "Scale: acid bath"}, {ID: "no", Says: "None: no acid", To: "drain-after"}}},
			Step{ID: "bath-2", Says: "Fill the bath with {bathWater} gal of fresh water", Hint: "Water first.", Care: []Care{AcidCare}, Do: []Action{do(BathWater)}},
			Step{ID: "acid", Says: "Pour {bathAcid} gal of acid into the water, slowly", Hint: "About 15 parts of water to one of muriatic acid. Goggles and gloves on, upwind.", Care: []Care{AcidCare, NeverMeet, Fumes}, Do: []Action{do(AddAcid)}},
			Step{ID: "bubbling", Says: "Has the bubbling stopped?", Hint: "It bubbles while it eats scale: up to some hours.", Timer: &Timer{Count: CountWait, Low: 600, High: 7200, Most: 14400}, Care: []Care{AcidCare}, Answers: []Answer{{ID: "bubbles", Says: "Still bubbling", To: "bubbling"}, {ID: "still", Says: "Stopped"}}},
			Step{ID: "empty-2", Says: "Dilute, neutralise and empty the bath by the local rule", Care: []Care{NeverMeet, AcidCare}, Do: []Action{do(EmptyBath)}},
			Step{ID: "rinse-2", Says: "Rinse the elements well", Care: []Care{AcidCare}, Do: []Action{do(RinseOff)}},
			drainTest("drain-after", "Drain test after: fill the element, tip it, count", "Near a new one's: keep it. Twice that and more: replace it."),
			Step{ID: "keep", Says: "Keep them or replace them?", Answers: []Answer{{ID: "keep", Says: "Keep", Sign: fault.SlowDrainTest}, {ID: "replace", Says: "Replace", Sign: fault.SlowDrainTest, Yes: true}}},
			seats(), Step{ID: "seat", Says: "Put the elements back, each on its seat"}, closing(), startBled("re-"),
			recharge("full"), after(), holdFlow())},
	{ID: TearDown, Name: "Tear the DE filter down", Aim: "Grids out, washed and looked at; a clean line with and without DE.", Minutes: 90, On: kindIs(pad.DE), Item: "tear-down", Work: "cleaned",
		Care: []Care{Pressure, OffIsNot, Dust, Restart, Lifting}, Takes: []Take{{"DE powder", "{deFull} lb"}, {Name: "Tank O-ring lubricant"}}, Steps: join(before(), opening(),
			Step{ID: "order", Says: "Note the grids' order as you take them out", Hint: "The short one has its own place. A picture helps.", Care: []Care{Dust, Lifting}},
			Step{ID: "wash", Says: "Hose the grids down, wet DE into a bag", Hint: "It must not go to a storm drain.", Care: []Care{Dust, Discharge}},
			Step{ID: "look", Says: "How are grids and manifold?", Hint: "Fill the manifold: outside it is still dry hours later when it is sound.", Answers: []Answer{{ID: "sound", Says: "Sound"}, {ID: "torn", Says: "Torn or cracked: replace before it goes back"}}},
			Step{ID: "assemble", Says: "Put them back in their order, spacers in, old marks lined up", Hint: "Rod snug only. Wipe lubricant off with dry hands: water spreads it."},
			seats(), Step{ID: "cap", Says: "Dump cap hand-tight; fill the tank half with water", Why: "A full blow of air at the start throws grids about."}, closing(), startBled("re-"),
			Step{ID: "bare", Says: "Read the bare pad at this speed, clean water, minutes only", Hint: "Bare grids clog.", Read: Bare},
			recharge("full"), after(),
			Step{ID: "walk-mid", Says: "Set a middle speed, wait, and read", Hint: "{middleSpeed} rpm, if this pump can.", Read: Walk},
			Step{ID: "walk-low", Says: "Set a low speed, wait, and read", Hint: "{lowSpeed} rpm, if this pump can.", Read: Walk}, holdFlow())},
	{ID: CleanLine, Name: "Take a clean line", Aim: "What this pad reads clean, at several speeds: all later readings are judged by it.", Minutes: 12, On: func(s *Setup) bool { return s.Figures["middleSpeed"] != "" }, Item: "clean-line",
		Care: []Care{ClosedPool}, Steps: []Step{
			{ID: "clean", Says: "Was the filter cleaned just now, and the baskets?", Answers: []Answer{{ID: "yes", Says: "Yes"}, {ID: "no", Says: "No: clean it first", Ends: true}}},
			{ID: "top", Says: "Set {topSpeed} rpm, wait until the needle stands, and read", Read: Walk},
			{ID: "middle", Says: "Set {middleSpeed} rpm, wait, and read", Read: Walk},
			{ID: "low", Says: "Set {lowSpeed} rpm, wait, and read", Read: Walk},
		}},
}

// Lifts tells whether a procedure lifts a bed of sand: then the water's temperature
// counts.
func (p *Procedure) Lifts(r *Rig) bool {
	return r.Kind == pad.Sand && (p.ID == Backwash || p.ID == BackwashSlide)
}

// opening are the steps until the tank stands open.
func opening() []Step {
	return join(pumpOff("off", "the tank is opened"), lockOff("lock"), isolate("isolate"), openBleed("open-bleed"), relieved("relieved"),
		Step{ID: "open", Says: "Take the band or clamp off, and the lid", Care: []Care{Pressure}, Do: []Action{do(OpenTank)}})
}

func seats() Step {
	return Step{ID: "seats", Says: "Clean the seats and the tank O-ring; look for cuts, lubricate it", Why: "One grain under it and the band weeps."}
}

// closing are the steps until the power is back.
func closing() []Step {
	return join(Step{ID: "close", Says: "Lid on, the gauge facing you; band until it locks", Hint: "A click, or the spring coils closed, as its maker says.", Care: []Care{Pressure}, Do: []Action{do(CloseTank)}}, deisolate("deisolate"), powerBack("power"))
}

func drainTest(id, says, why string) Step {
	return Step{ID: id, Says: says, Hint: "This pad's quickest: {drainBest} s.", Why: why, Timer: &Timer{Count: CountDrain, Low: 5, High: 30, Most: 600}}
}

// recharge puts a DE charge on after the tank was open.
func recharge(which string) []Step {
	de := kindIs(pad.DE)
	amount := map[string]string{"full": "{deFull}"}[which]
	return []Step{
		{ID: "mix", Says: "Mask on: stir " + amount + " lb of DE into a bucket of water", Hint: "A full charge for {gridFt2} ft² of grid. The label rules.", Care: []Care{Dust}, Do: []Action{do(MixSlurry)}, When: de},
		{ID: "pour", Says: "Pour the slurry in at the skimmer, slowly", Care: []Care{Dust}, Do: []Action{do(PourDE)}, When: de},
		{ID: "settle", Says: "Let the cake form for two minutes", Timer: &Timer{Count: CountWait, Low: 120, High: 180}, When: de},
	}
}
