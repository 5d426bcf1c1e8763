package lap

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// square makes a table of straight ways.
func square(places []Place) [][]Way {
	out := make([][]Way, len(places))
	for i, a := range places {
		for _, b := range places {
			out[i] = append(out[i], Straight(a, b))
		}
	}
	return out
}

// every tries all orders that start at the first stop.
func every(ways [][]Way) float64 {
	best := math.Inf(1)
	var walk func(order []int, used int)
	walk = func(order []int, used int) {
		if len(order) == len(ways) {
			best = min(best, Length(ways, order).Miles)
			return
		}
		for i := range ways {
			if used&(1<<i) == 0 {
				walk(append(order, i), used|1<<i)
			}
		}
	}
	walk([]int{0}, 1)
	return best
}

func draw(t *rapid.T, low, high int) []Place {
	out := make([]Place, rapid.IntRange(low, high).Draw(t, "stops"))
	for i := range out {
		out[i] = Place{rapid.Float64Range(-112.1, -112).Draw(t, "lon"), rapid.Float64Range(33.4, 33.5).Draw(t, "lat")}
	}
	return out
}

func isOrder(t assert.TestingT, order []int, n int) {
	seen := map[int]bool{}
	for _, i := range order {
		seen[i] = true
	}
	assert.Len(t, seen, n)
	assert.Len(t, order, n)
	assert.Zero(t, order[0], "it starts where the technician stands")
}

func TestTheShortestOrderIsTheShortest(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		ways := square(draw(t, 1, 7))
		order := Order(ways)
		isOrder(t, order, len(ways))
		assert.InDelta(t, every(ways), Length(ways, order).Miles, 1e-9)
	})
}

func TestALongDayIsNearlyTheShortest(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		ways := square(draw(t, 10, 13))
		exactly, order := Length(ways, exact(ways)).Miles, improve(ways, nearest(ways))
		isOrder(t, order, len(ways))
		assert.LessOrEqual(t, Length(ways, order).Miles, 1.25*exactly+1e-9)
		assert.LessOrEqual(t, Length(ways, order).Miles, Length(ways, nearest(ways)).Miles+1e-9)
	})
	long := make([]Place, 20)
	for i := range long {
		long[i] = Place{Lon: -112 + 0.01*float64(i*7%20), Lat: 33.4}
	}
	order := Order(square(long))
	isOrder(t, order, 20)
	assert.Less(t, Length(square(long), order).Miles, 0.7*Length(square(long), Given(20)).Miles)
}

// A degree of latitude is 69 miles (geodesy; the sphere's 3,958.8-mile radius).
func TestStraightIsACrowWithBends(t *testing.T) {
	w := Straight(Place{-112, 33}, Place{-112, 34})
	assert.InDelta(t, 1.33*69.1, w.Miles, 0.1)
	assert.InDelta(t, Park+w.Miles/25*60, w.Minutes, 1e-9)
	assert.Zero(t, Straight(Place{1, 2}, Place{1, 2}).Miles)
}

func BenchmarkOrderTwelve(b *testing.B) {
	places := make([]Place, 13)
	for i := range places {
		places[i] = Place{-112 + 0.013*float64(i*5%13), 33.4 + 0.011*float64(i*8%13)}
	}
	ways := square(places)
	for b.Loop() {
		Order(ways)
	}
}
