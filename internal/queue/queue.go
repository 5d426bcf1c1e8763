// Package queue does what need not be done while somebody waits: it keeps jobs in the
// database, gives each to one server, tries it again when it fails, and lets the owner see.
package queue

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivertype"

	"fairlap/internal/app"
	"fairlap/internal/store"
)

// How often what recurs is done.
const (
	eachLook   = time.Minute
	eachRetain = time.Hour
	eachNight  = 6 * time.Hour
)

// Of one job: how long it may take, and how often it is tried.
const (
	longest  = 20 * time.Minute
	mostOfIt = 5
)

// keepUp works out the pools that are behind their record.
type keepUp struct{}

func (keepUp) Kind() string { return "keep-up" }

// forecast moves what lists are sorted by on to now.
type forecast struct{}

func (forecast) Kind() string { return "forecast" }

// retain takes away what the company keeps no longer.
type retain struct{}

func (retain) Kind() string { return "retain" }

// takeIn does the step that an import waits for.
type takeIn struct {
	Import uuid.UUID `json:"import"`
}

func (takeIn) Kind() string { return "import" }

// Queue is the jobs of a company's record.
type Queue struct {
	client *river.Client[pgx.Tx]
	rooms  *app.Rooms
}

// Options say how a server takes part.
type Options struct {
	Log *slog.Logger
	// Poll asks the database for jobs instead of listening to it: for one behind a pooler of
	// transactions.
	Poll bool
}

// New takes part in a company's jobs; imports are then done as jobs. Start begins.
func New(pool *pgxpool.Pool, rooms *app.Rooms, o Options) (*Queue, error) {
	q := &Queue{rooms: rooms}
	workers := river.NewWorkers()
	river.AddWorker(workers, river.WorkFunc(q.keepUp))
	river.AddWorker(workers, river.WorkFunc(q.forecast))
	river.AddWorker(workers, river.WorkFunc(q.retain))
	river.AddWorker(workers, river.WorkFunc(q.takeIn))
	once := &river.InsertOpts{MaxAttempts: mostOfIt, UniqueOpts: river.UniqueOpts{ByArgs: true, ByState: underWay}}
	every := func(d time.Duration, args river.JobArgs) *river.PeriodicJob {
		return river.NewPeriodicJob(
			river.PeriodicInterval(d),
			func() (river.JobArgs, *river.InsertOpts) { return args, once },
			&river.PeriodicJobOpts{RunOnStart: true},
		)
	}
	var err error
	q.client, err = river.NewClient(riverpgxv5.New(pool), &river.Config{
		Logger:               o.Log,
		PollOnly:             o.Poll,
		Queues:               map[string]river.QueueConfig{river.QueueDefault: {MaxWorkers: 2}},
		Workers:              workers,
		JobTimeout:           longest,
		RescueStuckJobsAfter: longest + time.Minute, // of a server that was killed
		PeriodicJobs: []*river.PeriodicJob{
			every(eachLook, keepUp{}),
			every(eachNight, forecast{}),
			every(eachRetain, retain{}),
		},
	})
	if err != nil {
		return nil, fmt.Errorf("making the queue: %w", err)
	}
	rooms.Exchange.DoLater(q.Import)
	return q, nil
}

// underWay are the states of a job that is still to be done.
var underWay = []rivertype.JobState{
	rivertype.JobStateAvailable, rivertype.JobStatePending, rivertype.JobStateRunning, rivertype.JobStateRetryable,
	rivertype.JobStateScheduled,
}

// Start begins to work jobs.
func (q *Queue) Start(ctx context.Context) error {
	if err := q.client.Start(ctx); err != nil {
		return fmt.Errorf("starting the queue: %w", err)
	}
	return nil
}

// Stop lets the jobs that were begun end, as far as ctx gives them time; those that do not are
// tried again, here or by another server.
func (q *Queue) Stop(ctx context.Context) error {
	err := q.client.Stop(ctx)
	if errors.Is(err, context.DeadlineExceeded) {
		cut, cancel := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
		defer cancel()
		return q.client.StopAndCancel(cut)
	}
	return err
}

// Import has a step of an import done.
func (q *Queue) Import(ctx context.Context, id uuid.UUID) error {
	_, err := q.client.Insert(ctx, takeIn{id}, &river.InsertOpts{MaxAttempts: mostOfIt})
	return err
}

func (q *Queue) keepUp(ctx context.Context, _ *river.Job[keepUp]) error {
	_, err := q.rooms.Standing.KeepUp(ctx)
	return known(err)
}

func (q *Queue) forecast(ctx context.Context, _ *river.Job[forecast]) error {
	_, err := q.rooms.Standing.Rebuild(ctx, false, nil)
	return known(err)
}

func (q *Queue) retain(ctx context.Context, _ *river.Job[retain]) error {
	return q.rooms.Office.Retain(ctx)
}

func (q *Queue) takeIn(ctx context.Context, job *river.Job[takeIn]) error {
	return known(q.rooms.Exchange.WorkImport(ctx, job.Args.Import, job.Attempt >= job.MaxAttempts))
}

// known lets go what trying again would not mend: there is no such thing any more.
func known(err error) error {
	if errors.Is(err, store.ErrNotFound) {
		return nil
	}
	return err
}

// Job is one job as the owner sees it.
type Job struct {
	ID       int64      `json:"id"`
	Kind     string     `json:"kind" enum:"keep-up,forecast,retain,import"`
	State    string     `json:"state" enum:"waiting,working,done,failed,again" doc:"again: it failed and is tried again"`
	Attempt  int        `json:"attempt"`
	Most     int        `json:"most" doc:"attempts"`
	Made     time.Time  `json:"made"`
	Began    *time.Time `json:"began"`
	Ended    *time.Time `json:"ended"`
	Trouble  string     `json:"trouble" doc:"what the last failure said; for whoever keeps the server"`
	MayAgain bool       `json:"mayAgain"`
}

// states are River's states in our words.
var states = map[rivertype.JobState]string{
	rivertype.JobStateAvailable: "waiting", rivertype.JobStatePending: "waiting",
	rivertype.JobStateScheduled: "waiting",
	rivertype.JobStateRunning:   "working", rivertype.JobStateRetryable: "again", rivertype.JobStateCompleted: "done",
	rivertype.JobStateCancelled: "failed", rivertype.JobStateDiscarded: "failed",
}

// listed is how many jobs are listed.
const listed = 100

// List gives the newest jobs, newest first.
func (q *Queue) List(ctx context.Context) ([]Job, error) {
	found, err := q.client.JobList(
		ctx,
		river.NewJobListParams().OrderBy(river.JobListOrderByID, river.SortOrderDesc).First(listed),
	)
	if err != nil {
		return nil, fmt.Errorf("listing jobs: %w", err)
	}
	out := make([]Job, len(found.Jobs))
	for i, j := range found.Jobs {
		out[i] = Job{
			ID:      j.ID,
			Kind:    j.Kind,
			State:   states[j.State],
			Attempt: j.Attempt,
			Most:    j.MaxAttempts,
			Made:    j.CreatedAt,
			Began:   j.AttemptedAt,
			Ended:   j.FinalizedAt,
		}
		if n := len(j.Errors); n > 0 && j.State != rivertype.JobStateCompleted {
			out[i].Trouble = j.Errors[n-1].Error
			if out[i].State == "waiting" {
				out[i].State = "again"
			}
		}
		out[i].MayAgain = out[i].State == "failed" || out[i].State == "again"
	}
	return out, nil
}

// Again has a job that failed tried at once.
func (q *Queue) Again(ctx context.Context, id int64) error {
	_, err := q.client.JobRetry(ctx, id)
	if errors.Is(err, rivertype.ErrNotFound) {
		return store.ErrNotFound
	}
	if err != nil {
		return fmt.Errorf("trying job %d again: %w", id, err)
	}
	return nil
}

// States are how a job may stand, in our words.
func States() []string { return []string{"waiting", "working", "again", "done", "failed"} }

// Count is how many jobs stand so, up to ten thousand.
func (q *Queue) Count(ctx context.Context, state string) (float64, error) {
	var of []rivertype.JobState
	for theirs, ours := range states {
		if ours == state || state == "again" && theirs == rivertype.JobStateRetryable {
			of = append(of, theirs)
		}
	}
	found, err := q.client.JobList(ctx, river.NewJobListParams().States(of...).First(mostCounted))
	if err != nil {
		return 0, fmt.Errorf("counting jobs: %w", err)
	}
	return float64(len(found.Jobs)), nil
}

// mostCounted is how many jobs are counted at most.
const mostCounted = 10_000
