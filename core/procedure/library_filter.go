package procedure

import (
	"slices"
	"strconv"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/words"
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
var Library = slices.Concat(
	filterLibrary,
	mediaLibrary,
	pumpLibrary,
	suctionLibrary,
	waterLibrary,
	seasonLibrary,
	smallLibrary,
	repairLibrary,
)

func where() Step {
	return Step{ID: "where", Text: "procedure.where.says", Hint: "procedure.where.hint", Care: []Care{Discharge},
		Answers: []Answer{
			{ID: "no", Text: "procedure.where.no.says", Ends: true},
			{ID: "yes", Text: "procedure.where.yes.says"},
		}}
}

// backwashing are the steps from the hose to the pump that stands still.
func backwashing() []Step {
	return []Step{
		where(),
		{ID: "hose", Text: "procedure.hose.says", Care: []Care{HoseEnd}},
		pumpOff("off-1", handleMoves),
	}
}

// backwashRun runs water up through the media at the speed that works on this pad: a
// strong pump at full speed lifts the sand out of the tank. A glass is clear before any
// dirt comes: clear counts only after dirty.
func backwashRun(id string, clears Timer) []Step {
	on := washStart(Step{
		ID:   id + "-on",
		Text: "procedure.start-the-pump-set",
		Care: []Care{HoseEnd, DeadHead},
		Do:   []Action{do(Start)},
	})
	return append(on, washed(id, clears)...)
}

// washStart says why a wash runs at this pad's speed: what sand is lifted by, and what grids bear.
func washStart(s Step) []Step {
	sand, grids := s, s
	sand.Hint, sand.Why, sand.When = "procedure.wash-lifts", "procedure.too-slow-only-rearranges-the", kindIs(pad.Sand)
	grids.Hint, grids.Why, grids.When = "procedure.wash-keeps", "procedure.grids-tear", kindIs(pad.DE)
	return []Step{sand, grids}
}

// washed are the two looks at the glass.
func washed(id string, clears Timer) []Step {
	return []Step{
		{
			ID:    id + "-dirty",
			Text:  "procedure.has-the-sight-glass-turned",
			Hint:  "procedure.it-starts-clear-wait-for",
			Timer: &Timer{Count: CountBackwash, Low: 5, High: 30, Most: 120},
			Care:  []Care{HoseEnd},
			Answers: []Answer{
				{ID: "stays", Text: "procedure.stays.says", Glass: "clear"},
				{ID: "dirty", Text: "procedure.dirty.says", Glass: "dirty"},
			},
		},
		{
			ID:      id + "-clear",
			Text:    "procedure.is-the-sight-glass-clear",
			Hint:    "procedure.you-can-see-the-far",
			Timer:   &clears,
			Care:    []Care{HoseEnd},
			Answers: glassAnswers(id + "-clear"),
		},
	}
}

func glassAnswers(step string) []Answer {
	return []Answer{
		{ID: "not-yet", Text: "procedure.not-yet.says", To: step, Glass: "dirty"},
		{ID: "clear", Text: "procedure.clear.says", Glass: "clear"},
	}
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
		{
			ID:    "rinse",
			Text:  "procedure.rinse.says",
			Timer: &Timer{Count: CountRinse, Low: 10, High: 15, Most: 60},
			When:  isRinse("timed"),
			Care:  []Care{HoseEnd},
		},
		{
			ID:      "rinse-clear",
			Text:    "procedure.rinse-clear.says",
			Hint:    "procedure.rinse-clear.hint",
			Timer:   &Timer{Count: CountRinse, Low: 30, High: 60, Most: 120},
			When:    isRinse("clear"),
			Care:    []Care{HoseEnd},
			Answers: glassAnswers("rinse-clear"),
		},
	}
}

const rinseWhy words.Message = "procedure.it-settles-the-bed-and"

func bandClear() Step {
	return Step{
		ID:      "band",
		Text:    "procedure.band.says",
		Care:    []Care{OverLabel},
		Answers: []Answer{{ID: "yes", Text: "procedure.band.yes.says"}},
	}
}

func bleedOnce(why words.Message) Step {
	return Step{ID: "bleed", Text: "procedure.bleed.says", Why: why, Do: []Action{do(OpenBleed), do(CloseBleed)}}
}

// charge are the steps that lay DE on the grids, the pump running on filter and bled.
func mixDE(charge string) Step {
	text, hint := words.Message("procedure.mask-on-stir-of-de"), words.Message("procedure.level-one-pound-scoops-of")
	if charge == "deAfter" {
		text, hint = "procedure.mask-on-stir-of-de-2", "procedure.level-one-pound-scoops-of-2"
	}
	return Step{
		ID:   "mix",
		Text: text,
		Hint: hint,
		Why:  "procedure.mix.why",
		Care: []Care{Dust},
		Do:   []Action{do(MixSlurry)},
		When: kindIs(pad.DE),
	}
}

func pourDE() []Step {
	return []Step{
		{
			ID:   "pour",
			Text: "procedure.pour.says",
			Hint: "procedure.pour.hint",
			Care: []Care{Dust},
			Do:   []Action{do(PourDE)},
			When: kindIs(pad.DE),
		},
		{
			ID:    "settle",
			Text:  "procedure.settle.says",
			Timer: &Timer{Count: CountWait, Low: cakeLow, High: cakeHigh, Least: cakeLow},
			When:  kindIs(pad.DE),
		},
	}
}

var filterLibrary = []Procedure{
	{
		ID:         Backwash,
		Name:       "procedure.backwash.name",
		Aim:        "procedure.backwash.aim",
		Minutes:    10,
		On:         valveIs(pad.Multiport, pad.Sand),
		Item:       "clean-filter",
		Work:       "cleaned",
		Mends:      []fault.ID{fault.FilterLoaded},
		Discharges: true,
		Care: []Care{
			DeadHead,
			HoseEnd,
			Discharge,
		},
		Steps: join(
			before(),
			backwashing(),
			turn("to-backwash", pad.SetBackwash, "procedure.up-through-the-bed-and"),
			bandClear(),
			backwashRun("wash", oneWash),
			pumpOff("off-2", handleMoves),
			turn("to-rinse", pad.SetRinse, rinseWhy),
			Step{
				ID:   "rinse-on",
				Text: "procedure.backwash.rinse-on.says",
				Hint: "procedure.backwash.rinse-on.hint",
				Care: []Care{HoseEnd},
				Do:   []Action{do(Start)},
			},
			rinsing(),
			pumpOff("off-3", handleMoves),
			turnBack("to-filter"),
			Step{ID: "on", Text: "procedure.backwash.on.says", Care: []Care{Restart}, Do: []Action{do(Start)}},
			bleedOnce("procedure.air-that-came-in-with"),
			after(),
			holdFlow(),
		),
		Short: join(
			before(),
			where(),
			Step{
				ID:   "to-backwash",
				Text: "procedure.backwash.to-backwash.says",
				Hint: "procedure.backwash.to-backwash.hint",
				Care: []Care{DeadHead, HoseEnd},
				Do:   []Action{do(Stop), do(Turn, string(pad.SetBackwash))},
			},
			washStart(Step{
				ID:   "wash-on",
				Text: "procedure.backwash.wash-on.says",
				Care: []Care{HoseEnd, OverLabel},
				Do:   []Action{do(Start)},
			}),
			washed("wash", oneWash),
			Step{
				ID:   "to-rinse",
				Text: "procedure.backwash.to-rinse.says",
				Care: []Care{DeadHead},
				Do:   []Action{do(Stop), do(Turn, string(pad.SetRinse))},
			},
			Step{
				ID:   "rinse-on",
				Text: "procedure.backwash.rinse-on.says",
				Care: []Care{HoseEnd},
				Do:   []Action{do(Start)},
			},
			rinsing(),
			Step{
				ID:   "to-filter",
				Text: "procedure.backwash.to-filter.says",
				Care: []Care{DeadHead},
				Do:   []Action{do(Stop), do(Turn, string(pad.SetFilter))},
			},
			Step{
				ID:   "on",
				Text: "procedure.backwash.on.says-2",
				Care: []Care{Restart},
				Do:   []Action{do(Start), do(OpenBleed), do(CloseBleed)},
			},
			after(),
			holdFlow(),
		),
	},
	{
		ID:         BackwashDE,
		Name:       "procedure.backwash-de.name",
		Aim:        "procedure.backwash-de.aim",
		Minutes:    20,
		On:         valveIs(pad.Multiport, pad.DE),
		Item:       "clean-filter",
		Work:       "cleaned",
		Mends:      []fault.ID{fault.FilterLoaded},
		Discharges: true,
		Care: []Care{
			DeadHead,
			Dust,
			Discharge,
			HoseEnd,
		},
		Takes: []Take{{"procedure.de-powder", "procedure.de-after"}},
		Steps: join(
			before(),
			backwashing(),
			turn("to-backwash", pad.SetBackwash, "procedure.off-the-grids-and-out"),
			backwashRun(
				"wash",
				oneWash,
			),
			pumpOff("off-2", handleMoves),
			turn("to-rinse", pad.SetRinse, "procedure.a-few-seconds-clear-the"),
			Step{
				ID:   "rinse-on",
				Text: "procedure.backwash-de.rinse-on.says",
				Care: []Care{HoseEnd},
				Do:   []Action{do(Start)},
			},
			Step{
				ID:    "rinse",
				Text:  "procedure.backwash-de.rinse.says",
				Timer: &Timer{Count: CountRinse, Low: 5, High: 10, Most: 30},
				Care:  []Care{HoseEnd},
			},
			pumpOff("off-3", handleMoves),
			turnBack("to-filter"),
			mixDE("deAfter"),
			Step{ID: "on", Text: "procedure.backwash-de.on.says", Care: []Care{Restart, Dust}, Do: []Action{do(Start)}},
			bleedOnce("procedure.air-left-on-top-keeps"),
			pourDE(),
			after(),
			holdFlow(),
		),
	},
	{
		ID:         BackwashSlide,
		Name:       "procedure.backwash-slide.name",
		Aim:        "procedure.backwash-slide.aim",
		Minutes:    15,
		On:         valveIs(pad.SlideValve, pad.Sand, pad.DE),
		Item:       "clean-filter",
		Work:       "cleaned",
		Mends:      []fault.ID{fault.FilterLoaded},
		Discharges: true,
		Care: []Care{
			DeadHead,
			HoseEnd,
			Discharge,
		},
		Takes: []Take{{"procedure.de-powder", "procedure.de-after"}},
		Steps: join(
			before(),
			backwashing(),
			Step{
				ID:   "to-backwash",
				Text: "procedure.backwash-slide.to-backwash.says",
				Do:   []Action{do(Turn, string(pad.SetBackwash))},
				Why:  "procedure.backwash-slide.to-backwash.why",
			},
			washStart(Step{
				ID:   "wash-on",
				Text: "procedure.backwash-slide.wash-on.says",
				Care: []Care{HoseEnd, DeadHead},
				Do:   []Action{do(Start)},
			}),
			Step{
				ID:    "wash",
				Text:  "procedure.backwash-slide.wash.says",
				Timer: &shortCycle,
				Care:  []Care{HoseEnd},
			},
			pumpOff("off-2", slideMoves),
			Step{
				ID:   "back",
				Text: "procedure.backwash-slide.back.says",
				Hint: "procedure.backwash-slide.back.hint",
				Do:   []Action{do(Turn, string(pad.SetFilter))},
			},
			Step{
				ID:   "short-on",
				Text: "procedure.backwash-slide.short-on.says",
				Hint: "procedure.backwash-slide.short-on.hint",
				Care: []Care{Restart},
				Do:   []Action{do(Start)},
			},
			Step{
				ID:    "short",
				Text:  "procedure.backwash-slide.short.says",
				Timer: &Timer{Count: CountWait, Low: 10, High: 20, Most: 60},
			},
			pumpOff("off-3", slideMoves),
			Step{
				ID:   "again",
				Text: "procedure.backwash-slide.again.says",
				Hint: "procedure.backwash-slide.again.hint",
				Answers: []Answer{
					{ID: "dirty", Text: "procedure.backwash-slide.again.dirty.says", To: "to-backwash", Glass: "dirty"},
					{ID: "clear", Text: "procedure.backwash-slide.again.clear.says", Glass: "clear"},
				},
			},
			mixDE("deAfter"),
			Step{ID: "on", Text: "procedure.backwash-slide.on.says", Care: []Care{Restart}, Do: []Action{do(Start)}},
			bleedOnce("procedure.air-left-on-top-keeps-2"),
			pourDE(),
			after(),
			holdFlow(),
		),
	},
	{
		ID:      HoseOff,
		Name:    "procedure.hose-off.name",
		Aim:     "procedure.hose-off.aim",
		Minutes: 30,
		On:      kindIs(pad.Cartridge),
		Item:    "clean-filter",
		Work:    "cleaned",
		Mends:   []fault.ID{fault.FilterLoaded},
		Care: []Care{
			Pressure,
			OffIsNot,
			Restart,
			Lifting,
		},
		Takes: []Take{{Name: "procedure.hose-off.name-2"}},
		Steps: join(
			before(),
			opening(),
			Step{ID: "lift", Text: "procedure.hose-off.lift.says", Care: []Care{Lifting}},
			Step{
				ID:   "look",
				Text: "procedure.hose-off.look.says",
				Hint: "procedure.hose-off.look.hint",
				Answers: []Answer{
					{ID: "worn", Text: "procedure.hose-off.look.worn.says", Part: "cartridge"},
					{ID: "sound", Text: "procedure.hose-off.look.sound.says"},
				},
			},
			Step{
				ID:   "wash",
				Text: "procedure.hose-off.wash.says",
				Hint: "procedure.hose-off.wash.hint",
				Why:  "procedure.hose-off.wash.why",
			},
			seats(),
			Step{ID: "seat", Text: "procedure.hose-off.seat.says", Why: "procedure.hose-off.seat.why"},
			closing(),
			startBled("re-"),
			Step{
				ID:   "retight",
				Text: "procedure.hose-off.retight.says",
				Answers: []Answer{
					{
						ID:   "wet",
						Text: "procedure.hose-off.retight.wet.says",
						Do:   []Action{do(Stop), do(LockOff)},
						Ends: true,
					},
					{ID: "dry", Text: "procedure.hose-off.retight.dry.says"},
				},
			},
			after(),
			holdFlow(),
		),
	},
	{
		ID:      CleanLine,
		Name:    "procedure.clean-line.name",
		Aim:     "procedure.clean-line.aim",
		Minutes: 12,
		On:      func(s *Setup) bool { return s.Figures["walk2"] != "" },
		Item:    "clean-line",
		Care:    []Care{ClosedPool},
		Steps: join(
			Step{
				ID:   "clean",
				Text: "procedure.clean-line.clean.says",
				Answers: []Answer{
					{ID: "no", Text: "procedure.clean-line.clean.no.says", Ends: true},
					{ID: "yes", Text: "procedure.clean-line.clean.yes.says"},
				},
			},
			Step{
				ID:    "top",
				Text:  "procedure.clean-line.top.says",
				Hint:  "procedure.clean-line.top.hint",
				Read:  Walk,
				Speed: "walkTop",
				Do:    []Action{do(SetSpeed)},
			},
			walk(Walk),
		),
	},
	{
		ID:      AroundFilter,
		Name:    "procedure.around-the-filter.name",
		Aim:     "procedure.around-the-filter.aim",
		Minutes: 8,
		On:      valveIs(pad.Multiport),
		Narrows: []fault.ID{fault.TankLeak},
		Care:    []Care{DeadHead, Pressure},
		Ends: func(r *Rig, s State) bool {
			s.Setting = pad.SetFilter
			return r.Unlike(s) == ""
		},
		Steps: join(
			pumpOff("off", handleMoves),
			turn("to-recirculate", pad.SetRecirculate, "procedure.past-the-tank-and-back"),
			Step{
				ID:   "on",
				Text: "procedure.around-the-filter.on.says",
				Care: []Care{DeadHead},
				Do:   []Action{do(Start)},
			},
			Step{
				ID:   "dry",
				Text: "procedure.around-the-filter.dry.says",
				Hint: "procedure.around-the-filter.dry.hint",
				Care: []Care{Pressure},
				Answers: []Answer{
					{
						ID:   "no",
						Text: "procedure.around-the-filter.dry.no.says",
						Do:   []Action{do(Stop), do(LockOff)},
						Ends: true,
					},
					{ID: "yes", Text: "procedure.around-the-filter.dry.yes.says"},
				},
			},
			Step{
				ID:   "tag",
				Text: "procedure.around-the-filter.tag.says",
				Hint: "procedure.around-the-filter.tag.hint",
				Why:  "procedure.around-the-filter.tag.why",
			},
		),
	},
}

// Lifts tells whether a procedure lifts a bed of sand: then the water's temperature
// counts.
func (p *Procedure) Lifts(r *Rig) bool {
	return r.Kind == pad.Sand && (p.ID == Backwash || p.ID == BackwashSlide || p.ID == SandChange)
}

// walk are readings at the other speeds of a clean line, as many as this pump has.
func walk(phase Phase) []Step {
	var out []Step
	for i, text := range []words.Message{"procedure.set-wait-until-the-needle", "procedure.set-wait-until-the-needle-2", "procedure.set-wait-until-the-needle-3"} {
		n := strconv.Itoa(i + 1)
		at := "walk" + n
		out = append(
			out,
			Step{
				ID:    string(phase) + "-" + n,
				Text:  text,
				Read:  phase,
				Speed: at,
				Do:    []Action{do(SetSpeed)},
				When:  func(s *Setup) bool { return s.Figures[at] != "" },
			},
		)
	}
	return out
}

// opening are the steps until the tank stands open.
func opening() []Step {
	return join(
		pumpOff("off", "procedure.the-tank-is-opened"),
		lockOff("lock"),
		isolate("isolate"),
		openBleed("open-bleed"),
		relieved("relieved"),
		Step{ID: "open", Text: "procedure.open.says", Care: []Care{Pressure}, Do: []Action{do(OpenTank)}},
	)
}

func seats() Step {
	return Step{ID: "seats", Text: "procedure.seats.says", Hint: "procedure.seats.hint", Why: "procedure.seats.why",
		Answers: []Answer{
			{
				ID:   "worn",
				Text: "procedure.seats.worn.says",
				Part: "tank-o-ring",
				Do:   []Action{do(CloseTank)},
				Ends: true,
			},
			{ID: "new", Text: "procedure.seats.new.says"},
			{ID: "whole", Text: "procedure.seats.whole.says"},
		}}
}

func closed() Step {
	return Step{
		ID:   "close",
		Text: "procedure.close.says",
		Hint: "procedure.close.hint",
		Care: []Care{Pressure},
		Do:   []Action{do(CloseTank)},
	}
}

// closing are the steps until the power is back.
func closing() []Step { return join(closed(), deisolate("deisolate"), powerBack("power")) }
