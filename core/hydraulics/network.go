// Package hydraulics is the water itself: properties, elements, pumps, and a
// steady-state network solver.
//
// The solver is the global gradient algorithm of Todini and Pilati (1987):
// Newton's method on the energy equation of every link and the mass balance of
// every junction together. Before solving, links in series are merged exactly
// (their losses add at equal flow), so that a pad of thirty links becomes a
// handful of equations; afterwards every node's head is restored.
//
// The package knows nothing of pools, faults or gauges.
package hydraulics

import (
	"errors"
	"fmt"
	"math"

	"gonum.org/v1/gonum/blas"
	"gonum.org/v1/gonum/blas/blas64"
	"gonum.org/v1/gonum/lapack/lapack64"

	"fairlap/core/units"
)

// Node is a point of the network. A fixed node's head is given (a water
// surface, an open outlet); any other node balances its flows.
type Node struct {
	Name  string
	Fixed bool
	Head  units.Head // of a fixed node, against the datum
}

// Link joins two nodes. Its head loss from From to To at flow Q (m³/s) is
//
//	h = Linear·Q + Pipe·Q·|Q|^0.852 + Quadratic·Q·|Q| − Pump.Head(Q)
//
// A OneWay link and a pump pass no flow backwards. A Shut link passes none.
type Link struct {
	Name                    string
	From, To                int
	Linear, Pipe, Quadratic float64
	OneWay, Shut            bool
	Pump                    *Curve
}

// Condition names a state in which the pump moves no water through the network.
type Condition string

// The named conditions of a solved network.
const (
	Flowing   Condition = "flowing"
	Still     Condition = "still"     // no pump is running
	DeadHead  Condition = "dead-head" // running with no way out
	DrySource Condition = "dry"       // running with no open way in
	NoPath    Condition = "no-path"   // running, shut off on both sides
)

// ErrNotConverged is returned when Newton's steps do not settle.
var ErrNotConverged = errors.New("the network did not settle to one flow")

// maxIterations is far above the usual 6 to 12.
const maxIterations = 200

// flowTolerance is the largest relative change of the sum of flows at the end.
const flowTolerance = 1e-8

// backflowResistance makes a one-way link nearly shut to reverse flow
// (m per m³/s): at 10 m it leaks 1 mL/s, far below any reading.
const backflowResistance = 1e7

// stillResistance keeps Newton's slope off zero where water stands (m per m³/s):
// at 5 L/s it costs half a micrometre of head.
const stillResistance = 1e-4

// Network is a topology with its series reduction. It is immutable and safe for
// concurrent use; the links' numbers are given at each Solve.
type Network struct {
	nodes  []Node
	links  []Link
	chains []chain
	free   []int // node index of each unknown head
	slot   []int // node → index in free, or −1
}

// chain is a run of links in series between two nodes that are fixed or join
// three links or more.
type chain struct {
	from, to int
	links    []int
	reversed []bool // link i is walked from To to From
	inner    []int  // nodes between, in order
}

// New checks a network and prepares its reduction. Errors name the node or link
// at fault.
func New(nodes []Node, links []Link) (*Network, error) {
	if len(nodes) == 0 || len(links) == 0 {
		return nil, errors.New("a network needs nodes and links")
	}
	n := &Network{nodes: nodes, links: links, slot: make([]int, len(nodes))}
	at := make([][]int, len(nodes))
	for i, l := range links {
		if l.From < 0 || l.From >= len(nodes) || l.To < 0 || l.To >= len(nodes) {
			return nil, fmt.Errorf("link %q joins a node that does not exist", l.Name)
		}
		if l.From == l.To {
			return nil, fmt.Errorf("link %q joins %q to itself", l.Name, nodes[l.From].Name)
		}
		if err := checkLink(l); err != nil {
			return nil, err
		}
		at[l.From] = append(at[l.From], i)
		at[l.To] = append(at[l.To], i)
	}
	end := func(v int) bool { return nodes[v].Fixed || len(at[v]) != 2 }
	used := make([]bool, len(links))
	walk := func(start, first int) {
		c := chain{from: start}
		node, link := start, first
		for {
			used[link] = true
			l := links[link]
			rev := l.From != node
			c.links = append(c.links, link)
			c.reversed = append(c.reversed, rev)
			if rev {
				node = l.From
			} else {
				node = l.To
			}
			if end(node) || node == start {
				c.to = node
				break
			}
			c.inner = append(c.inner, node)
			next := at[node][0]
			if next == link {
				next = at[node][1]
			}
			link = next
		}
		n.chains = append(n.chains, c)
	}
	for v := range nodes {
		if end(v) {
			for _, l := range at[v] {
				if !used[l] {
					walk(v, l)
				}
			}
		}
	}
	for i, l := range links {
		if !used[i] {
			return nil, fmt.Errorf("link %q is in a ring that touches no water surface", l.Name)
		}
	}
	for v := range nodes {
		n.slot[v] = -1
		if !nodes[v].Fixed && end(v) {
			n.slot[v] = len(n.free)
			n.free = append(n.free, v)
		}
	}
	return n, nil
}

func checkLink(l Link) error {
	for _, v := range []float64{l.Linear, l.Pipe, l.Quadratic} {
		if !(v >= 0) || math.IsInf(v, 0) {
			return fmt.Errorf("link %q has a resistance that is not a number of zero or more", l.Name)
		}
	}
	if p := l.Pump; p != nil && (!(p.Shutoff >= 0) || !(p.Slope >= 0) || !(p.Bend >= 0)) {
		return fmt.Errorf("link %q: %w", l.Name, ErrRisingCurve)
	}
	return nil
}

// Links returns a copy of the links as given, to be changed and solved.
func (n *Network) Links() []Link { return append([]Link(nil), n.links...) }

// Solution holds the result of Solve and its working memory; reuse one to save
// allocation. Flow has one entry a link (m³/s, positive From→To), Head one a
// node (m).
type Solution struct {
	Flow       []float64
	Head       []float64
	Condition  Condition
	Iterations int

	q, drive   []float64
	lin, pipe  []float64
	quad       []float64
	oneF, oneB []bool
	shut       []bool
	halved     []bool // its flow halved in the last step
	y, p, dq   []float64
	a          blas64.Symmetric // conductances between junctions
	h          blas64.General   // right side, then the junctions' heads
	group      []int
	loose      []bool // the junction is cut off from every surface
	settled    bool   // q holds a solution
}

func (s *Solution) size(n *Network) {
	if len(s.q) == len(n.chains) && len(s.Flow) == len(n.links) && len(s.Head) == len(n.nodes) {
		return
	}
	c := len(n.chains)
	s.settled = false
	f := make([]float64, 8*c)
	s.q, s.drive, s.lin, s.pipe, s.quad, s.y, s.p, s.dq = f[:c], f[c:2*c], f[2*c:3*c], f[3*c:4*c], f[4*c:5*c],
		f[5*c:6*c], f[6*c:7*c], f[7*c:]
	b := make([]bool, 4*c)
	s.oneF, s.oneB, s.shut, s.halved = b[:c], b[c:2*c], b[2*c:3*c], b[3*c:]
	s.Flow, s.Head = make([]float64, len(n.links)), make([]float64, len(n.nodes))
	s.group = make([]int, len(n.nodes))
	m := len(n.free)
	s.loose = make([]bool, m)
	s.a = blas64.Symmetric{N: m, Stride: max(1, m), Uplo: blas.Upper, Data: make([]float64, m*m)}
	s.h = blas64.General{Rows: m, Cols: 1, Stride: 1, Data: make([]float64, m)}
}

// Forget lets the next Solve begin from no flows that were found before.
func (s *Solution) Forget() { s.settled = false }

// Solve finds steady flows and heads with the given links' numbers (same order
// and ends as New's; only resistances, Shut and Pump may differ). Conditions
// without flow are named in the Solution and are not errors; every number in it
// is finite.
func (n *Network) Solve(links []Link, s *Solution) error {
	if len(links) != len(n.links) {
		return fmt.Errorf("the network has %d links, %d given", len(n.links), len(links))
	}
	s.size(n)
	for i := range n.chains {
		n.reduce(links, s, i)
	}
	s.Condition = n.condition(links, s)
	s.settled = false
	clear(s.halved)
	if err := n.iterate(s); err != nil {
		return err
	}
	s.settled = true
	n.restore(links, s)
	return nil
}

// reduce adds up the losses of a chain's links.
func (n *Network) reduce(links []Link, s *Solution, i int) {
	s.lin[i], s.pipe[i], s.quad[i], s.drive[i] = 0, 0, 0, 0
	s.oneF[i], s.oneB[i], s.shut[i] = false, false, false
	for k, li := range n.chains[i].links {
		l := &links[li]
		s.lin[i] += l.Linear
		s.pipe[i] += l.Pipe
		s.quad[i] += l.Quadratic
		s.shut[i] = s.shut[i] || l.Shut
		rev := n.chains[i].reversed[k]
		if l.Pump != nil {
			s.lin[i] += l.Pump.Slope
			s.quad[i] += l.Pump.Bend
			if rev {
				s.drive[i] -= l.Pump.Shutoff
			} else {
				s.drive[i] += l.Pump.Shutoff
			}
		}
		if l.OneWay || (l.Pump != nil && l.Pump.Shutoff > 0) {
			if rev {
				s.oneB[i] = true
			} else {
				s.oneF[i] = true
			}
		}
	}
	// The flow found before, where one was; else about 1 m/s in a 2-inch pipe along
	// the drive.
	switch {
	case s.shut[i]:
		s.q[i] = 0
	case s.settled && s.q[i] != 0:
	case s.oneB[i]:
		s.q[i] = -usualFlow
	default:
		s.q[i] = usualFlow
	}
}

// condition finds whether each running pump can draw and discharge, by which
// nodes still reach a water surface without passing a pump.
func (n *Network) condition(links []Link, s *Solution) Condition {
	for i := range s.group {
		s.group[i] = i
	}
	find := func(v int) int {
		for s.group[v] != v {
			v = s.group[v]
		}
		return v
	}
	surface := -1
	for v, nd := range n.nodes {
		if nd.Fixed {
			if surface < 0 {
				surface = v
			}
			s.group[find(v)] = find(surface)
		}
	}
	for i := range links {
		if l := &links[i]; !l.Shut && (l.Pump == nil || l.Pump.Shutoff == 0) {
			s.group[find(l.From)] = find(l.To)
		}
	}
	result := Still
	defer func() {
		for i := range links {
			if l := &links[i]; !l.Shut {
				s.group[find(l.From)] = find(l.To)
			}
		}
		for i, v := range n.free {
			s.loose[i] = surface < 0 || find(v) != find(surface)
		}
	}()
	for i := range links {
		l := &links[i]
		if l.Pump == nil || l.Pump.Shutoff == 0 {
			continue
		}
		in, out := find(l.From) == find(surface), find(l.To) == find(surface)
		switch {
		case l.Shut || (!in && !out):
			return NoPath
		case !in:
			return DrySource
		case !out:
			return DeadHead
		}
		result = Flowing
	}
	return result
}

// leak is the head that a one-way link takes at a flow back through it. It closes a little past no flow: still water,
// whose flow is rounding, must not lie at the bend, where each bit of it would be a head.
func leak(q float64) float64 { return backflowResistance * math.Min(0, q+stillFlow) }

// loss gives a chain's head loss at flow q and its slope.
func (s *Solution) loss(i int, q float64) (h, slope float64) {
	m := math.Abs(q)
	h = s.lin[i]*q - s.drive[i]
	slope = s.lin[i]
	if s.pipe[i] > 0 && m > 0 {
		r := s.pipe[i] * math.Exp(0.852*math.Log(m)) // a third of math.Pow's time
		h += r * q
		slope += 1.852 * r
	}
	h += s.quad[i]*q*m + stillResistance*q
	slope += 2*s.quad[i]*m + stillResistance
	if s.oneF[i] && q < -stillFlow {
		h += leak(q)
		slope += backflowResistance
	}
	if s.oneB[i] && q > stillFlow {
		h -= leak(-q)
		slope += backflowResistance
	}
	return h, slope
}

func (n *Network) headOf(s *Solution, v int) float64 {
	if n.nodes[v].Fixed {
		return float64(n.nodes[v].Head)
	}
	return s.h.Data[n.slot[v]]
}

func (n *Network) iterate(s *Solution) error {
	var before float64
	for it := 1; it <= maxIterations; it++ {
		if err := n.step(s); err != nil {
			return err
		}
		for i := range n.chains {
			c := &n.chains[i]
			s.dq[i] = s.y[i] - s.p[i]*(n.headOf(s, c.from)-n.headOf(s, c.to)) // 0 where shut
		}
		length := 1.0
		if it > newtonAlone {
			length = n.stepLength(s)
		}
		var change, total float64
		leaks := before < allLeaks && it <= 2*newtonAlone
		for i := range n.chains {
			if leaks || math.Abs(s.q[i]) > stillLine || math.Abs(s.dq[i]) > stillLine {
				change += math.Abs(s.dq[i])
			}
			total += math.Abs(s.q[i] - length*s.dq[i])
		}
		if math.IsNaN(change) || math.IsInf(change, 0) {
			return ErrNotConverged
		}
		s.Iterations = it
		// What still trembles after twenty steps is rounding in nearly still water.
		floor := 1e-11
		if it > 2*newtonAlone {
			floor = stillFlow
		}
		if change <= flowTolerance*total+floor || (total < stillFlow && before < stillFlow && it > 1) {
			// The last step is whole, whatever the search would take of it: only a whole step balances the flows at
			// every junction.
			for i := range n.chains {
				s.q[i] -= s.dq[i]
			}
			return nil
		}
		for i := range n.chains {
			n.move(s, i, length)
		}
		before = total
	}
	return ErrNotConverged
}

// move takes a step in one chain. Where water comes to a stand, the loss is a square with its double root at no flow,
// and Newton's step only halves the flow: eighteen steps from a usual flow to none. What has halved twice in a row is
// on that way, and twice the step takes it nearly to its end (Newton's step for a double root; Ralston and Rabinowitz
// 1978, section 8.6); it keeps its direction, so that a one-way link is not asked for its leak. A still line that is
// called on begins with a usual flow: from next to none, Newton's step is a thousand times too long.
func (n *Network) move(s *Solution, i int, length float64) {
	q, step := s.q[i], length*s.dq[i]
	half := q != 0 && math.Abs(step/q-0.5) < 0.02
	switch {
	case half && s.halved[i]:
		s.q[i] = q * max(1-2*step/q, leastKept)
	case math.Abs(q) < stillLine && math.Abs(step) > usualFlow:
		s.q[i] = math.Copysign(usualFlow, -step)
	default:
		s.q[i] = q - step
	}
	s.halved[i] = half
}

// leastKept is how much of its flow a chain keeps when its step is doubled.
const leastKept = 0.01

// stillLine is the flow under which a line's water stands, m³/s: a third of what a shut one-way link leaks at 10 m.
// How the leaks share is not waited for while others flow.
const stillLine = 3e-7

// allLeaks is the sum of flows under which nothing but leaks flows, m³/s: they alone make the heads then.
const allLeaks = 1e-5

// usualFlow is what a solve begins with where nothing was found before, m³/s: some 1 m/s in a two-inch pipe.
const usualFlow = 1e-3

// stillFlow is a hundredth of a millilitre a second, m³/s.
const stillFlow = 1e-8

// newtonAlone is how many of Newton's steps are taken whole: a usual pad needs no
// more, an extreme one swings at its one-way links.
const newtonAlone = 10

// stepLength is how much of Newton's step dq to take. Once flows balance, the
// solution is where the network's content, a convex function of the flows, is
// least, and dq points downhill; a step that climbs again on the far side is cut
// back to where the slope along it is at most half of what it was.
func (n *Network) stepLength(s *Solution) float64 {
	slope := func(t float64) float64 {
		sum := 0.0
		for i := range n.chains {
			if s.dq[i] == 0 {
				continue
			}
			c := &n.chains[i]
			h, _ := s.loss(i, s.q[i]-t*s.dq[i])
			sum -= (h - n.headOf(s, c.from) + n.headOf(s, c.to)) * s.dq[i]
		}
		return sum
	}
	start := slope(0)
	end := slope(1)
	if !(start < 0) || end <= -0.5*start {
		return 1
	}
	lo, hi := 0.0, 1.0
	for range 50 {
		mid := (lo + hi) / 2
		switch v := slope(mid); {
		case v > -0.5*start:
			hi = mid
		case v < 0.5*start:
			lo = mid
		default:
			return mid
		}
	}
	return hi
}

// step solves the junction heads for the present linearisation.
func (n *Network) step(s *Solution) error {
	clear(s.a.Data)
	clear(s.h.Data)
	m := len(n.free)
	for i := range n.chains {
		if s.shut[i] {
			s.p[i], s.y[i] = 0, 0
			continue
		}
		h, slope := s.loss(i, s.q[i])
		p := 1 / slope
		s.p[i], s.y[i] = p, p*h
		c := &n.chains[i]
		if c.from == c.to {
			continue // a ring hung on one node takes as much as it brings, and rests on no head
		}
		a, b := n.slot[c.from], n.slot[c.to]
		r := s.q[i] - s.y[i]
		if a >= 0 {
			s.a.Data[a*m+a] += p
			s.h.Data[a] -= r
		}
		if b >= 0 {
			s.a.Data[b*m+b] += p
			s.h.Data[b] += r
		}
		switch {
		case a >= 0 && b >= 0:
			s.a.Data[min(a, b)*m+max(a, b)] -= p
		case a >= 0:
			s.h.Data[a] += p * float64(n.nodes[c.to].Head)
		case b >= 0:
			s.h.Data[b] += p * float64(n.nodes[c.from].Head)
		}
	}
	if m == 0 {
		return nil
	}
	// Junctions cut off from every surface would make the matrix singular; a whisper of conductance to the datum gives
	// them a finite, harmless head. It is theirs alone: in a still line that is joined to a surface, whose conductance
	// is ten thousand times a flowing one's, the same whisper would leak more than flows may be out of balance.
	for i, loose := range s.loose {
		if loose {
			s.a.Data[i*m+i] = s.a.Data[i*m+i]*(1+1e-13) + 1e-15
		}
	}
	factor, ok := lapack64.Potrf(s.a)
	if !ok {
		return ErrNotConverged
	}
	lapack64.Potrs(factor, s.h)
	return nil
}

// restore gives every link its flow and every node between its head.
func (n *Network) restore(links []Link, s *Solution) {
	for v := range n.nodes {
		if n.nodes[v].Fixed || n.slot[v] >= 0 {
			s.Head[v] = n.headOf(s, v)
		}
	}
	for i := range n.chains {
		c := &n.chains[i]
		q := s.q[i]
		for k, li := range c.links {
			if c.reversed[k] {
				s.Flow[li] = -q
			} else {
				s.Flow[li] = q
			}
		}
		if s.shut[i] {
			n.restoreShut(links, s, c)
			continue
		}
		h := s.Head[c.from]
		for k, v := range c.inner {
			h -= linkLoss(&links[c.links[k]], q, c.reversed[k])
			s.Head[v] = h
		}
	}
}

// restoreShut carries still water's head from both ends up to the shut link.
func (n *Network) restoreShut(links []Link, s *Solution, c *chain) {
	gain := func(k int) float64 {
		l := &links[c.links[k]]
		if l.Pump == nil {
			return 0
		}
		if c.reversed[k] {
			return -l.Pump.Shutoff
		}
		return l.Pump.Shutoff
	}
	h := s.Head[c.from]
	first := 0
	for first < len(c.inner) && !links[c.links[first]].Shut {
		h += gain(first)
		s.Head[c.inner[first]] = h
		first++
	}
	h = s.Head[c.to]
	for k := len(c.inner) - 1; k >= first; k-- {
		if links[c.links[k+1]].Shut {
			// Between two shut links nothing tells the head; keep the datum's.
			for j := first; j <= k; j++ {
				s.Head[c.inner[j]] = h
			}
			break
		}
		h -= gain(k + 1)
		s.Head[c.inner[k]] = h
	}
}

func linkLoss(l *Link, q float64, reversed bool) float64 {
	if reversed {
		q = -q
	}
	m := math.Abs(q)
	h := l.Linear*q + l.Quadratic*q*m
	if l.Pipe > 0 && m > 0 {
		h += l.Pipe * math.Pow(m, 0.852) * q
	}
	if l.Pump != nil {
		h += l.Pump.Slope*q + l.Pump.Bend*q*m - l.Pump.Shutoff
	}
	if l.OneWay || (l.Pump != nil && l.Pump.Shutoff > 0) {
		h += leak(q)
	}
	if reversed {
		return -h
	}
	return h
}
