package office

import (
	"strings"

	"github.com/trustelem/zxcvbn"

	"fairlap/core/words"
)

// ShortestPassword is the least length of a password.
const ShortestPassword = 12

// guesses is how hard a password must be to guess: 10^8 tries and more of somebody who knows
// common words, names, dates, keyboards and what people make of them (zxcvbn, Wheeler 2016;
// three of its four).
const guesses = 3

// Weak says what is wrong with a password, in a sentence; empty for nothing. about are words
// that whoever guesses knows: the login, the name, the company.
func Weak(password string, about ...string) words.Message {
	if len(password) < ShortestPassword {
		return words.Of("app.a-password-needs-at-least", "shortestPassword", words.N(ShortestPassword))
	}
	var known []string
	for _, a := range about {
		each := strings.Fields(strings.ToLower(a))
		known = append(known, each...)
		for from := range each { // and written as one
			for to := from + 2; to <= len(each); to++ {
				known = append(known, strings.Join(each[from:to], ""))
			}
		}
	}
	if zxcvbn.PasswordStrength(password, known).Score < guesses {
		return "app.this-password-is-easy-to-guess"
	}
	return ""
}
