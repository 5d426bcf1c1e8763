package procedure

import (
	"testing"

	"fairlap/core/pad"
)

// many is a pad with more lines than most.
var many = Rig{
	Valve:   pad.Multiport,
	Kind:    pad.DE,
	Suction: []string{"a", "b", "c", "d", "e", "f", "g", "h", "i", "j"},
	Usual:   1<<10 - 1,
	Drain:   1,
	Spa:     true,
}

// The ways that a run shows are found while its page is asked for.
func BenchmarkWays(b *testing.B) {
	c, err := Find(Priming1).Write(&Setup{Rig: many, Ways: DefaultWays(), Figures: everyFigure()})
	if err != nil {
		b.Fatal(err)
	}
	b.Run("back, ten lines", func(b *testing.B) {
		for b.Loop() {
			if _, ok := many.Back(c.Start, c.step("catch").State); !ok {
				b.Fatal("no way")
			}
		}
	})
	b.Run("none, ten lines", func(b *testing.B) {
		to := c.step("catch").State
		to.Elements = Acid // no way leads into an acid bath
		for b.Loop() {
			if _, ok := many.Back(c.Start, to); ok {
				b.Fatal("a way")
			}
		}
	})
	b.Run("writing a procedure out", func(b *testing.B) {
		for b.Loop() {
			if _, err := Find(Priming1).Write(&Setup{Rig: many, Ways: DefaultWays(),
				Figures: everyFigure()}); err != nil {
				b.Fatal(err)
			}
		}
	})
}
