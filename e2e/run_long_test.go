//go:build long

package e2e

import (
	"testing"

	"fairlap/e2e/harness"
)

// DE service in one run: one opening, both drain times, the pad read without its charge
// and with it.
func TestDEServiceEndToEnd(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.openStop("61 Tamarack Street")
	s.startWork("tear-down")
	s.through("drain-before", "16")
	s.findText(".pump-state", "LOCKED OFF")
	s.through("acid", "16")
	s.findText(".run-ask", "Pour [0-9]+ (qt|US gal) of acid into the water")
	s.through("keep", "16")
	s.findText(".run-steps-done", "Drain test before[^§]*0:0[2-9][^§]*Drain test after[^§]*0:0[2-9]")
	s.through("bare", "16")
	s.through("mix", "8")
	s.findText(".run-ask", "4.8 lb of DE")
	s.through("after", "9")
	s.through("", "9")
	s.findText(".run-end", "Finished")
	s.findText("#run-bare", "Bare grids[^§]*Charged[^§]*8.0 psi")
	s.tap("#keep-line")
	s.findText(".run-end", "Saved as the clean line")
}

// A season's close on a pad without a multiport valve: a pump of its own lowers the
// water, every line and part by name.
func TestASeasonClosesOnACartridgePad(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("5 Bayberry Close")
	s.startWork("season-close")
	s.through("submersible", "")
	s.findText(".run-ask", "submersible pump, to below the returns")
	s.findText(".run-hint", "12 in, about [0-9,]+ gal")
	s.through("tag", "")
	s.findText(
		".run-steps-done",
		"Blow out Skimmer[^§]*Blow out Main drain[^§]*Blow out Return by the steps[^§]*Blow out Deep-end return",
	)
	s.through("", "")
	s.findText(".run-end", "Finished")
}
