package practice

import (
	"fmt"
	"math"
	"slices"
	"strconv"

	"fairlap/core/fault"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/procedure"
	"fairlap/core/units"
	"fairlap/core/words"
)

// View is a case as whoever works it sees it: nothing of what is hidden.
type View struct {
	ID       string          `json:"id"`
	Title    words.Message   `json:"title"`
	Story    words.Message   `json:"story"`
	Level    Level           `json:"level" enum:"first-week,season,old-hand"`
	Theme    Theme           `json:"theme" enum:"air,suction,filter,spa,electrical,holding,small,opening"`
	Mode     Mode            `json:"mode" enum:"alone,odds,hints,beside"`
	Turn     int             `json:"turn"`
	Over     bool            `json:"over"`
	Held     bool            `json:"held" doc:"the odds are owed before the next check"`
	Costs    Cost            `json:"costs"`
	Pad      pad.Document    `json:"pad"`
	Paths    judge.PathsView `json:"paths" doc:"how the water should go as it stands"`
	Gallons  float64         `json:"gallons"`
	Forecast float64         `json:"forecast" doc:"load that the record expects"`
	Clean    []Row           `json:"clean" nullable:"false" doc:"the clean line on record"`
	State    procedure.State `json:"state"`
	Stands   bool            `json:"stands" doc:"it was told to run, and does not turn"`
	Unlike   words.Message   `json:"unlike" doc:"what still differs from daily use"`
	Daily    bool            `json:"daily" doc:"it stands and runs as in daily use"`
	RPM      float64         `json:"rpm"`
	Speeds   []float64       `json:"speeds" nullable:"false" doc:"that can be set; one: it can't"`
	Hands    []HandView      `json:"hands" nullable:"false"`
	Looks    []LookView      `json:"looks" nullable:"false"`
	Runs     []RunView       `json:"runs" nullable:"false"`
	Faults   []FaultView     `json:"faults" nullable:"false"`
	Rows     []Row           `json:"rows" nullable:"false" doc:"what was read, newest last"`
	Steps    []Step          `json:"steps" nullable:"false"`
	Harms    []Harm          `json:"harms" nullable:"false"`
	Hint     *Hint           `json:"hint" doc:"with hints, and beside the engine"`
	Suspects []SuspectView   `json:"suspects" nullable:"false" doc:"beside the engine"`
}

// HandView is one thing that a hand could do.
type HandView struct {
	procedure.Action
	Says    words.Message `json:"says"`
	Group   string        `json:"group" enum:"power,valve,suction,returns,tank,pot"`
	Minutes float64       `json:"minutes"`
}

// LookView is a sign that can be looked for.
type LookView struct {
	Sign    fault.Sign    `json:"sign"`
	Name    words.Message `json:"name"`
	Look    words.Message `json:"look"`
	Where   string        `json:"where" enum:"danger,pot,pump,filter,pool,paths,since"`
	Minutes float64       `json:"minutes"`
	Caution words.Message `json:"caution"`
	Need    Need          `json:"need" enum:",running,off,locked,relieved,pot,hand,tank"`
	Lacks   words.Message `json:"lacks" doc:"what is missing for it; empty: nothing"`
	Answer  *bool         `json:"answer" doc:"absent: not looked since the last work"`
}

// RunView is a guided run that may be taken.
type RunView struct {
	Run     procedure.ID  `json:"run"`
	Name    words.Message `json:"name"`
	Aim     words.Message `json:"aim"`
	Minutes float64       `json:"minutes"`
}

// FaultView is something that may be put right, left to others or given odds.
type FaultView struct {
	Fault   fault.ID      `json:"fault"`
	Name    words.Message `json:"name"`
	Fix     words.Message `json:"fix"`
	Minutes float64       `json:"minutes"`
	Dollars float64       `json:"dollars"`
	Caution words.Message `json:"caution"`
	Need    Need          `json:"need" enum:",running,off,locked,relieved,pot,hand,tank"`
	Lacks   words.Message `json:"lacks"`
	Hands   bool          `json:"hands" doc:"it can be put right by hand; else a run does it"`
}

// Row is one set of meters in the trade's units.
type Row struct {
	Minutes float64  `json:"minutes"`
	Set     string   `json:"set"`
	RPM     float64  `json:"rpm"`
	Meters  []MeterV `json:"meters" nullable:"false"`
}

// MeterV is one figure.
type MeterV struct {
	Meter pad.Meter `json:"meter" enum:"tank,vacuum,flow,power"`
	Unit  string    `json:"unit"`
	Value float64   `json:"value"`
}

// SuspectView is one suspect, briefly.
type SuspectView struct {
	Fault fault.ID        `json:"fault"`
	Name  words.Message   `json:"name"`
	Place words.Message   `json:"place"`
	P     float64         `json:"p"`
	For   []words.Message `json:"for" nullable:"false"`
}

// groups are where a hand goes for each verb.
var groups = map[procedure.Verb]string{
	procedure.Start:       "power",
	procedure.StartShut:   "power",
	procedure.Stop:        "power",
	procedure.LockOff:     "power",
	procedure.Unlock:      "power",
	procedure.Program:     "power",
	procedure.SetSpeed:    "power",
	procedure.Turn:        "valve",
	procedure.OpenLine:    "suction",
	procedure.ShutLine:    "suction",
	procedure.OpenSuction: "suction",
	procedure.ShutSuction: "suction",
	procedure.SuctionTo:   "suction",
	procedure.ShutReturns: "returns",
	procedure.OpenReturns: "returns",
	procedure.ReturnTo:    "returns",
	procedure.OpenBleed:   "tank",
	procedure.Relieve:     "tank",
	procedure.CloseBleed:  "tank",
	procedure.OpenTank:    "tank",
	procedure.CloseTank:   "tank",
	procedure.OpenPot:     "pot",
	procedure.FillPot:     "pot",
	procedure.ClosePot:    "pot",
	procedure.HandIn:      "pot",
	procedure.HandOut:     "pot",
	procedure.Cool:        "pot",
}

// View shows an attempt. Errors are the engine's.
func (a *Attempt) View() (*View, error) {
	v := &View{
		ID:       a.ID,
		Title:    a.Title,
		Story:    a.Story,
		Level:    a.Level,
		Theme:    a.Theme,
		Mode:     a.Mode,
		Turn:     a.Turn,
		Over:     a.Over,
		Held:     a.Held,
		Costs:    a.Costs(),
		Pad:      a.doc,
		Gallons:  a.doc.PoolGallons,
		Forecast: a.Forecast,
		Clean:    []Row{},
		State:    a.State,
		Stands:   a.State.Running && a.turning() == 0,
		Unlike:   a.rig.Unlike(a.State),
		Daily:    a.State == a.rig.Daily(),
		RPM:      a.RPM,
		Speeds:   a.speeds(),
		Hands:    a.hands(),
		Looks:    a.looks(),
		Runs:     []RunView{},
		Faults:   a.faults(),
		Rows:     a.rows(),
		Steps:    append([]Step{}, a.Steps...),
		Harms:    append([]Harm{}, a.Harms...),
		Suspects: []SuspectView{},
	}
	v.Costs.Left, v.Costs.Wrong, v.Costs.All = 0, 0, 0 // told at the end
	for _, r := range a.stop.Clean {
		row := Row{Set: r.Setting, RPM: r.RPM, Meters: []MeterV{}}
		for _, m := range []struct {
			meter pad.Meter
			value *float64
		}{{pad.MeterTank, r.TankPsi}, {pad.MeterVacuum, r.VacuumInHg}, {pad.MeterFlow, r.FlowGPM},
			{pad.MeterPower, r.PowerW}} {
			if m.value != nil {
				row.Meters = append(row.Meters, MeterV{m.meter, judge.MeterUnits[m.meter], *m.value})
			}
		}
		v.Clean = append(v.Clean, row)
	}
	for _, p := range a.runs() {
		v.Runs = append(v.Runs, RunView{p.ID, p.Name, p.Aim, p.Minutes})
	}
	var err error
	if v.Paths, err = a.paths(); err != nil {
		return nil, err
	}
	return v, a.help(v)
}

// paths is how the water should go on the pad of the record as it stands.
func (a *Attempt) paths() (judge.PathsView, error) {
	op := a.operation()
	op.Speed = units.Speed(a.turning())
	v, err := judge.ViewPaths(a.stop.Model, op, math.Max(0, a.Forecast))
	if err != nil {
		return v, fmt.Errorf("where the water goes in %s: %w", a.ID, err)
	}
	return v, nil
}

// help adds what the mode gives.
func (a *Attempt) help(v *View) error {
	if a.Over || !a.Mode.Helped() {
		return nil
	}
	verdict, res, err := a.Judge()
	if err != nil {
		return err
	}
	h := a.hint(verdict, res)
	h.Next = a.next(&h)
	v.Hint = &h
	if a.Mode != Beside {
		return nil
	}
	for i, x := range verdict.Suspects {
		if i == 5 {
			break
		}
		s := SuspectView{Fault: fault.ID(x.ID), Name: x.Name, Place: x.Place, P: x.P, For: []words.Message{}}
		for _, e := range x.For {
			if len(s.For) < 2 {
				s.For = append(s.For, e.Text)
			}
		}
		v.Suspects = append(v.Suspects, s)
	}
	return nil
}

// speeds are those worth setting: the programme's, the least and the top.
func (a *Attempt) speeds() []float64 {
	p := &a.doc.Pump
	out := []float64{a.RPM}
	switch p.Kind {
	case pad.TwoSpeed:
		out = []float64{p.LeastRPM, p.TopRPM}
	case pad.VariableSpeed:
		out = []float64{p.TopRPM, p.Nearest(0.5 * p.TopRPM), a.usual()}
		for _, s := range a.doc.Programme {
			out = append(out, p.Nearest(s.RPM))
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}

func (a *Attempt) hands() []HandView {
	out := []HandView{}
	for _, act := range a.rig.Actions() {
		minutes, ok := hands[act.Verb]
		if !ok || a.rig.Anyhow(a.State, act) == a.State {
			continue
		}
		out = append(out, HandView{act, a.rig.Instruction(act), groups[act.Verb], minutes})
	}
	return out
}

func (a *Attempt) lacks(n Need) words.Message {
	if needs[n].met(a.State) {
		return ""
	}
	return needs[n].lack
}

func (a *Attempt) looks() []LookView {
	out := []LookView{}
	for i := range fault.Signs {
		sg := &fault.Signs[i]
		if !sg.On(&a.doc) || sg.Context {
			continue
		}
		n := looks[sg.ID]
		l := LookView{
			Sign:    sg.ID,
			Name:    sg.Name,
			Look:    sg.Look,
			Where:   sg.Where,
			Minutes: sg.Minutes,
			Caution: sg.Caution,
			Need:    n,
			Lacks:   a.lacks(n),
		}
		if seen, ok := a.seen[sg.ID]; ok {
			l.Answer = &seen.yes
		}
		out = append(out, l)
	}
	return out
}

func (a *Attempt) faults() []FaultView {
	out := []FaultView{}
	for i := range fault.Catalogue {
		f, ok := known(fault.Catalogue[i].ID, &a.doc)
		if !ok {
			continue
		}
		fix, byHand := fixes[f.ID]
		out = append(out, FaultView{
			Fault:   f.ID,
			Name:    f.Name,
			Fix:     f.Fix,
			Minutes: f.Minutes,
			Dollars: fix.dollars,
			Caution: f.Caution,
			Need:    fix.need,
			Lacks:   a.lacks(fix.need),
			Hands:   byHand,
		})
	}
	loaded := fault.Loaded(a.doc.Filter.Kind)
	return append(
		out,
		FaultView{
			Fault:   loaded.ID,
			Name:    loaded.Name,
			Fix:     loaded.Fix,
			Minutes: loaded.Minutes,
			Caution: loaded.Caution,
		},
	)
}

func (a *Attempt) rows() []Row {
	out := []Row{}
	for _, r := range a.readings {
		rpm, _ := strconv.ParseFloat(r.Speed, 64) // we wrote it
		row := Row{Minutes: r.minutes, Set: r.Setting, RPM: rpm, Meters: []MeterV{}}
		for _, m := range []struct {
			meter pad.Meter
			typed string
		}{{pad.MeterTank, r.Tank}, {pad.MeterVacuum, r.Vacuum}, {pad.MeterFlow, r.Flow}, {pad.MeterPower, r.Power}} {
			if m.typed == "" {
				continue
			}
			n, _ := strconv.ParseFloat(m.typed, 64) // we wrote it
			row.Meters = append(row.Meters, MeterV{m.meter, judge.MeterUnits[m.meter], n})
		}
		out = append(out, row)
	}
	return out
}
