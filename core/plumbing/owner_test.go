package plumbing

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"fairlap/core/pad"
	"fairlap/core/pad/padtest"
)

func TestAnOwnersSheetNamesEveryHandle(t *testing.T) {
	d := pad.Sketch{
		Pump:     padtest.SandPad().Pump,
		Filter:   padtest.SandPad().Filter,
		PipeIn:   2,
		LengthFt: 40,
		Spa:      true,
	}.Document()
	handles := d.OwnerHandles()
	names := map[string]pad.OwnerHandle{}
	for _, h := range handles {
		names[say(h.Name)] = h
		assert.NotEmpty(t, h.Does, h.Name)
		assert.NotEmpty(t, h.Usual, h.Name)
		assert.NotEmpty(t, h.Why, "%s: ours, with the reason in a line", h.Name)
	}
	assert.Len(t, handles, 1+len(d.Valves)+len(d.Suction)+len(d.Returns))
	assert.Contains(t, say(names["Filter valve"].Why), "tears its seal")
	assert.Contains(t, say(names["Filter valve"].Does), "Closed: never with the pump on")
	assert.Contains(t, say(names["Skimmer"].Why), "all the pull on one drain")
	assert.Contains(
		t,
		say(names["Suction valve"].Usual),
		"Closed mark at the spa line",
		"words that an owner reads: \"mark at its second port\" is none",
	)
	may := ""
	for _, m := range d.OwnerMay(false) {
		may += say(m[0]) + ": " + say(m[1]) + "\n"
	}
	assert.Contains(t, may, "until it says pool")
	assert.Contains(t, may, "breaker off")
	assert.NotContains(t, may, "valve")
	assert.Contains(t, say(names["Suction valve"].Does), "between Skimmer, Main drain and Spa drain")
	assert.NotEmpty(t, d.SpaWords())
	d.Spa = nil
	assert.Empty(t, d.SpaWords())
	plain := pad.Sketch{
		Pump:     padtest.SandPad().Pump,
		Filter:   pad.Filter{Kind: pad.Cartridge, Valve: pad.NoValve},
		PipeIn:   2,
		LengthFt: 40,
	}.Document()
	for _, h := range plain.OwnerHandles() {
		assert.False(t, strings.Contains(say(h.Does), "Backwash"), "no filter valve, no settings")
	}
}
