package e2e

import (
	"encoding/base64"
	"image"
	"image/png"
	"os"
	"path/filepath"
	"testing"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
)

var sizes = map[string]proto.EmulationSetDeviceMetricsOverride{"desktop": harness.Desktop, "phone": harness.Phone}

// A pool is taken on from nothing, gets a customer, a picture and a note; its customer
// reads its papers by a link, signed out, until the link is revoked.
func TestAPoolFromNothingToItsCustomersLink(t *testing.T) {
	t.Parallel()
	for name, size := range sizes {
		t.Run(name, func(t *testing.T) {
			s := open(t, size)
			s.signIn("office")
			s.MustNavigate(s.town.URL + "/pools/new").MustWaitLoad()
			s.fill("#new-street", "7 Sedge Row")
			s.tap("#volume .ant-collapse-header")
			s.choose("#new-gallons-shape", "Round")
			s.fill("#new-gallons-lengthFt", "24")
			s.tap("#new-gallons-work-out")
			s.findText("#volume .field-says", "Between 0.5 and 20 ft")
			s.fill("#new-gallons-shallowFt", "4")
			s.tap("#new-gallons-work-out")
			s.findText("#volume", "Holds about 13,5[0-9][0-9] gal")
			assert.Equal(t, "13550", s.value("#new-gallons"))
			s.fill("#new-customer", "P. Quillfeather")
			s.fill("#new-phone", "555 0199")
			s.choose("#least-pump", "Brisk 150 VS")
			s.choose("#least-filter", "Stanchion S24")
			s.fill("#least-length", "40")
			s.find("#keep-pool:not([disabled])")
			s.tap("#keep-pool")
			s.findText("h1", "7 Sedge Row")
			s.pool("7 Sedge Row", "/about")
			s.findText(".about-customer", "P. Quillfeather[^§]*555 0199")
			s.fill("#about-access", "Blue gate, mind the goose.")
			s.fill("#about-minutes", "none")
			s.tap("#about-save")
			s.findText(".field-says", "isn't a number")
			assert.Equal(t, "Blue gate, mind the goose.", s.value("#about-access"), "nothing typed is lost")
			s.fill("#about-minutes", "35")
			s.tap("#about-save")
			s.findText(".about", "Changed how to get in, the minutes from 25 to 35")
			s.fill("#photo-caption", "The pad from the gate")
			s.find("#photo-file").MustSetFiles(drawnPicture(t))
			s.findText(".photos", "The pad from the gate")
			bad := filepath.Join(t.TempDir(), "no.png")
			write(t, bad, "not a picture")
			s.find("#photo-file").MustSetFiles(bad)
			s.findText(".photos-add-photo [role=alert]", "not a picture we can read")
			s.axe("about a pool")
			s.tap("#link-open")
			link := *s.find("#link-made").MustAttribute("href")
			guest := s.town.Page(browser, "/", size)
			defer guest.MustClose()
			guest.MustNavigate(link).MustWaitLoad()
			visitor := &screen{guest.Timeout(patience * 3), t, s.town}
			visitor.findText(".paper", "What is what on your pad")
			visitor.findText(".paper", "Never turn the filter valve")
			assert.NotContains(t, visitor.text(), "goose", "how to get in is on no paper")
			visitor.axe("a customer's link")
			visitor.tap(`[data-paper="report"]`)
			visitor.findText(".paper", "Equipment and history")
			s.tap("[data-link] button")
			s.findText(".about", "Revoked a link")
			guest.MustReload().MustWaitLoad()
			visitor.findText("h1", "This link has ended")
		})
	}
}

// drawnPicture is a small picture in a file.
func drawnPicture(t *testing.T) string {
	file := filepath.Join(t.TempDir(), "pad.png")
	f, err := os.Create(file)
	require.NoError(t, err)
	defer f.Close()
	require.NoError(t, png.Encode(f, image.NewGray(image.Rect(0, 0, 640, 420))))
	return file
}

// A cartridge is replaced; the event stands in the pool's log, is found by words, and
// the list across pools has the new one. The owner's sheet prints.
func TestTheLogIsSearchedAndPapersPrint(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.pool("5 Bayberry Close", "")
	s.tap(`[data-part="cartridge"] .ant-collapse-header`)
	s.tap(`[data-part="cartridge"] [data-act="replace"]`)
	s.fill("#part-serial", "PL-0042")
	s.tap("#part-save")
	s.findText(`[data-entry="part"]`, "Part replaced[^§]*Cartridge: Pleat 320")
	s.fill("#note-text", "Heron nests by the pump.")
	s.MustReload().MustWaitLoad()
	assert.Equal(t, "Heron nests by the pump.", s.value("#note-text"), "a note begun survives a reload")
	s.tap("#note-save")
	s.findText(`[data-entry="note"]`, "Heron nests")
	s.fill("#find-log", "heron nests")
	s.find(`.log tbody tr:only-child[data-entry="note"]`)
	s.fill("#find-log", "PL-0042")
	s.find(`.log tbody tr:only-child[data-entry="part"]`)
	s.MustNavigate(s.town.URL + "/pools").MustWaitLoad()
	s.fill("#find-pool", "pl-0042")
	s.findText(".pools", "5 Bayberry Close[^§]*Cartridge: Pleat 320 PL-0042")
	s.pool("61 Tamarack Street", "/papers/owner")
	s.findText(".paper", "Suction valve[^§]*between Skimmer, Main drain and Spa drain")
	s.axe("an owner's sheet")
	_ = proto.EmulationSetEmulatedMedia{Media: "print"}.Call(s)
	assert.False(t, s.find("#print-paper").MustVisible(), "the paper alone is printed")
	pdf, err := proto.PagePrintToPDF{}.Call(s)
	require.NoError(t, err)
	assert.Greater(t, len(pdf.Data), 5000)
	own := s.MustEval(`async () => {
		const b = new Uint8Array(await (await fetch(document.querySelector("#paper-pdf").href)).arrayBuffer());
		return btoa(String.fromCharCode(...b.slice(0, 5)));
	}`).Str()
	head, err := base64.StdEncoding.DecodeString(own)
	require.NoError(t, err)
	assert.Equal(t, "%PDF-", string(head))
}

// The desk reads a spreadsheet as what each row does, mends it, and takes it in; it adds
// somebody, and sees who changed what.
func TestTheOfficeTakesASpreadsheetIn(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("owner")
	s.MustNavigate(s.town.URL + "/office/sheets").MustWaitLoad()
	file := filepath.Join(t.TempDir(), "pools.csv")
	write(
		t,
		file,
		"street;volume_gal;pump;filter\n7 Sedge Row;18500,5;Brisk 150 VS;Stanchion S24\n9 Sedge Row;none;Brisk 150 VS;Stanchion S24\n",
	)
	s.find("#import-file").MustSetFiles(file)
	s.findText("#import-rows", "row 3[^§]*is not a number")
	assert.Empty(t, s.MustElements("#import-take"), "a spoiled file can't be taken")
	s.axe("what each row does")
	write(
		t,
		file,
		"street;volume_gal;pump;filter\n7 Sedge Row;18500,5;Brisk 150 VS;Stanchion S24\n9 Sedge Row;17000;Brisk 150 VS;Stanchion S24\n",
	)
	s.find("#import-file").MustSetFiles(file)
	s.tap("#import-take")
	s.find(`[data-import="done"]`)
	s.MustNavigate(s.town.URL + "/pools").MustWaitLoad()
	s.fill("#find-pool", "sedge row")
	s.findText(".pools", "9 Sedge Row")
	s.MustNavigate(s.town.URL + "/office/people").MustWaitLoad()
	s.tap("#person-add")
	s.fill("#person-name", "N. Newt")
	s.fill("#person-login", "newt")
	s.fill("#person-password", "short")
	s.tap("#person-save")
	s.findText(".part-form .field-says", "at least 12 characters")
	assert.Equal(t, "N. Newt", s.value("#person-name"))
	s.fill("#person-password", "a long enough one")
	s.tap("#person-save")
	s.find(`[data-person="newt"]`)
	s.axe("people")
	s.MustNavigate(s.town.URL + "/office").MustWaitLoad()
	s.choose("#office-units", "Metric: bar, m³/h, liters, meters")
	s.tap("#office-save")
	s.findText(".office", "Saved")
	s.axe("the office")
	s.pool("14 Quince Court", "")
	s.findText(".facts", "70,030 L")
	s.MustNavigate(s.town.URL + "/office/trail").MustWaitLoad()
	s.findText("#trail", "Changed the company's set-up[^§]*Added N. Newt as technician[^§]*Took in pools.csv: 2 pools")
}
