// Package learn is practice cases as people work them: kept for whoever worked them, asked
// of them by the desk, and never a part of the company's record or of what it learns from.
package learn

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/practice"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// Service keeps practice.
type Service struct{ reader *company.Reader }

// New opens the room.
func New(r *company.Reader) *Service { return &Service{r} }

// AttemptRow is one attempt of somebody.
type AttemptRow struct {
	ID      uuid.UUID      `json:"id" format:"uuid"`
	Title   words.Message  `json:"title"`
	BegunAt time.Time      `json:"begunAt"`
	Ask     practice.Ask   `json:"ask"`
	Past    *practice.Past `json:"past" doc:"absent: it goes on"`
}

// TaskRow is a case that somebody was asked to work.
type TaskRow struct {
	ID     uuid.UUID      `json:"id" format:"uuid"`
	Title  words.Message  `json:"title"`
	Which  practice.Which `json:"which"`
	MadeAt time.Time      `json:"madeAt"`
	Done   bool           `json:"done"`
}

// Standing is where somebody stands: by what they tell apart, no ranks.
type Standing struct {
	Tries    int                       `json:"tries" doc:"cases that were worked to their end"`
	Solved   int                       `json:"solved"`
	Harms    int                       `json:"harms" doc:"rules broken in them"`
	Pairs    []practice.Discrimination `json:"pairs" nullable:"false"`
	Brier    *float64                  `json:"brier" doc:"of the odds that were said; absent without any"`
	Bands    []practice.Band           `json:"bands" nullable:"false"`
	Tasks    []TaskRow                 `json:"tasks" nullable:"false"`
	Attempts []AttemptRow              `json:"attempts" nullable:"false"`
	Next     *practice.CaseRow         `json:"next" doc:"worth taking next; absent: all were done well"`
}

// Mine is where the actor stands.
func (s *Service) Mine(ctx context.Context, a access.Actor) (Standing, error) {
	return s.of(ctx, a.ID)
}

func (s *Service) of(ctx context.Context, user uuid.UUID) (Standing, error) {
	out := Standing{Tasks: []TaskRow{}, Attempts: []AttemptRow{}}
	done, asked, err := s.reader.Store.PracticeOf(ctx, user)
	if err != nil {
		return out, fmt.Errorf("reading practice: %w", err)
	}
	var past []practice.Past
	var said []practice.Said
	worked := map[uuid.UUID]bool{}
	for i := len(done) - 1; i >= 0; i-- { // oldest first
		row := AttemptRow{ID: done[i].ID, Title: words.Message(done[i].Title), BegunAt: done[i].BegunAt}
		if err := json.Unmarshal(done[i].Ask, &row.Ask); err != nil {
			return out, fmt.Errorf("reading an attempt: %w", err)
		}
		if done[i].Past != nil {
			if err := json.Unmarshal(done[i].Past, &row.Past); err != nil {
				return out, fmt.Errorf("reading an attempt: %w", err)
			}
			out.Tries++
			out.Harms += row.Past.Harms
			if row.Past.Solved {
				out.Solved++
			}
			past = append(past, *row.Past)
			said = append(said, row.Past.Said...)
			if done[i].TaskID != nil {
				worked[*done[i].TaskID] = true
			}
		}
		out.Attempts = append(out.Attempts, row)
	}
	slices.Reverse(out.Attempts)
	for _, t := range asked {
		row := TaskRow{ID: t.ID, Title: words.Message(t.Title), MadeAt: t.MadeAt, Done: worked[t.ID]}
		if err := json.Unmarshal(t.Which, &row.Which); err != nil {
			return out, fmt.Errorf("reading a task: %w", err)
		}
		out.Tasks = append(out.Tasks, row)
	}
	out.Pairs, out.Bands, out.Brier = practice.Discriminations(past), practice.Bands(said), practice.Brier(said)
	if c := practice.Next(past); c != nil {
		row := c.Row()
		out.Next = &row
	}
	return out, nil
}

// Work answers a case as far as somebody worked it; nothing is kept.
func (s *Service) Work(q practice.Ask) (*practice.Answer, error) {
	var d practice.Desk
	out, err := d.Answer(q)
	return out, s.refused(q, err)
}

// refused says at the field why a case or an act can't be taken.
func (s *Service) refused(q practice.Ask, err error) error {
	refuse := func(field string, text words.Message) error {
		return figure.FieldErrors{{Field: field, Text: text}}
	}
	switch {
	case err == nil:
		return nil
	case errors.Is(err, practice.ErrCase):
		if q.Case != nil {
			if errs := q.Case.Check(); len(errs) > 0 {
				return access.Mistakes("case", errs)
			}
		}
		return refuse("id", "practice.there-is-no-such-case")
	case errors.Is(err, practice.ErrOdds):
		return refuse(actOf(err), "practice.the-odds-come-first")
	case errors.Is(err, practice.ErrOver):
		return refuse(actOf(err), "practice.the-case-is-over")
	case errors.Is(err, practice.ErrUnknown):
		return refuse(actOf(err), "practice.no-such-act-here")
	}
	return fmt.Errorf("working a practice case: %w", err)
}

// actOf is the field of the act that an error is about: "act 3: …".
func actOf(err error) string {
	if rest, ok := strings.CutPrefix(err.Error(), "act "); ok {
		n, _, _ := strings.Cut(rest, ":")
		if _, err := strconv.Atoi(n); err == nil {
			return "events[" + n + "]"
		}
	}
	return "events"
}

// Keep keeps an attempt as far as it is: what was done in it is added to, never changed.
func (s *Service) Keep(
	ctx context.Context,
	a access.Actor,
	id uuid.UUID,
	task *uuid.UUID,
	q practice.Ask,
) (AttemptRow, error) {
	now := s.reader.Now()
	row := AttemptRow{ID: id, Ask: q, BegunAt: a.When(now)}
	was, err := s.reader.Store.PracticeAttemptByID(ctx, id)
	switch {
	case errors.Is(err, store.ErrNotFound):
	case err != nil:
		return row, fmt.Errorf("finding the attempt: %w", err)
	case was.UserID != a.ID:
		return row, access.ErrForbidden
	default:
		var before practice.Ask
		if err := json.Unmarshal(was.Ask, &before); err != nil {
			return row, fmt.Errorf("reading the attempt: %w", err)
		}
		if !goesOn(before, q) {
			return row, store.ErrDifferent
		}
		row.BegunAt = was.BegunAt
		if len(before.Events) >= len(q.Events) { // it is here already
			row.Title, row.Ask = words.Message(was.Title), before
			if was.Past != nil {
				err = json.Unmarshal(was.Past, &row.Past)
			}
			return row, err
		}
	}
	var d practice.Desk
	scene, err := d.Scene(q.Which)
	if err != nil {
		return row, s.refused(q, err)
	}
	row.Title = scene.Title
	row.Past, err = scene.Sum(q.Mode, q.Events)
	if err != nil && !errors.Is(err, practice.ErrOpen) {
		return row, s.refused(q, err)
	}
	kept := store.PracticeAttempt{
		ID:        id,
		UserID:    a.ID,
		TaskID:    task,
		Title:     string(row.Title),
		BegunAt:   row.BegunAt,
		ChangedAt: now,
	}
	if kept.Ask, err = json.Marshal(q); err != nil {
		return row, fmt.Errorf("writing the attempt: %w", err)
	}
	if row.Past != nil {
		if kept.Past, err = json.Marshal(row.Past); err != nil {
			return row, fmt.Errorf("writing the attempt: %w", err)
		}
	}
	if err := s.reader.Store.KeepPracticeAttempt(ctx, kept); err != nil {
		return row, fmt.Errorf("keeping the attempt: %w", err)
	}
	return row, nil
}

// goesOn tells whether one ask is the other with nothing changed: more was done in it, or
// less of the same.
func goesOn(before, now practice.Ask) bool {
	n := min(len(before.Events), len(now.Events))
	before.Events, now.Events = before.Events[:n], now.Events[:n]
	x, errX := json.Marshal(before)
	y, errY := json.Marshal(now)
	return errX == nil && errY == nil && bytes.Equal(x, y)
}

// Erase takes away all that the actor practised.
func (s *Service) Erase(ctx context.Context, a access.Actor) error {
	if err := s.reader.Store.ErasePractice(ctx, a.ID); err != nil {
		return fmt.Errorf("erasing practice: %w", err)
	}
	return nil
}

// Task asks people to work a case.
type Task struct {
	People []uuid.UUID    `json:"people" minItems:"1" maxItems:"200" nullable:"false"`
	Which  practice.Which `json:"which"`
}

// Ask asks people to work a case.
func (s *Service) Ask(ctx context.Context, a access.Actor, t Task) error {
	var d practice.Desk
	scene, err := d.Scene(t.Which)
	if err != nil {
		return s.refused(practice.Ask{Which: t.Which}, err)
	}
	which, err := json.Marshal(t.Which)
	if err != nil {
		return fmt.Errorf("writing the case: %w", err)
	}
	return s.reader.InTx(ctx, func(r *company.Reader) error {
		for _, p := range t.People {
			if _, err := r.Store.UserByID(ctx, p); err != nil {
				return fmt.Errorf("finding whom to ask: %w", err)
			}
			task := store.PracticeTask{
				ID:     uuid.Must(uuid.NewV7()),
				UserID: p,
				Title:  string(scene.Title),
				Which:  which,
				MadeBy: a.ID,
				MadeAt: r.Now(),
			}
			if err := r.Store.AddPracticeTask(ctx, task); err != nil {
				return fmt.Errorf("asking for a case: %w", err)
			}
		}
		return nil
	})
}

// Drop takes a task back.
func (s *Service) Drop(ctx context.Context, id uuid.UUID) error {
	if err := s.reader.Store.DropPracticeTask(ctx, id); err != nil {
		return fmt.Errorf("taking a task back: %w", err)
	}
	return nil
}

// PersonRow is where one of the company's people stands: what they tell apart, not how they
// went about it.
type PersonRow struct {
	ID     uuid.UUID                 `json:"id" format:"uuid"`
	Name   string                    `json:"name"`
	Tries  int                       `json:"tries"`
	Solved int                       `json:"solved"`
	Pairs  []practice.Discrimination `json:"pairs" nullable:"false"`
	Tasks  []TaskRow                 `json:"tasks" nullable:"false"`
}

// Progress is where the company's people stand, by name. Somebody who erased theirs has
// none.
func (s *Service) Progress(ctx context.Context) ([]PersonRow, error) {
	users, err := s.reader.Store.Users(ctx)
	if err != nil {
		return nil, fmt.Errorf("reading people: %w", err)
	}
	out := []PersonRow{}
	for _, u := range users {
		if !u.Active {
			continue
		}
		st, err := s.of(ctx, u.ID)
		if err != nil {
			return nil, err
		}
		out = append(
			out,
			PersonRow{ID: u.ID, Name: u.Name, Tries: st.Tries, Solved: st.Solved, Pairs: st.Pairs, Tasks: st.Tasks},
		)
	}
	slices.SortStableFunc(out, func(a, b PersonRow) int { return strings.Compare(a.Name, b.Name) })
	return out, nil
}
