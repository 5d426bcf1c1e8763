package evaluation

import "fairlap/core/fault"

// rates is how often a sign shows with a trouble when it is middling bad: a table of
// its own, written down before the diagnosis was looked at again and by nobody's
// figures, since nobody publishes them. A mild trouble shows its symptoms half as
// often, a hard one more often; what is the trouble itself seen keeps its rate.
var rates = map[fault.ID]map[fault.Sign]float64{
	fault.BasketFullFault: {
		fault.BasketFull:   0.93,
		fault.Gravel:       0.1,
		fault.Storm:        0.25,
		fault.SpaFine:      0.05,
		fault.AlarmSuction: 0.15,
	},
	fault.SkimmerBlocked: {
		fault.SkimmerFull:  0.94,
		fault.NoPull:       0.8,
		fault.Storm:        0.25,
		fault.SpaFine:      0.9,
		fault.AlarmSuction: 0.15,
	},
	fault.SuctionValve: {
		fault.HandleWrong:  0.93,
		fault.NoPull:       0.5,
		fault.WorkedHere:   0.4,
		fault.SpaFine:      0.85,
		fault.AlarmSuction: 0.15,
	},
	fault.SuctionLine: {fault.NoPull: 0.75, fault.SpaFine: 0.92, fault.Gravel: 0.15},
	fault.SuctionAllShut: {
		fault.HandleWrong:  0.95,
		fault.NoPull:       0.95,
		fault.WorkedHere:   0.6,
		fault.AlarmSuction: 0.5,
	},
	fault.WaterLow: {fault.LevelLow: 0.96, fault.Slurping: 0.65, fault.SpaFine: 0.88, fault.NoPull: 0.25},
	fault.AirLid: {
		fault.PotDrains:    0.6,
		fault.LidTestHolds: 0.88,
		fault.FoamLid:      0.75,
		fault.DripLid:      0.1,
		fault.SpaFine:      0.06,
	},
	fault.AirInlet: {
		fault.PotDrains:    0.6,
		fault.LidTestHolds: 0.08,
		fault.FoamInlet:    0.85,
		fault.DripOutlet:   0.5,
		fault.DripInlet:    0.25,
		fault.SpaFine:      0.06,
	},
	fault.AirUpstream: {
		fault.PotDrains:    0.55,
		fault.LidTestHolds: 0.08,
		fault.FoamJoint:    0.85,
		fault.SpaFine:      0.5,
	},
	fault.PrimeLost: {
		fault.PotNotFull: 0.94,
		fault.PotDrains:  0.45,
		fault.WorkedHere: 0.3,
		fault.AlarmPrime: 0.5,
	},
	fault.DrainBack:    {fault.PotDrains: 0.94, fault.BackWhenOff: 0.55, fault.LidTestHolds: 0.2},
	fault.AirlockSmall: {fault.PotNotFull: 0.75, fault.WorkedHere: 0.45},
	fault.ImpellerClogged: {
		fault.DebrisFound:   0.94,
		fault.PotNotFull:    0.3,
		fault.BasketCracked: 0.2,
		fault.SpaFine:       0.05,
	},
	fault.ImpellerWorn: {fault.SpaFine: 0.05},
	fault.MotorHums:    {fault.Hums: 0.95, fault.ShaftFree: 0.25, fault.DebrisFound: 0.5, fault.CutsOut: 0.2},
	fault.NoPower:      {fault.Silent: 0.95, fault.ResetRuns: 0.5, fault.DisplayAlarm: 0.35},
	fault.MotorHot:     {fault.CutsOut: 0.9, fault.NoVents: 0.8},
	fault.SealLeak:     {fault.DripSeal: 0.95, fault.Screech: 0.1},
	fault.HousingLeak:  {fault.DripSeam: 0.94},
	fault.OutletLeak:   {fault.DripOutlet: 0.95, fault.DripInlet: 0.15},
	fault.Cavitation:   {fault.Gravel: 0.92},
	fault.SpeedLow:     {fault.SpeedOff: 0.94, fault.WaterDull: 0.25},
	fault.WrongMode:    {fault.ModeOff: 0.94, fault.DisplayAlarm: 0.3, fault.SpeedOff: 0.3},
	fault.MediaFouled: {
		fault.SlowDrainTest: 0.88,
		fault.ShorterCycles: 0.7,
		fault.WaterDull:     0.25,
		fault.ElementsDie:   0.15,
	},
	fault.BedChannelled:    {fault.WaterDull: 0.55},
	fault.MediaInPool:      {fault.MediaSeen: 0.94, fault.WaterDull: 0.25},
	fault.ValveGasket:      {fault.WasteWet: 0.7, fault.WaterDull: 0.35, fault.LevelLow: 0.25},
	fault.ValvePosition:    {fault.FilterValveOff: 0.95, fault.WorkedHere: 0.4, fault.WaterDull: 0.25},
	fault.TankLeak:         {fault.DripBand: 0.94},
	fault.GaugeBad:         {}, // by how it lies: see gaugeRest
	fault.ReturnRestricted: {fault.WeakOne: 0.7, fault.HandleWrong: 0.45, fault.WorkedHere: 0.25},
	fault.ReturnAllShut:    {fault.HandleWrong: 0.95, fault.WorkedHere: 0.6},
	fault.CheckValveStuck:  {fault.BackWhenOff: 0.4},
	fault.BypassOpen:       {fault.HeaterCrackles: 0.65, fault.HandleWrong: 0.75},
	fault.CellSwitch:       {fault.DeviceNoFlow: 0.93},
	fault.SpaDraining:      {fault.SpaFalling: 0.94, fault.HandleWrong: 0.9},
	fault.SpaFilling:       {fault.SpaRising: 0.94, fault.HandleWrong: 0.9},
	fault.LeftInSpa:        {fault.WaterDull: 0.8, fault.WaterGreen: 0.3, fault.HandleWrong: 0.9},
}

// airRates is how often air is at the pump, by severity.
var airRates = map[fault.ID][severities]float64{
	fault.WaterLow: {
		0.6,
		0.92,
		0.97,
	}, fault.AirLid: {0.8, 0.95, 0.98}, fault.AirInlet: {0.8, 0.95, 0.98}, fault.AirUpstream: {0.8, 0.95, 0.98},
	fault.PrimeLost: {
		0.95,
		0.97,
		0.98,
	}, fault.DrainBack: {0.2, 0.25, 0.3}, fault.AirlockSmall: {0.5, 0.6, 0.7},
	fault.ImpellerClogged: {0.04, 0.15, 0.85}, fault.SpaDraining: {0.2, 0.3, 0.4},
}

// gaugeRest is how often the needle stands wrong at rest.
var gaugeRest = map[fault.GaugeWay]float64{fault.Offset: 0.9, fault.Scale: 0.04, fault.Stuck: 0.85, fault.Plugged: 0.5}

// falseRates is how often a sign is answered yes though nothing brings it, where it
// is not the rest's.
var falseRates = map[fault.Sign]float64{
	fault.WaterDull: 0.1, fault.SpaFine: 0.5, fault.ShaftFree: 0.5, fault.ShorterCycles: 0.05, fault.PotDrains: 0.04,
	fault.NoPull: 0.03, fault.WeakOne: 0.03,
	fault.Storm: 0.1, fault.WorkedHere: 0.08, fault.ChemicalsWithin: 0.15, fault.NoVents: 0.02, fault.WaterGreen: 0.02,
	fault.SlowDrainTest: 0.06,
	fault.AirInPot:      0.03, fault.Bubbles: 0.03, fault.NeedleBounces: 0.04, fault.Slurping: 0.02,
	fault.PotNotFull:   0.02,
	fault.LidTestHolds: 0.05,
}

// falseSeen and falseSymptom are the rest's: a thing that is its fault seen is hardly
// ever seen without it.
const (
	falseSeen    = 0.002
	falseSymptom = 0.008
)

// airShows is how often each sign of air shows when there is air.
var airShows = map[fault.Sign]float64{fault.AirInPot: 0.9, fault.Bubbles: 0.55, fault.NeedleBounces: 0.6}
