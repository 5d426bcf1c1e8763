package procedure

// wayLimit is how many states a search for a way may look at.
const wayLimit = 30000

// onAWay says whether an action may stand on a way that the product gives: no way
// leads by a dry run, chemicals or the timed exception.
func (v Verb) onAWay() bool {
	switch v {
	case RunDry, FoundDry, HeatOn, Dose, StartShut, AddDegrease, AddAcid, PourDE, SetTimeOut, HandIn, FoundUsual:
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
			if r.Small && steps[at].state.Bleed && (a.Verb == Start || a.Verb == Unlock) {
				continue // its air valve is closed before the plug goes in
			}
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
	out, _ := r.way(s, r.wayActions(func(a Action) bool { return a.Verb == OpenLine || a.Verb == ShutLine }), r.Safe)
	return out
}

// Back is the way from one state to another, to go on where a run was left; false
// when only chemicals lead there.
func (r *Rig) Back(from, to State) ([]Action, bool) {
	if lost(from, to) {
		return nil, false
	}
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
	leave(!to.ByHand, SetSpeed)
	// Of the lines one by one only those that the other state asks for: a pad with ten
	// has a thousand ways to have them open.
	alone := to.Suction != 0 && to.Suction != r.Usual
	without := func(a Action) bool {
		i, _ := r.line(a.Arg)
		switch a.Verb {
		case OpenLine:
			return !alone || !to.Suction.Has(i)
		case ShutLine:
			return !alone || to.Suction.Has(i)
		case Turn:
			return a.Arg != string(to.Setting)
		case SuctionTo:
			return same[a.Verb] || a.Arg != string(to.SuctionTo)
		case ReturnTo:
			return same[a.Verb] || a.Arg != string(to.ReturnTo)
		}
		return same[a.Verb]
	}
	return r.way(from, r.wayActions(without), func(s State) bool { return s == to })
}

// lost says that a state has what no way brings back: a bath that was emptied, a hand
// taken out, a start on shut lines.
func lost(from, to State) bool {
	chemical := func(s Soak) bool { return s == Acid || s == Degreaser }
	return chemical(to.Elements) && to.Elements != from.Elements || chemical(to.Bath) && to.Bath != from.Bath ||
		to.Prime == Priming && from.Prime != Priming ||
		to.Hand && !from.Hand || to.Hot && !from.Hot || to.Heat && !from.Heat ||
		to.People && !from.People ||
		!to.Filled && from.Filled ||
		to.Power == TimeOut && from.Power != TimeOut
}

// wayActions are those that may stand on a way, without some.
func (r *Rig) wayActions(without func(Action) bool) []Action {
	var out []Action
	for _, a := range r.Actions() {
		if a.Verb.onAWay() && !without(a) {
			out = append(out, a)
		}
	}
	return out
}
