package procedure

import (
	"fairlap/core/fault"
	"fairlap/core/pad"
)

// The procedures that open a tank for its media (handbook; times and amounts common
// practice).
const (
	Soaking    ID = "soak"
	TearDown   ID = "tear-down"
	SandChange ID = "sand-change"
	SandLook   ID = "sand-look"
)

// drainTest times water out of an element: its whole drain, from the tip on.
func drainTest(id, says string) Step {
	return Step{ID: id, Says: says, Hint: "A new one of its kind, or the quickest on this pad: {drainBest} s.", Why: "Before and after say whether the soak brought it back.", Timer: &Timer{Count: CountDrain, Low: 5, High: 30, Most: 600, Least: drainLeast}}
}

// soaking are the two baths, the elements out of the tank.
func soaking() []Step {
	return []Step{
		drainTest("drain-before", "Drain test before: fill the element, tip it, count"),
		{ID: "bath-1", Says: "Fill the bath with water", Hint: "About {bathGal} gal cover an element of this size.", Do: []Action{do(BathWater)}},
		{ID: "degrease", Says: "Stir the degreaser in and lay the elements down", Hint: "By its label. Two to three hours, moved now and then.", Why: "Oil under the acid would set for good.", Do: []Action{do(AddDegrease)}, Care: []Care{NeverMeet}},
		{ID: "manifold", Says: "Fill the manifold with water and stand it up dry outside", Hint: "It is looked at again when the elements go back.", Why: "A crack shows as a wet outside hours later.", When: kindIs(pad.DE)},
		{ID: "degreasing", Says: "Degreasing: two to three hours", Hint: "Go on with other work: this waits, and tells you when it is time.", Timer: &Timer{Count: CountWait, Low: 7200, High: 10800, Least: 7200}},
		{ID: "empty-1", Says: "Empty the degreaser bath", Care: []Care{NeverMeet}, Do: []Action{do(EmptyBath)}},
		{ID: "rinse-1", Says: "Rinse the elements well", Hint: "Until nothing foams. Rinse the bath too.", Why: "Detergent and acid must not meet.", Care: []Care{NeverMeet}, Do: []Action{do(RinseOff)}},
		{ID: "scale", Says: "Is there scale that needs acid?", Hint: "White, hard, does not brush off.", Answers: []Answer{{ID: "no", Says: "None: no acid", To: "drain-after"}, {ID: "yes", Says: "Scale: acid bath"}}},
		{ID: "bath-2", Says: "Fill the bath with {bathWater} of fresh water", Hint: "Water first.", Care: []Care{AcidCare}, Do: []Action{do(BathWater)}},
		{ID: "acid", Says: "Pour {bathAcid} of acid into the water, slowly", Hint: "15 parts of water to one of muriatic acid. Goggles and gloves on, outdoors, upwind.", Care: []Care{AcidCare, NeverMeet, Fumes}, Do: []Action{do(AddAcid)}},
		{ID: "bubbling", Says: "Has the bubbling stopped?", Hint: "It bubbles while it eats scale: up to some hours.", Timer: &Timer{Count: CountWait, Low: 600, High: 7200, Most: 14400, Least: 600}, Care: []Care{AcidCare}, Answers: []Answer{{ID: "bubbles", Says: "Still bubbling", To: "bubbling"}, {ID: "still", Says: "Stopped"}}},
		{ID: "empty-2", Says: "Dilute, neutralise and empty the bath by the local rule", Care: []Care{NeverMeet, AcidCare}, Do: []Action{do(EmptyBath)}},
		{ID: "rinse-2", Says: "Rinse the elements well", Care: []Care{AcidCare}, Do: []Action{do(RinseOff)}},
		drainTest("drain-after", "Drain test after: fill the element, tip it, count"),
		{ID: "keep", Says: "Keep them or replace them?", Hint: keepHint, Recalls: CountDrain, Answers: []Answer{{ID: "replace", Says: "Replace", Sign: fault.SlowDrainTest, Yes: true, Part: "element"}, {ID: "keep", Says: "Keep", Sign: fault.SlowDrainTest}}},
	}
}

const keepHint = "Near a new element's {drainBest} s: keep it. Twice that and more after the soak: replace it."

var soakTakes = []Take{{"Degreaser", "for {bathGal} gal, by its label"}, {"Muriatic acid", "{bathAcid}"}, {Name: "Tank O-ring lubricant"}, {Name: "Dry paper towels"}}

var mediaLibrary = []Procedure{
	{ID: Soaking, Name: "Soak the elements", Aim: "Take out of the media what a hose does not: oils first, then scale.", Minutes: 60, On: kindIs(pad.Cartridge), Work: "cleaned", Item: "thorough-clean", Mends: []fault.ID{fault.MediaFouled},
		Care: []Care{Pressure, OffIsNot, AcidCare, NeverMeet, Fumes, Lifting, Restart}, Takes: soakTakes, Checks: []fault.Sign{fault.SlowDrainTest}, Steps: join(before(), opening(),
			Step{ID: "lift", Says: "Lift the elements out", Care: []Care{Lifting}}, soaking(),
			seats(), Step{ID: "seat", Says: "Put the elements back, each on its seat"}, closing(), startBled("re-"), after(), holdFlow())},
	{ID: TearDown, Name: "DE service with soak", Aim: "One opening: grids looked at, soaked and tested; the pad read without its charge and with it.", Minutes: 120, On: kindIs(pad.DE), Item: "tear-down", Work: "cleaned", Mends: []fault.ID{fault.MediaFouled},
		Care: []Care{Pressure, OffIsNot, Dust, AcidCare, NeverMeet, Fumes, Restart, Lifting}, Takes: append([]Take{{"DE powder", "{deFull} lb"}}, soakTakes...), Checks: []fault.Sign{fault.SlowDrainTest}, Steps: join(before(), opening(),
			Step{ID: "order", Says: "Note the grids' order as you take them out", Hint: "The short one has its own place. A picture helps.", Care: []Care{Dust, Lifting}},
			Step{ID: "wash", Says: "Hose the grids down, wet DE into a bag", Hint: "It must not go to a storm drain.", Care: []Care{Dust, Discharge}},
			Step{ID: "look", Says: "How are the grids?", Hint: "Cloth whole, frames straight, no bare patch.", Answers: []Answer{{ID: "torn", Says: "One is torn: a new one goes in", Part: "grid"}, {ID: "sound", Says: "Sound"}}},
			soaking(),
			Step{ID: "manifold-dry", Says: "Is the manifold still full, and dry outside?", Answers: []Answer{{ID: "wet", Says: "Wet or sunk: a new one goes in", Part: "manifold"}, {ID: "dry", Says: "Dry"}}},
			Step{ID: "assemble", Says: "Put the grids back in their order, the short one in its place", Hint: "Spacers in, old marks lined up, the rod snug only."},
			seats(), Step{ID: "cap", Says: "Dump cap hand-tight; fill the tank half with water", Why: "A full blow of air at the start throws grids about."}, closing(), startBled("re-"),
			Step{ID: "bare", Says: "Bare grids: set the speed of the first reading, wait, and read", Hint: "{speed} rpm. Clean water, minutes only: bare grids clog.", Read: Bare}, walk(Bare),
			mixDE("deFull"), pourDE(), after(), walk(Walk), holdFlow())},
	{ID: SandLook, Name: "Look into the sand", Aim: "Depth, channels and lumps, before anybody buys sand. Sand is never degreased or soaked in acid.", Minutes: 45, On: kindIs(pad.Sand), Mends: []fault.ID{fault.BedChannelled}, Narrows: []fault.ID{fault.MediaFouled},
		Care: []Care{Pressure, OffIsNot, Dust, Restart, Lifting}, Takes: []Take{{"Sand cleaner", "by its label"}, {Name: "Tank O-ring lubricant"}}, Steps: join(before(), opening(),
			Step{ID: "depth", Says: "Is the sand as deep as its maker's mark?", Hint: "About half the tank, room above it for the lift. Measure from the rim and note it.", Answers: []Answer{{ID: "low", Says: "Low: topped up now with No. 20 silica", Part: "sand"}, {ID: "right", Says: "Right"}}, Care: []Care{Dust}},
			Step{ID: "channels", Says: "Is the top level, without holes or lumps?", Hint: "A hole at the wall or the standpipe is where the water runs past. Break lumps by hand and rake it level: no tool near the laterals.", Answers: []Answer{{ID: "no", Says: "Channels or lumps: raked and broken"}, {ID: "yes", Says: "Level"}}},
			Step{ID: "greasy", Says: "Is it greasy, or caked deeper down?", Hint: "A handful from a hand's depth: clean sand runs through the fingers.", Answers: []Answer{{ID: "yes", Says: "Greasy: sand cleaner goes in, by its label"}, {ID: "no", Says: "It runs free"}}, Care: []Care{NeverMeet}},
			seats(), closing(), startBled("re-"), after(),
			Step{ID: "next", Says: "Backwash until clear, and read again", Hint: "With a sand cleaner in: after its label's time, pump off so long. No better: new sand."})},
	{ID: SandChange, Name: "Change the sand", Aim: "Old sand out, laterals whole, new sand in and washed: a new clean line.", Minutes: 180, Renews: [2]string{"Sand", "No. 20 silica"}, On: valveIs(pad.Multiport, pad.Sand), Work: "cleaned", Mends: []fault.ID{fault.MediaFouled, fault.BedChannelled, fault.MediaInPool}, Discharges: true,
		Care: []Care{Pressure, OffIsNot, Dust, Lifting, Discharge, Restart, DeadHead}, Takes: []Take{{"No. 20 silica, 0.45–0.55 mm", "{sandLb} lb, by the tank's label"}, {Name: "Mask"}, {Name: "Tank O-ring lubricant"}}, Steps: join(before(), opening(),
			Step{ID: "drain", Says: "Drain the tank by its plug", Hint: "The screen stays in the plug. Where this water goes the local rules say.", Care: []Care{Discharge}},
			Step{ID: "cover", Says: "Tape the standpipe shut, and scoop the old sand out", Hint: "By hand or wet vacuum, nothing levered against the pipe or the laterals. Keep it wet.", Care: []Care{Dust, Lifting}},
			Step{ID: "laterals", Says: "Are the laterals whole?", Hint: "Wash them, turn each a little: none cracked, none loose.", Why: "One broken lateral puts the new sand into the pool.", Answers: []Answer{{ID: "broken", Says: "One is broken: a new one goes in", Part: "lateral"}, {ID: "whole", Says: "Whole"}}},
			Step{ID: "plug", Says: "Plug in, and fill the tank half with water", Why: "It carries the sand's fall, so that the laterals live."},
			Step{ID: "fill", Says: "Mask on: pour the new sand in to its mark", Hint: "No. 20 silica, 0.45–0.55 mm, {sandLb} lb. The standpipe straight and shut, then its tape off.", Care: []Care{Dust, Lifting}},
			seats(), closed(), turn("to-backwash", pad.SetBackwash, "The fines of new sand go to waste, not to the pool."), deisolate("deisolate"), powerBack("power"),
			startBled("wash-"), Step{ID: "wash-speed", Says: "Now the working speed. Set {backSpeed} rpm.", Hint: backwashHint, Why: backwashWhy, Care: []Care{HoseEnd}}, washed("wash", Timer{Count: CountBackwash, Low: 120, High: 240, Most: 600}), pumpOff("off-2", "the handle moves"),
			turn("to-rinse", pad.SetRinse, rinseWhy),
			Step{ID: "rinse-on", Says: "Start the pump, gently. Set {rinseSpeed} rpm.", Care: []Care{HoseEnd}, Do: []Action{do(Start)}},
			Step{ID: "rinse", Says: "Rinse until the glass is clear", Timer: &Timer{Count: CountRinse, Low: 30, High: 60, Most: 180}, Care: []Care{HoseEnd}, Answers: glassAnswers("rinse")},
			pumpOff("off-3", "the handle moves"), turnBack("to-filter"),
			Step{ID: "on", Says: "Start the pump", Care: []Care{Restart}, Do: []Action{do(Start)}}, bleedOnce("Air that came in with the handle's turns leaves here."), after(), walk(Walk), holdFlow())},
}
