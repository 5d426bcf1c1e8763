// Package drawn says how many draws a test takes: a tenth of them, or all with the build tag long (make test-long).
package drawn

// Of is how many of all the draws to take now, at least one.
func Of(all int) int { return max(1, all/part) }
