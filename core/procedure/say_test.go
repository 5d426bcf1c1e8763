package procedure

import (
	"fairlap/core/words"
)

// say is a message in the trade's English and units.
func say(m words.Message) string { return words.Plain.Say(m) }

func sayAll(ms []words.Message) []string {
	out := make([]string, len(ms))
	for i, m := range ms {
		out[i] = say(m)
	}
	return out
}
