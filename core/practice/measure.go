package practice

import (
	"fmt"
	"strings"
)

// OfMany are the figures of a way over many cases, in the mean.
type OfMany struct {
	Mean    float64 // cost in minutes, everything counted
	Minutes float64
	Gallons float64
	Wrong   float64
	Solved  float64 // share
}

// Measured is the engine's own order beside a card's fixed one over drawn cases.
type Measured struct {
	Cases        int
	Engine, Card OfMany
	// Cheaper is the share of cases in which the engine's order cost no more.
	Cheaper float64
}

// Measure draws n cases, by level and theme in turn, and works each both ways. Errors are
// the engine's.
func Measure(n int, seed uint64) (*Measured, error) {
	m := &Measured{Cases: n}
	add := func(o *OfMany, a *Attempt) {
		c, by := a.Costs(), 1/float64(n)
		o.Mean += c.All * by
		o.Minutes += c.Minutes * by
		o.Gallons += c.Gallons * by
		o.Wrong += float64(c.Wrong) * by
		if a.Solved() {
			o.Solved += by
		}
	}
	for i := range n {
		c, err := Draw(Levels[i%len(Levels)], Themes[i/len(Levels)%len(Themes)], seed+uint64(i))
		if err != nil {
			return nil, err
		}
		s, err := Set(c)
		if err != nil {
			return nil, err
		}
		_, engine, err := s.Follow()
		if err != nil {
			return nil, err
		}
		_, card, err := s.ByCard()
		if err != nil {
			return nil, err
		}
		add(&m.Engine, engine)
		add(&m.Card, card)
		if engine.Cost() <= card.Cost()+1e-9 {
			m.Cheaper += 1 / float64(n)
		}
	}
	return m, nil
}

// String writes the figures as a table in Markdown.
func (m *Measured) String() string {
	var b strings.Builder
	fmt.Fprintf(
		&b,
		"| %d drawn cases | cost, min | minutes | gallons | put right in vain | solved |\n|---|---|---|---|---|---|\n",
		m.Cases,
	)
	for _, r := range []struct {
		name string
		o    OfMany
	}{{"the engine's own next checks", m.Engine}, {"a card's fixed order", m.Card}} {
		fmt.Fprintf(
			&b,
			"| %s | %.1f | %.1f | %.0f | %.2f | %.1f %% |\n",
			r.name,
			r.o.Mean,
			r.o.Minutes,
			r.o.Gallons,
			r.o.Wrong,
			100*r.o.Solved,
		)
	}
	fmt.Fprintf(&b, "\nThe engine's order costs no more in %.0f %% of them.\n", 100*m.Cheaper)
	return b.String()
}
