package fault

import "slices"

// order is what practitioners look at first, in order, in a situation (common
// practice): when all of its signs are there and, where one is named, that suspect
// leads.
type order struct {
	When  []Sign
	Lead  []ID
	Looks []Sign
}

var orders = []order{
	{
		Lead:  []ID{GaugeBad},
		Looks: []Sign{NeedleAtRest},
	},
	{
		When:  []Sign{Hums},
		Looks: []Sign{ShaftFree}, // it has its power: the shaft, and no reset
	},
	{
		When:  []Sign{AirInPot},
		Lead:  []ID{Healthy, FilterLoaded, WaterLow, AirLid, AirInlet, AirUpstream},
		Looks: []Sign{LevelLow, LidTestHolds, FoamInlet, FoamJoint},
	},
	{
		When:  []Sign{AirInPot},
		Lead:  []ID{ImpellerClogged, PrimeLost},
		Looks: []Sign{BasketFull, DebrisFound},
	},
}

// OrderFor is the trade's order of looks for what was seen and who leads; nil where
// it has none. Looks already made are left in: whoever asks leaves them out.
func OrderFor(seen map[Sign]bool, lead ID) []Sign {
	for _, o := range orders {
		all := len(o.Lead) == 0 || slices.Contains(o.Lead, lead)
		for _, s := range o.When {
			all = all && seen[s]
		}
		if all {
			return o.Looks
		}
	}
	return nil
}
