package app

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/google/uuid"

	"fairlap/core/lap"
	"fairlap/internal/store"
)

// CalendarFeed is what somebody may know of their calendar's address. Secret is
// told once, when the address is made.
type CalendarFeed struct {
	Since  *time.Time `json:"since" doc:"absent when there is no address"`
	Secret string     `json:"secret" doc:"the address ends in it; told once"`
}

// calendarWeeks is how far the calendar looks, and dayStarts when its days begin,
// in the place's own hours (ours, until laps are planned ahead).
const (
	calendarWeeks = 6
	dayStarts     = 8
)

// Feed tells whether somebody's calendar has an address.
func (s *Service) Feed(ctx context.Context, a Actor) (CalendarFeed, error) {
	f, err := s.store.FeedOf(ctx, a.ID)
	if errors.Is(err, store.ErrNotFound) {
		return CalendarFeed{}, nil
	}
	if err != nil {
		return CalendarFeed{}, fmt.Errorf("looking for the calendar's address: %w", err)
	}
	return CalendarFeed{Since: &f.CreatedAt}, nil
}

// OpenFeed makes a new secret address and ends the old one.
func (s *Service) OpenFeed(ctx context.Context, a Actor) (CalendarFeed, error) {
	secret := make([]byte, 32)
	if _, err := rand.Read(secret); err != nil {
		return CalendarFeed{}, fmt.Errorf("making a secret: %w", err)
	}
	text := base64.RawURLEncoding.EncodeToString(secret)
	now := s.now()
	if err := s.store.OpenFeed(ctx, store.CalendarFeed{Digest: digest(text), UserID: a.ID, CreatedAt: now}); err != nil {
		return CalendarFeed{}, fmt.Errorf("making the calendar's address: %w", err)
	}
	return CalendarFeed{&now, text}, nil
}

// CloseFeed ends the address.
func (s *Service) CloseFeed(ctx context.Context, a Actor) (CalendarFeed, error) {
	return CalendarFeed{}, s.store.CloseFeed(ctx, a.ID, s.now())
}

func digest(secret string) []byte {
	d := sha256.Sum256([]byte(secret))
	return d[:]
}

// Calendar is the coming weeks of the one whom a secret address belongs to, as
// iCalendar: a stop an event, its due work in the description. Nothing about how
// to get in is in it. store.ErrNotFound for an address that never was or has
// ended.
func (s *Service) Calendar(ctx context.Context, secret string) (PadFile, error) {
	f, err := s.store.FeedByDigest(ctx, digest(secret))
	if err != nil {
		return PadFile{}, err
	}
	u, err := s.store.UserByID(ctx, f.UserID)
	if err != nil {
		return PadFile{}, fmt.Errorf("finding whose calendar it is: %w", err)
	}
	routes, streets, c, err := s.routes(ctx, Actor{ID: u.ID, Name: u.Name, Role: Role(u.Role)})
	if err != nil {
		return PadFile{}, err
	}
	now := s.now()
	cal := ics.NewCalendarFor(c.name)
	cal.SetMethod(ics.MethodPublish)
	cal.SetName("Laps of " + u.Name)
	n := now.In(c.zone)
	for _, d := range lap.Plan(routes, dayMinutes, time.Date(n.Year(), n.Month(), n.Day()+7*calendarWeeks, 0, 0, 0, 0, c.zone)) {
		if d.Technician != u.Name && Role(u.Role) == Technician {
			continue
		}
		at := time.Date(d.Date.Year(), d.Date.Month(), d.Date.Day(), dayStarts, 0, 0, 0, c.zone)
		for _, st := range d.Stops {
			minutes := st.Base
			var work []string
			for _, w := range st.Due {
				minutes += w.Minutes
				work = append(work, fmt.Sprintf("%s (%.0f min)", w.Name, w.Minutes))
			}
			e := cal.AddEvent(uuid.NewSHA1(uuid.MustParse(st.Pool), []byte(d.Date.Format(time.DateOnly))).String())
			e.SetDtStampTime(now)
			e.SetStartAt(at)
			e.SetEndAt(at.Add(time.Duration(minutes * float64(time.Minute))))
			e.SetSummary(streets[st.Pool])
			if len(work) > 0 {
				e.SetDescription("Due: " + strings.Join(work, ", "))
			}
			at = at.Add(time.Duration((minutes + lap.DriveMinutes) * float64(time.Minute)))
		}
	}
	return PadFile{Name: "laps.ics", Type: "text/calendar; charset=utf-8", Content: []byte(cal.Serialize())}, nil
}
