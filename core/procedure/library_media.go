package procedure

import (
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/words"
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
func drainTest(id string, text words.Message) Step {
	return Step{
		ID:    id,
		Text:  text,
		Hint:  "procedure.a-new-one-of-its",
		Why:   "procedure.before-and-after-say-whether",
		Timer: &Timer{Count: CountDrain, Low: 5, High: 30, Most: 600, Least: drainLeast},
	}
}

// soaking are the two baths, the elements out of the tank.
func soaking() []Step {
	return []Step{
		drainTest("drain-before", "procedure.drain-test-before-fill-the"),
		{ID: "bath-1", Text: "procedure.bath-1.says", Hint: "procedure.bath-1.hint", Do: []Action{do(BathWater)}},
		{
			ID:   "degrease",
			Text: "procedure.degrease.says",
			Hint: "procedure.degrease.hint",
			Why:  "procedure.degrease.why",
			Do:   []Action{do(AddDegrease)},
			Care: []Care{NeverMeet},
		},
		{
			ID:   "manifold",
			Text: "procedure.manifold.says",
			Hint: "procedure.manifold.hint",
			Why:  "procedure.manifold.why",
			When: kindIs(pad.DE),
		},
		{
			ID:    "degreasing",
			Text:  "procedure.degreasing.says",
			Hint:  "procedure.degreasing.hint",
			Timer: &Timer{Count: CountWait, Low: 7200, High: 10800, Least: 7200},
		},
		{ID: "empty-1", Text: "procedure.empty-1.says", Care: []Care{NeverMeet}, Do: []Action{do(EmptyBath)}},
		{
			ID:   "rinse-1",
			Text: "procedure.rinse-1.says",
			Hint: "procedure.rinse-1.hint",
			Why:  "procedure.rinse-1.why",
			Care: []Care{NeverMeet},
			Do:   []Action{do(RinseOff)},
		},
		{
			ID:   "scale",
			Text: "procedure.scale.says",
			Hint: "procedure.scale.hint",
			Answers: []Answer{
				{ID: "no", Text: "procedure.scale.no.says", To: "drain-after"},
				{ID: "yes", Text: "procedure.scale.yes.says"},
			},
		},
		{
			ID:   "bath-2",
			Text: "procedure.bath-2.says",
			Hint: "procedure.bath-2.hint",
			Care: []Care{AcidCare},
			Do:   []Action{do(BathWater)},
		},
		{
			ID:   "acid",
			Text: "procedure.acid.says",
			Hint: "procedure.acid.hint",
			Care: []Care{AcidCare, NeverMeet, Fumes},
			Do:   []Action{do(AddAcid)},
		},
		{
			ID:    "bubbling",
			Text:  "procedure.bubbling.says",
			Hint:  "procedure.bubbling.hint",
			Timer: &Timer{Count: CountWait, Low: 600, High: 7200, Most: 14400, Least: 600},
			Care:  []Care{AcidCare},
			Answers: []Answer{
				{ID: "bubbles", Text: "procedure.bubbling.bubbles.says", To: "bubbling"},
				{ID: "still", Text: "procedure.bubbling.still.says"},
			},
		},
		{ID: "empty-2", Text: "procedure.empty-2.says", Care: []Care{NeverMeet, AcidCare}, Do: []Action{do(EmptyBath)}},
		{ID: "rinse-2", Text: "procedure.rinse-2.says", Care: []Care{AcidCare}, Do: []Action{do(RinseOff)}},
		drainTest("drain-after", "procedure.drain-test-after-fill-the"),
		{
			ID:      "keep",
			Text:    "procedure.keep.says",
			Hint:    keepHint,
			Recalls: CountDrain,
			Answers: []Answer{
				{
					ID:   "replace",
					Text: "procedure.keep.replace.says",
					Sign: fault.SlowDrainTest,
					Yes:  true,
					Part: "element",
				},
				{ID: "keep", Text: "procedure.keep.keep.says", Sign: fault.SlowDrainTest},
			},
		},
	}
}

const keepHint words.Message = "procedure.near-a-new-element-s"

var soakTakes = []Take{
	{"procedure.degreaser", "procedure.for-by-its-label"},
	{"procedure.muriatic-acid", "procedure.acid-amount"},
	{Name: "procedure.tank-o-ring-lubricant"},
	{Name: "procedure.dry-paper-towels"},
}

var mediaLibrary = []Procedure{
	{
		ID:      Soaking,
		Name:    "procedure.soak.name",
		Aim:     "procedure.soak.aim",
		Minutes: 60,
		On:      kindIs(pad.Cartridge),
		Work:    "cleaned",
		Item:    "thorough-clean",
		Mends:   []fault.ID{fault.MediaFouled},
		Care: []Care{
			Pressure,
			OffIsNot,
			AcidCare,
			NeverMeet,
			Fumes,
			Lifting,
			Restart,
		},
		Takes:  soakTakes,
		Checks: []fault.Sign{fault.SlowDrainTest},
		Steps: join(
			before(),
			opening(),
			Step{ID: "lift", Text: "procedure.soak.lift.says", Care: []Care{Lifting}},
			soaking(),
			seats(),
			Step{ID: "seat", Text: "procedure.soak.seat.says"},
			closing(),
			startBled("re-"),
			after(),
			holdFlow(),
		),
	},
	{
		ID:      TearDown,
		Name:    "procedure.tear-down.name",
		Aim:     "procedure.tear-down.aim",
		Minutes: 120,
		On:      kindIs(pad.DE),
		Item:    "tear-down",
		Work:    "cleaned",
		Mends:   []fault.ID{fault.MediaFouled},
		Care: []Care{
			Pressure,
			OffIsNot,
			Dust,
			AcidCare,
			NeverMeet,
			Fumes,
			Restart,
			Lifting,
		},
		Takes:  append([]Take{{"procedure.de-powder", "procedure.de-full"}}, soakTakes...),
		Checks: []fault.Sign{fault.SlowDrainTest},
		Steps: join(
			before(),
			opening(),
			Step{
				ID:   "order",
				Text: "procedure.tear-down.order.says",
				Hint: "procedure.tear-down.order.hint",
				Care: []Care{Dust, Lifting},
			},
			Step{
				ID:   "wash",
				Text: "procedure.tear-down.wash.says",
				Hint: "procedure.tear-down.wash.hint",
				Care: []Care{Dust, Discharge},
			},
			Step{
				ID:   "look",
				Text: "procedure.tear-down.look.says",
				Hint: "procedure.tear-down.look.hint",
				Answers: []Answer{
					{ID: "torn", Text: "procedure.tear-down.look.torn.says", Part: "grid"},
					{ID: "sound", Text: "procedure.tear-down.look.sound.says"},
				},
			},
			soaking(),
			Step{
				ID:   "manifold-dry",
				Text: "procedure.tear-down.manifold-dry.says",
				Answers: []Answer{
					{ID: "wet", Text: "procedure.tear-down.manifold-dry.wet.says", Part: "manifold"},
					{ID: "dry", Text: "procedure.tear-down.manifold-dry.dry.says"},
				},
			},
			Step{ID: "assemble", Text: "procedure.tear-down.assemble.says", Hint: "procedure.tear-down.assemble.hint"},
			seats(),
			Step{ID: "cap", Text: "procedure.tear-down.cap.says", Why: "procedure.tear-down.cap.why"},
			closing(),
			startBled("re-"),
			Step{
				ID:   "bare",
				Text: "procedure.tear-down.bare.says",
				Hint: "procedure.tear-down.bare.hint",
				Read: Bare,
			},
			walk(Bare),
			mixDE("deFull"),
			pourDE(),
			after(),
			walk(Walk),
			holdFlow(),
		),
	},
	{
		ID:      SandLook,
		Name:    "procedure.sand-look.name",
		Aim:     "procedure.sand-look.aim",
		Minutes: 45,
		On:      kindIs(pad.Sand),
		Mends:   []fault.ID{fault.BedChannelled},
		Narrows: []fault.ID{fault.MediaFouled},
		Care: []Care{
			Pressure,
			OffIsNot,
			Dust,
			Restart,
			Lifting,
		},
		Takes: []Take{{"procedure.sand-cleaner", "procedure.by-its-label"}, {Name: "procedure.sand-look.name-2"}},
		Steps: join(
			before(),
			opening(),
			Step{
				ID:   "depth",
				Text: "procedure.sand-look.depth.says",
				Hint: "procedure.sand-look.depth.hint",
				Answers: []Answer{
					{ID: "low", Text: "procedure.sand-look.depth.low.says", Part: "sand"},
					{ID: "right", Text: "procedure.sand-look.depth.right.says"},
				},
				Care: []Care{Dust},
			},
			Step{
				ID:   "channels",
				Text: "procedure.sand-look.channels.says",
				Hint: "procedure.sand-look.channels.hint",
				Answers: []Answer{
					{ID: "no", Text: "procedure.sand-look.channels.no.says"},
					{ID: "yes", Text: "procedure.sand-look.channels.yes.says"},
				},
			},
			Step{
				ID:   "greasy",
				Text: "procedure.sand-look.greasy.says",
				Hint: "procedure.sand-look.greasy.hint",
				Answers: []Answer{
					{ID: "yes", Text: "procedure.sand-look.greasy.yes.says"},
					{ID: "no", Text: "procedure.sand-look.greasy.no.says"},
				},
				Care: []Care{NeverMeet},
			},
			seats(),
			closing(),
			startBled("re-"),
			after(),
			Step{ID: "next", Text: "procedure.sand-look.next.says", Hint: "procedure.sand-look.next.hint"},
		),
	},
	{
		ID:         SandChange,
		Name:       "procedure.sand-change.name",
		Aim:        "procedure.sand-change.aim",
		Minutes:    180,
		Renews:     [2]string{"sand", "No. 20 silica"},
		On:         valveIs(pad.Multiport, pad.Sand),
		Work:       "cleaned",
		Mends:      []fault.ID{fault.MediaFouled, fault.BedChannelled, fault.MediaInPool},
		Discharges: true,
		Care: []Care{
			Pressure,
			OffIsNot,
			Dust,
			Lifting,
			Discharge,
			Restart,
			DeadHead,
		},
		Takes: []Take{
			{"procedure.no-20-silica-0-45", "procedure.by-the-tank-s-label"},
			{Name: "procedure.sand-change.name-2"},
			{Name: "procedure.sand-change.name-3"},
		},
		Steps: join(
			before(),
			where(),
			opening(),
			Step{
				ID:   "drain",
				Text: "procedure.sand-change.drain.says",
				Hint: "procedure.sand-change.drain.hint",
				Care: []Care{Discharge},
			},
			Step{
				ID:   "cover",
				Text: "procedure.sand-change.cover.says",
				Hint: "procedure.sand-change.cover.hint",
				Care: []Care{Dust, Lifting},
			},
			Step{
				ID:   "laterals",
				Text: "procedure.sand-change.laterals.says",
				Hint: "procedure.sand-change.laterals.hint",
				Why:  "procedure.sand-change.laterals.why",
				Answers: []Answer{
					{ID: "broken", Text: "procedure.sand-change.laterals.broken.says", Part: "lateral"},
					{ID: "whole", Text: "procedure.sand-change.laterals.whole.says"},
				},
			},
			Step{ID: "plug", Text: "procedure.sand-change.plug.says", Why: "procedure.sand-change.plug.why"},
			Step{
				ID:   "fill",
				Text: "procedure.sand-change.fill.says",
				Hint: "procedure.sand-change.fill.hint",
				Care: []Care{Dust, Lifting},
			},
			seats(),
			closed(),
			Step{ID: "hose", Text: "procedure.hose.says", Care: []Care{HoseEnd}},
			turn("to-backwash", pad.SetBackwash, "procedure.the-fines-of-new-sand"),
			deisolate("deisolate"),
			powerBack("power"),
			washStart(Step{
				ID:   "wash-speed",
				Text: "procedure.sand-change.wash-speed.says",
				Care: []Care{HoseEnd},
				Do:   []Action{do(SetSpeed)},
			}),
			startBled(
				"wash-",
			),
			washed("wash", Timer{Count: CountBackwash, Low: 120, High: 240, Most: 600}),
			pumpOff("off-2", handleMoves),
			turn("to-rinse", pad.SetRinse, rinseWhy),
			Step{
				ID:   "rinse-on",
				Text: "procedure.sand-change.rinse-on.says",
				Care: []Care{HoseEnd},
				Do:   []Action{do(Start)},
			},
			Step{
				ID:      "rinse",
				Text:    "procedure.sand-change.rinse.says",
				Timer:   &Timer{Count: CountRinse, Low: 30, High: 60, Most: 180},
				Care:    []Care{HoseEnd},
				Answers: glassAnswers("rinse"),
			},
			pumpOff("off-3", handleMoves),
			turnBack("to-filter"),
			Step{
				ID:   "on",
				Text: "procedure.sand-change.on.says",
				Care: []Care{Restart},
				Do:   []Action{do(Start)},
			},
			bleedOnce("procedure.air-that-came-in-with"),
			after(),
			walk(Walk),
			holdFlow(),
		),
	},
}
