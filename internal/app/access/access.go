// Package access is who asks, what they may do and see, and how they are refused.
package access

import (
	"errors"

	"github.com/google/uuid"

	"fairlap/core/words"
)

// Errors that callers turn into answers.
var (
	ErrForbidden = errors.New("this is not yours to see or change")
	ErrSignIn    = errors.New("the login or the password is wrong")
	ErrNoDemo    = errors.New("this is not a demo")
)

// Role is what somebody may do.
type Role string

// The roles.
const (
	Technician Role = "technician"
	Office     Role = "office"
	Owner      Role = "owner"
)

// Actor is who asks.
type Actor struct {
	ID   uuid.UUID
	Name string
	Role Role
	// Printer writes what they read.
	Printer words.Printer
}

// MaySee is the one rule of whose pools and laps somebody may see: a technician
// their own, the office and the owner all.
func (a Actor) MaySee(technician *uuid.UUID) bool {
	return a.Role != Technician || (technician != nil && *technician == a.ID)
}
