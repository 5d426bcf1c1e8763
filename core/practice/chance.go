package practice

import (
	"crypto/sha256"
	"encoding/binary"
	"math"
	"strconv"
)

// chance is a number from 0 up to 1 that follows from a seed and a name alone: what chance
// had in store for one thing, in whatever order somebody asks.
func chance(seed uint64, name string) float64 {
	sum := sha256.Sum256([]byte(strconv.FormatUint(seed, 10) + "/" + name))
	return float64(binary.BigEndian.Uint64(sum[:8])>>11) / (1 << 53)
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
