package lap

import "math"

// Way is what it takes from one stop to another along the roads.
type Way struct {
	Miles, Minutes float64
}

// Place is where a pool is, degrees.
type Place struct {
	Lon, Lat float64
}

// Roads gives the way between two places.
type Roads func(from, to Place) Way

// Straight stands in for a road table where there is none: the distance as the
// crow flies, a third more for the bends, at 25 mph, with four minutes to load and
// park (ours).
func Straight(from, to Place) Way {
	const earthMiles, degrees = 3958.8, math.Pi / 180
	x := (to.Lon - from.Lon) * degrees * math.Cos((from.Lat+to.Lat)/2*degrees)
	y := (to.Lat - from.Lat) * degrees
	miles := 1.33 * earthMiles * math.Hypot(x, y)
	return Way{miles, Park + miles/25*60}
}

// Park is what leaving one stop and settling at the next takes beside the drive,
// minutes (ours).
const Park = 4

// exactStops is how many stops Order solves exactly.
const exactStops = 12

// Order gives an open route over all stops that starts at the first one, as
// indices, and is the shortest in miles: exactly (Held and Karp, 1962) for up to
// twelve stops beside the first, beyond that by improving the nearest-neighbour
// route with reversals and moved runs until none helps. ways is square.
func Order(ways [][]Way) []int {
	n := len(ways)
	if n <= 2 {
		return Given(n)
	}
	if n-1 <= exactStops {
		return exact(ways)
	}
	return improve(ways, nearest(ways))
}

// Given is the order as it is.
func Given(n int) []int {
	out := make([]int, n)
	for i := range out {
		out[i] = i
	}
	return out
}

// Length adds a route up.
func Length(ways [][]Way, order []int) Way {
	var sum Way
	for i := 1; i < len(order); i++ {
		w := ways[order[i-1]][order[i]]
		sum.Miles += w.Miles
		sum.Minutes += w.Minutes
	}
	return sum
}

// exact is dynamic programming over sets: best[set][last] is the shortest way from
// the first stop through a set of the others that ends at last.
func exact(ways [][]Way) []int {
	m := len(ways) - 1
	best := make([][]float64, 1<<m)
	from := make([][]int8, 1<<m)
	for set := 1; set < 1<<m; set++ {
		best[set], from[set] = make([]float64, m), make([]int8, m)
		for last := range m {
			best[set][last] = math.Inf(1)
			if set&(1<<last) == 0 {
				continue
			}
			rest := set &^ (1 << last)
			if rest == 0 {
				best[set][last], from[set][last] = ways[0][last+1].Miles, -1
				continue
			}
			for prev := range m {
				if rest&(1<<prev) != 0 {
					if d := best[rest][prev] + ways[prev+1][last+1].Miles; d < best[set][last] {
						best[set][last], from[set][last] = d, int8(prev)
					}
				}
			}
		}
	}
	set := 1<<m - 1
	last := 0
	for i := range m {
		if best[set][i] < best[set][last] {
			last = i
		}
	}
	out := make([]int, m+1)
	for i := m; i > 0; i-- {
		out[i] = last + 1
		prev := int(from[set][last])
		set &^= 1 << last
		last = prev
	}
	return out
}

func nearest(ways [][]Way) []int {
	n := len(ways)
	out, seen := []int{0}, make([]bool, n)
	seen[0] = true
	for len(out) < n {
		at, next := out[len(out)-1], -1
		for i := range n {
			if !seen[i] && (next < 0 || ways[at][i].Miles < ways[at][next].Miles) {
				next = i
			}
		}
		out, seen[next] = append(out, next), true
	}
	return out
}

func improve(ways [][]Way, order []int) []int {
	n := len(order)
	length := Length(ways, order).Miles
	try := func(next []int) bool {
		if l := Length(ways, next).Miles; l < length-1e-9 {
			copy(order, next)
			length = l
			return true
		}
		return false
	}
	next := make([]int, 0, n)
	for better := true; better; {
		better = false
		for i := 1; i < n; i++ {
			for j := i + 1; j <= n; j++ {
				next = append(next[:0], order[:i]...)
				for k := j - 1; k >= i; k-- {
					next = append(next, order[k])
				}
				better = try(append(next, order[j:]...)) || better
				if j-i > 3 {
					continue
				}
				run := append([]int(nil), order[i:j]...)
				rest := append(append([]int(nil), order[:i]...), order[j:]...)
				for at := 1; at <= len(rest); at++ {
					next = append(append(append(next[:0], rest[:at]...), run...), rest[at:]...)
					if try(next) {
						better = true
						break
					}
				}
			}
		}
	}
	return order
}
