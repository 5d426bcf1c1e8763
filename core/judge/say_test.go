package judge

import "fairlap/core/words"

// say is a message in the trade's English and units.
func say(m words.Message) string { return words.Plain.Say(m) }
