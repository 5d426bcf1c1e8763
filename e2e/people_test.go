package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"fairlap/e2e/harness"
)

// A new technician is added without a password, opens the link on their own phone, is told why an
// easy password will not do, and is signed in by a good one; the link is over then. The owner sees
// the jobs, and a sign-in of theirs elsewhere ends on their word.
func TestANewTechnicianComesByALink(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("owner")
	s.MustNavigate(s.town.URL + "/office/people").MustWaitLoad()
	s.tap("#person-add")
	s.fill("#person-name", "N. Newt")
	s.fill("#person-login", "newt")
	s.tap("#person-save")
	s.tap(`[data-invite="N. Newt"]`)
	s.tap("#invite-make")
	link := s.find("#share-link").MustText()
	s.axe("a link for somebody new")

	phone := watched(t, s.town, s.town.Page(browser.MustIncognito(), "/", harness.Phone))
	phone.MustNavigate(link).MustWaitLoad()
	phone.findText("main", "Welcome, N. Newt")
	phone.fill("#invited-password", "password1234")
	phone.tap("button[type=submit]")
	phone.findText("main", "easy to guess")
	phone.axe("an easy password")
	phone.fill("#invited-password", "seven herons wade slowly")
	phone.tap("button[type=submit]")
	phone.findText("body", "New here")
	phone.MustNavigate(link).MustWaitLoad()
	phone.findText("main", "This invitation has ended")

	s.MustNavigate(s.town.URL + "/office/jobs").MustWaitLoad()
	s.find("#jobs")
	s.axe("the jobs")
	s.MustNavigate(s.town.URL + "/account").MustWaitLoad()
	s.findText("#sign-ins", "this one")
	assert.NotEmpty(t, s.MustElements("#sign-ins tbody tr"))
}
