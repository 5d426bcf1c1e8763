// Package app holds the use cases: the only place where the core's rules meet
// the store's records. It knows nothing of HTTP.
package app

import (
	"context"
	"errors"
	"fmt"
	"sync/atomic"
	"time"

	"github.com/google/uuid"

	"fairlap/core/lap"
	"fairlap/core/procedure"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/store"
)

// Errors that callers turn into answers.
var (
	ErrForbidden = errors.New("this is not yours to see or change")
	ErrSignIn    = errors.New("the login or the password is wrong")
	ErrNoDemo    = errors.New("this is not a demo")
	// ErrUnsolved says that a pad's description gives no flow to compute with.
	ErrUnsolved = errors.New("the pad's description gives no flow to compute with")
)

// FieldError is a mistake in what was typed: where, and one plain sentence.
type FieldError struct {
	Field string
	Text  words.Message
}

// FieldErrors are all the mistakes of one request.
type FieldErrors []FieldError

func (e FieldErrors) Error() string { return fmt.Sprintf("%d fields need another look", len(e)) }

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

// maySee is the one rule of whose pools and laps somebody may see: a technician
// their own, the office and the owner all.
func (a Actor) maySee(technician *uuid.UUID) bool {
	return a.Role != Technician || (technician != nil && *technician == a.ID)
}

// Meters stands in for the real pad in a demo.
type Meters interface {
	// Read says what the pad of a pool shows at a speed (0: the one it is running
	// at), as it would be typed, and what is seen there; ok is false for a pool it
	// does not know.
	Read(street string, rpm float64) (reading TypedReading, signs map[string]bool, ok bool)
}

// World is what the service asks of the world outside; any of it may be missing.
type World struct {
	Demo  Meters     // nil outside demo mode
	Sky   upkeep.Sky // weather up to now
	Roads lap.Roads
}

// Service is the use cases over one store.
type Service struct {
	store *store.Store
	now   func() time.Time
	world World
	*memory
	models  *modelCache
	imports *importJobs
	house   *atomic.Pointer[words.Printer] // what the company reads, once it was asked for
}

// memory is what is remembered of the record between requests.
type memory struct {
	learned learned
	cache   standingCache
	plans   planCache
}

// New makes the service. now is the clock.
func New(st *store.Store, now func() time.Time, world World) *Service {
	go noSuchUser() // ready before anybody signs in
	return &Service{store: st, now: now, world: world, memory: &memory{}, models: &modelCache{}, imports: &importJobs{}, house: &atomic.Pointer[words.Printer]{}}
}

// inTx does what a use case writes as one: all of it is kept, or none. The service within
// remembers nothing of the record, since it may all be taken back.
func (s *Service) inTx(ctx context.Context, do func(*Service) error) error {
	return s.store.InTx(ctx, func(st *store.Store) error {
		in := *s
		in.store, in.memory = st, &memory{}
		return do(&in)
	})
}

// House is what the company reads, as far as it was asked for.
func (s *Service) House() words.Printer {
	if p := s.house.Load(); p != nil {
		return *p
	}
	return words.Plain
}

// Now is the service's clock.
func (s *Service) Now() time.Time { return s.now() }

// Ready tells whether the database answers.
func (s *Service) Ready(ctx context.Context) error { return s.store.Ping(ctx) }

// Demo tells whether this is a demo.
func (s *Service) Demo() bool { return s.world.Demo != nil }

// company is the company with its settings read and its clock.
type company struct {
	name     string
	zone     *time.Location
	settings upkeep.Settings
	ways     procedure.Ways // of working, where the schools differ
	office   OfficeSettings
	version  int
}

func (s *Service) company(ctx context.Context) (company, error) {
	row, err := s.store.Company(ctx)
	if err != nil {
		return company{}, fmt.Errorf("reading the company: %w", err)
	}
	zone, err := time.LoadLocation(row.TimeZone)
	if err != nil {
		return company{}, fmt.Errorf("the company's time zone: %w", err)
	}
	c := company{name: row.Name, zone: zone, version: row.Version}
	kept, err := settingsOf(row)
	if err != nil {
		return company{}, err
	}
	c.settings, c.ways = kept.Settings, kept.Ways
	c.office, err = officeOf(row)
	s.house.Store(&words.Printer{Lang: words.Lang(c.office.Lang), Units: units.System(c.office.Units)})
	return c, err
}

// today is the company's day at a time, as a date at midnight UTC.
func (c company) today(t time.Time) time.Time {
	y, m, d := t.In(c.zone).Date()
	return time.Date(y, m, d, 0, 0, 0, 0, time.UTC)
}

// expected is how many years a part is expected to last: its own, else its kind's.
func (c company) expected(e *store.Equipment) float64 {
	if e.ExpectedYears != nil {
		return *e.ExpectedYears
	}
	return c.settings.LifeOf(e.Kind).Years
}
