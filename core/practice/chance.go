package practice

import (
	"hash/fnv"
	"math"
)

// chance is a number from 0 up to 1 that follows from a seed and a name alone: what chance
// had in store for one thing, in whatever order somebody asks. The name by FNV-1a, mixed
// with the seed by SplitMix64's finaliser (Steele, Lea and Flood 2014, from memory).
func chance(seed uint64, name string) float64 {
	h := fnv.New64a()
	h.Write([]byte(name))
	return float64(mix(h.Sum64()^mix(seed+golden))>>11) / (1 << 53)
}

// golden is the odd number nearest to 2⁶⁴ over the golden ratio.
const golden = 0x9e3779b97f4a7c15

func mix(x uint64) uint64 {
	x = (x ^ x>>30) * 0xbf58476d1ce4e5b9
	x = (x ^ x>>27) * 0x94d049bb133111eb
	return x ^ x>>31
}

// normal is a standard normal number in the same way.
func normal(seed uint64, name string) float64 {
	u := chance(seed, name)
	return math.Sqrt2 * math.Erfinv(2*math.Min(1-1e-12, math.Max(1e-12, u))-1)
}

// pick is one of n, each as likely as its weight.
func pick(seed uint64, name string, n int, weight func(int) float64) int {
	sum := 0.0
	for i := range n {
		sum += weight(i)
	}
	at := chance(seed, name) * sum
	for i := range n {
		if at -= weight(i); at < 0 {
			return i
		}
	}
	return n - 1
}

func evenly(int) float64 { return 1 }
