package speedplan

import (
	"fmt"
	"math"
	"slices"

	"fairlap/core/pad"
	"fairlap/core/words"
)

// hoursADay is how finely a day is planned; programmes are evaluated to the minute.
const hoursADay = 24

// tolerance is the share of a day's cost that a plan's proof of being the cheapest may
// leave open, as usual for integer programmes.
const tolerance = 5e-4

// Prices that choose between plans of the same power (ours).
const (
	aSlot  = 2e-3 // money a day that keying one slot more into the pump must save
	byDay  = 2e-6 // money an hour away from midday: of equal plans the one by daylight, for algae grow in the sun
	midday = 12.5
)

// Block is a part of the day at one way to run.
type Block struct {
	Start, Hours float64
	Way          Way
}

// Totals are what a day of a programme comes to.
type Totals struct {
	Gallons     float64 `json:"gallons"`
	Turnovers   float64 `json:"turnovers" doc:"0 where the volume is not known"`
	TurnoversSD float64 `json:"turnoversSd" doc:"what the pad's calibration leaves open"`
	KWh         float64 `json:"kwh"`
	PowerCost   float64 `json:"powerCost" doc:"of a day, priming with it: what the bill says"`
	StartsCost  float64 `json:"startsCost" doc:"of a day: the wear of starts, if any is set; on no bill"`
	Starts      int     `json:"starts"`
	RunHours    float64 `json:"runHours"`
	HighHours   float64 `json:"highHours"`
	CellHours   float64 `json:"cellHours"`
	MediaRate   float64 `json:"mediaRate" doc:"the highest, gpm a square foot"`
	NoiseHours  float64 `json:"noiseHours" doc:"in quiet hours, faster than they allow"`
}

// Cost is what plans are weighed by, a day: the bill, and the wear of starts if any
// is set.
func (t *Totals) Cost() float64 { return t.PowerCost + t.StartsCost }

// Broken is a need that a programme does not meet.
type Broken struct {
	Need NeedID        `json:"need"`
	Text words.Message `json:"says"`
	Hour int           `json:"hour" doc:"the first one concerned; −1: the day as a whole"`
}

// Plan is a programme for the day with what it comes to.
type Plan struct {
	Blocks []Block
	Totals Totals
	Broken []Broken
}

// Slots are a plan's blocks as the pump's programme takes them.
func (p *Plan) Slots() []pad.Slot {
	out := make([]pad.Slot, len(p.Blocks))
	for i, b := range p.Blocks {
		out[i] = pad.Slot{StartHour: b.Start, Hours: b.Hours, RPM: b.Way.RPM}
	}
	return out
}

// Answer is the cheapest plan that meets the needs, or why there is none.
type Answer struct {
	Plan     *Plan
	Hourly   *Plan   // the cheapest of all, however many slots it takes
	Loss     float64 // money a day that fitting into the slots costs
	Within   float64 // money a day by which a cheaper plan could exist at the most: the proof
	Conflict *Conflict
}

// Find plans a day. The needs must have been checked. What nobody asked for gives way to what somebody did.
func Find(p *Pad, n *Needs) Answer {
	if a, ok := find(p, n); ok {
		return a
	}
	eased, gave := n.giveWay(p)
	b, ok := find(p, eased)
	if !ok {
		return Answer{Conflict: collide(p, eased, n)}
	}
	for _, plan := range []*Plan{b.Plan, b.Hourly} {
		again := evaluate(p, n, plan.Blocks)
		for i := range again.Broken {
			x := &again.Broken[i]
			if slices.Contains(gave, x.Need) {
				x.Text = words.Of("speedplan.default-gave-way", "what", words.Msg(x.Text))
			}
		}
		plan.Broken = again.Broken
	}
	return b
}

// find is Find with every need held; false where no day holds them.
func find(p *Pad, n *Needs) (Answer, bool) {
	items := needItems(p, n)
	prob := build(p, n, items)
	if prob == nil {
		return Answer{}, false
	}
	// Without regard to the slots first: what comes to no more blocks than there are is
	// the cheapest with them too, and states need not tell slots apart.
	free := *prob
	free.slots = 0
	plan, least, within, ok := free.solve()
	if !ok {
		return Answer{}, false
	}
	out := Answer{Hourly: planOf(p, n, plan), Within: within}
	if out.Plan = out.Hourly; prob.slots <= 0 || prob.blocks(plan) <= prob.slots {
		return out, true
	}
	fitted, cost, within, ok := prob.solve()
	if !ok {
		return Answer{}, false
	}
	out.Plan, out.Loss, out.Within = planOf(p, n, fitted), math.Max(0, cost-least), within
	return out, true
}

// NeedID names a need.
type NeedID string

// The needs of a day.
const (
	NeedLimit    NeedID = "limit"
	NeedSkim     NeedID = "skim"
	NeedHeat     NeedID = "heat"
	NeedClean    NeedID = "clean"
	NeedSpa      NeedID = "spa"
	NeedAwake    NeedID = "awake"
	NeedFrost    NeedID = "frost"
	NeedQuiet    NeedID = "quiet"
	NeedPeak     NeedID = "peak"
	NeedTurnover NeedID = "turnover"
	NeedHigh     NeedID = "high"
	NeedCell     NeedID = "cell"
	NeedRun      NeedID = "run"
	NeedSlots    NeedID = "slots"
	NeedStarts   NeedID = "starts"
)

// item is a need as the planner takes it: speeds that its hours bound, or what the day
// must add up to.
type item struct {
	id       NeedID
	name     words.Message
	span     *Span // nil: all day
	but      Span  // hours of it in which it does not hold
	least    float64
	most     float64 // 0: no bound
	leastGPM float64 // of the device behind least, for a pump that holds its flow; 0: not known
	run, off bool
	gives    bool          // nobody asked for it: it gives way to what somebody did
	never    words.Message // why no speed of this pump keeps it; the slowest is then used
	resource int           // −1: none
	amount   float64
}

// needItems lists what is asked for.
func needItems(p *Pad, n *Needs) []item {
	top := p.top(n.Media)
	limit := item{
		id:       NeedLimit,
		name:     words.Of("speedplan.at-most-rpm", "limit", words.Msg(top.Name), "speed", rpmWords(top.RPM)),
		most:     top.RPM,
		resource: -1,
	}
	if least := p.slowest(); top.RPM < least {
		limit.name, limit.most = top.Name, least
	}
	if least := p.slowest(); top.RPM < least {
		limit.never = words.Of(
			"speedplan.even-rpm-passes-it-and",
			"limit",
			words.Msg(top.Name),
			"least",
			rpmWords(least),
			"reason",
			words.Msg(top.Reason),
		)
	}
	if p.spaTop > 0 {
		limit.but = n.Spa // the spa's own way has a limit of its own
	}
	out := []item{limit}
	if n.SkimRPM > 0 {
		out = append(
			out,
			item{
				id:       NeedSkim,
				name:     words.Of("speedplan.the-surface-skimmed-at-least", "speed", rpmWords(n.SkimRPM)),
				least:    n.SkimRPM,
				resource: -1,
			},
		)
	}
	hours := func(s Span, i item) {
		if !s.None() {
			i.span, i.resource = &s, -1
			i.name = words.Of("speedplan.need-in", "need", words.Msg(i.name), "span", words.Msg(s.Words()))
			out = append(out, i)
		}
	}
	hours(
		n.Heat,
		item{
			id:       NeedHeat,
			name:     words.Of("speedplan.heater-at-least", "least", words.Msg(leastWords(p, p.heat))),
			least:    p.heat,
			leastGPM: deviceGPM(p.Doc.Heater),
			run:      true,
		},
	)
	clean := n.CleanRPM
	if clean <= 0 {
		clean = p.clean
	}
	hours(
		n.Clean,
		item{
			id:    NeedClean,
			name:  words.Of("speedplan.cleaner-at-least", "least", words.Msg(leastWords(p, clean))),
			least: clean,
			run:   true,
		},
	)
	hours(
		n.Spa,
		item{
			id:    NeedSpa,
			name:  words.Of("speedplan.jets-at-least", "least", words.Msg(leastWords(p, n.SpaRPM))),
			least: n.SpaRPM,
			most:  p.spaTop,
			run:   true,
		},
	)
	hours(n.Awake, item{id: NeedAwake, name: "speedplan.no-standing-water-in-the", run: true})
	hours(n.Frost, item{id: NeedFrost, name: "speedplan.water-moves-in-frost", run: true})
	if n.QuietRPM > 0 {
		hours(
			n.Quiet,
			item{
				id:   NeedQuiet,
				name: words.Of("speedplan.quiet-at-most-rpm", "speed", rpmWords(n.QuietRPM)),
				most: n.QuietRPM,
			},
		)
	}
	switch n.PeakWay {
	case PeakOff:
		hours(n.Peak, item{id: NeedPeak, name: "speedplan.off-in-the-utility-s", off: true})
	case PeakLow:
		if n.LowRPM > 0 {
			hours(
				n.Peak,
				item{
					id:   NeedPeak,
					name: words.Of("speedplan.low-in-the-utility-s", "speed", rpmWords(n.LowRPM)),
					most: n.LowRPM,
				},
			)
		}
	}
	day := func(id NeedID, resource int, amount float64, name words.Message) {
		if amount > 0 {
			out = append(out, item{id: id, name: name, resource: resource, amount: amount})
		}
	}
	day(
		NeedTurnover,
		turnover,
		n.Turnovers*n.Gallons,
		words.Of("speedplan.water-round-times-a-day", "turnovers", words.N(n.Turnovers)),
	)
	day(
		NeedHigh,
		highHours,
		n.HighHours,
		words.Of("speedplan.fast-hours-from-rpm", "highHours", words.N(n.HighHours), "speed", rpmWords(n.HighRPM)),
	)
	day(
		NeedCell,
		cellHours,
		n.CellHours,
		words.Of(
			"speedplan.hours-over-the-salt-cell",
			"cellHours",
			words.N(n.CellHours),
			"least",
			words.Msg(leastWords(p, p.cell)),
		),
	)
	day(NeedRun, runHours, n.LeastRun, words.Of("speedplan.hours-a-day-at-least", "leastRun", words.N(n.LeastRun)))
	out = append(
		out,
		item{id: NeedSlots, name: words.Of("speedplan.slots-of-the-pump", "slots", words.N(n.Slots)), resource: -1},
	)
	if n.Starts > 0 {
		out = append(
			out,
			item{
				id:       NeedStarts,
				name:     words.Of("speedplan.starts-a-day-at-most", "starts", words.N(n.Starts)),
				resource: -1,
			},
		)
	}
	own := n.defaults(p)
	for k := range out {
		out[k].gives = slices.Contains(own, out[k].id)
	}
	return out
}

// deviceGPM is a device's least flow; 0 where there is none, or nobody knows.
func deviceGPM(d *pad.Device) float64 {
	if d == nil {
		return 0
	}
	return d.LeastGPM
}

func rpmWords(rpm float64) words.Arg { return words.Q("rpm", math.Floor(rpm)) }

// leastWords says a least speed, or that none is enough.
func leastWords(p *Pad, rpm float64) words.Message {
	if math.IsInf(rpm, 1) || rpm > p.Doc.Pump.TopRPM {
		return "speedplan.more-than-this-pump-gives"
	}
	return words.Of("speedplan.speed", "speed", words.Q("rpm", math.Ceil(rpm)))
}

// build makes the problem of some needs; nil where an hour has no way left.
func build(p *Pad, n *Needs, items []item) *problem {
	prob := &problem{hours: hoursADay, ways: len(p.Ways), share: tolerance, slotCost: aSlot}
	counted := map[NeedID]bool{}
	for _, i := range items {
		counted[i.id] = true
		if i.resource >= 0 {
			prob.need[i.resource] = i.amount
		}
	}
	if counted[NeedSlots] {
		prob.slots = n.Slots
	}
	if counted[NeedStarts] {
		prob.starts = n.Starts
	}
	prime := p.wayAt(pad.Slot{RPM: n.PrimeRPM}).W / 1000 * n.PrimeMin / 60
	for h := range prob.hours {
		price, _ := n.Tariff.At(h)
		allow, cost, gain := make([]bool, prob.ways), make([]float64, prob.ways), make([]gains, prob.ways)
		any := false
		for w, way := range p.Ways {
			allow[w] = true
			for k := range items {
				allow[w] = allow[w] && items[k].allows(h, way)
			}
			any = any || allow[w]
			cost[w] = n.watts(h, way) / 1000 * price
			if !way.Off() {
				cost[w] += byDay * math.Abs(float64(h)-midday)
			}
			gain[w] = gainOf(p, n, h, way)
		}
		if !any {
			return nil
		}
		prob.allow, prob.cost, prob.gain = append(prob.allow, allow), append(prob.cost, cost), append(prob.gain, gain)
		start := n.StartWear + prime*math.Max(0, price)
		for k := range items {
			if !items[k].starts(n, h) {
				start = noStart
			}
		}
		prob.startCost = append(prob.startCost, start)
	}
	return prob
}

// watts are what an hour run so draws: on the spa's own way while the spa is used.
func (n *Needs) watts(h int, w Way) float64 {
	if n.Spa.Holds(h) {
		return w.SpaW
	}
	return w.W
}

// starts tells whether the pump may start in an hour: it primes at full speed then, in quiet hours and the peak too.
func (i *item) starts(n *Needs, h int) bool {
	return n.PrimeMin <= 0 || i.most <= 0 || i.id != NeedQuiet && i.id != NeedPeak || !i.span.Holds(h) ||
		n.PrimeRPM <= i.most+1e-9
}

// allows tells whether an hour may be run so.
func (i *item) allows(h int, way Way) bool {
	if i.span != nil && !i.span.Holds(h) || i.but.Holds(h) {
		return true
	}
	switch {
	case i.off && !way.Off(), i.run && way.Off():
		return false
	case i.most > 0 && way.Bound() > i.most+1e-9:
		return false
	case i.least > 0 && !way.Off() && !way.serves(i.least, i.leastGPM):
		return false
	}
	return true
}

// gainOf is what an hour run so adds up to. While the spa is used the pool's water
// stands.
func gainOf(p *Pad, n *Needs, h int, way Way) gains {
	var g gains
	if way.Off() {
		return g
	}
	g[runHours] = 1
	if p.Doc.Cell != nil && way.serves(p.cell, p.Doc.Cell.LeastGPM) {
		g[cellHours] = 1
	}
	if n.Spa.Holds(h) {
		return g
	}
	g[turnover] = way.GPM * 60
	if n.HighRPM > 0 && way.RPM >= n.HighRPM-1e-9 && (n.HighIn.None() || n.HighIn.Whole(h)) {
		g[highHours] = 1
	}
	return g
}

// planOf turns the hours' ways into blocks and adds them up.
func planOf(p *Pad, n *Needs, ways []int) *Plan {
	var blocks []Block
	for h, w := range ways {
		if w == 0 {
			continue
		}
		if k := len(blocks) - 1; k >= 0 && blocks[k].Way == p.Ways[w] && blocks[k].Start+blocks[k].Hours == float64(h) {
			blocks[k].Hours++
			continue
		}
		blocks = append(blocks, Block{float64(h), 1, p.Ways[w]})
	}
	if k := len(blocks) - 1; k > 0 && blocks[0].Start == 0 && blocks[k].Start+blocks[k].Hours == hoursADay &&
		blocks[0].Way == blocks[k].Way {
		blocks[k].Hours += blocks[0].Hours // on through midnight
		blocks = blocks[1:]
	}
	return evaluate(p, n, blocks)
}

// Evaluate adds a programme up as it was found or edited, and says which needs it
// breaks. A speed between the steps counts as the nearest.
func Evaluate(p *Pad, n *Needs, programme []pad.Slot) (*Plan, []Mistake) {
	var blocks []Block
	var wrong []Mistake
	for i, s := range programme {
		if s.Hours <= 0 || s.RPM <= 0 {
			continue
		}
		if !(s.StartHour >= 0 && s.StartHour < 24 && s.Hours <= 24) {
			wrong = append(wrong, Mistake{fmt.Sprintf("slots[%d]", i), "speedplan.starts-within-the-day-and"})
			continue
		}
		blocks = append(blocks, Block{s.StartHour, s.Hours, p.wayAt(s)})
	}
	slices.SortFunc(blocks, func(a, b Block) int {
		switch {
		case a.Start < b.Start:
			return -1
		case a.Start > b.Start:
			return 1
		}
		return 0
	})
	for i := range blocks {
		next := blocks[(i+1)%len(blocks)].Start
		if i == len(blocks)-1 {
			next += 24
		}
		if end := blocks[i].Start + blocks[i].Hours; end > next+1e-9 && len(blocks) > 1 {
			wrong = append(
				wrong,
				Mistake{"slots", words.Of("speedplan.two-slots-overlap-at-the", "next", words.Hour(next))},
			)
		}
	}
	return evaluate(p, n, blocks), wrong
}

// minutes a day is evaluated by.
const minutesADay = 24 * 60

// evaluate adds blocks up by the minute.
func evaluate(p *Pad, n *Needs, blocks []Block) *Plan {
	out := &Plan{Blocks: blocks}
	var at [minutesADay]int16 // block by minute, −1 for off
	for i := range at {
		at[i] = -1
	}
	for k, b := range blocks {
		from := int(math.Round(b.Start * 60))
		for i := range int(math.Round(b.Hours * 60)) {
			at[(from+i)%minutesADay] = int16(k)
		}
	}
	t := &out.Totals
	flowSD := 0.0
	prime := p.wayAt(pad.Slot{RPM: n.PrimeRPM}).W / 1000 * n.PrimeMin / 60
	for i, k := range at {
		before := at[(i+minutesADay-1)%minutesADay]
		if k < 0 {
			continue
		}
		h := i / 60
		price, _ := n.Tariff.At(h)
		way := blocks[k].Way
		g := gainOf(p, n, h, way)
		t.RunHours += 1.0 / 60
		t.Gallons += g[turnover] / 60
		t.HighHours += g[highHours] / 60
		t.CellHours += g[cellHours] / 60
		flowSD += way.GPMSD
		kwh := n.watts(h, way) / 1000 / 60
		t.KWh += kwh
		t.PowerCost += kwh * price
		t.MediaRate = math.Max(t.MediaRate, way.MediaRate)
		if n.Quiet.Holds(h) && n.QuietRPM > 0 && way.Bound() > n.QuietRPM {
			t.NoiseHours += 1.0 / 60
		}
		if before < 0 {
			t.Starts++
			t.KWh += prime
			t.PowerCost += prime * math.Max(0, price)
			t.StartsCost += n.StartWear
		}
	}
	if n.Gallons > 0 {
		t.Turnovers, t.TurnoversSD = t.Gallons/n.Gallons, flowSD/n.Gallons
	}
	out.Broken = broken(p, n, out, &at)
	return out
}

// broken lists what a programme does not meet.
func broken(p *Pad, n *Needs, plan *Plan, at *[minutesADay]int16) []Broken {
	out := []Broken{}
	if n.Frost.None() && !frostHours(n.AirF).None() && plan.Totals.RunHours < hoursADay {
		out = append(out, Broken{NeedFrost, words.Of("speedplan.water-stands-in-frost",
			"air", words.QD("°F", n.AirF-nightUnder, 0)), -1})
	}
	have := gains{plan.Totals.Gallons, plan.Totals.HighHours, plan.Totals.CellHours, plan.Totals.RunHours}
	for _, i := range needItems(p, n) {
		switch {
		case i.resource >= 0:
			if have[i.resource] < i.amount-0.02*math.Max(1, i.amount/100) {
				key, got := "speedplan.comes-to", math.Round(10*have[i.resource])/10
				if i.resource == turnover {
					key, got = "speedplan.comes-to-times", math.Round(100*plan.Totals.Turnovers)/100
				}
				out = append(out, Broken{i.id, words.Of(key, "need", words.Msg(i.name), "got", words.N(got)), -1})
			}
		case i.never != "":
			if plan.Totals.RunHours > 0 {
				out = append(out, Broken{i.id, i.never, -1})
			}
		case i.id == NeedSlots:
			if len(plan.Blocks) > n.Slots {
				out = append(
					out,
					Broken{
						i.id,
						words.Of("speedplan.it-takes", "need", words.Msg(i.name), "blocks", words.N(len(plan.Blocks))),
						-1,
					},
				)
			}
		case i.id == NeedStarts:
			if plan.Totals.Starts > n.Starts {
				out = append(
					out,
					Broken{
						i.id,
						words.Of(
							"speedplan.it-takes-2",
							"need",
							words.Msg(i.name),
							"starts",
							words.N(plan.Totals.Starts),
						),
						-1,
					},
				)
			}
		default:
			for m, k := range at {
				way := Way{}
				if k >= 0 {
					way = plan.Blocks[k].Way
				}
				begins := k >= 0 && at[(m+minutesADay-1)%minutesADay] < 0
				if !i.allows(m/60, way) || begins && !i.starts(n, m/60) {
					out = append(
						out,
						Broken{
							i.id,
							words.Of(
								"speedplan.not-kept-at",
								"need",
								words.Msg(i.name),
								"at",
								words.Hour(float64(m)/60),
							),
							m / 60,
						},
					)
					break
				}
			}
		}
	}
	return out
}
