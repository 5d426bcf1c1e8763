// Package drawn says how many draws a test takes: a tenth of them, or all with the build tag long (make test-long).
package drawn

// Of is how many of all the draws to take now, at least one.
func Of(all int) int { return max(1, all/part) }

// Some are the cases of a list to take now: all, or one in so many that each value of what the list combines is among
// them.
func Some[T any](all []T) []T {
	var out []T
	for i := 0; i < len(all); i += stride {
		out = append(out, all[i])
	}
	return out
}
