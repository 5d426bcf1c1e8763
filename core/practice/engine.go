package practice

import (
	"fmt"
	"math"
	"time"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/procedure"
	"fairlap/core/words"
)

// mostReadings is how many sets of meters the engine is given of one stretch between works:
// the last of each way of running.
const mostReadings = 4

// findings are what somebody found, as a stop's: the engine is given nothing else.
func (a *Attempt) findings() judge.Findings {
	f := judge.Findings{
		Readings: []judge.TypedReading{},
		Signs:    map[string]bool{},
		SignsAt:  map[string]time.Time{},
		Called:   true, // whoever practises knows that something is likely hidden
	}
	stretch := func(minutes float64) int {
		n := 0
		for _, w := range a.works {
			if w.At.Before(a.at(minutes)) {
				n++
			}
		}
		return n
	}
	type way struct {
		stretch    int
		set, speed string
	}
	last := map[way]int{}
	count := map[int]int{}
	for i := len(a.readings) - 1; i >= 0; i-- {
		r := a.readings[i]
		w := way{stretch(r.minutes), r.Setting, r.Speed}
		if _, have := last[w]; r.judged && !have && count[w.stretch] < mostReadings {
			last[w] = i
			count[w.stretch]++
		}
	}
	for i, r := range a.readings {
		if at, ok := last[way{stretch(r.minutes), r.Setting, r.Speed}]; ok && at == i {
			t := r.TypedReading
			when := a.at(r.minutes)
			t.At = &when
			f.Readings = append(f.Readings, t)
		}
	}
	for id, l := range a.seen {
		f.Signs[string(id)] = l.yes
		f.SignsAt[string(id)] = a.at(l.minutes)
	}
	return f
}

// Judge is what the engine makes of what was found so far.
func (a *Attempt) Judge() (judge.Verdict, *diagnosis.Result, error) {
	at := *a.stop
	at.Book = a.works
	v, res, err := at.Judge(a.findings(), a.at(a.Minutes+1), nil)
	if err != nil {
		return v, nil, fmt.Errorf("judging %s: %w", a.ID, err)
	}
	return v, res, nil
}

// Hint is what the engine would do next, and why.
type Hint struct {
	Says words.Message `json:"says"`
	Why  words.Message `json:"why"`
	// One of these; all empty: leave.
	Sign  fault.Sign `json:"sign,omitempty"`
	RPM   float64    `json:"rpm,omitempty"`
	Rest  bool       `json:"rest,omitempty"`
	Set   string     `json:"set,omitempty" doc:"filter, recirculate or spa"`
	Fault fault.ID   `json:"fault,omitempty"`
	Refer bool       `json:"refer,omitempty"`
	// Run is the guided run that puts the fault right; empty: a hand does.
	Run procedure.ID `json:"run,omitempty"`
	// Next is the act that does its next piece: the pad is stood ready first where it has to be.
	Next *Event `json:"next" doc:"absent where several handles have to move, or it says to leave"`
	Read bool   `json:"read,omitempty"`
}

// next is the act that does a hint's next piece; nil where a hand has to choose.
func (a *Attempt) next(h *Hint) *Event {
	ready := func(n Need, then Event) *Event {
		switch {
		case needs[n].met(a.State):
			return &then
		case n == Running:
			return &Event{Act: ActRestore}
		}
		return &Event{Act: ActReady, Need: n}
	}
	switch {
	case h.Read:
		return &Event{Act: ActRead}
	case h.Sign != "":
		return ready(looks[h.Sign], Event{Act: ActLook, Sign: h.Sign})
	case h.Refer:
		return &Event{Act: ActRefer, Fault: h.Fault}
	case h.Run != "" && a.rig.Unlike(a.State) != "":
		return &Event{Act: ActRestore}
	case h.Run != "":
		return &Event{Act: ActRun, Run: h.Run}
	case h.Fault != "":
		if fix, byHand := fixes[h.Fault]; byHand {
			return ready(fix.need, Event{Act: ActMend, Fault: h.Fault})
		}
	}
	return nil
}

// worth tells whether putting a suspect right is worth trying before another look: what it
// costs in vain, by its chance, against what the look costs. Minutes, a part's dollars in
// minutes too.
func (a *Attempt) worth(x diagnosis.Suspect, next []diagnosis.Check) bool {
	fix := fixes[x.Fault.ID]
	vain := x.Fault.Minutes + needMinutes(fix.need) + fix.dollars/dollarsAMinute
	if x.Fault.Who != "" && x.Fault.Who != fault.Anybody {
		vain = referMinutes + wildDollars/dollarsAMinute
	}
	look := math.Inf(1)
	for _, c := range next {
		if c.Bits >= next[0].Bits/2 {
			look = math.Min(look, c.Sign.Minutes+needMinutes(looks[c.Sign.ID]))
		}
	}
	return x.P >= likely && (1-x.P)*vain <= look
}

// likely is the least chance of what is put right while there is something to look at.
const likely = 0.6

// Hint asks the engine. Errors are its own.
func (a *Attempt) Hint() (Hint, error) {
	v, res, err := a.Judge()
	if err != nil {
		return Hint{}, err
	}
	return a.hint(v, res), nil
}

// stands tells that somebody saw a pump that does not turn.
func (a *Attempt) stands() bool { return a.seen[fault.Hums].yes || a.seen[fault.Silent].yes }

func (a *Attempt) hint(v judge.Verdict, res *diagnosis.Result) Hint {
	if len(a.readings) == 0 && !a.stands() {
		return Hint{Says: "practice.hint.read", Why: "practice.hint.read-why", Read: true}
	}
	top, ok := a.leads(res)
	if a.may(res) {
		ok = false
		res.Next = nil
	}
	p := words.Share(top.P)
	put := func(key string) Hint {
		h := Hint{
			Fault: top.Fault.ID,
			Refer: top.Fault.Who != "" && top.Fault.Who != fault.Anybody,
			Says:  words.Of("practice.hint.mend", "fault", words.Msg(top.Fault.Name)),
			Why:   words.Of(key, "fault", words.Msg(top.Fault.Name), "p", p),
		}
		if run := a.runFor(h.Fault); run != nil && !h.Refer {
			h.Run = run.ID
		}
		if h.Refer {
			h.Says = words.Of(
				"practice.hint.refer",
				"fault",
				words.Msg(top.Fault.Name),
				"who",
				words.Msg(top.Fault.Who),
			)
		}
		return h
	}
	switch {
	case res.Stopped() && ok:
		return put("practice.hint.danger-why")
	case ok && top.P >= likely && a.whose(top) != "":
		return look(a.whose(top))
	case ok && len(res.Next) > 0 && a.worth(top, res.Next):
		return put("practice.hint.sure-why")
	case len(res.Next) > 0:
		return next(res)
	case ok:
		return put("practice.hint.likeliest-why")
	}
	return Hint{Says: "practice.hint.leave", Why: words.Of("practice.hint.leave-why", "verdict", words.Msg(v.Text))}
}

func next(res *diagnosis.Result) Hint {
	c := res.Next[0]
	h := Hint{Why: words.Of("practice.hint.check-why", "minutes", words.QD("min", c.Sign.Minutes, -1))}
	if c.Reading == nil {
		h.Sign = c.Sign.ID
		h.Says = words.Of("practice.hint.look", "sign", words.Msg(c.Sign.Name), "look", words.Msg(c.Sign.Look))
		return h
	}
	h.RPM, h.Set = float64(c.Reading.Operation.Speed), string(c.Reading.Operation.Setting)
	if len(c.Reading.Operation.Handles) > 0 {
		h.Set = string(diagnosis.SpaMode)
	}
	if h.Set == "" {
		h.Set = string(pad.SetFilter)
	}
	h.Says = words.Of("practice.hint.reading", "look", words.Msg(c.Sign.Look))
	h.Rest = h.RPM == 0
	return h
}

// calm is the chance of a sound pad from which one leaves once something was put right: a
// case hides something, so nobody leaves with nothing found while a look is worth its
// minutes.
const calm = 0.85

// may tells that whoever stands there may leave.
func (a *Attempt) may(res *diagnosis.Result) bool {
	if len(a.works) == 0 || res.Stopped() {
		return false
	}
	for _, x := range res.Suspects {
		if x.Fault.ID == fault.Healthy {
			return x.P >= calm
		}
	}
	return false
}

// whose is the look that tells whether a fault is a licensed trade's, where it depends on the
// place and nobody looked yet.
func (a *Attempt) whose(x diagnosis.Suspect) fault.Sign {
	f, _ := fault.LookUp(x.Fault.ID, a.doc.Filter.Kind)
	if f.Places == nil {
		return ""
	}
	places := f.Places(&a.doc)
	best, most := fault.Sign(""), 0.5
	for i := range places {
		for j := range places {
			one, other := f.At(&places[i]), f.At(&places[j])
			if one.Who == other.Who {
				continue
			}
			for k := range fault.Signs { // in one order: of equals the first
				id := fault.Signs[k].ID
				apart := math.Abs(places[i].Signs[id] - places[j].Signs[id])
				_, done := a.seen[id]
				switch {
				case done && apart > 0.5:
					return "" // it was looked at
				case !done && apart > most:
					best, most = id, apart
				}
			}
		}
	}
	return best
}

func look(id fault.Sign) Hint {
	sg, _ := fault.LookUpSign(id)
	return Hint{
		Sign: id,
		Says: words.Of("practice.hint.look", "sign", words.Msg(sg.Name), "look", words.Msg(sg.Look)),
		Why:  "practice.hint.whose-why",
	}
}

// leads is the likeliest thing to put right that nobody tried yet, a loaded filter among
// them; false where a sound pad is likelier than any.
func (a *Attempt) leads(res *diagnosis.Result) (diagnosis.Suspect, bool) {
	for _, x := range res.Suspects {
		switch {
		case x.Fault.ID == fault.FilterLoaded && a.cleaned():
			continue
		case x.Fault.ID == fault.FilterLoaded, !diagnosis.Sound(x.Fault.ID):
			if a.tried(x.Fault.ID) {
				continue
			}
			return x, true
		case x.P > 0.5:
			return x, false
		}
	}
	return diagnosis.Suspect{}, false
}

// tried tells that somebody put a fault right already, there or not.
func (a *Attempt) tried(id fault.ID) bool {
	for _, w := range a.works {
		for _, m := range w.Run.Result.Mended {
			if m == id && w.Run.Result.Work != "cleaned" {
				return true
			}
		}
	}
	return false
}

func (a *Attempt) cleaned() bool {
	for _, w := range a.works {
		if w.Run.Result.Work == "cleaned" {
			return true
		}
	}
	return false
}
