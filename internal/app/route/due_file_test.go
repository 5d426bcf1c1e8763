package route

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"fairlap/core/upkeep"
	"fairlap/internal/sheet"
)

func TestCellsAreWordsNeverFormulas(t *testing.T) {
	for in, want := range map[string]string{"=1+1": "'=1+1", "@x": "'@x", "-5": "'-5", "Quince Court 14": "Quince Court 14", "": ""} {
		assert.Equal(t, want, sheet.Plain(in))
	}
}

func TestTheVanAddsUp(t *testing.T) {
	de := func(lb float64) []upkeep.Material {
		return []upkeep.Material{{Name: "DE powder", Amount: lb, Unit: "lb"}}
	}
	list := van(
		[][]upkeep.Due{
			{{Materials: de(4.8)}, {Materials: []upkeep.Material{{Name: "Degreaser", Amount: 0.5, Unit: "gal"}}}},
			{{Materials: de(3)}},
			nil,
		},
	)
	assert.Equal(
		t,
		[]upkeep.Material{{Name: "DE powder", Amount: 7.8, Unit: "lb"}, {Name: "Degreaser", Amount: 0.5, Unit: "gal"}},
		list,
	)
	assert.NotNil(t, van(nil), "an empty list, not none")
}
