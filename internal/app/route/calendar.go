package route

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"
	"unicode/utf8"

	ics "github.com/arran4/golang-ical"
	"github.com/google/uuid"

	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// CalendarFeed is what somebody may know of their calendar's address. Secret is
// told once, when the address is made.
type CalendarFeed struct {
	Since  *time.Time `json:"since" doc:"absent when there is no address"`
	Secret string     `json:"secret" doc:"the address ends in it; told once"`
}

// calendarWeeks is how far the calendar looks.
const calendarWeeks = 6

// Feed tells whether somebody's calendar has an address.
func (s *Service) Feed(ctx context.Context, a access.Actor) (CalendarFeed, error) {
	f, err := s.keeper.Store.FeedOf(ctx, a.ID)
	if errors.Is(err, store.ErrNotFound) {
		return CalendarFeed{}, nil
	}
	if err != nil {
		return CalendarFeed{}, fmt.Errorf("looking for the calendar's address: %w", err)
	}
	return CalendarFeed{Since: &f.CreatedAt}, nil
}

// OpenFeed makes a new secret address and ends the old one.
func (s *Service) OpenFeed(ctx context.Context, a access.Actor) (CalendarFeed, error) {
	text, err := company.NewSecret()
	if err != nil {
		return CalendarFeed{}, err
	}
	now := s.keeper.Now()
	if err := s.keeper.Store.OpenFeed(ctx,
		store.CalendarFeed{Digest: company.Digest(text), UserID: a.ID, CreatedAt: now}); err != nil {
		return CalendarFeed{}, fmt.Errorf("making the calendar's address: %w", err)
	}
	return CalendarFeed{Since: &now, Secret: text}, nil
}

// CloseFeed ends the address.
func (s *Service) CloseFeed(ctx context.Context, a access.Actor) (CalendarFeed, error) {
	return CalendarFeed{}, s.keeper.Store.CloseFeed(ctx, a.ID, s.keeper.Now())
}

// Calendar is the coming weeks of the one whom a secret address belongs to, as
// iCalendar: a stop an event, its due work in the description. Nothing about how
// to get in is in it. store.ErrNotFound for an address that never was or has
// ended.
func (s *Service) Calendar(ctx context.Context, secret string) (access.File, error) {
	f, err := s.keeper.Store.FeedByDigest(ctx, company.Digest(secret))
	if err != nil {
		return access.File{}, err
	}
	u, err := s.keeper.Store.UserByID(ctx, f.UserID)
	if err != nil {
		return access.File{}, fmt.Errorf("finding whose calendar it is: %w", err)
	}
	who, err := s.keeper.Actor(ctx, u)
	if err != nil {
		return access.File{}, err
	}
	b, err := s.board(ctx, seenBy(who))
	if err != nil {
		return access.File{}, err
	}
	streets := make(map[string]string, len(b.pools))
	for _, p := range b.pools {
		streets[p.ID.String()] = p.Name()
	}
	now := s.keeper.Now()
	arrive, err := s.onTheRoad(ctx, b.Company, now, seenBy(who).People...)
	if err != nil {
		return access.File{}, err
	}
	var calls []call
	for _, d := range s.days(b, weeksOn(b.Company, now, calendarWeeks)) {
		if !b.means(d.Technician) {
			continue
		}
		for _, st := range d.Stops {
			var work []words.Message
			for _, w := range st.Due {
				work = append(
					work,
					words.Of("app.min", "work", words.Msg(w.Name), "minutes", words.Q("min", w.Minutes)),
				)
			}
			at := arrive(&d, &st)
			c := call{
				uuid.NewSHA1(uuid.MustParse(st.Pool), []byte(d.Date.Format(time.DateOnly))),
				at,
				at.Add(time.Duration(st.Minutes() * float64(time.Minute))),
				streets[st.Pool],
				"",
			}
			if len(work) > 0 {
				c.work = who.Printer.Say(words.Of("app.due", "work", words.List(words.Comma, work...)))
			}
			calls = append(calls, c)
		}
	}
	return access.File{
		Name:    "laps.ics",
		Type:    "text/calendar; charset=utf-8",
		Content: []byte(calendarOf(b.Company, u.Name, now, calls)),
	}, nil
}

// call is a stop as a calendar has it.
type call struct {
	id           uuid.UUID
	from, to     time.Time
	street, work string
}

// letters leaves out what a line of a calendar can't hold (RFC 5545, 3.1: no controls but the
// tab; a line's end is written otherwise).
func letters(text string) string {
	return strings.Map(func(r rune) rune {
		if r < ' ' && r != '\t' && r != '\n' || r == 0x7f || r == utf8.RuneError {
			return -1
		}
		return r
	}, text)
}

// calendarOf writes calls as iCalendar.
func calendarOf(c company.Company, who string, now time.Time, calls []call) string {
	cal := ics.NewCalendarFor(letters(c.Name))
	cal.SetMethod(ics.MethodPublish)
	cal.SetName(letters("Laps of " + who))
	for _, x := range calls {
		e := cal.AddEvent(x.id.String())
		e.SetDtStampTime(now)
		e.SetStartAt(x.from)
		e.SetEndAt(x.to)
		e.SetSummary(letters(x.street))
		if x.work != "" {
			e.SetDescription(letters(x.work))
		}
	}
	return cal.Serialize(ics.WithNewLineWindows)
}
