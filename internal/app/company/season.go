package company

import (
	"fairlap/core/figure"
	"time"
)

// Season are a pool's own days of opening and closing.
type Season struct {
	Opens  string `json:"seasonOpens,omitempty"`
	Closes string `json:"seasonCloses,omitempty"`
}

// CheckSeason checks two days of the year that go together.
func CheckSeason(prefix, opens, closes string) figure.FieldErrors {
	var errs figure.FieldErrors
	for field, day := range map[string]string{"seasonOpens": opens, "seasonCloses": closes} {
		if _, err := time.Parse("01-02", day); day != "" && err != nil {
			errs.Add(prefix+field, "app.type-the-day-of-the")
		} else if (opens == "") != (closes == "") && day == "" {
			errs.Add(prefix+field, "app.a-season-needs-both-days")
		}
	}
	return errs
}
