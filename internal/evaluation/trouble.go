package evaluation

import (
	"math/rand/v2"

	"fairlap/core/fault"
	"fairlap/core/learning"
	"fairlap/core/pad"
)

// severities: mild is where a gauge begins to show it, hard is where a customer
// calls.
const (
	mild = iota
	middle
	hard
	severities
)

// trouble is a fault as it is in the pipes. change is nil for a pad that can't
// have it; a fault that does nothing to the water leaves the change as it is.
type trouble struct {
	id   fault.ID
	on   func(b *built) bool
	does func(b *built, c *change, severity int, rng *rand.Rand)
}

func everywhere(*built) bool { return true }

// orifices are the losses of a passage three parts in ten, then half, then
// nine tenths blocked, in velocity heads (Borda–Carnot of a sharp opening, from
// memory: (1/(0.62·a) − 1)²).
var orifices = [severities]float64{14, 60, 230}

// airShare of the water at the pump.
var airShares = [severities]float64{0.05, 0.13, 0.3}

// airy is a pump that swallows air: head falls slowly to a seventh, then fast.
func airy(c *change, share float64) {
	lost := 1.7 * share
	if share > 0.14 {
		lost = 0.24 + 2.6*(share-0.14)
	}
	c.pumpHead, c.pumpFlow = min(0.93, lost), share
}

func swallows(_ *built, c *change, severity int, _ *rand.Rand) { airy(c, airShares[severity]) }

// lines of a pad on the pool's side.
func poolSuctions(b *built) []int {
	var out []int
	for i, l := range b.doc.Suction {
		if l.Kind != pad.SpaDrain {
			out = append(out, i)
		}
	}
	return out
}

// one suction at fault: alone on the pump if there is only one.
func suctionBlocked(i func(*built, *rand.Rand) int) func(*built, *change, int, *rand.Rand) {
	return func(b *built, c *change, severity int, rng *rand.Rand) {
		k := orifices[severity]
		if len(poolSuctions(b)) > 1 { // the other line takes over: it takes more to show
			k *= 6
		}
		c.suctionK = map[int]float64{i(b, rng): k}
	}
}

func skimmer(*built, *rand.Rand) int { return 0 }

func anySuction(b *built, rng *rand.Rand) int {
	s := poolSuctions(b)
	return s[rng.IntN(len(s))]
}

func hasSpa(b *built) bool    { return b.spa }
func hasSpeeds(b *built) bool { return b.doc.Pump.SpeedIsSet() }
func hasValve(b *built) bool  { return b.valve != pad.NoValve }

// gauges are the ways in which a bad gauge is made.
var gauges = [...]fault.GaugeWay{fault.Offset, fault.Offset, fault.Scale, fault.Stuck, fault.Plugged}

// troubles are the faults that cases are made of: all acute ones of the
// catalogue (a test holds them against it).
var troubles = []trouble{
	{fault.Healthy, everywhere, nil},
	{fault.FilterLoaded, everywhere, nil}, // by its load
	{fault.BasketFullFault, everywhere, func(_ *built, c *change, s int, _ *rand.Rand) { c.basketK = orifices[s] }},
	{fault.SkimmerBlocked, everywhere, suctionBlocked(skimmer)},
	{fault.SuctionLine, everywhere, suctionBlocked(anySuction)},
	{fault.SuctionValve, everywhere, func(b *built, c *change, s int, rng *rand.Rand) {
		suctionBlocked(anySuction)(b, c, s, rng)
		if many := poolSuctions(b); s == hard && len(many) > 1 {
			c.suctionShut = map[int]bool{anySuction(b, rng): true}
		}
	}},
	{fault.SuctionAllShut, everywhere, func(b *built, c *change, _ int, _ *rand.Rand) {
		c.suctionShut = map[int]bool{}
		for i := range b.doc.Suction {
			c.suctionShut[i] = true
		}
	}},
	{fault.ReturnAllShut, everywhere, func(b *built, c *change, _ int, _ *rand.Rand) {
		c.returnShut = true
	}},
	{fault.CellSwitch, func(b *built) bool { return b.cell }, nil},
	{fault.WaterLow, everywhere, swallows},
	{fault.AirLid, everywhere, swallows},
	{fault.AirInlet, everywhere, swallows},
	{fault.AirUpstream, everywhere, swallows},
	{fault.PrimeLost, everywhere, func(_ *built, c *change, s int, _ *rand.Rand) {
		c.pumpHead, c.pumpFlow = [severities]float64{0.88, 0.94, 0.98}[s], [severities]float64{0.7, 0.85, 0.95}[s]
	}},
	{fault.AirlockSmall, func(b *built) bool { return b.doc.PumpHeightFt < 0 }, swallows},
	{fault.ImpellerClogged, everywhere, func(_ *built, c *change, s int, _ *rand.Rand) {
		c.pumpFlow, c.pumpHead = [severities]float64{0.28, 0.55, 0.88}[s], [severities]float64{0.01, 0.04, 0.12}[s]
	}},
	{fault.ImpellerWorn, everywhere, func(_ *built, c *change, s int, _ *rand.Rand) {
		c.pumpHead, c.pumpFlow = [severities]float64{0.14, 0.25, 0.42}[s], [severities]float64{0.03, 0.06, 0.12}[s]
	}},
	{fault.Cavitation, everywhere, func(_ *built, c *change, s int, _ *rand.Rand) {
		c.pumpHead = [severities]float64{0.05, 0.09, 0.16}[s]
	}},
	{fault.ReturnRestricted, everywhere, func(b *built, c *change, s int, rng *rand.Rand) {
		if rng.IntN(2) == 0 {
			c.trunkReturnK = orifices[s]
			return
		}
		k := orifices[s]
		if b.returns > 1 {
			k *= 8
		}
		c.returnK = map[int]float64{rng.IntN(b.returns): k}
	}},
	{
		fault.CheckValveStuck,
		func(b *built) bool { return b.check },
		func(_ *built, c *change, s int, _ *rand.Rand) { c.checkK = orifices[s] },
	},
	{
		fault.MediaFouled,
		everywhere,
		func(_ *built, c *change, s int, _ *rand.Rand) { c.load += [severities]float64{0.4, 0.8, 1.5}[s] },
	},
	{fault.BedChannelled, everywhere, func(_ *built, c *change, s int, _ *rand.Rand) {
		c.media, c.load = [severities]float64{-0.4, -0.6, -0.8}[s], c.load*[severities]float64{0.6, 0.4, 0.2}[s]
	}},
	{
		fault.MediaInPool,
		everywhere,
		func(_ *built, c *change, s int, _ *rand.Rand) { c.slipK = [severities]float64{400, 150, 50}[s] },
	},
	{
		fault.ValveGasket,
		hasValve,
		func(_ *built, c *change, s int, _ *rand.Rand) { c.slipK = [severities]float64{200, 60, 20}[s] },
	},
	{fault.ValvePosition, hasValve, func(b *built, c *change, _ int, rng *rand.Rand) {
		c.setting = pad.SetBackwash
		if b.valve == pad.Multiport {
			c.setting = []pad.Setting{pad.SetBackwash, pad.SetRinse, pad.SetWaste, pad.SetRecirculate,
				pad.SetClosed}[rng.IntN(5)]
		}
	}},
	{
		fault.BypassOpen,
		func(b *built) bool { return b.bypass },
		func(_ *built, c *change, _ int, _ *rand.Rand) { c.bypassOpen = true },
	},
	{fault.SpaDraining, hasSpa, func(_ *built, c *change, _ int, _ *rand.Rand) { c.spaSuction = true }},
	{fault.SpaFilling, hasSpa, func(_ *built, c *change, _ int, _ *rand.Rand) { c.spaReturn = true }},
	{
		fault.LeftInSpa,
		hasSpa,
		func(_ *built, c *change, _ int, _ *rand.Rand) { c.spaSuction, c.spaReturn = true, true },
	},
	{fault.GaugeBad, everywhere, nil}, // the reading strays, not the water
	{fault.MotorHums, everywhere, func(_ *built, c *change, _ int, _ *rand.Rand) { c.stopped = true }},
	{fault.NoPower, everywhere, func(_ *built, c *change, _ int, _ *rand.Rand) { c.stopped = true }},
	{fault.DrainBack, everywhere, nil},
	{fault.MotorHot, everywhere, nil},
	{fault.SealLeak, everywhere, nil},
	{fault.HousingLeak, everywhere, nil},
	{fault.OutletLeak, everywhere, nil},
	{fault.TankLeak, everywhere, nil},
	{fault.SpeedLow, hasSpeeds, nil},
	{fault.WrongMode, hasSpeeds, nil},
}

// thirteen are the truths that a route meets most and that move the water or the
// gauge.
var thirteen = map[fault.ID]bool{
	fault.Healthy: true, fault.FilterLoaded: true, fault.BasketFullFault: true, fault.SkimmerBlocked: true,
	fault.WaterLow: true, fault.AirLid: true,
	fault.ImpellerClogged: true, fault.ImpellerWorn: true, fault.PrimeLost: true, fault.ReturnRestricted: true,
	fault.BedChannelled: true, fault.GaugeBad: true, fault.ValvePosition: true,
}

// water is what each trouble is to the water: what no meter can part stands under one
// name. The rest are each their own.
var water = map[fault.ID]string{
	fault.BasketFullFault: "suction", fault.SkimmerBlocked: "suction", fault.SuctionLine: "suction",
	fault.SuctionValve: "suction",
	fault.WaterLow:     "air", fault.AirLid: "air", fault.AirInlet: "air", fault.AirUpstream: "air",
	fault.ImpellerClogged: "pump", fault.ImpellerWorn: "pump", fault.Cavitation: "pump", fault.PrimeLost: "prime",
	fault.AirlockSmall: "prime",
	fault.FilterLoaded: "filter", fault.MediaFouled: "filter", fault.ReturnRestricted: "return",
	fault.CheckValveStuck: "return",
	fault.BedChannelled:   "past", fault.MediaInPool: "past", fault.ValveGasket: "past",
	fault.MotorHums: "still", fault.NoPower: "still",
	fault.Healthy: "none", fault.DrainBack: "none", fault.MotorHot: "none", fault.SealLeak: "none",
	fault.HousingLeak: "none", fault.OutletLeak: "none",
	fault.TankLeak: "none", fault.SpeedLow: "none", fault.WrongMode: "none", fault.CellSwitch: "none",
}

func sameWater(a, b fault.ID) bool {
	return a == b || water[a] != "" && water[a] == water[b]
}

// AsWater is an outcome in which what is the same to the water counts as one.
func AsWater(s learning.Settled) learning.Settled {
	out := learning.Settled{Was: s.Was}
	at := map[string]int{}
	for _, x := range s.Said {
		name := water[x.Fault]
		if name == "" {
			name = string(x.Fault)
		}
		if sameWater(x.Fault, s.Was) {
			x.Fault = s.Was
		}
		if i, ok := at[name]; ok {
			out.Said[i].P += x.P
			continue
		}
		at[name] = len(out.Said)
		out.Said = append(out.Said, x)
	}
	return out
}
