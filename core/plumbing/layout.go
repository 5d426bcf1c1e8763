package plumbing

import (
	"fmt"
	"strings"

	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/units"
)

// plan is the network of a pad with its filter valve in one setting. Each
// setting is a network of its own, so that shut passages cost nothing. The links
// that all settings share come first, with the same index in every plan.
type plan struct {
	net     *hydraulics.Network
	nodes   []hydraulics.Node
	names   []LinkName
	Idx     LinkIndex
	handles []handle
}

// LinkName says what a link of the network is.
type LinkName struct {
	ID   string // of a line, a valve's port ("valve:a") or a fixed place
	Name string
	// Kind is a LineKind, or "trunk", "basket", "pump", "discharge", "valve", "filter", "heater", "bypass",
	// "check", "cell" or "waste".
	Kind string
	Bore float64   // in; 0 for a device
	Line *pad.Line // of a line
	Side pad.Side  // of a line or a port
	Body pad.Body  // where a line begins or ends
}

// handle is a link with a valve that a hand can set.
type handle struct {
	link    int
	id      string // what Operation.Handles calls it
	port    byte   // 'a' or 'b' of a diverter, 0 for a plain valve
	bore    units.Length
	opening float64 // as the document has it
}

// LinkIndex is where the parts of a pad are in its network.
type LinkIndex struct {
	Suction, Returns                  []int
	trunk, basket, pump, discharge    int
	filter, Heater, check, Cell, back int
	bypass, waste                     int
	stations                          []station
	joint, pumpIn, tank, inlet        int // nodes
	valveOut                          int // node: the filter valve's RETURN port
}

// station is a place of the grade line: the element between two nodes.
type station struct {
	id      StationID
	in, out int
}

// StationID names a place along the water's path.
type StationID string

// The stations of the grade line, in the water's order.
const (
	StationSuction StationID = "suction"
	StationBasket  StationID = "basket"
	StationPump    StationID = "pump"
	StationFilter  StationID = "filter"
	StationHeater  StationID = "heater"
	StationCell    StationID = "cell"
	StationReturns StationID = "returns"
)

// ShutBelow is the valve opening under which a line passes nothing.
const ShutBelow = 0.02

// Losses of a pump's pot and of return fittings, in velocity heads.
const (
	basketK  = 1.0 // a clean basket and pot, of the trunk (ours)
	orificeK = 1.0 // of the opening
	checkK   = 2.0 // a swing check valve (common practice)
)

// valveShare is the filter valve's part of the vessel's quadratic loss, by one
// passage of two (ours); a setting with one passage takes it twice.
const valveShare = 0.15

// builder collects nodes and links.
type builder struct {
	m     *Model
	p     *plan
	links []hydraulics.Link
	ports map[string]int // node of a valve's port
}

func (b *builder) node(name string) int {
	b.p.nodes = append(b.p.nodes, hydraulics.Node{Name: name})
	return len(b.p.nodes) - 1
}

func (b *builder) surface(name string, height units.Head) int {
	b.p.nodes = append(b.p.nodes, hydraulics.Node{Name: name, Fixed: true, Head: height})
	return len(b.p.nodes) - 1
}

func (b *builder) link(l hydraulics.Link, n LinkName) int {
	l.Name = n.ID
	b.links = append(b.links, l)
	b.p.names = append(b.p.names, n)
	return len(b.links) - 1
}

func (b *builder) run(r pad.Run, from, to int, n LinkName) int {
	bore := units.Inches(r.BoreIn)
	n.Bore = r.BoreIn
	return b.link(hydraulics.Link{From: from, To: to,
		Pipe:      hydraulics.HazenWilliams(units.Feet(r.LengthFt), bore, hydraulics.PVC),
		Quadratic: hydraulics.MinorLoss(r.FittingsK, bore)}, n)
}

// line lays a line between its body of water and what it hangs on.
func (b *builder) line(l *pad.Line, side pad.Side, outer, inner int) int {
	from, to := outer, inner
	if side == pad.ReturnSide {
		from, to = inner, outer
	}
	body := pad.PoolBody
	switch {
	case l.OfSpa():
		body = pad.SpaBody
	case l.Kind == pad.Feature:
		body = pad.OpenAir
	}
	i := b.run(l.Run, from, to, LinkName{ID: l.ID, Name: l.Name, Kind: string(l.Kind), Line: l, Side: side, Body: body})
	if l.EyeballIn > 0 {
		b.links[i].Quadratic += hydraulics.MinorLoss(orificeK, units.Inches(l.EyeballIn))
	}
	if l.CheckValve {
		b.links[i].Quadratic += hydraulics.MinorLoss(checkK, units.Inches(l.BoreIn))
	}
	// A feature falls through air: nothing comes back up.
	b.links[i].OneWay = l.CheckValve || l.Kind == pad.Feature
	b.p.handles = append(b.p.handles, handle{link: i, id: l.ID, bore: units.Inches(l.BoreIn), opening: l.Opening})
	return i
}

// valves lays a side's three-way valves; trunk is the common pipe's node. A
// valve may hang on another's port, so ports are made as they are asked for.
func (b *builder) valves(side pad.Side, trunk int) {
	for _, v := range b.m.Doc.Valves {
		if v.Side == side {
			b.ports[v.ID+":a"] = b.node(v.ID + " port a")
			b.ports[v.ID+":b"] = b.node(v.ID + " port b")
		}
	}
	for i := range b.m.Doc.Valves {
		v := &b.m.Doc.Valves[i]
		if v.Side != side {
			continue
		}
		common := b.on(v.On, trunk)
		for _, port := range []byte{'a', 'b'} {
			id := v.ID + ":" + string(port)
			from, to := b.ports[id], common
			if side == pad.ReturnSide {
				from, to = common, b.ports[id]
			}
			l := b.run(pad.Run{BoreIn: v.BoreIn}, from, to, LinkName{ID: id, Name: v.Name, Kind: "valve", Side: side})
			b.p.handles = append(b.p.handles, handle{link: l, id: v.ID, port: port, bore: units.Inches(v.BoreIn),
				opening: pad.PortOpening(port, v.AngleDeg)})
		}
	}
}

func (b *builder) on(port string, trunk int) int {
	if port == "" {
		return trunk
	}
	return b.ports[port]
}

func (b *builder) device(id string, dev *pad.Device, from, to int) int {
	return b.link(hydraulics.Link{From: from, To: to,
		Quadratic: hydraulics.FixedDrop(
			b.m.Water.Head(units.PSI(dev.DropPsi)),
			units.GPM(dev.AtGPM),
		)}, LinkName{ID: id, Name: dev.Model, Kind: id})
}

// layout writes the document as nodes and links for a setting of the filter
// valve. Parameters, handles and effects are applied to the numbers at each
// solve.
func (m *Model) layout(set pad.Setting) (*plan, error) {
	d := &m.Doc
	b := &builder{m: m, p: &plan{}, ports: map[string]int{}}
	pool := b.surface(string(pad.PoolBody), 0)
	bodies := map[bool]int{false: pool}
	if d.Spa != nil {
		bodies[true] = b.surface(string(pad.SpaBody), units.FeetHead(d.Spa.SurfaceFt))
	}
	x := &b.p.Idx
	x.joint = b.node("suction joint")
	b.valves(pad.SuctionSide, x.joint)
	for i := range d.Suction {
		l := &d.Suction[i]
		x.Suction = append(x.Suction, b.line(l, pad.SuctionSide, bodies[l.OfSpa()], b.on(l.On, x.joint)))
	}
	x.inlet = b.node("pump inlet")
	x.trunk = b.run(
		d.SuctionTrunk,
		x.joint,
		x.inlet,
		LinkName{ID: "suction-trunk", Kind: "trunk", Side: pad.SuctionSide},
	)
	x.pumpIn = b.node("pot")
	x.basket = b.link(
		hydraulics.Link{
			From:      x.inlet,
			To:        x.pumpIn,
			Quadratic: hydraulics.MinorLoss(basketK, units.Inches(d.SuctionTrunk.BoreIn)),
		},
		LinkName{ID: "basket", Kind: "basket"},
	)
	outlet := b.node("pump outlet")
	x.pump = b.link(
		hydraulics.Link{From: x.pumpIn, To: outlet, Pump: &hydraulics.Curve{}},
		LinkName{ID: "pump", Name: d.Pump.Model, Kind: "pump"},
	)
	x.tank = b.node("valve PUMP")
	x.discharge = b.run(d.Discharge, outlet, x.tank, LinkName{ID: "discharge", Kind: "discharge"})
	top, bottom := b.node("tank TOP"), b.node("tank BOTTOM")
	x.filter = b.link(
		hydraulics.Link{From: top, To: bottom},
		LinkName{ID: "filter", Name: d.Filter.Model, Kind: "filter"},
	)
	x.valveOut = b.node("valve RETURN")
	x.stations = []station{{StationSuction, pool, x.inlet}, {StationBasket, x.inlet, x.pumpIn},
		{StationPump, x.pumpIn, outlet}, {StationFilter, x.tank, x.valveOut}}
	last := b.devices(x.valveOut)
	manifold := b.node("return manifold")
	x.back = b.run(d.ReturnTrunk, last, manifold, LinkName{ID: "return-trunk", Kind: "trunk", Side: pad.ReturnSide})
	b.valves(pad.ReturnSide, manifold)
	for i := range d.Returns {
		l := &d.Returns[i]
		outer := bodies[l.OfSpa()]
		if l.Kind == pad.Feature {
			outer = b.surface(l.ID+" lip", units.FeetHead(l.OutletFt))
		}
		x.Returns = append(x.Returns, b.line(l, pad.ReturnSide, outer, b.on(l.On, manifold)))
	}
	// The returns begin where the last device ends: what their common run loses is theirs.
	x.stations = append(x.stations, station{StationReturns, last, pool})
	b.passages(set, top, bottom)
	var err error
	if b.p.net, err = hydraulics.New(b.p.nodes, b.links); err != nil {
		return nil, fmt.Errorf("laying out the pad in %s: %w", set, err)
	}
	return b.p, nil
}

// devices lays heater, check valve and cell in the water's order, and gives the
// node after the last.
func (b *builder) devices(at int) int {
	d, x := &b.m.Doc, &b.p.Idx
	x.Heater, x.check, x.Cell, x.bypass, x.waste = -1, -1, -1, -1, -1
	if d.Heater != nil {
		next := b.node("after heater")
		x.Heater = b.device("heater", d.Heater, at, next)
		x.stations = append(x.stations, station{StationHeater, at, next})
		if d.HeaterBypass != nil {
			bore := units.Inches(d.HeaterBypass.BoreIn)
			x.bypass = b.run(
				pad.Run{BoreIn: d.HeaterBypass.BoreIn, LengthFt: 2, FittingsK: 1},
				at,
				next,
				LinkName{ID: pad.HeaterBypass, Kind: "bypass", Side: pad.ReturnSide},
			)
			b.p.handles = append(
				b.p.handles,
				handle{link: x.bypass, id: pad.HeaterBypass, bore: bore, opening: d.HeaterBypass.Opening},
			)
		}
		at = next
	}
	if d.CheckValve {
		next := b.node("after check valve")
		x.check = b.run(
			pad.Run{BoreIn: d.ReturnTrunk.BoreIn, LengthFt: 0, FittingsK: checkK},
			at,
			next,
			LinkName{ID: "check-valve", Kind: "check"},
		)
		b.links[x.check].OneWay = true
		at = next
	}
	if d.Cell != nil {
		next := b.node("after cell")
		x.Cell = b.device("cell", d.Cell, at, next)
		x.stations = append(x.stations, station{StationCell, at, next})
		at = next
	}
	return at
}

// passages joins the filter valve's ports as a setting does.
func (b *builder) passages(set pad.Setting, top, bottom int) {
	d, x := &b.m.Doc, &b.p.Idx
	fact := pad.SettingFacts[set]
	waste := -1
	ports := map[pad.Port]int{
		pad.PortPump:   x.tank,
		pad.PortTop:    top,
		pad.PortBottom: bottom,
		pad.PortReturn: x.valveOut,
	}
	if strings.ContainsRune(fact.Ports(), rune(pad.PortWaste)) {
		out := b.node("valve WASTE")
		ports[pad.PortWaste] = out
		line := d.Waste
		if line == nil { // nobody described it: a short hose at the pad (ours)
			line = &pad.WasteLine{Run: pad.Run{BoreIn: d.Discharge.BoreIn, LengthFt: 20, FittingsK: 2}}
		}
		waste = b.run(
			line.Run,
			out,
			b.surface("waste outlet", units.FeetHead(line.OutletFt)),
			LinkName{ID: "waste", Kind: "waste", Side: pad.ReturnSide, Body: pad.OpenAir},
		)
		b.links[waste].OneWay = true
	}
	x.waste = waste
	share := valveShare
	if len(fact.Joins) == 1 {
		share *= 2
	}
	if d.Filter.Valve == pad.NoValve {
		share = 0
	}
	vessel := hydraulics.FixedDrop(b.m.Water.Head(units.PSI(d.Filter.VesselPsi)), units.GPM(d.Filter.AtGPM))
	for _, j := range fact.Joins {
		k := share
		if fact.PartOpen {
			k = 20 // ports ajar (ours)
		}
		b.link(
			hydraulics.Link{From: ports[j[0]], To: ports[j[1]], Quadratic: k * vessel},
			LinkName{ID: "valve-" + string(j[0]) + string(j[1]), Kind: "passage"},
		)
	}
}
