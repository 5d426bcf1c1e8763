package speedplan

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// brute tries every plan there is.
func brute(p *problem) (float64, bool) {
	best := math.Inf(1)
	plan := make([]int, p.hours)
	var try func(h int)
	try = func(h int) {
		if h == p.hours {
			cost := 0.0
			slots, starts := 0, 0
			var got gains
			for i, w := range plan {
				before := plan[(i+p.hours-1)%p.hours]
				cost += p.cost[i][w]
				for r := range resources {
					got[r] += p.gain[i][w][r]
				}
				if w != 0 && before == 0 {
					starts++
					cost += p.startCost[i]
				}
				if w != 0 && (i == 0 || plan[i-1] != w) {
					cost += p.slotCost
				}
				if w != 0 && before != w { // a slot may run on through midnight
					slots++
				}
			}
			if slots == 0 && plan[0] != 0 {
				slots = 1
			}
			if p.slots > 0 && slots > p.slots || p.starts > 0 && starts > p.starts {
				return
			}
			for r := range resources {
				if got[r] < p.need[r]*(1-1e-12)-1e-9 {
					return
				}
			}
			best = math.Min(best, cost)
			return
		}
		for w := range p.ways {
			if p.allow[h][w] {
				plan[h] = w
				try(h + 1)
			}
		}
	}
	try(0)
	return best, !math.IsInf(best, 1)
}

// smallDay is a small random day.
func smallDay(t *rapid.T) *problem {
	p := &problem{
		hours:  rapid.IntRange(3, 6).Draw(t, "hours"),
		ways:   rapid.IntRange(2, 4).Draw(t, "ways"),
		slots:  rapid.IntRange(0, 4).Draw(t, "slots"),
		starts: rapid.IntRange(0, 2).Draw(t, "starts"),
	}
	flow, watts := make([]float64, p.ways), make([]float64, p.ways)
	for w := 1; w < p.ways; w++ {
		flow[w] = flow[w-1] + rapid.Float64Range(5, 30).Draw(t, "flow")
		watts[w] = watts[w-1]*1.2 + rapid.Float64Range(0.02, 0.5).Draw(t, "watts")
	}
	total := 0.0
	cheapest := rapid.Float64Range(-0.4, 0.1).Draw(t, "cheapest") // utilities pay at times
	for range p.hours {
		price := rapid.Float64Range(cheapest, 0.5).Draw(t, "price")
		cost, gain, allow := make([]float64, p.ways), make([]gains, p.ways), make([]bool, p.ways)
		for w := range p.ways {
			allow[w] = rapid.IntRange(0, 9).Draw(t, "allowed") > 1
			cost[w] = watts[w] * price
			if w > 0 {
				gain[w] = gains{flow[w], 0, 0, 1}
				if w >= p.ways-1 {
					gain[w][highHours] = 1
				}
				if w >= p.ways/2 {
					gain[w][cellHours] = 1
				}
			}
		}
		total += flow[p.ways-1]
		p.cost, p.gain, p.allow = append(p.cost, cost), append(p.gain, gain), append(p.allow, allow)
		p.slotCost, p.startCost = 0.01, append(p.startCost, rapid.Float64Range(0, 0.2).Draw(t, "start"))
	}
	p.need[turnover] = total * rapid.Float64Range(0, 0.9).Draw(t, "turnover")
	p.need[highHours] = float64(rapid.IntRange(0, 2).Draw(t, "high"))
	p.need[cellHours] = float64(rapid.IntRange(0, 3).Draw(t, "cell"))
	p.need[runHours] = float64(rapid.IntRange(0, 3).Draw(t, "run"))
	return p
}

// On small days the planner's cost is that of trying every plan, on hundreds of random
// needs; and where no plan meets them, it says so.
func TestThePlanIsTheCheapestThereIs(t *testing.T) {
	found, none := 0, 0
	rapid.Check(t, func(t *rapid.T) {
		p := smallDay(t)
		p.share = rapid.SampledFrom([]float64{0, 0, 0.02}).Draw(t, "share")
		want, possible := brute(p)
		plan, cost, within, ok := p.solve()
		require.Equal(t, possible, ok)
		require.Equal(t, possible, p.possible())
		if !ok {
			none++
			return
		}
		found++
		require.InDelta(t, want, cost, 2*slack+p.share*math.Abs(cost))
		require.LessOrEqual(t, cost-want, within+slack, "no cheaper than was said")
		sum := 0.0
		for h, w := range plan {
			require.True(t, p.allow[h][w])
			sum += p.cost[h][w]
			if w != 0 && plan[(h+p.hours-1)%p.hours] == 0 {
				sum += p.startCost[h]
			}
			if w != 0 && (h == 0 || plan[h-1] != w) {
				sum += p.slotCost
			}
		}
		require.InDelta(t, cost, sum, 1e-9, "the plan costs what it is said to cost")
	})
	if found+none >= 100 { // of a few draws none may be of one sort
		assert.Greater(t, found, 20)
		assert.Greater(t, none, 3)
	}
}

// Water that is only just enough is enough, whatever a slot is priced at.
func TestTheLastGallonIsEnough(t *testing.T) {
	p := &problem{hours: 3, ways: 2, startCost: make([]float64, 3), slotCost: 0.5}
	for range p.hours {
		p.allow = append(p.allow, []bool{true, true})
		p.cost = append(p.cost, []float64{0, 0.1})
		p.gain = append(p.gain, []gains{{}, {10, 0, 0, 1}})
	}
	p.need[turnover] = 29.9
	assert.True(t, p.possible())
	_, cost, _, ok := p.solve()
	assert.True(t, ok)
	assert.InDelta(t, 0.8, cost, 1e-9)
	p.need[turnover] = 30.1
	assert.False(t, p.possible())
}
