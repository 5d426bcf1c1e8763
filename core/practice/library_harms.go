package practice

import (
	"fairlap/core/procedure"
	"fairlap/core/words"
)

// harm is what breaking a rule of the pad costs (minutes, gallons and dollars are common
// practice, roughly).
type harm struct {
	says    words.Message
	ends    bool // the case: somebody is hurt
	minutes float64
	dollars float64
	gallons float64
	goes    bool           // the action is done all the same
	then    procedure.Verb // and this comes of it
}

// The harms, by what they are.
var (
	nothing   = harm{}                                                         // the hand sees that it makes no sense
	torn      = harm{says: "practice.harm.torn", minutes: 45, dollars: 30}     // the valve's gasket
	strained  = harm{says: "practice.harm.strained", minutes: 20, dollars: 35} // a spa valve's seal
	thrown    = harm{says: "practice.harm.thrown", ends: true}                 // the tank's top
	bitten    = harm{says: "practice.harm.bitten", ends: true}                 // a hand in the impeller
	scalded   = harm{says: "practice.harm.scalded", ends: true}                // by the pot
	melted    = harm{says: "practice.harm.melted", minutes: 60, dollars: 90, then: procedure.RunDry}
	deadHead  = harm{says: "practice.harm.dead-head", minutes: 40, dollars: 60}
	trapped   = harm{says: "practice.harm.trapped", minutes: 5} // air in the tank
	flooded   = harm{says: "practice.harm.flooded", minutes: 20, gallons: 150}
	sprayed   = harm{says: "practice.harm.sprayed", minutes: 15, gallons: 40}
	apart     = harm{says: "practice.harm.apart", minutes: 20, gallons: 300} // the spa emptied or spilled
	nearMiss  = harm{says: "practice.harm.near-miss", goes: true}            // a timer could have started it
	underLoad = harm{says: "practice.harm.under-load", goes: true}           // the breaker, while it runs
)

// broken is a rule by whoever breaks it: the verb ("" is any) and the refusal's key.
type broken struct {
	verb procedure.Verb
	key  string
}

// harms says what breaking each rule does. A test walks every state that a hand can bring a
// pad into and holds it whole.
var harms = map[broken]harm{
	{"", "procedure.there-is-no-such-action"}:                        nothing,
	{"", "procedure.this-pad-has-no-such"}:                           nothing,
	{"", "procedure.this-filter-has-no-such"}:                        nothing,
	{"", "procedure.this-pad-s-handles-don"}:                         nothing,
	{"", "procedure.the-pump-is-running-already"}:                    nothing,
	{"", "procedure.the-pump-is-off-already"}:                        nothing,
	{"", "procedure.the-power-is-off-give"}:                          nothing,
	{"", "procedure.the-pot-is-shut"}:                                nothing,
	{"", "procedure.a-hand-or-a-tool-2"}:                             nothing,
	{"", "procedure.the-bleed-is-shut-a"}:                            nothing,
	{"", "procedure.it-was-open-the-bleed"}:                          {goes: true},
	{"", "procedure.a-suction-line-is-open"}:                         nothing,
	{"", "procedure.a-hand-or-a-tool"}:                               bitten,
	{"", "procedure.the-filter-tank-is-open"}:                        flooded,
	{"", "procedure.the-pot-is-open"}:                                sprayed,
	{"", "procedure.never-start-on-the-water"}:                       deadHead,
	{"", "procedure.all-returns-are-shut-the"}:                       deadHead,
	{"", "procedure.it-was-open-open-the"}:                           trapped,
	{"", "procedure.the-pot-is-empty-fill"}:                          melted,
	{"", "procedure.the-spa-valves-stand-apart"}:                     apart,
	{"", "procedure.no-suction-line-is-open"}:                        melted,
	{"", "procedure.no-suction-line-is-open-2"}:                      melted,
	{"", "procedure.the-pump-runs-on-shut"}:                          melted,
	{"", "procedure.this-pad-lies-below-the"}:                        flooded,
	{"", "procedure.this-pad-lies-below-the-2"}:                      flooded,
	{procedure.StartShut, "procedure.open-the-bleed-first"}:          trapped,
	{procedure.OpenTank, "procedure.open-the-bleed-first"}:           thrown,
	{procedure.OpenTank, "procedure.the-tank-may-be-under"}:          thrown,
	{procedure.OpenTank, "procedure.off-before"}:                     thrown,
	{procedure.OpenTank, "procedure.lock-the-power-off-at-2"}:        nearMiss,
	{procedure.OpenPot, "procedure.off-before"}:                      sprayed,
	{procedure.OpenPot, "procedure.the-power-is-not-locked"}:         nearMiss,
	{procedure.OpenPot, "procedure.it-ran-dry-the-pot"}:              scalded,
	{procedure.HandIn, "procedure.no-hand-goes-near-the"}:            bitten,
	{procedure.Turn, "procedure.off-before"}:                         torn,
	{procedure.SuctionTo, "procedure.off-before"}:                    strained,
	{procedure.ReturnTo, "procedure.off-before"}:                     strained,
	{procedure.ShutSuction, "procedure.off-before"}:                  melted,
	{procedure.ShutReturns, "procedure.off-before"}:                  deadHead,
	{procedure.LockOff, "procedure.off-before"}:                      underLoad,
	{procedure.Relieve, "procedure.off-before"}:                      nothing,
	{procedure.Cool, "procedure.off-before"}:                         nothing,
	{procedure.ShutLine, "procedure.it-is-the-last-open"}:            melted,
	{procedure.CloseTank, "procedure.rinse-the-elements-first-what"}: nothing,
}

// harmOf is what comes of an action that the state forbids with these words.
func harmOf(a procedure.Action, why words.Message) (harm, bool) {
	key := why.Key()
	if h, ok := harms[broken{a.Verb, key}]; ok {
		return h, true
	}
	h, ok := harms[broken{"", key}]
	return h, ok
}

// hands are the verbs that a hand at the pad has, with the minutes that each takes (ours);
// baths and doses belong to runs.
var hands = map[procedure.Verb]float64{
	procedure.Start:       1,
	procedure.StartShut:   1,
	procedure.Stop:        0.2,
	procedure.LockOff:     0.5,
	procedure.Unlock:      0.5,
	procedure.Turn:        0.5,
	procedure.OpenBleed:   0.3,
	procedure.Relieve:     0.5,
	procedure.CloseBleed:  0.3,
	procedure.ShutSuction: 0.5,
	procedure.OpenLine:    0.3,
	procedure.ShutLine:    0.3,
	procedure.OpenSuction: 0.5,
	procedure.ShutReturns: 0.5,
	procedure.OpenReturns: 0.5,
	procedure.OpenTank:    4,
	procedure.CloseTank:   5,
	procedure.OpenPot:     0.5,
	procedure.FillPot:     0.5,
	procedure.ClosePot:    0.5,
	procedure.HandIn:      0.5,
	procedure.HandOut:     0.2,
	procedure.SuctionTo:   0.3,
	procedure.ReturnTo:    0.3,
	procedure.Cool:        20,
	procedure.Program:     0.2,
	procedure.SetSpeed:    0,
}
