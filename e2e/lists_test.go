package e2e

import (
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"

	"fairlap/e2e/harness"
)

// A list is sorted by its head, paged and found by the server; what of it is shown stands in the
// address, so that Back finds it as it was left.
func TestAListIsFoundAsItWasLeft(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("office")
	s.MustNavigate(s.town.URL + "/parts").MustWaitLoad()
	s.findText("#parts-sum", "parts, ")
	settled := func(what string) *rod.Element { return s.find(`.parts-table:has(table[aria-busy="false"]) ` + what) }
	s.tapText(".parts-table th", "^Pool")
	settled(`th[aria-sort="ascending"]`)
	first := settled("td.col-pool a").MustText()
	s.tapText(".parts-table th", "^Pool")
	settled(`th[aria-sort="descending"]`)
	top := settled("td.col-pool a").MustText()
	assert.NotEqual(t, first, top)
	s.tapText(".ant-pagination-item a", "^2$")
	settled(".ant-pagination-item-active[title='2']")
	there := settled("td.col-pool a").MustText()
	assert.NotEqual(t, top, there)
	where := s.MustInfo().URL
	assert.True(t, strings.Contains(where, "sort=-pool") && strings.Contains(where, "page=2"), where)
	s.tapText(".parts-table td.col-pool a", there)
	s.findText("h1", there)
	s.MustNavigateBack()
	s.findText(".ant-pagination-total-text", "51–100 of")
	assert.Equal(t, there, settled("td.col-pool a").MustText())
	s.fill("#find-part", "cartridge")
	s.findText(".ant-pagination-total-text, #parts-sum", "parts, ")
	s.MustWait(
		`() => [...document.querySelectorAll(".parts-table tbody tr b")].every((b) => b.textContent === "Cartridge")`,
	)
	assert.NotContains(t, s.MustInfo().URL, "page=2", "another search begins at its first page")
	s.axe("a list that was searched")
}
