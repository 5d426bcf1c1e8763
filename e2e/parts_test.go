package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"

	"fairlap/e2e/harness"
)

// A cartridge is replaced: its life starts anew, the event is on record, and the list
// across pools has the new one.
func TestAPartIsReplaced(t *testing.T) {
	t.Parallel()
	for name, size := range map[string]proto.EmulationSetDeviceMetricsOverride{"desktop": harness.Desktop, "phone": harness.Phone} {
		t.Run(name, func(t *testing.T) {
			s := open(t, size)
			s.signIn("technician")
			s.pool("5 Bayberry Close", "")
			s.tap(`[data-part="cartridge"] .ant-collapse-header`)
			s.tap(`[data-part="cartridge"] [data-act="replace"]`)
			s.fill("#part-model", "Pleat 320 long")
			s.fill("#part-serial", "PL-0042")
			s.fill("#part-cost", "about ninety")
			s.tap("#part-save")
			s.findText(".part-form .field-says", "between 0 and 1,000,000")
			assert.Equal(t, "PL-0042", s.value("#part-serial"), "nothing typed is lost")
			s.fill("#part-cost", "92,50")
			s.tap("#part-save")
			s.findText(".part-events", "Cartridge replaced: Pleat 320 long")
			s.findText(`[data-part="cartridge"]`, "PL-0042[^§]*0.0")
			s.axe("a pool's parts")
			s.tap(`[data-part="cartridge"] .ant-collapse-header`)
			s.tap(`[data-part="cartridge"] [data-act="repair"]`)
			s.tap("#part-save")
			s.findText(".part-form .field-says", "Say in a few words")
			s.MustNavigate(s.town.URL + "/parts").MustWaitLoad()
			s.fill("#find-part", "pl-0042")
			s.findText("#parts-sum", "1 part, 0 past")
			s.findText(".parts-table", "Pleat 320 long[^§]*5 Bayberry Close")
			s.axe("parts across pools")
		})
	}
}
