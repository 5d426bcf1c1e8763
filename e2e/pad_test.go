package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"

	"fairlap/e2e/harness"
)

// A new pool's pad from nothing: described, calibrated, explored, revised.
func TestAPadFromNothing(t *testing.T) {
	t.Parallel()
	for name, size := range map[string]proto.EmulationSetDeviceMetricsOverride{"desktop": harness.Desktop, "phone": harness.Phone} {
		t.Run(name, func(t *testing.T) {
			s := open(t, size)
			s.signIn("technician")
			s.MustNavigate(s.town.URL + "/pools").MustWaitLoad()
			s.tap("#take-on")
			s.fill("#new-street", "7 Sedge Row")
			s.fill("#new-gallons", "16,000")
			s.choose("#least-pump", "Brisk 150 VS")
			s.choose("#least-filter", "Stanchion S24")
			s.fill("#least-length", "forty")
			s.findText(".field-says", "isn't a number")
			s.fill("#least-length", "40")
			s.tapText("label", "A spa on the same pad")
			s.tapText("label", "Flow meter")
			s.find(".pad-preview:not(.stale) #speeds")
			s.findText(".pad-preview #speeds", "±")

			s.MustReload().MustWaitLoad() // nothing typed is lost
			assert.Equal(t, "7 Sedge Row", s.value("#new-street"))
			assert.Equal(t, "40", s.value("#least-length"))
			s.find(".pad-preview:not(.stale) #speeds")

			s.tap("#refine")
			s.fill(`[id="doc-returnTrunk.lengthFt"]`, "4000")
			s.findText(".field-says", "between 0 and 1,000")
			s.fill(`[id="doc-returnTrunk.lengthFt"]`, "55,5")
			s.find(".pad-preview:not(.stale) #speeds")
			s.tap("#keep-pool")

			// The clean line, typed as it is read.
			s.findText("h1", "7 Sedge Row")
			s.find("[data-next]")
			s.tapText(".clean-line-walk-steps button", "Runs at this speed")
			s.findText(".clean-line-settle", "settles in")
			for i, r := range [][2]string{{"3,5", "24"}, {"7.5", "36"}, {"13", "47"}} {
				s.fill(field("walk", i, "tank"), r[0])
				s.fill(field("walk", i, "flow"), r[1])
			}
			s.findText(".clean-line-walk-fit:not(.stale) .clean-line-fit-words", "6 readings")
			s.fill(field("walk", 2, "tank"), "31")
			s.find(`[data-odd="tank"]`)
			s.fill(field("walk", 2, "tank"), "13")
			s.findText(".clean-line-walk-fit:not(.stale) .clean-line-fit-words", "fit the line")
			s.MustReload().MustWaitLoad()
			assert.Equal(t, "7.5", s.value(field("walk", 1, "tank")))
			s.tap("#keep-walk")
			s.findText(".pool-q1 .sec-head", "set "+long(0))

			// Paths: what a handle would do, before the hand moves.
			s.tapText(".pool-pages a", "Water paths")
			s.find(".paths-would")
			s.findText(".caution", "off is not locked off")
			s.tap(`[data-set="drain"]`)
			s.findText(`.danger[data-hazard="spa-drains"]`, `in about \d+ minutes`)
			s.tap(`[data-set="pool"]`)
			s.tap(`[data-setting="closed"]`)
			s.find(`.danger[data-hazard="dead-head"]`)
			s.tap(`[data-setting="backwash"]`)
			s.find(`[data-hazard="to-waste"]`)
			s.findText(`[data-reach="filter"]`, "−") // up through the media
			s.tap(`[data-setting="filter"]`)
			s.choose(`[data-handle="skimmer"]`, "shut")
			s.find(`[data-hazard="one-suction"]`)

			s.tapText(".pool-pages a", "Limits")
			s.find(`[data-window="filter"]`)
			s.find(`[data-window="backwash"]`)
			s.findText(`[data-limit="media-rate"]`, "62.8")

			// A revision keeps what was and says what changed.
			s.tapText(".pool-pages a", "Equipment pad")
			s.fill(`[id="doc-filter.areaFt2"]`, "4,9")
			s.find(".pad-preview:not(.stale)")
			s.tap("#keep-pad")
			s.findText(".pad-revisions", "Revision 2")
			s.findText(".pad-revisions code", "filter.areaFt2")
			s.MustReload().MustWaitLoad()
			s.find(".pad-preview:not(.stale) #speeds")
			assert.Empty(t, s.MustElements(".danger"), "what was kept is no draft any more")
		})
	}
}

func TestTheDeskImportsACatalogue(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("office")
	s.MustNavigate(s.town.URL + "/catalogue").MustWaitLoad()
	s.findText("td", "Brisk 150 VS")
	file := t.TempDir() + "/own.csv"
	write(
		t,
		file,
		"kind,model,type,area_ft2,valve,at_gpm,media_psi,vessel_psi\nfilter,Bower 60,sand,sixty,multiport,60,2,2\n",
	)
	s.find("#import-catalogue").MustSetFiles(file)
	s.findText(".file-field-file-says", "line 2, area_ft2: .*not a number")
	write(
		t,
		file,
		"kind,model,type,area_ft2,valve,at_gpm,media_psi,vessel_psi\nfilter,Bower 60,sand,3.1,multiport,60,2,2\n",
	)
	s.find("#import-catalogue").MustSetFiles(file)
	s.findText("td", "Bower 60")
}

func TestAxeFindsNothingInALinesFields(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.pool("61 Tamarack Street", "/pad")
	s.tap(".pad-fields .ant-collapse-header")
	s.axe("a line's fields")
}
