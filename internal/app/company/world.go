package company

import (
	"fairlap/core/judge"
	"fairlap/core/lap"
	"fairlap/core/upkeep"
)

// Meters stands in for the real pad in a demo.
type Meters interface {
	// Read says what the pad of a pool shows at a speed (0: the one it is running
	// at), as it would be typed, and what is seen there; ok is false for a pool it
	// does not know.
	Read(street string, rpm float64) (reading judge.TypedReading, signs map[string]bool, ok bool)
}

// World is what the service asks of the world outside; any of it may be missing.
type World struct {
	Demo  Meters     // nil outside demo mode
	Sky   upkeep.Sky // weather up to now
	Roads lap.Roads
	// Streets are the lines of the town's streets, degrees east and north; nil: none are shipped.
	Streets [][][2]float64
	// Tiles is the address of a map's tiles, like https://tiles.example/{z}/{x}/{y}.png; empty: none.
	Tiles string
}
