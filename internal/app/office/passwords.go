package office

import (
	"strings"

	"fairlap/core/words"
	"fairlap/internal/zxcvbn"
)

// ShortestPassword is the least length of a password.
const ShortestPassword = 12

// guesses is how many tries a password must take somebody who knows common words, names, dates, keyboards and what
// people make of them (Wheeler 2016: three of its four).
const guesses = 1e8 + 5

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
	if zxcvbn.Guesses(password, known) < guesses {
		return "app.this-password-is-easy-to-guess"
	}
	return ""
}
