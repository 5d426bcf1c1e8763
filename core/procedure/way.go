package procedure

// wayLimit is how many states a search for a way may look at.
const wayLimit = 200000

// onAWay says whether an action may stand on a way that the product gives: no way
// leads by a dry run, chemicals or the timed exception.
func (v Verb) onAWay() bool {
	switch v {
	case RunDry, Dose, StartShut, AddDegrease, AddAcid, PourDE, SetTimeOut, HandIn:
		return false
	}
	return true
}

// way is the shortest run of allowed actions from a state to one that will do
// (breadth first); nil, false when there is none.
func (r *Rig) way(from State, actions []Action, will func(State) bool) ([]Action, bool) {
	if will(from) {
		return []Action{}, true
	}
	type step struct {
		state State
		by    Action
		from  int
	}
	steps := []step{{state: from, from: -1}}
	seen := map[State]bool{from: true}
	for at := 0; at < len(steps) && at < wayLimit; at++ {
		for _, a := range actions {
			next, err := r.Do(steps[at].state, a)
			if err != nil || seen[next] {
				continue
			}
			seen[next] = true
			steps = append(steps, step{next, a, at})
			if !will(next) {
				continue
			}
			var out []Action
			for i := len(steps) - 1; steps[i].from >= 0; i = steps[i].from {
				out = append([]Action{steps[i].by}, out...)
			}
			return out, true
		}
	}
	return nil, false
}

// Leave is the shortest safe way out of a state: what to do before going away.
func (r *Rig) Leave(s State) []Action {
	out, _ := r.way(s, r.wayActions(nil), r.Safe)
	return out
}

// Back is the way from one state to another, to go on where a run was left; false
// when only chemicals lead there.
func (r *Rig) Back(from, to State) ([]Action, bool) {
	// What is the same in both and touches nothing else is left alone.
	same := map[Verb]bool{}
	leave := func(is bool, verbs ...Verb) {
		for _, v := range verbs {
			same[v] = is
		}
	}
	leave(from.Bath == to.Bath && from.Elements == to.Elements, BathWater, EmptyBath, RinseOff)
	leave(from.Powder == to.Powder, MixSlurry, PutDEAway)
	leave(from.SuctionTo == to.SuctionTo && from.ReturnTo == to.ReturnTo, SuctionTo, ReturnTo)
	leave(from.People == to.People, PeopleOut)
	leave(from.Filled == to.Filled, FillPool)
	leave(from.Heat == to.Heat, HeatOff)
	return r.way(from, r.wayActions(same), func(s State) bool { return s == to })
}

// wayActions are those that may stand on a way, without some.
func (r *Rig) wayActions(without map[Verb]bool) []Action {
	var out []Action
	for _, a := range r.Actions() {
		if a.Verb.onAWay() && !without[a.Verb] {
			out = append(out, a)
		}
	}
	return out
}
