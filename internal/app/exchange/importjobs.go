package exchange

import (
	"context"
	"errors"
	"slices"
	"sync"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/store"
)

// ImportView is how an import stands.
type ImportView struct {
	ID      uuid.UUID     `json:"id" format:"uuid"`
	State   string        `json:"state" enum:"reading,read,writing,done,failed" doc:"read: a dry run that can be taken, or not"`
	File    string        `json:"file"`
	Done    int           `json:"done" doc:"of total, while it writes"`
	Total   int           `json:"total"`
	Text    words.Message `json:"says" doc:"why it failed, in a sentence"`
	Tables  []ImportTable `json:"tables" nullable:"false"`
	Refused int           `json:"refused" doc:"rows; while there are any, nothing is taken"`
	Seconds float64       `json:"seconds" doc:"since this state began, or that it took"`
}

// ImportTable counts the outcomes of one table's rows.
type ImportTable struct {
	Name    string `json:"name"`
	New     int    `json:"new"`
	Known   int    `json:"known"`
	Refused int    `json:"refused"`
}

// importJob is one import under way. It lives as long as the program: nothing is
// written before it is taken, so nothing is lost with it.
type importJob struct {
	mu    sync.Mutex
	owner uuid.UUID
	view  ImportView
	began time.Time
	plan  *plan
}

// importJobs are the newest imports.
type importJobs struct {
	mu   sync.Mutex
	jobs []*importJob
}

// jobsKept is how many imports are remembered.
const jobsKept = 8

func (j *importJob) set(change func(*ImportView)) {
	j.mu.Lock()
	defer j.mu.Unlock()
	before := j.view.State
	change(&j.view)
	if j.view.State != before {
		j.began = time.Now()
	}
}

func (j *importJob) look() ImportView {
	j.mu.Lock()
	defer j.mu.Unlock()
	v := j.view
	v.Tables = slices.Clone(v.Tables)
	if v.State == "reading" || v.State == "writing" {
		v.Seconds = time.Since(j.began).Seconds()
	}
	return v
}

func (s *Service) jobOf(a access.Actor, id uuid.UUID) (*importJob, error) {
	s.imports.mu.Lock()
	defer s.imports.mu.Unlock()
	for _, j := range s.imports.jobs {
		if j.view.ID == id && j.owner == a.ID {
			return j, nil
		}
	}
	return nil, store.ErrNotFound
}

// StartImport reads a spreadsheet as a dry run, beside other work; nothing is written.
func (s *Service) StartImport(ctx context.Context, a access.Actor, name string, content []byte) (ImportView, error) {
	if a.Role == access.Technician {
		return ImportView{}, access.ErrForbidden
	}
	j := &importJob{
		owner: a.ID,
		began: time.Now(),
		view:  ImportView{ID: uuid.Must(uuid.NewV7()), State: "reading", File: name, Tables: []ImportTable{}},
	}
	s.imports.mu.Lock()
	s.imports.jobs = append(s.imports.jobs, j)
	if n := len(s.imports.jobs); n > jobsKept {
		s.imports.jobs = s.imports.jobs[n-jobsKept:]
	}
	s.imports.mu.Unlock()
	go func() {
		p, err := s.planImport(context.WithoutCancel(ctx), a, name, content)
		var typed figure.FieldErrors
		j.set(func(v *ImportView) {
			v.Seconds = time.Since(j.began).Seconds()
			switch {
			case errors.As(err, &typed):
				v.State, v.Text = "failed", typed[0].Text
			case err != nil:
				v.State, v.Text = "failed", "app.this-file-could-not-be"
			default:
				j.plan, v.State, v.Refused, v.Total = p, "read", p.refused(), p.batch.Size()+len(p.items)+len(p.loads)
				v.Tables = tally(p.outcomes)
			}
		})
	}()
	return j.look(), nil
}

func tally(outcomes []RowOutcome) []ImportTable {
	var out []ImportTable
	for _, f := range outcomes {
		if len(out) == 0 || out[len(out)-1].Name != f.Table {
			out = append(out, ImportTable{Name: f.Table})
		}
		t := &out[len(out)-1]
		switch f.Outcome {
		case outcomeNew:
			t.New++
		case outcomeKnown:
			t.Known++
		default:
			t.Refused++
		}
	}
	return out
}

// Import tells how an import stands.
func (s *Service) Import(_ context.Context, a access.Actor, id uuid.UUID) (ImportView, error) {
	j, err := s.jobOf(a, id)
	if err != nil {
		return ImportView{}, err
	}
	return j.look(), nil
}

// outcomesAtOnce is how many rows' outcomes a page shows.
const outcomesAtOnce = 200

// ImportRows lists rows' outcomes from a place on; of one outcome, or of all.
func (s *Service) ImportRows(
	_ context.Context,
	a access.Actor,
	id uuid.UUID,
	outcome string,
	from int,
) ([]RowOutcome, error) {
	j, err := s.jobOf(a, id)
	if err != nil {
		return nil, err
	}
	j.mu.Lock()
	defer j.mu.Unlock()
	out := []RowOutcome{}
	if j.plan == nil {
		return out, nil
	}
	for _, f := range j.plan.outcomes {
		if outcome != "" && f.Outcome != outcome {
			continue
		}
		if from > 0 {
			from--
			continue
		}
		if out = append(out, f); len(out) == outcomesAtOnce {
			break
		}
	}
	return out, nil
}

// TakeImport writes what a dry run found, all of it or nothing, beside other work. One
// with refused rows is not taken.
func (s *Service) TakeImport(ctx context.Context, a access.Actor, id uuid.UUID) (ImportView, error) {
	j, err := s.jobOf(a, id)
	if err != nil {
		return ImportView{}, err
	}
	ready := false
	j.set(func(v *ImportView) {
		if ready = v.State == "read" && v.Refused == 0; ready {
			v.State, v.Done = "writing", 0
		}
	})
	if !ready {
		if v := j.look(); v.State == "writing" || v.State == "done" {
			return v, nil // asked twice is asked once
		}
		return j.look(), figure.Wrong("file", "app.rows-are-refused-nothing-is")
	}
	go func() {
		ctx := context.WithoutCancel(ctx)
		step := func(n int) { j.set(func(v *ImportView) { v.Done += n }) }
		err := j.plan.workOut(ctx, step)
		if err == nil {
			b := &j.plan.batch
			text := words.Of(
				"app.took-in-pools-parts-visits",
				"file",
				words.Name(j.look().File),
				"pools",
				words.N(len(b.Pools)),
				"parts",
				words.N(len(b.Parts)),
				"visits",
				words.N(len(b.Visits)),
				"items",
				words.N(len(j.plan.items)),
			)
			err = s.keeper.Audited(
				ctx,
				a,
				"import",
				nil,
				text,
				func(st *store.Store) error { return st.AddBatch(ctx, b, j.plan.items, step) },
			)
		}
		j.set(func(v *ImportView) {
			v.Seconds = time.Since(j.began).Seconds()
			if v.State = "done"; err != nil {
				v.State, v.Text = "failed", "app.the-record-changed-meanwhile-or"
			}
			j.plan.batch, j.plan.loads = store.Batch{}, nil // written, or to be read anew
		})
	}()
	return j.look(), nil
}
