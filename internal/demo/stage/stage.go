// Package stage keeps one throw-away PostgreSQL with the demo town in it, and gives
// copies: for tests, journeys and pictures, which each want a town of their own.
package stage

import (
	"context"
	"fmt"
	"os"
	"strconv"
	"sync"
	"sync/atomic"
	"time"

	"fairlap/internal/app/company"
	"fairlap/internal/demo"
	"fairlap/internal/localdb"
	"fairlap/internal/store"
)

// Stage is a running server with its templates, each filled when first asked for.
type Stage struct {
	server  *localdb.DB
	counter atomic.Int64
	world   company.World
	empty   func() error
	town    func() error
}

// shared is the variable that names the port of a stage that is open already, templates and all: one serves the test
// programs of many packages (see its command).
const shared = "TEST_TOWN_PORT"

// seed is what the tests' town follows from.
const seed = 1

// Open starts the server, or takes the one that is shared. The town is dated from now.
func Open(ctx context.Context, now time.Time) (*Stage, error) {
	if port, err := strconv.Atoi(os.Getenv(shared)); err == nil {
		s := &Stage{server: localdb.At(port), empty: func() error { return nil }}
		s.town = sync.OnceValue(func() (err error) {
			s.world, err = demo.World(seed, now)
			return err
		})
		return s, nil
	}
	server, err := localdb.Start(ctx, localdb.Options{Fast: true})
	if err != nil {
		return nil, err
	}
	s := &Stage{server: server}
	s.empty = sync.OnceValue(func() error { return s.template("template_empty", nil) })
	s.town = sync.OnceValue(func() error {
		return s.template("template_town", func(st *store.Store) (err error) {
			s.world, err = demo.Load(context.Background(), st, seed, now)
			return err
		})
	})
	return s, nil
}

// Share fills both templates and gives the setting by which other programs take this stage.
func (s *Stage) Share() (string, error) {
	if err := s.empty(); err != nil {
		return "", fmt.Errorf("the empty template: %w", err)
	}
	if err := s.town(); err != nil {
		return "", fmt.Errorf("the town's template: %w", err)
	}
	return fmt.Sprintf("%s=%d", shared, s.server.Port()), nil
}

// Close ends the server and everything on it.
func (s *Stage) Close() { s.server.Stop() }

func (s *Stage) template(name string, fill func(*store.Store) error) error {
	ctx := context.Background()
	if err := s.server.Create(ctx, name, ""); err != nil {
		return err
	}
	st, err := store.Open(ctx, s.server.Address(name))
	if err != nil {
		return err
	}
	defer st.Close() // a template must have no connection left
	if err := st.Migrate(ctx); err != nil || fill == nil {
		return err
	}
	return fill(st)
}

// Copy is a database of one's own.
type Copy struct {
	Store *store.Store
	URL   string
	World company.World // around the town; empty for an empty one

	stage *Stage
	name  string
}

// Drop ends a copy.
func (c *Copy) Drop() {
	c.Store.Close()
	_ = c.stage.server.Drop(context.Background(), c.name)
}

// Empty is a migrated database with nothing in it.
func (s *Stage) Empty() (*Copy, error) {
	if err := s.empty(); err != nil {
		return nil, fmt.Errorf("the empty template: %w", err)
	}
	return s.copyOf("template_empty", company.World{})
}

// Town is a copy of the town.
func (s *Stage) Town() (*Copy, error) {
	if err := s.town(); err != nil {
		return nil, fmt.Errorf("the town's template: %w", err)
	}
	return s.copyOf("template_town", s.world)
}

func (s *Stage) copyOf(template string, world company.World) (*Copy, error) {
	c := &Copy{World: world, stage: s, name: fmt.Sprintf("copy_%d_%d", os.Getpid(), s.counter.Add(1))}
	if err := s.server.Create(context.Background(), c.name, template); err != nil {
		return nil, err
	}
	c.URL = s.server.Address(c.name)
	var err error
	c.Store, err = store.Open(context.Background(), c.URL)
	return c, err
}
