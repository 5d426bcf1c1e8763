// Package access is who asks, what they may do and see, and how they are refused.
package access

import (
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/words"
)

// Errors that callers turn into answers.
var (
	ErrForbidden = errors.New("this is not yours to see or change")
	ErrSignIn    = errors.New("the login or the password is wrong")
	ErrNoDemo    = errors.New("this is not a demo")
	// ErrCode is that a sign-in asks for a code too.
	ErrCode = errors.New("a code is asked for")
)

// TooSoon is a try at a password that has to wait.
type TooSoon struct{ Wait time.Duration }

func (e TooSoon) Error() string { return "too many tries" }

// Role is what somebody may do.
type Role string

// The roles.
const (
	Technician Role = "technician"
	Office     Role = "office"
	Owner      Role = "owner"
)

// Drives tells whether somebody of a role may have pools of their own: technicians, and owners who drive too.
func (r Role) Drives() bool { return r == Technician || r == Owner }

// Actor is who asks.
type Actor struct {
	ID   uuid.UUID
	Name string
	Role Role
	// Printer writes what they read.
	Printer words.Printer
	// Made is when they did what they ask to be recorded, where that was before they asked: on
	// a device without a line. Zero: now.
	Made time.Time
}

// When is when somebody did what is recorded now.
func (a Actor) When(now time.Time) time.Time {
	if a.Made.IsZero() || a.Made.After(now) {
		return now
	}
	return a.Made
}

// aWhile is how long something may be on its way and count as told at once.
const aWhile = 5 * time.Minute

// Late is when something came in that was made a while before; nil for what was told at once.
func Late(made, now time.Time) *time.Time {
	if now.Sub(made) < aWhile {
		return nil
	}
	return &now
}

// oldest is how long a device is believed to have been without a line, and ahead how far its
// clock may be before the server's.
const (
	oldest = 60 * 24 * time.Hour
	ahead  = 10 * time.Minute
)

// Believable asks about a time that a device can hardly mean: figure.FieldErrors of its field.
func Believable(field string, at, now time.Time) error {
	switch {
	case at.After(now.Add(ahead)):
		return figure.Wrong(field, words.Of("app.made-later-than-now", "at", words.Moment(at)))
	case at.Before(now.Add(-oldest)):
		return figure.Wrong(field, words.Of("app.made-long-ago", "at", words.Date(at)))
	}
	return nil
}

// Years of days that a record of pools may hold.
const firstYear, lastYear = 1950, 2100

// Reasonable tells whether a day is one that a record of pools may hold.
func Reasonable(at time.Time) bool { return at.Year() >= firstYear && at.Year() <= lastYear }

// NotReasonable asks about a day that is not.
var NotReasonable = words.Of(
	"app.a-day-between",
	"first",
	words.Name(fmt.Sprint(firstYear)),
	"last",
	words.Name(fmt.Sprint(lastYear)),
)

// MaySee is the one rule of whose pools and laps somebody may see: a technician
// their own, the office and the owner all.
func (a Actor) MaySee(technician *uuid.UUID) bool {
	return a.Role != Technician || (technician != nil && *technician == a.ID)
}
