package evaluation

import (
	"bytes"
	"fmt"
	"math"

	"fairlap/core/pad"
	"fairlap/core/units"
)

// change is what is wrong with a real pad, in a pipe's own terms. The zero value
// is a sound, clean pad.
type change struct {
	basketK, trunkReturnK, checkK float64 // velocity heads of the common bore
	suctionK, returnK             map[int]float64
	suctionShut                   map[int]bool
	returnShut                    bool
	pumpHead, pumpFlow            float64 // shares lost
	load                          float64 // of the filter
	media                         float64 // factor on the clean media less one
	slipK                         float64 // passage round the media, velocity heads; 0 is none
	setting                       pad.Setting
	bypassOpen                    bool
	spaSuction, spaReturn         bool
	stopped                       bool
	leak                          float64 // worn: share of the full flow that goes round the wheel (second world)
}

// datum lifts all heads, so that no pressure in the file is negative.
const datum = 100

// wire lists what of a solution the meters need.
const (
	nodeEye  = "eye"
	nodeTank = "tank"
	linkPump = "pump"
)

// network writes the real pad at a speed as EPANET input: Darcy–Weisbach, PVC of
// 1.5 µm, water of 80 °F (viscosity 0.86 mm²/s). Valve losses by setting are of
// our own making, apart from those of the diagnosis.
func (b *built) network(rpm float64, set pad.Setting, c *change) string {
	n := writer{}
	d := &b.real
	if set == "" || set == pad.SetFilter {
		set = pad.SetFilter
		if c.setting != "" {
			set = c.setting
		}
	}
	bore := d.SuctionTrunk.BoreIn
	n.reservoir("pool", 0)
	if d.Spa != nil {
		n.reservoir("spa", d.Spa.SurfaceFt)
	}
	for i, l := range d.Suction {
		from := "pool"
		open := !c.suctionShut[i] && (l.Kind == pad.SpaDrain) == c.spaSuction
		if l.Kind == pad.SpaDrain {
			from = "spa"
		}
		n.pipe("s"+l.ID, from, "joint", l.Run, c.suctionK[i]+0.4, "", !open)
	}
	n.pipe("trunk", "joint", "pot", d.SuctionTrunk, 0, "", false)
	n.fitting("basket", "pot", nodeEye, bore, 0.8+c.basketK)
	n.pump(b, rpm, c)
	n.pipe("discharge", "out", nodeTank, d.Discharge, 0, "", false)
	b.filter(&n, set, c)
	at := "filtered"
	if d.Heater != nil {
		n.device("heater", at, "heated", d.Heater)
		if d.HeaterBypass != nil {
			n.pipe(
				"bypass",
				at,
				"heated",
				pad.Run{BoreIn: d.HeaterBypass.BoreIn, LengthFt: 2, FittingsK: 2.5},
				0,
				"",
				!c.bypassOpen,
			)
		}
		at = "heated"
	}
	if d.CheckValve {
		n.pipe("check", at, "checked", pad.Run{BoreIn: bore, LengthFt: 0.5, FittingsK: 2.5}, c.checkK, "CV", false)
		at = "checked"
	}
	if d.Cell != nil {
		n.device("cell", at, "salted", d.Cell)
		at = "salted"
	}
	n.pipe("back", at, "fork", d.ReturnTrunk, c.trunkReturnK, "", false)
	for i, l := range d.Returns {
		to := "pool"
		open := (l.Kind == pad.SpaJets) == c.spaReturn && !c.returnShut
		if l.Kind == pad.SpaJets {
			to = "spa"
		}
		end := "e" + l.ID
		n.pipe("r"+l.ID, "fork", end, l.Run, c.returnK[i]+0.4, "", !open)
		n.fitting("o"+l.ID, end, to, l.EyeballIn, 1.05)
	}
	return n.text()
}

// filter writes the filter and its valve's passages for a setting.
func (b *built) filter(n *writer, set pad.Setting, c *change) {
	d := &b.real
	f := &d.Filter
	bore := d.Discharge.BoreIn
	q := float64(units.GPM(f.AtGPM))
	head := func(psi float64) float64 { return psi * metresPerPsi }
	linear := head(f.MediaPsi)/q*0.86*math.Max(0.05, 1+c.media) + b.loadOne*math.Max(-0.1, c.load)
	vessel := head(f.VesselPsi) / (q * q) / velocityHead(1, bore)
	waste := func(from string) {
		w := pad.Run{BoreIn: bore, LengthFt: 30, FittingsK: 4}
		low := -1.0
		if d.Waste != nil {
			w, low = d.Waste.Run, d.Waste.OutletFt
		}
		n.reservoir("air", low)
		n.pipe("waste", from, "air", w, 0, "CV", false)
	}
	through := func(from, to string, linear float64, lifts bool) {
		n.media(from, "media", linear, lifts)
		n.fitting("vessel", "media", to, bore, vessel)
		if c.slipK > 0 {
			n.fitting("slip", from, to, bore, c.slipK)
		}
	}
	switch set {
	case pad.SetRecirculate:
		n.fitting("valve", nodeTank, "filtered", bore, 0.3*vessel+1)
	case pad.SetWaste:
		n.fitting("valve", nodeTank, "gone", bore, 0.15*vessel+1)
		waste("gone")
		n.closed("filtered", "gone")
	case pad.SetBackwash, pad.SetRinse:
		through(nodeTank, "gone", linear, set == pad.SetBackwash && f.Kind == pad.Sand)
		waste("gone")
		n.closed("filtered", "gone")
	case pad.SetClosed:
		n.closed(nodeTank, "filtered")
	default:
		through(nodeTank, "filtered", linear, false)
	}
}

// writer collects the parts of an input file.
type writer struct {
	seen                                            map[string]bool
	junctions, reservoirs, pipes, pumps, gpv, curve bytes.Buffer
}

const (
	feet = 0.3048
	inch = 25.4 // mm
	// metresPerPsi of water at 80 °F.
	metresPerPsi = 6894.757 / (996.6 * 9.80665)
)

// velocityHead is v²/2g of a flow in m³/s through a bore in inches.
func velocityHead(q, boreIn float64) float64 {
	d := boreIn * inch / 1000
	v := q / (math.Pi / 4 * d * d)
	return v * v / (2 * 9.80665)
}

func (w *writer) node(id string) {
	if w.seen == nil {
		w.seen = map[string]bool{}
	}
	if !w.seen[id] {
		w.seen[id] = true
		fmt.Fprintf(&w.junctions, "%s\t0\t0\n", id)
	}
}

func (w *writer) reservoir(id string, ft float64) {
	if w.seen == nil {
		w.seen = map[string]bool{}
	}
	if !w.seen[id] {
		w.seen[id] = true
		fmt.Fprintf(&w.reservoirs, "%s\t%.9g\n", id, datum+ft*feet)
	}
}

func (w *writer) pipe(id, from, to string, r pad.Run, moreK float64, status string, shut bool) {
	w.node(from)
	w.node(to)
	if status == "" {
		status = "Open"
	}
	if shut {
		status = "Closed"
	}
	fmt.Fprintf(
		&w.pipes,
		"%s\t%s\t%s\t%.9g\t%.9g\t0.0015\t%.9g\t%s\n",
		id,
		from,
		to,
		math.Max(0.01, r.LengthFt*feet),
		r.BoreIn*inch,
		r.FittingsK+moreK,
		status,
	)
}

func (w *writer) fitting(id, from, to string, boreIn, k float64) {
	w.pipe(id, from, to, pad.Run{BoreIn: boreIn}, k, "", false)
}

func (w *writer) closed(from, to string) {
	w.pipe("x"+from+to, from, to, pad.Run{BoreIn: 2}, 0, "", true)
}

func (w *writer) device(id, from, to string, dev *pad.Device) {
	q := float64(units.GPM(dev.AtGPM))
	w.fitting(id, from, to, 2.067, dev.DropPsi*metresPerPsi/velocityHead(q, 2.067))
}

// media is linear in flow; a lifted bed of sand holds its own weight and no more.
func (w *writer) media(from, to string, linear float64, lifts bool) {
	w.node(from)
	w.node(to)
	fmt.Fprintf(&w.gpv, "media\t%s\t%s\t50\tGPV\tmedia\t0\n", from, to)
	if lift := 0.38; lifts && linear*0.02 > lift {
		fmt.Fprintf(&w.curve, "media\t0\t0\nmedia\t%.9g\t%.9g\nmedia\t20\t%.9g\n", 1000*lift/linear, lift, lift*1.05)
		return
	}
	fmt.Fprintf(&w.curve, "media\t0\t0\nmedia\t20\t%.9g\n", linear*0.02)
}

// pump writes three points of the real curve at a speed; EPANET lays a power law
// through them.
func (w *writer) pump(b *built, rpm float64, c *change) {
	if c.stopped || rpm <= 0 {
		w.fitting(linkPump, nodeEye, "out", b.real.Discharge.BoreIn, 6)
		return
	}
	s := rpm / b.real.Pump.TopRPM
	points := b.real.Pump.Curve
	full := points[len(points)-1].GPM / 0.95
	a := points[0].Ft * feet
	w.node(nodeEye)
	w.node("out")
	for _, share := range []float64{0, 0.5, 0.95} {
		head := a * (1 - 0.82*math.Pow(share, b.bend))
		fmt.Fprintf(
			&w.curve,
			"head\t%.9g\t%.9g\n",
			1000*float64(units.GPM(share*full))*s*(1-c.pumpFlow),
			head*s*s*(1-c.pumpHead),
		)
	}
	fmt.Fprintf(&w.pumps, "%s\t%s\tout\tHEAD head\n", linkPump, nodeEye)
}

func (w *writer) text() string {
	var out bytes.Buffer
	for _, part := range []struct {
		name string
		body *bytes.Buffer
	}{{"JUNCTIONS", &w.junctions}, {"RESERVOIRS", &w.reservoirs}, {"PIPES", &w.pipes}, {"PUMPS", &w.pumps}, {"VALVES", &w.gpv}, {"CURVES", &w.curve}} {
		fmt.Fprintf(&out, "[%s]\n%s\n", part.name, part.body)
	}
	out.WriteString(
		"[OPTIONS]\nUnits LPS\nHeadloss D-W\nViscosity 0.86\nAccuracy 0.00001\nTrials 400\nUnbalanced Continue 50\n[TIMES]\nDuration 0\n[END]\n",
	)
	return out.String()
}
