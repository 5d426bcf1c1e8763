// Package day is the day on a technician's phone: all that a device needs to work the stops
// of a day without a line.
package day

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"github.com/google/uuid"

	"fairlap/core/units"
	"fairlap/core/words"
	"fairlap/core/zone"
	"fairlap/internal/app/access"
	"fairlap/internal/app/route"
	"fairlap/internal/app/standing"
	"fairlap/internal/app/visit"
	"fairlap/internal/app/work"
)

// Service is the room.
type Service struct {
	keeper *standing.Keeper
	route  *route.Service
	visit  *visit.Service
	work   *work.Service
}

// New makes the room.
func New(k *standing.Keeper, r *route.Service, v *visit.Service, w *work.Service) *Service {
	return &Service{k, r, v, w}
}

// Pack is a day: the lap as it stands, and of each of its stops what its page asks for.
type Pack struct {
	Lap   route.LapView `json:"lap"`
	Stops []Stop        `json:"stops" nullable:"false"`
	Zone  []byte        `json:"zone" doc:"the company's time zone as a zone file, for a device without a database of them"`
	Lang  words.Lang    `json:"lang"`
	Units units.System  `json:"units"`
}

// Stop is what a stop's page asks for, and what its findings are judged with.
type Stop struct {
	Bench visit.Bench     `json:"bench"`
	Work  work.PoolWork   `json:"work"`
	Pack  json.RawMessage `json:"pack" doc:"what the pool is known by, for the core on the device; read by nobody else"`
}

// Years of the zone that go along: as far back as a record goes, and a while ahead.
const (
	yearsBack  = 12
	yearsAhead = 3
)

// Pack puts a technician's day of today together.
func (s *Service) Pack(ctx context.Context, a access.Actor) (Pack, error) {
	lap, err := s.route.Lap(ctx, a, "", "")
	if err != nil {
		return Pack{}, err
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return Pack{}, fmt.Errorf("reading the company: %w", err)
	}
	now := s.keeper.Now()
	day := c.Today(now) // the same zone file all day long, so that an unchanged day is seen as one
	p := Pack{
		Lap: lap, Stops: []Stop{}, Lang: a.Printer.Lang, Units: a.Printer.Units,
		Zone: zone.File(c.Zone, day.AddDate(-yearsBack, 0, 0), day.AddDate(yearsAhead, 0, 0)),
	}
	for _, of := range lap.Stops {
		one, err := s.stop(ctx, a, of, now)
		if err != nil {
			return p, fmt.Errorf("packing %s: %w", of.Street, err)
		}
		p.Stops = append(p.Stops, one)
	}
	return p, nil
}

func (s *Service) stop(ctx context.Context, a access.Actor, of route.StopView, now time.Time) (Stop, error) {
	stop, err := uuid.Parse(of.ID)
	if err != nil {
		return Stop{}, fmt.Errorf("a stop's id: %w", err)
	}
	at, err := s.keeper.AtStop(ctx, a, stop, now)
	if err != nil {
		return Stop{}, err
	}
	known, err := json.Marshal(at.Pack) // its messages as they are kept: the device writes them
	if err != nil {
		return Stop{}, fmt.Errorf("writing what is known: %w", err)
	}
	bench, err := s.visit.Bench(ctx, a, stop)
	if err != nil {
		return Stop{}, err
	}
	works, err := s.work.Work(ctx, a, at.Record.Pool.ID, &stop)
	return Stop{bench, works, known}, err
}
