package practice

import (
	"fairlap/core/fault"
	"fairlap/core/procedure"
	"fairlap/core/words"
)

// Need is how a pad must stand before a hand does something.
type Need string

// The needs.
const (
	Any      Need = ""
	Running  Need = "running"
	Off      Need = "off"
	LockedUp Need = "locked"   // off, and locked off
	Relieved Need = "relieved" // and nothing comes out of the open bleed
	OpenPot  Need = "pot"      // locked off, lid off
	HandIn   Need = "hand"     // and a hand in it
	OpenTank Need = "tank"     // locked off, relieved, top off
)

// needs say of each need what a hand does for it, coming from daily use, and what is said
// where it is missing.
var needs = map[Need]struct {
	do   []procedure.Verb
	lack words.Message
	met  func(procedure.State) bool
}{
	Any: {met: func(procedure.State) bool { return true }},
	Running: {
		lack: "practice.lack.running",
		met:  func(s procedure.State) bool { return s.Running },
	},
	Off: {
		do:   []procedure.Verb{procedure.Stop},
		lack: "practice.lack.off",
		met:  func(s procedure.State) bool { return !s.Running },
	},
	LockedUp: {
		do:   []procedure.Verb{procedure.Stop, procedure.LockOff},
		lack: "practice.lack.locked",
		met:  locked,
	},
	Relieved: {
		do:   []procedure.Verb{procedure.Stop, procedure.LockOff, procedure.OpenBleed, procedure.Relieve},
		lack: "practice.lack.relieved",
		met:  func(s procedure.State) bool { return locked(s) && s.Bleed && !s.Pressed },
	},
	OpenPot: {
		do:   []procedure.Verb{procedure.Stop, procedure.LockOff, procedure.OpenPot},
		lack: "practice.lack.pot",
		met:  func(s procedure.State) bool { return locked(s) && s.Pot },
	},
	HandIn: {
		do:   []procedure.Verb{procedure.Stop, procedure.LockOff, procedure.OpenPot, procedure.HandIn},
		lack: "practice.lack.hand",
		met:  func(s procedure.State) bool { return locked(s) && s.Pot && s.Hand },
	},
	OpenTank: {
		do: []procedure.Verb{
			procedure.Stop,
			procedure.LockOff,
			procedure.OpenBleed,
			procedure.Relieve,
			procedure.OpenTank,
		},
		lack: "practice.lack.tank",
		met:  func(s procedure.State) bool { return locked(s) && s.Tank },
	},
}

func locked(s procedure.State) bool { return !s.Running && s.Power == procedure.Locked }

// looks are the signs that ask for more than eyes and ears beside a running pump.
var looks = map[fault.Sign]Need{
	fault.AirInPot:      Running,
	fault.Bubbles:       Running,
	fault.NeedleBounces: Running,
	fault.PotNotFull:    Running,
	fault.Slurping:      Running,
	fault.NoPull:        Running,
	fault.WeakAll:       Running,
	fault.WeakOne:       Running,
	fault.Gravel:        Running,
	fault.DeviceNoFlow:  Running,
	fault.FoamDents:     Running,
	fault.FoamLid:       Running,
	fault.FoamInlet:     Running,
	fault.FoamJoint:     Running,
	fault.SpaFalling:    Running,
	fault.SpaRising:     Running,
	fault.WasteWet:      Running,
	fault.Screech:       Running,
	fault.DripOutlet:    Running,
	fault.DripSeal:      Running,
	fault.DripSeam:      Running,
	fault.DripBand:      Running,
	fault.BasketFull:    OpenPot,
	fault.BasketCracked: OpenPot,
	fault.LidTestHolds:  Off,
	fault.PotDrains:     Off,
	fault.BackWhenOff:   Off,
	fault.DripLid:       Any,
	fault.DripInlet:     Any,
	fault.NeedleAtRest:  Relieved,
	fault.DebrisFound:   HandIn,
	fault.ShaftFree:     LockedUp,
	fault.SlowDrainTest: OpenTank,
}

// fixes are the needs and the parts (dollars, common practice, roughly) of what is put right
// by hand; faults that a run puts right stand in the run.
var fixes = map[fault.ID]struct {
	need    Need
	dollars float64
}{
	fault.BasketFullFault:  {OpenPot, 0},
	fault.ImpellerClogged:  {HandIn, 0},
	fault.AirLid:           {OpenPot, 12},
	fault.AirInlet:         {LockedUp, 25},
	fault.AirUpstream:      {LockedUp, 20},
	fault.DrainBack:        {LockedUp, 45},
	fault.ImpellerWorn:     {LockedUp, 110},
	fault.MotorHums:        {LockedUp, 40},
	fault.NoPower:          {LockedUp, 0},
	fault.MotorHot:         {LockedUp, 0},
	fault.SealLeak:         {LockedUp, 35},
	fault.HousingLeak:      {LockedUp, 20},
	fault.OutletLeak:       {LockedUp, 15},
	fault.Cavitation:       {Any, 0},
	fault.SuctionValve:     {Off, 0},
	fault.SuctionAllShut:   {Off, 0},
	fault.SuctionLine:      {LockedUp, 0},
	fault.SkimmerBlocked:   {Off, 0},
	fault.WaterLow:         {Any, 0},
	fault.PrimeLost:        {OpenPot, 0},
	fault.AirlockSmall:     {Any, 0},
	fault.SpeedLow:         {Any, 0},
	fault.WrongMode:        {Any, 0},
	fault.ReturnRestricted: {Off, 10},
	fault.ReturnAllShut:    {Off, 0},
	fault.MediaFouled:      {OpenTank, 25},
	fault.BedChannelled:    {OpenTank, 150},
	fault.MediaInPool:      {OpenTank, 120},
	fault.ValveGasket:      {Relieved, 30},
	fault.ValvePosition:    {Off, 0},
	fault.TankLeak:         {Relieved, 30},
	fault.CheckValveStuck:  {LockedUp, 45},
	fault.BypassOpen:       {Any, 0},
	fault.GaugeBad:         {Relieved, 18},
	fault.CellSwitch:       {LockedUp, 60},
	fault.SpaDraining:      {Off, 0},
	fault.SpaFilling:       {Off, 0},
	fault.LeftInSpa:        {Off, 0},
}

// turned are the faults that a handle alone puts right, by what a hand does.
var turned = map[procedure.Action][]fault.ID{
	{Verb: procedure.SuctionTo, Arg: "pool"}: {fault.SpaDraining, fault.LeftInSpa},
	{Verb: procedure.ReturnTo, Arg: "pool"}:  {fault.SpaFilling, fault.LeftInSpa},
	{Verb: procedure.Turn, Arg: "filter"}:    {fault.ValvePosition},
	{Verb: procedure.OpenSuction}:            {fault.SuctionAllShut, fault.SuctionValve},
	{Verb: procedure.OpenReturns}:            {fault.ReturnAllShut},
}
