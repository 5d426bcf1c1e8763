// Package logp is arithmetic with the logarithms of probabilities. Every sum is made in
// one order: the same terms give the same bits.
package logp

import "math"

// Logit is the log of a probability's odds.
func Logit(p float64) float64 { return math.Log(p / (1 - p)) }

// Answer is the log of how likely an answer is, with p the chance of a yes.
func Answer(p float64, yes bool) float64 {
	if yes {
		return math.Log(p)
	}
	return math.Log(1 - p)
}

// Add is the log of a sum of two exponentials.
func Add(a, b float64) float64 {
	if a < b {
		a, b = b, a
	}
	if math.IsInf(a, -1) {
		return a
	}
	return a + math.Log1p(math.Exp(b-a))
}

// Sum is the log of a sum of exponentials, added up in order.
func Sum(x []float64) float64 {
	most := math.Inf(-1)
	for _, v := range x {
		most = math.Max(most, v)
	}
	if math.IsInf(most, -1) {
		return most
	}
	sum := 0.0
	for _, v := range x {
		sum += math.Exp(v - most)
	}
	return most + math.Log(sum)
}

// Entropy is that of unnormalised weights, in bits.
func Entropy(w []float64) float64 {
	n, h := 0.0, 0.0
	for _, x := range w {
		n += x
	}
	if n <= 0 {
		return 0
	}
	for _, x := range w {
		if p := x / n; p > 0 {
			h -= p * math.Log2(p)
		}
	}
	return h
}
