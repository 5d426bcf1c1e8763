package diagnosis

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/words"
)

type signs = map[fault.Sign]bool

// run reads every meter of a pad in a setting under effects.
func run(t testing.TB, m *plumbing.Model, rpm float64, set pad.Setting, e plumbing.Effects) Reading {
	op := pad.Operation{Speed: units.Speed(rpm), Setting: set}
	if set == SpaMode {
		op.Setting = pad.SetFilter
		op.Handles, _ = m.Doc.SpaMode()
	}
	st, err := m.Solver().Solve(op, e)
	require.NoError(t, err)
	return Reading{
		Reading: pad.Reading{
			Speed:  units.Speed(rpm),
			Tank:   &st.Tank,
			Vacuum: &st.Vacuum,
			Flow:   &st.Flow,
			Power:  &st.Power,
		},
		Setting: set,
	}
}

// Every fault of the catalogue that the first test leaves out wins with what it
// does and shows, and none is thought of on a quiet pad.
func TestTheRestOfTheCatalogueWinsAndLoses(t *testing.T) {
	whole, little := everything(t), small(t)
	none := plumbing.Effects{}
	for id, c := range map[fault.ID]struct {
		e     plumbing.Effects
		signs signs
	}{
		fault.SuctionLine: {plumbing.Effects{SuctionExtra: 60},
			signs{fault.SpaFine: true, fault.SkimmerFull: false, fault.BasketFull: false, fault.HandleWrong: false,
				fault.NoPull: true, fault.Storm: false, fault.WorkedHere: false}},
		fault.AirUpstream: {plumbing.Effects{Air: 0.1},
			signs{fault.AirInPot: true, fault.FoamDents: true, fault.LidTestHolds: false, fault.DripOutlet: false,
				fault.DripInlet: false, fault.LevelLow: false, fault.SpaFine: true, fault.PotDrains: true}},
		fault.DrainBack: {none, signs{fault.PotDrains: true, fault.BackWhenOff: true, fault.AirInPot: false,
			fault.Bubbles: false}},
		fault.MotorHums:   {plumbing.Effects{Stopped: true}, signs{fault.Hums: true}},
		fault.NoPower:     {plumbing.Effects{Stopped: true}, signs{fault.Silent: true}},
		fault.MotorHot:    {none, signs{fault.CutsOut: true, fault.NoVents: true}},
		fault.SealLeak:    {none, signs{fault.DripSeal: true}},
		fault.HousingLeak: {none, signs{fault.DripSeam: true}},
		fault.OutletLeak:  {none, signs{fault.DripOutlet: true, fault.AirInPot: false}},
		fault.Cavitation: {plumbing.Effects{HeadLost: 0.06},
			signs{fault.Gravel: true, fault.BasketFull: false, fault.HandleWrong: false}},
		fault.SpeedLow:      {none, signs{fault.SpeedOff: true}},
		fault.WrongMode:     {none, signs{fault.ModeOff: true}},
		fault.MediaInPool:   {plumbing.Effects{Past: 0.25}, signs{fault.MediaSeen: true, fault.WasteWet: false}},
		fault.ValveGasket:   {plumbing.Effects{Past: 0.28}, signs{fault.WasteWet: true, fault.FilterValveOff: false}},
		fault.ValvePosition: {plumbing.Effects{Setting: pad.SetRecirculate}, signs{fault.FilterValveOff: true}},
		fault.TankLeak:      {none, signs{fault.DripBand: true}},
		fault.CheckValveStuck: {plumbing.Effects{ReturnLine: -1, ReturnExtra: 25},
			signs{fault.HandleWrong: false, fault.WeakOne: false, fault.BackWhenOff: true}},
		fault.BypassOpen: {plumbing.Effects{HeaterBypass: 1},
			signs{fault.HeaterCrackles: true, fault.HandleWrong: true}},
		fault.SpaDraining: {plumbing.Effects{SpaSuction: pad.SpaBody, SpaReturn: pad.PoolBody},
			signs{fault.SpaFalling: true, fault.HandleWrong: true}},
		fault.SpaFilling: {plumbing.Effects{SpaSuction: pad.PoolBody, SpaReturn: pad.SpaBody},
			signs{fault.SpaRising: true, fault.HandleWrong: true}},
		fault.LeftInSpa: {plumbing.Effects{SpaSuction: pad.SpaBody, SpaReturn: pad.SpaBody},
			signs{fault.WaterDull: true, fault.HandleWrong: true, fault.SpaFalling: false}},
		fault.AirlockSmall: {plumbing.Effects{Air: 0.9, HeadLost: 0.6},
			signs{fault.PotNotFull: true, fault.WorkedHere: true, fault.BasketFull: false, fault.DebrisFound: false}},
	} {
		f, ok := fault.LookUp(id, pad.Sand)
		require.True(t, ok, id)
		m := padThatHas(&f, whole, little)
		require.NotNil(t, m, id)
		e := c.e
		e.Load = 0.3
		r := diagnose(t, m, Belief{Mean: 0.3, SD: 0.15}, c.signs, all(t, m, 2750, e))
		assert.Equal(t, id, first(r), "%s: %s", id, show(r))
		quiet := diagnose(t, m, Belief{Mean: 0.3, SD: 0.15}, nil, all(t, m, 2750, plumbing.Effects{Load: 0.3}))
		assert.Less(t, chance(quiet, id), 0.05, "%s on a sound pad", id)
		// A pad that can't have it never names it.
		if bare := calibrated(t, pad.DE); len(f.Places(&bare.Doc)) == 0 {
			assert.Zero(t, chance(diagnose(t, bare, midCycle, c.signs), id), id)
		}
	}
}

// Each sign speaks for or against some fault.
func TestEverySignSaysSomething(t *testing.T) {
	named := map[fault.Sign]bool{}
	for _, f := range fault.Catalogue {
		for s, p := range f.Signs {
			if fact, _ := fault.LookUpSign(s); p != fact.Base {
				named[s] = true
			}
		}
		for _, d := range []pad.Document{everything(t).Doc, small(t).Doc} {
			for _, pl := range f.Places(&d) {
				for s := range pl.Signs {
					named[s] = true
				}
			}
		}
	}
	for _, s := range fault.Signs {
		if s.Air || s.FromState || s.Danger != "" || s.Seen() ||
			s.ID == fault.ChemicalsWithin { // chemicals hold a cleaning, they explain nothing
			continue
		}
		assert.True(t, named[s.ID], "no fault shows %s", s.ID)
	}
}

// Common practice: a pot full of air, pressure near zero and a clean basket is
// the impeller nine times in ten, among the causes with the pump running; when
// the spa's own suction runs fine it is the pool's line.
func TestAirAndNoPressureThenTheOtherSuction(t *testing.T) {
	m := everything(t)
	clogged := plumbing.Effects{CapacityLost: 0.9, Load: 0.3}
	seen := signs{fault.AirInPot: true, fault.BasketFull: false}
	r := diagnose(t, m, midCycle, seen, run(t, m, 2750, pad.SetFilter, clogged))
	assert.Equal(t, fault.ImpellerClogged, first(r), show(r))
	assert.Greater(t, chance(r, fault.ImpellerClogged), 0.75, show(r))
	just := diagnose(t, m, midCycle, seen, run(t, m, 2750, pad.SetFilter, clogged), run(t, m, 2750, SpaMode, clogged))
	assert.Equal(t, fault.ImpellerClogged, first(just), "just as weak on the spa: %s", show(just))

	line := plumbing.Effects{SuctionExtra: 400, Load: 0.3}
	fine := diagnose(
		t,
		m,
		midCycle,
		signs{fault.BasketFull: false, fault.HandleWrong: false},
		run(t, m, 2750, pad.SetFilter, line),
		run(t, m, 2750, SpaMode, line),
	)
	pool := chance(fine, fault.SuctionLine) + chance(fine, fault.SkimmerBlocked) + chance(fine, fault.SuctionValve)
	assert.Greater(t, pool, 0.9, "fine on the spa: it is on the pool's side: %s", show(fine))
	looked := diagnose(
		t,
		m,
		midCycle,
		signs{
			fault.BasketFull:  false,
			fault.HandleWrong: false,
			fault.Storm:       false,
			fault.NoPull:      true,
			fault.Slurping:    false,
			fault.SpaFine:     true,
		},
		run(t, m, 2750, pad.SetFilter, line),
		run(t, m, 2750, SpaMode, line),
	)
	assert.Less(t, chance(looked, fault.ImpellerClogged), 0.01)
	_, err := Diagnose(
		Case{
			Model:    small(t),
			Load:     midCycle,
			Readings: []Reading{{Reading: pad.Reading{Speed: 2000}, Setting: SpaMode}},
		},
	)
	assert.ErrorContains(t, err, "no valves", "a pad without a spa has no spa mode")
}

// Common practice: the lid test parts the lid from the inlet fitting.
func TestTheLidTestPartsLidAndFitting(t *testing.T) {
	m := everything(t)
	air := run(t, m, 2750, pad.SetFilter, plumbing.Effects{Air: 0.1, Load: 0.3})
	base := signs{fault.AirInPot: true, fault.PotDrains: true, fault.LevelLow: false}
	with := func(more signs) *Result {
		all := signs{}
		for _, m := range []signs{base, more} {
			for k, v := range m {
				all[k] = v
			}
		}
		return diagnose(t, m, midCycle, all, air)
	}
	assert.Equal(t, fault.AirLid, first(with(signs{fault.LidTestHolds: true})))
	assert.Equal(t, fault.AirInlet, first(with(signs{fault.LidTestHolds: false})))
	assert.Equal(
		t,
		fault.AirInlet,
		first(with(signs{fault.LidTestHolds: false, fault.DripOutlet: true})),
		"an outlet that drips was cooked with the inlet",
	)
}

// Common practice: a hum without a turn is a jam before a capacitor, and
// electrical work is deferred.
func TestAHumIsAJamBeforeACapacitor(t *testing.T) {
	m := everything(t)
	r := diagnose(t, m, midCycle, signs{fault.Hums: true})
	assert.Equal(t, fault.MotorHums, first(r), show(r))
	assert.Contains(t, say(r.Suspects[0].Fault.Settle), "jammed")
	assert.Equal(t, "impeller jammed", say(r.Suspects[0].Place), "the jam comes first")
	require.NotEmpty(t, r.Next)
	assert.Equal(t, fault.ShaftFree, r.Next[0].Sign.ID, "it has its power: the shaft first")
	for _, c := range r.Next {
		assert.NotEqual(t, fault.ResetRuns, c.Sign.ID, "and no reset")
	}
	free := diagnose(t, m, midCycle, signs{fault.Hums: true, fault.ResetRuns: false, fault.ShaftFree: true})
	assert.Equal(t, "start capacitor or bearings", say(free.Suspects[0].Place), show(free))
	assert.Equal(t, fault.Electrician, free.Suspects[0].Fault.Who, "a licensed trade's")
}

func indexIn(s, part string) int {
	for i := 0; i+len(part) <= len(s); i++ {
		if s[i:i+len(part)] == part {
			return i
		}
	}
	return -1
}

// Common practice: cleaned yesterday, pressure back high, the element drains
// slowly: fouled media; degreaser first, then acid, rinsed between.
func TestFouledMediaIsSoakedInTheRightOrder(t *testing.T) {
	m := calibrated(t, pad.Cartridge)
	r := diagnose(
		t,
		m,
		justCleaned,
		signs{fault.SlowDrainTest: true, fault.WeakOne: false},
		run(t, m, 2750, pad.SetFilter, plumbing.Effects{Load: 1}),
	)
	assert.Equal(t, fault.MediaFouled, first(r), show(r))
	fix := say(r.Suspects[0].Fault.Fix)
	assert.Less(t, indexIn(fix, "degreaser"), indexIn(fix, "acid"))
	assert.Contains(t, fix, "rinse")
	assert.Contains(t, say(r.Suspects[0].Fault.Caution), "never meet")
	// Sand whose backwashes come ever sooner is old sand.
	sand := calibrated(t, pad.Sand)
	old := diagnose(
		t,
		sand,
		justCleaned,
		signs{fault.ShorterCycles: true},
		run(t, sand, 2750, pad.SetFilter, plumbing.Effects{Load: 0.7}),
	)
	assert.Equal(t, fault.MediaFouled, first(old), show(old))
}

func finding(r *Result, id fault.ID) *Finding {
	for i := range r.Chronic {
		if r.Chronic[i].Fault.ID == id {
			return &r.Chronic[i]
		}
	}
	return nil
}

// Common practice: cartridges that die in three months behind a strong pump mean
// the pump; a heater that crackles means its bypass or its flow; a cell without
// flow at the night speed means the speed.
func TestChronicFindingsStandBesideTheSuspects(t *testing.T) {
	d := document(pad.Cartridge)
	d.Filter.AreaFt2, d.Programme = 50, []pad.Slot{{StartHour: 8, Hours: 8, RPM: 3450}}
	strong := fitted(t, d)
	r := diagnose(
		t,
		strong,
		midCycle,
		signs{fault.ElementsDie: true},
		run(t, strong, 2750, pad.SetFilter, plumbing.Effects{Load: 0.7}),
	)
	over := finding(r, fault.PumpOversized)
	require.NotNil(t, over)
	assert.Greater(t, over.P, 0.8)
	assert.Contains(t, say(over.Text), "gpm against 50")
	assert.Equal(t, fault.Healthy, first(r), "a chronic finding takes nothing from the suspects: %s", show(r))

	night := everything(t).Doc
	night.Programme = []pad.Slot{{StartHour: 8, Hours: 6, RPM: 2600}, {StartHour: 20, Hours: 8, RPM: 1000}}
	m := fitted(t, night)
	r = diagnose(
		t,
		m,
		midCycle,
		signs{fault.DeviceNoFlow: true},
		run(t, m, 1000, pad.SetFilter, plumbing.Effects{Load: 0.5}),
	)
	cell := finding(r, fault.CellNoFlow)
	require.NotNil(t, cell)
	assert.Contains(t, say(cell.Text), "1,000 rpm")
	assert.Equal(t, fault.Healthy, first(r), "no flow at the night speed is the speed: %s", show(r))

	// What an inspection found of the installation stands where the speeds are in order.
	fast := everything(t).Doc
	fast.Programme = []pad.Slot{{StartHour: 8, Hours: 8, RPM: 2800}}
	sound := fitted(t, fast)
	res, err := Diagnose(
		Case{
			Model:     sound,
			Load:      midCycle,
			Installed: map[fault.ID]words.Message{fault.CellNoFlow: "The flow switch is in backwards."},
		},
	)
	require.NoError(t, err)
	found := finding(res, fault.CellNoFlow)
	require.NotNil(t, found)
	assert.Contains(t, say(found.Text), "backwards")
	res, err = Diagnose(Case{Model: sound, Load: midCycle})
	require.NoError(t, err)
	assert.Nil(t, finding(res, fault.CellNoFlow))

	crackles := diagnose(
		t,
		m,
		midCycle,
		signs{fault.HeaterCrackles: true},
		run(t, m, 2600, pad.SetFilter, plumbing.Effects{HeaterBypass: 1, Load: 0.5}),
	)
	assert.NotNil(t, finding(crackles, fault.HeaterLowFlow))
	assert.Greater(t, chance(crackles, fault.BypassOpen), 0.3, show(crackles))

	sandy := diagnose(t, fitted(t, document(pad.Sand)), midCycle, nil)
	assert.Nil(t, finding(sandy, fault.CellNoFlow), "no cell, no finding")
}

// Common practice: an empty spa was sucked from with the return on the pool; a
// pool dull after a weekend was left in spa mode.
func TestSpaValves(t *testing.T) {
	m := everything(t)
	r := diagnose(t, m, midCycle, signs{fault.SpaFalling: true})
	assert.Equal(t, fault.SpaDraining, first(r), show(r))
	r = diagnose(
		t,
		m,
		midCycle,
		signs{fault.WaterDull: true, fault.HandleWrong: true},
		run(t, m, 2400, pad.SetFilter, plumbing.Effects{SpaSuction: pad.SpaBody, SpaReturn: pad.SpaBody, Load: 0.7}),
	)
	assert.Equal(t, fault.LeftInSpa, first(r), show(r))
}

func TestDangersComeFirst(t *testing.T) {
	m := everything(t)
	for sign, code := range map[fault.Sign]string{fault.DrainCoverBad: "drain-cover-bad",
		fault.TripsAgain: "trips-again", fault.BurningSmell: "burning-smell", fault.BandShifted: "band-shifted"} {
		r := diagnose(t, m, midCycle, signs{sign: true})
		require.NotEmpty(t, r.Dangers, sign)
		assert.Equal(t, code, r.Dangers[0].Code)
		assert.True(t, r.Dangers[0].Stop)
		assert.Empty(t, diagnose(t, m, midCycle, signs{sign: false}).Dangers, sign)
	}
	closed := diagnose(
		t,
		m,
		midCycle,
		signs{fault.FilterValveOff: true},
		run(t, m, 2000, pad.SetFilter, plumbing.Effects{Setting: pad.SetClosed}),
	)
	assert.Equal(t, fault.ValvePosition, first(closed), show(closed))
	assert.Equal(t, "on closed", say(closed.Suspects[0].Place))
	require.NotEmpty(t, closed.Dangers)
	assert.Equal(t, "never-run", closed.Dangers[0].Code)
}

// With the pump off and the bleed open the needle shows standing water alone.
func TestAReadingAtRestConvictsTheGauge(t *testing.T) {
	m := everything(t)
	run1 := run(t, m, 2400, pad.SetFilter, plumbing.Effects{Load: 0.3})
	*run1.Tank += units.PSI(7)
	rest := run(t, m, 0, pad.SetFilter, plumbing.Effects{})
	high := *rest.Tank + units.PSI(7)
	before := diagnose(t, m, Belief{Mean: 0.3, SD: 0.15}, nil, run1)
	after := diagnose(
		t,
		m,
		Belief{Mean: 0.3, SD: 0.15},
		nil,
		run1,
		Reading{Reading: pad.Reading{Speed: 0, Tank: &high}, Setting: pad.SetFilter},
	)
	assert.Greater(t, chance(after, fault.GaugeBad), chance(before, fault.GaugeBad))
	assert.Equal(t, fault.GaugeBad, first(after), show(after))
}

// A flow-holding pump tells by its speed: loaded, it climbs at the same flow.
func TestAFlowHoldingPumpTellsByItsSpeed(t *testing.T) {
	d := document(pad.Sand)
	d.Pump.Kind, d.Pump.HoldGPM = pad.FlowHolding, 45
	m := fitted(t, d)
	op := pad.Operation{}
	_, slow, err := m.Solver().Hold(op, plumbing.Effects{Load: 0.1})
	require.NoError(t, err)
	st, fast, err := m.Solver().Hold(op, plumbing.Effects{Load: 1.3})
	require.NoError(t, err)
	assert.Greater(t, fast, slow+200)
	// Speed and gauge alone; the flow goes without saying.
	r := diagnose(
		t,
		m,
		Belief{Mean: 0.7, SD: 0.4},
		nil,
		Reading{Reading: pad.Reading{Speed: fast, Tank: &st.Tank}, Setting: pad.SetFilter},
	)
	assert.Equal(t, fault.FilterLoaded, first(r), show(r))
	assert.InDelta(t, 1.3, r.Load.Mean, 0.25)
}

func TestContextMovesThePriors(t *testing.T) {
	m := everything(t)
	rd := run(t, m, 2400, pad.SetFilter, plumbing.Effects{Air: 0.08, Load: 0.4})
	odds := func(c Case) float64 {
		c.Model, c.Readings, c.Load = m, []Reading{rd}, Belief{Mean: 0.4, SD: 0.2}
		c.Signs = signs{fault.AirInPot: true}
		r, err := Diagnose(c)
		require.NoError(t, err)
		return chance(r, fault.AirLid) / chance(r, fault.WaterLow)
	}
	base := odds(Case{})
	assert.InDelta(t, openFactor, odds(Case{Open: []fault.ID{fault.AirLid}})/base, 0.8, "left open at the last visit")
	assert.Greater(t, odds(Case{Worn: map[fault.ID]float64{fault.AirLid: 1.4}})/base, 2.0, "an O-ring past its life")
	assert.InDelta(t, 1, odds(Case{Worn: map[fault.ID]float64{fault.AirLid: 0.5}})/base, 0.01)
}

func TestWhatCanNotBeToldApartIsSaid(t *testing.T) {
	m := calibrated(t, pad.Sand)
	bare := run(t, m, 2750, pad.SetFilter, plumbing.Effects{Basket: 30, Load: 0.5})
	bare.Vacuum, bare.Flow, bare.Power = nil, nil, nil
	r := diagnose(t, m, midCycle, nil, bare)
	require.GreaterOrEqual(t, len(r.Alike), 2, "one low gauge fits many: %s", show(r))
	assert.Equal(t, say(r.Suspects[0].Fault.Name), say(r.Alike[0]))
	clear := diagnose(
		t,
		m,
		justCleaned,
		signs{fault.BasketFull: true, fault.NoPull: false},
		run(t, m, 2750, pad.SetFilter, plumbing.Effects{Basket: 6, Load: 0.1}),
	)
	assert.Empty(t, clear.Alike, show(clear))
}
