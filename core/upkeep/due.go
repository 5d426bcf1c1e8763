package upkeep

import (
	"math"
	"sort"
	"strings"
	"time"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/words"
)

// Ground is why work falls due.
type Ground string

// The grounds; of several the first to come is named.
const (
	ByLoad     Ground = "load"
	ByCalendar Ground = "date"
	ByUse      Ground = "use"
	ByWear     Ground = "wear"
	ByAge      Ground = "age"
)

// Due is one piece of work that falls due at a pool.
type Due struct {
	Item      string        `json:"item" doc:"stable name of the work at this pool"`
	Name      words.Message `json:"name"`
	Ground    Ground        `json:"ground" enum:"load,date,use,wear,age"`
	Opens     time.Time     `json:"opens" doc:"sooner is too often"`
	By        time.Time     `json:"by"`
	Reason    words.Message `json:"reason"`
	Harm      float64       `json:"harm" doc:"chance that waiting for the visit after the next does harm"`
	Minutes   float64       `json:"minutes"`
	Materials []Material    `json:"materials" nullable:"false"`
	Hold      *Hold         `json:"hold" doc:"what forbids it for now"`
	Freed     *time.Time    `json:"freed" doc:"day for which somebody overrode what forbids it"`
	Snoozed   *time.Time    `json:"snoozed" doc:"put off until then, by somebody's choice"`
	Planned   *time.Time    `json:"planned" doc:"put on the visit of this day, by somebody's choice"`
}

// Hold is what forbids work until a time.
type Hold struct {
	Until time.Time     `json:"until"`
	Why   words.Message `json:"why"`
}

// ItemName is what a piece of due work is called, "" for an unknown one.
func ItemName(item string, kind pad.FilterKind) words.Message {
	if item == string(CleanFilter) {
		name, _ := fault.Cleaning(kind)
		return name
	}
	for _, s := range Services {
		if string(s.ID) == item {
			return s.Name
		}
	}
	if part, ok := strings.CutPrefix(item, partItem); ok && part != "" {
		return words.Of("upkeep.replace-part", "part", words.Msg(PartName(part)))
	}
	if what, ok := strings.CutPrefix(item, inspectedItem); ok && what != "" {
		return words.Of("upkeep.found-at-inspection", "what", words.Msg(foundName(what)))
	}
	if name := owedName(item); name != "" {
		return name
	}
	if name, ok := wearNames[WearID(strings.TrimPrefix(item, wearItem))]; ok && strings.HasPrefix(item, wearItem) {
		return name
	}
	return ""
}

// foundName is what an inspection calls an item of its own.
func foundName(item string) words.Message {
	if key := "inspection." + item + ".name"; words.Has(key) {
		return words.Message(key)
	}
	return words.Named(strings.ReplaceAll(item, "-", " "))
}

// partItem, wearItem and inspectedItem begin the items of parts, of wear and of what an
// inspection found.
const partItem, wearItem, inspectedItem = "part:", "wear:", "inspection:"

// Inspected is something that an inspection found to be mended.
type Inspected struct {
	Item            string
	Name, Text, Who words.Message
	At              time.Time
	Stop            bool // pump off until it is done
	Soon            bool // before the next visit
}

// mendWithin is how long an inspection's finding may wait, days (ours); what stops the
// pump waits not at all.
const (
	mendWithin = 30
	mendSoon   = 6 // before next week's visit
)

func inspected(f *Inspected) Due {
	d := Due{
		Item:    inspectedItem + f.Item,
		Name:    words.Of("upkeep.mend", "what", words.Msg(f.Name)),
		Ground:  ByCalendar,
		Opens:   f.At,
		By:      f.At.Add(daysOf(mendWithin)),
		Reason:  words.Of("upkeep.for-a", "says", words.Msg(f.Text), "who", words.Msg(f.Who)),
		Harm:    0.3,
		Minutes: 30,
	}
	switch {
	case f.Stop:
		d.By, d.Harm = f.At, 1
	case f.Soon:
		d.By, d.Harm = f.At.Add(daysOf(mendSoon)), 0.8
	}
	return d
}

// Part is a piece of equipment with its life.
type Part struct {
	Kind, Model string
	Installed   time.Time
	Years       float64 // expected of this one; 0 is what its kind lasts
}

// Mark is what somebody decided or did about an item; the last one counts.
type Mark struct {
	Item string
	Act  MarkAct
	At   time.Time
	// Until ends a snooze, or is the day that the work was put on.
	Until time.Time
}

// MarkAct is what was decided.
type MarkAct string

// The acts.
const (
	MarkDone     MarkAct = "done"
	MarkSnooze   MarkAct = "snooze"
	MarkPlan     MarkAct = "plan"     // on the visit of a day
	MarkResume   MarkAct = "resume"   // ends a snooze, or a plan
	MarkCancel   MarkAct = "cancel"   // until it falls due again by its interval
	MarkOverride MarkAct = "override" // of a hold, for the day
	MarkOwe      MarkAct = "owe"      // a part was found bad at a run
)

// Ledger is everything that a pool's due work follows from.
type Ledger struct {
	Now       time.Time
	Later     time.Time // the planned visit after the next one: what waiting means
	Gear      Gear
	Settings  Settings
	Filter    Filter
	Worn      []Wear
	CleanLine *time.Time // the last one
	Since     time.Time  // on record
	Parts     []Part
	// KGalPerDay is the thousand gallons a day that pass the filter.
	KGalPerDay float64
	Marks      []Mark // oldest first
	Inspected  []Inspected
	// NoDischarge tells the days on which no water may go to waste.
	NoDischarge func(day time.Time) bool
}

// window is how far ahead of its date calendar work may be done: a twelfth of its
// interval, a month at most (ours).
func window(days float64) time.Duration { return daysOf(math.Min(30, days/12)) }

func daysOf(d float64) time.Duration { return time.Duration(d * 24 * float64(time.Hour)) }

// soonest is how far ahead due work is listed, days.
const soonest = 45

// List gives the work that falls due within the coming weeks, most urgent first.
func (l *Ledger) List() []Due {
	var out []Due
	if d, ok := l.cleaning(); ok {
		out = append(out, d)
	}
	for i := range Services {
		s := &Services[i]
		switch {
		case s.On != nil && !s.On(&l.Gear):
		case s.Season:
			if d, ok := l.season(s); ok {
				out = append(out, d)
			}
		default:
			out = append(out, l.service(s))
		}
	}
	for _, p := range l.Parts {
		if d, ok := l.renewal(p); ok {
			out = append(out, d)
		}
	}
	for _, w := range l.Worn {
		out = append(
			out,
			Due{
				Item:      wearItem + string(w.ID),
				Name:      w.Plan,
				Ground:    ByWear,
				Opens:     l.Now,
				By:        l.Now.Add(daysOf(30)),
				Reason:    w.Text,
				Harm:      0.2,
				Minutes:   60,
				Materials: soakMaterials(&l.Gear),
			},
		)
	}
	for _, f := range l.Inspected {
		if l.doneAt(inspectedItem + f.Item).Before(f.At) {
			out = append(out, inspected(&f))
		}
	}
	out = append(out, l.owed()...)
	kept := out[:0]
	for _, d := range out {
		if l.far(&d) || !l.marked(&d) {
			continue
		}
		if d.Materials == nil {
			d.Materials = []Material{}
		}
		kept = append(kept, d)
	}
	sort.SliceStable(kept, func(a, b int) bool { return kept[a].By.Before(kept[b].By) })
	return kept
}

// Closed is what an inspection found that keeps the pump off until it is mended, and nobody
// has mended yet.
func (l *Ledger) Closed() []Due {
	var out []Due
	for _, f := range l.Inspected {
		if f.Stop && l.doneAt(inspectedItem+f.Item).Before(f.At) {
			out = append(out, inspected(&f))
		}
	}
	return out
}

// marked applies what was decided about an item; false takes it off the list.
func (l *Ledger) marked(d *Due) bool {
	for _, m := range l.Marks {
		if m.Item != d.Item {
			continue
		}
		if c := l.Filter.LastCleaned; d.Item == string(CleanFilter) && c != nil && !m.At.After(*c) {
			continue // it was about the cleaning before
		}
		switch m.Act {
		case MarkSnooze:
			until := m.Until
			d.Snoozed, d.Planned = nil, nil
			if until.After(l.Now) {
				d.Snoozed = &until
			}
		case MarkPlan:
			day := m.Until
			d.Snoozed, d.Planned = nil, nil
			if y, month, date := l.Now.Date(); !day.Before(time.Date(y, month, date, 0, 0, 0, 0, l.Now.Location())) {
				d.Planned = &day
			}
		case MarkDone:
			d.Snoozed, d.Planned = nil, nil
		case MarkResume:
			d.Snoozed, d.Planned = nil, nil
		case MarkOverride:
			if l.overrides(m) {
				day := m.At.In(l.Now.Location())
				d.Hold, d.Freed = nil, &day
			}
		case MarkCancel:
			if d.Ground == ByWear && l.Now.Sub(m.At) < daysOf(90) {
				return false
			}
		}
	}
	return true
}

// doneAt is when an item was last done or called off, from when it counts anew.
func (l *Ledger) doneAt(item string) time.Time {
	var at time.Time
	for _, m := range l.Marks {
		if m.Item == item && (m.Act == MarkDone || m.Act == MarkCancel) && m.At.After(at) {
			at = m.At
		}
	}
	return at
}

// cleaning falls due on the day from which the chance of being over the limit
// passes the company's; without any forecast by the calendar.
func (l *Ledger) cleaning() (Due, bool) {
	name, minutes := fault.Cleaning(l.Gear.Kind)
	d := Due{
		Item:      string(CleanFilter),
		Name:      name,
		Minutes:   minutes,
		Materials: cleaningMaterials(&l.Gear),
		Hold:      l.Hold(),
	}
	h := &l.Filter
	byCalendar := l.Gear.Small || l.Gear.Kind == pad.Unknown
	if !h.HadForecast && (h.LastCleaned == nil || !byCalendar) {
		return d, false // nobody knows when it was last cleaned: the first visit tells
	}
	if l.Settings.For(&l.Gear).School == Calendar {
		every := CalendarOf(&l.Gear)
		from := l.Since
		if h.LastCleaned != nil {
			from = *h.LastCleaned
		}
		d.Ground, d.By = ByCalendar, from.Add(daysOf(every))
		d.Opens = d.By.Add(-daysOf(7))
		d.Reason = words.Of("upkeep.by-the-calendar-every-days-2", "every", words.ND(every, 0))
		return d, true
	}
	d.Ground = ByLoad
	course := h.State.Course(h.State.LoadBelief(), h.PerDay)
	over := course.Due(&l.Settings)
	if over < 0 {
		return d, false
	}
	d.By = l.Now.Add(daysOf(float64(over)))
	d.Opens = d.By.Add(-daysOf(7))
	week := 7
	if !l.Later.IsZero() {
		week = max(0, int(math.Ceil(l.Later.Sub(l.Now).Hours()/24)))
	}
	d.Harm = course.Past(float64(min(week, horizon)))
	load := words.Of("upkeep.load-expected-today", "load", words.Share(h.State.Expected()))
	if h.State.Load > 1 {
		load = "upkeep.over-its-limit-by-now"
	}
	d.Reason = words.Of(
		"upkeep.from-on-over-odds-of",
		"load",
		words.Msg(load),
		"from",
		words.DayMonth(d.By),
		"cleanAbove",
		words.Share(l.Settings.CleanAbove),
	)
	return d, true
}

// Held is Hold, unless somebody overrode it within the day.
func (l *Ledger) Held() *Hold {
	for _, m := range l.Marks {
		if m.Item == string(CleanFilter) && l.overrides(m) {
			return nil
		}
	}
	return l.Hold()
}

// overrides tells whether a mark frees held work now.
func (l *Ledger) overrides(m Mark) bool {
	return m.Act == MarkOverride && l.Now.Sub(m.At) < 24*time.Hour
}

// Hold is what forbids a cleaning that throws water away.
func (l *Ledger) Hold() *Hold {
	if l.Gear.Kind == pad.Cartridge {
		return nil
	}
	if c := l.Filter.Chemicals; c != nil {
		if until := HoldUntil(*c, l.Settings); until.After(l.Now) {
			return &Hold{until, "upkeep.chemicals-are-in-a-backwash"}
		}
	}
	if l.NoDischarge != nil && l.NoDischarge(l.Now) {
		until := l.Now
		for l.NoDischarge(until) && until.Sub(l.Now) < daysOf(soonest) {
			y, m, day := until.Date()
			until = time.Date(y, m, day+1, 0, 0, 0, 0, until.Location())
		}
		return &Hold{until, "upkeep.no-water-may-be-discharged"}
	}
	return nil
}

// unrecorded is when work that nobody has recorded is first asked for, days: it
// may have been done, but nobody knows.
const unrecorded = 30

func (l *Ledger) service(s *Service) Due {
	d := Due{Item: string(s.ID), Name: s.Name, Ground: ByCalendar, Minutes: s.Minutes, Harm: 0.05}
	days := l.Settings.DaysOf(s)
	last := l.doneAt(string(s.ID))
	if s.ID == TakeCleanLine && l.CleanLine != nil && l.CleanLine.After(last) {
		last = *l.CleanLine
	}
	switch {
	case !last.IsZero():
		d.By, d.Reason = last.Add(
			daysOf(days),
		), words.Of(
			"upkeep.last",
			"why",
			words.Msg(s.Why),
			"last",
			words.Date(last),
		)
	case s.ID == TakeCleanLine:
		d.By, d.Harm, d.Reason = l.Now, 0.3, "upkeep.there-is-none-no-reading"
	default:
		d.By, d.Reason = l.Since.Add(daysOf(days)), words.Of("upkeep.not-on-record-yet", "why", words.Msg(s.Why))
		if soon := l.Now.Add(daysOf(unrecorded)); d.By.Before(soon) {
			d.By = soon
		}
	}
	d.Opens = d.By.Add(-window(days))
	if s.Materials != nil {
		d.Materials = s.Materials(&l.Gear)
	}
	return d
}

// season is the work of the company's next opening or closing day.
func (l *Ledger) season(s *Service) (Due, bool) {
	text := l.Settings.SeasonOpens
	if s.ID == SeasonClose {
		text = l.Settings.SeasonCloses
	}
	month, day, ok := seasonDay(text)
	if !ok {
		return Due{}, false
	}
	d := Due{Item: string(s.ID), Name: s.Name, Ground: ByCalendar, Minutes: s.Minutes, Harm: 0.2, Reason: s.Why}
	d.By = time.Date(l.Now.Year(), month, day, 0, 0, 0, 0, l.Now.Location())
	// Last year's is over; this year's is asked for until a month after its day.
	if l.Now.Sub(d.By) > daysOf(30) || l.doneAt(d.Item).After(d.By.Add(-daysOf(60))) {
		d.By = d.By.AddDate(1, 0, 0)
	}
	d.Opens = d.By.Add(-daysOf(14))
	return d, true
}

// renewal is when a part's life ends: by its age, by the water it has filtered, or
// by wear, whichever comes first.
func (l *Ledger) renewal(p Part) (Due, bool) {
	life := l.Settings.LifeOf(p.Kind)
	if p.Years > 0 {
		life.Years = p.Years
	}
	item := partItem + p.Kind
	d := Due{Item: item, Minutes: 30, Harm: 0.05}
	if k := partLife(p.Kind); k != nil {
		d.Minutes = k.Minutes
	}
	var reason func() words.Message
	first := func(g Ground, by time.Time, why func() words.Message) {
		if d.By.IsZero() || by.Before(d.By) {
			d.Ground, d.By, reason = g, by, why
		}
	}
	if !p.Installed.IsZero() && life.Years > 0 {
		first(ByAge, LifeEnds(p.Installed, life.Years), func() words.Message {
			age := l.Now.Sub(p.Installed).Hours() / 24 / 365.25
			return words.Of(
				"upkeep.of-years",
				"age",
				words.ND(age, 1),
				"years",
				words.N(life.Years),
				"model",
				words.Name(p.Model),
			)
		})
	}
	if !p.Installed.IsZero() && life.KGal > 0 && l.KGalPerDay > 0 {
		first(ByUse, p.Installed.Add(daysOf(life.KGal/l.KGalPerDay)), func() words.Message {
			used := l.KGalPerDay * l.Now.Sub(p.Installed).Hours() / 24
			return words.Of(
				"upkeep.of-thousand-gallons",
				"used",
				words.ND(used, 0),
				"kGal",
				words.ND(life.KGal, 0),
				"model",
				words.Name(p.Model),
			)
		})
	}
	// Called off, it is looked at again in a quarter of its life.
	if at := l.doneAt(item); !at.IsZero() && at.After(p.Installed) {
		if again := at.Add(daysOf(math.Max(0.25, life.Years/4) * 365.25)); again.After(d.By) {
			d.By = again
		}
	} else if p.Kind == media[l.Gear.Kind] {
		for _, w := range l.Worn {
			if w.ID == PostCleanCreep && w.Last > creepOld {
				first(ByWear, l.Now.Add(daysOf(30)), func() words.Message { return w.Text })
				d.Harm = 0.2
			}
		}
	}
	if d.By.IsZero() || l.far(&d) { // what is far off is not told of
		return d, false
	}
	if reason != nil {
		d.Reason = reason()
	}
	d.Name = ItemName(item, l.Gear.Kind)
	model := words.Of("upkeep.part-of-model", "part", words.Msg(PartName(p.Kind)), "model", words.Name(p.Model))
	d.Materials = []Material{{model, 1, "pc"}}
	d.Opens = d.By.Add(-window(life.Years * 365.25))
	return d, true
}

// far tells work that falls due too far ahead to be listed.
func (l *Ledger) far(d *Due) bool { return d.By.Sub(l.Now) > daysOf(soonest) }

// LifeEnds is when a part's expected life ends by its age.
func LifeEnds(installed time.Time, years float64) time.Time {
	return installed.AddDate(0, 0, int(math.Round(years*365.25)))
}

// AtVisit gives each piece of due work the visit at or just before it falls due,
// by index; one already past goes to the first. Work under a hold goes to the last
// visit before its date on which it is free, else to the first one after. Work that
// somebody put on a day goes to the visit of that day while there is one.
func AtVisit(due []Due, visits []time.Time, free func(d *Due, at time.Time) bool) []int {
	out := make([]int, len(due))
	for i := range due {
		d := &due[i]
		out[i] = -1
		if d.Planned != nil {
			y, m, day := d.Planned.Date()
			for v, at := range visits {
				if vy, vm, vd := at.Date(); vy == y && vm == m && vd == day && free(d, at) {
					out[i] = v
				}
			}
			if out[i] >= 0 {
				continue
			}
		}
		for v, at := range visits {
			if !free(d, at) || (d.Snoozed != nil && at.Before(*d.Snoozed)) {
				continue
			}
			if out[i] < 0 || !at.After(d.By) {
				out[i] = v
			}
		}
	}
	return out
}
