package inspection

import (
	"slices"

	"fairlap/core/words"
)

// IsWork tells a finding that asks for work; a note is good to know.
func (f Finding) IsWork() bool { return f.Severity != Note }

// Gravest is the gravest severity of some findings; empty without any.
func Gravest(fs []Finding) Severity {
	for _, s := range []Severity{Stop, Soon, Act, Note} {
		if slices.ContainsFunc(fs, func(f Finding) bool { return f.Severity == s }) {
			return s
		}
	}
	return ""
}

// Since says, by the names of their items, what an earlier inspection found that was
// looked at now and is as it should be, and what is found now and was not then.
func Since(then, now []Finding, looked Answers) (mended, fresh []words.Message) {
	has := func(fs []Finding, id ItemID) bool {
		return slices.ContainsFunc(fs, func(f Finding) bool { return f.Item == id })
	}
	mended, fresh = []words.Message{}, []words.Message{}
	for _, f := range then {
		if isAnswered(f.Item, looked[f.Item]) && !has(now, f.Item) {
			mended = append(mended, f.Name)
		}
	}
	for _, f := range now {
		if !has(then, f.Item) {
			fresh = append(fresh, f.Name)
		}
	}
	return mended, fresh
}
