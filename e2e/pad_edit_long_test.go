//go:build long

package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"fairlap/e2e/harness"
)

// Two tabs on "take a pool on" make two pools; a third goes on with what another left, and
// a street that has a pool asks which one this is.
func TestTwoTabsTakeTwoPoolsOn(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	tab := s.Browser().MustPage("") // of the same device
	defer tab.MustClose()
	tab.MustSetViewport(
		harness.Phone.Width,
		harness.Phone.Height,
		harness.Phone.DeviceScaleFactor,
		harness.Phone.Mobile,
	)
	other := &screen{tab.Timeout(patience * 3), t, s.town}
	begin := func(s *screen, gallons string) {
		s.MustActivate() // a tab behind another draws nothing
		s.MustNavigate(s.town.URL + "/pools/new").MustWaitLoad()
		s.fill("#new-street", "3 Teasel Bend")
		s.fill("#new-gallons", gallons)
		s.choose("#least-pump", "Brisk 150 VS")
		s.choose("#least-filter", "Stanchion S24")
		s.fill("#least-length", "40")
		s.find("#keep-pool:not([disabled])")
	}
	begin(s, "15000")
	begin(other, "9000")
	s.MustActivate()
	s.MustReload().MustWaitLoad()
	assert.Equal(t, "15000", s.value("#new-gallons"), "each tab has its own")
	s.findText(".pad-drafts button", "Continue with 3 Teasel Bend")
	s.find("#keep-pool:not([disabled])")
	s.tap("#keep-pool")
	s.find("[data-next]")
	other.MustActivate()
	other.tap("#keep-pool")
	other.findText(".field-says", "which one this is")
	other.fill("#new-which", "back pool")
	other.fill("#new-town", "Ocotillo Flats")
	other.tap("#keep-pool")
	other.findText("h1", "3 Teasel Bend, back pool")
	s.MustActivate()
	s.MustNavigate(s.town.URL + "/pools").MustWaitLoad()
	s.findText(".pools, main", "3 Teasel Bend, back pool")
}
