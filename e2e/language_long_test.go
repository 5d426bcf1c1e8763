//go:build long

package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"fairlap/e2e/harness"
)

// A technician reads Spanish and metric on a phone; the desk reads the same visit in
// English and US units; what was typed stays as it was typed.
func TestOneVisitInTwoLanguages(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.reads("es", "metric")
	visit := s.visitOnAPhone(s.wellSaid)
	s.pool("14 Quince Court", "")
	s.findText(`.log tbody tr[data-entry="run"]`, "Retrolavado y enjuague")

	desk := openAt(t, s.town, harness.Desktop)
	desk.MustActivate()
	desk.signIn("office")
	desk.MustNavigate(visit).MustWaitLoad()
	desk.findText("article.pool-visit", ownWords[0])
	desk.findText("article.pool-visit", "14[.]1 psi|14[.]1")
	assert.NotContains(t, desk.text(), "bar")
	desk.findText("article.pool-visit", "Nothing wrong")
	desk.MustNavigate(s.town.URL + "/pools").MustWaitLoad()
	desk.findText("h1", "Pools")

	// Signed out, the page is in the browser's language again.
	s.MustActivate()
	s.MustNavigate(s.town.URL + "/").MustWaitLoad()
	s.tap("#more")
	s.tap("#sign-out")
	s.findText("h1", "Fair Lap")
	s.MustWait(`() => document.documentElement.lang === "en"`)
}

func TestALongerLanguageFitsAVisit(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.stretched()
	s.visitOnAPhone(s.wellSaid)
}
