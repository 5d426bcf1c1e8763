// Package company is the company's record as everybody reads it: its choices, its clock, its
// people, whose pools are whose, and who changed what.
package company

import (
	"context"
	"fmt"
	"sync/atomic"
	"time"

	"fairlap/core/procedure"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/store"
)

// Reader reads a company's record.
type Reader struct {
	Store *store.Store
	World World
	now   func() time.Time
	house *atomic.Pointer[words.Printer] // what the company reads, once it was asked for
}

// New makes the reader. now is the clock.
func New(st *store.Store, now func() time.Time, world World) *Reader {
	return &Reader{Store: st, World: world, now: now, house: &atomic.Pointer[words.Printer]{}}
}

// AsOf reads the same record by a clock that stands.
func (s *Reader) AsOf(at time.Time) *Reader {
	out := *s
	out.now = func() time.Time { return at }
	return &out
}

// InTx gives what is done the record within one transaction: all of it is kept, or none.
func (s *Reader) InTx(ctx context.Context, do func(*Reader) error) error {
	return s.Store.InTx(ctx, func(st *store.Store) error {
		in := *s
		in.Store = st
		return do(&in)
	})
}

// House is what the company reads, as far as it was asked for.
func (s *Reader) House() words.Printer {
	if p := s.house.Load(); p != nil {
		return *p
	}
	return words.Plain
}

// Now is the service's clock.
func (s *Reader) Now() time.Time { return s.now() }

// Ready tells whether the database answers.
func (s *Reader) Ready(ctx context.Context) error { return s.Store.Ping(ctx) }

// Missing says what this server lacks to answer, and what it does without (pictures must not take
// all servers away), a line each for whoever keeps the machine.
func (s *Reader) Missing(ctx context.Context) (missing, without []string) {
	if err := s.Store.Ping(ctx); err != nil {
		return []string{"the database does not answer"}, nil
	}
	is, known, err := s.Store.Versions(ctx)
	switch {
	case err != nil:
		missing = append(missing, "the database does not say which schema it has")
	case is < known:
		missing = append(
			missing,
			fmt.Sprintf("the database has schema %d and this program needs %d: run fairlap migrate", is, known),
		)
	}
	if err := s.Store.PhotosKept(ctx); err != nil {
		without = append(without, "pictures can't be written: "+err.Error())
	}
	return missing, without
}

// Demo tells whether this is a demo.
func (s *Reader) Demo() bool { return s.World.Demo != nil }

// Company is the company with its settings read and its clock.
type Company struct {
	Name     string
	Zone     *time.Location
	Settings upkeep.Settings
	Ways     procedure.Ways // of working, where the schools differ
	Office   OfficeSettings
	Version  int
}

// Company reads the company, its settings and its clock.
func (s *Reader) Company(ctx context.Context) (Company, error) {
	row, err := s.Store.Company(ctx)
	if err != nil {
		return Company{}, fmt.Errorf("reading the company: %w", err)
	}
	zone, err := time.LoadLocation(row.TimeZone)
	if err != nil {
		return Company{}, fmt.Errorf("the company's time zone: %w", err)
	}
	c := Company{Name: row.Name, Zone: zone, Version: row.Version}
	kept, err := SettingsOf(row)
	if err != nil {
		return Company{}, err
	}
	c.Settings, c.Ways = kept.Settings, kept.Ways
	c.Office, err = OfficeOf(row)
	s.house.Store(&words.Printer{Lang: words.Lang(c.Office.Lang), Units: units.System(c.Office.Units)})
	return c, err
}

// Today is the company's day at a time, as a date at midnight UTC.
func (c Company) Today(t time.Time) time.Time {
	y, m, d := t.In(c.Zone).Date()
	return time.Date(y, m, d, 0, 0, 0, 0, time.UTC)
}

// Day reads a day like 2026-11-24; false for what is none.
func Day(typed string) (time.Time, bool) {
	day, err := time.Parse(time.DateOnly, typed)
	return day, err == nil
}
