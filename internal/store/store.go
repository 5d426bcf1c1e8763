// Package store keeps the company's record in PostgreSQL. It holds no rules of
// the job: core decides, store remembers. Visits, plumbing revisions and clean
// lines are append-only, which the database itself enforces.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fairlap/internal/pictures"
	"fmt"
	"io/fs"
	"log/slog"
	"strings"
	"time"

	"github.com/exaring/otelpgx"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivermigrate"
	"gorm.io/driver/postgres"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
	"gorm.io/gorm/logger"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Errors that callers tell apart.
var (
	ErrNotFound = errors.New("not found")
	// ErrVersion says that a record was changed since it was read.
	ErrVersion = errors.New("changed by someone else since it was read")
	// ErrNewer says that a newer version of Fair Lap wrote this database.
	ErrNewer = errors.New("this database was written by a newer version of Fair Lap: start that one")
	// ErrDifferent says that an id was used before for something else.
	ErrDifferent = errors.New("this id already stands for another record")
)

// Store is a connection pool with the queries on it.
type Store struct {
	Pool   *pgxpool.Pool // shared with the session store
	sql    *sql.DB
	db     *gorm.DB
	photos pictures.Keeper // where new pictures go; nil: the database
	unit   *unit           // of work that this store is within
}

// connections is how many a server opens at most, where its address does not say
// pool_max_conns: each answer holds one for milliseconds, so that sixteen serve hundreds.
const connections = 16

// Traced gives each query a span of the global tracer.
func Traced(c *pgxpool.Config) { c.ConnConfig.Tracer = otelpgx.NewTracer() }

// Open connects to a database. It does not migrate.
func Open(ctx context.Context, dsn string, with ...func(*pgxpool.Config)) (*Store, error) {
	how, err := pgxpool.ParseConfig(dsn)
	if err != nil {
		return nil, fmt.Errorf("reading the database address: %w", err)
	}
	if !strings.Contains(dsn, "pool_max_conns") {
		how.MaxConns = connections
	}
	how.AfterConnect = func(ctx context.Context, c *pgx.Conn) error {
		// Our queries are many and short: compiling one takes longer than it does.
		_, err := c.Exec(ctx, "set jit = off")
		return err
	}
	for _, set := range with {
		set(how)
	}
	pool, err := pgxpool.NewWithConfig(ctx, how)
	if err != nil {
		return nil, fmt.Errorf("making the connections: %w", err)
	}
	if err := pool.Ping(ctx); err != nil {
		pool.Close()
		return nil, fmt.Errorf("reaching the database: %w", err)
	}
	sdb := stdlib.OpenDBFromPool(pool)
	db, err := gorm.Open(
		postgres.New(postgres.Config{Conn: sdb}),
		&gorm.Config{TranslateError: true, Logger: logger.Discard},
	)
	if err != nil {
		pool.Close()
		return nil, fmt.Errorf("opening the database: %w", err)
	}
	return &Store{Pool: pool, sql: sdb, db: db}, nil
}

// Close gives all connections back.
func (s *Store) Close() {
	_ = s.sql.Close()
	s.Pool.Close()
}

// Ping tells whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return s.Pool.Ping(ctx) }

// Migrate brings the schema up to date. Servers that start at once take turns. A schema
// that a newer version made is ErrNewer.
func (s *Store) Migrate(ctx context.Context) error {
	p, err := s.provider()
	if err != nil {
		return err
	}
	if _, err := p.Up(ctx); err != nil {
		return fmt.Errorf("migrating: %w", err)
	}
	is, known, err := p.GetVersions(ctx)
	if err != nil {
		return fmt.Errorf("reading the schema's version: %w", err)
	}
	if is > known {
		return fmt.Errorf("%w: its schema is %d, this version knows %d", ErrNewer, is, known)
	}
	return s.migrateQueue(ctx)
}

// queueTurn is the lock under which servers that start at once bring the queue's tables up.
const queueTurn = 7_041_923

// migrateQueue brings the tables of the queue of jobs up to date.
func (s *Store) migrateQueue(ctx context.Context) error {
	conn, err := s.Pool.Acquire(ctx)
	if err != nil {
		return fmt.Errorf("migrating the queue: %w", err)
	}
	defer conn.Release()
	if _, err := conn.Exec(ctx, "select pg_advisory_lock($1)", queueTurn); err != nil {
		return fmt.Errorf("waiting to migrate the queue: %w", err)
	}
	defer func() { _, _ = conn.Exec(context.WithoutCancel(ctx), "select pg_advisory_unlock($1)", queueTurn) }()
	m, err := rivermigrate.New(riverpgxv5.New(s.Pool), &rivermigrate.Config{Logger: slog.New(slog.DiscardHandler)})
	if err != nil {
		return fmt.Errorf("migrating the queue: %w", err)
	}
	if _, err := m.Migrate(ctx, rivermigrate.DirectionUp, nil); err != nil {
		return fmt.Errorf("migrating the queue: %w", err)
	}
	return nil
}

// Versions are the schema that the database has, and the one that this program knows.
func (s *Store) Versions(ctx context.Context) (is, known int64, err error) {
	p, err := s.provider()
	if err != nil {
		return 0, 0, err
	}
	return p.GetVersions(ctx)
}

func (s *Store) provider() (*goose.Provider, error) {
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, fmt.Errorf("finding the migrations: %w", err)
	}
	turns, err := lock.NewPostgresSessionLocker(lock.WithLockTimeout(1, 300))
	if err != nil {
		return nil, fmt.Errorf("making the migrations' lock: %w", err)
	}
	return goose.NewProvider(goose.DialectPostgres, s.sql, sub, goose.WithSessionLocker(turns))
}

func found(err error) error {
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return ErrNotFound
	}
	return err
}

// Company returns the one company.
func (s *Store) Company(ctx context.Context) (Company, error) {
	var c Company
	return c, found(s.db.WithContext(ctx).First(&c).Error)
}

// UserByLogin finds an active user.
func (s *Store) UserByLogin(ctx context.Context, login string) (User, error) {
	var u User
	return u, found(s.db.WithContext(ctx).First(&u, "login = lower(?) and active", login).Error)
}

// UserByID finds an active user.
func (s *Store) UserByID(ctx context.Context, id uuid.UUID) (User, error) {
	var u User
	return u, found(s.db.WithContext(ctx).First(&u, "id = ? and active", id).Error)
}

// Users lists active users by name.
func (s *Store) Users(ctx context.Context) ([]User, error) {
	var us []User
	return us, s.db.WithContext(ctx).Where("active").Order("name").Find(&us).Error
}

// inOrder are a lap's stops as they stand, those taken off it left out.
func inOrder(q *gorm.DB) *gorm.DB { return q.Where("dropped_at is null").Order("position") }

// LapOn finds a technician's lap of a day with its stops in order.
func (s *Store) LapOn(ctx context.Context, technician uuid.UUID, day time.Time) (Lap, error) {
	var l Lap
	err := s.db.WithContext(ctx).Preload("Stops", inOrder).
		First(&l, "technician_id = ? and day = ?", technician, day.Format(time.DateOnly)).Error
	return l, found(err)
}

// Read asks what the store's own rooms ask, in SQL.
func (s *Store) Read(ctx context.Context, out any, sql string, of ...any) error {
	return s.db.WithContext(ctx).Raw(sql, of...).Scan(out).Error
}

// StopByID finds a stop and its lap with all stops.
func (s *Store) StopByID(ctx context.Context, id uuid.UUID) (Stop, Lap, error) {
	var st Stop
	if err := s.db.WithContext(ctx).First(&st, "id = ?", id).Error; err != nil {
		return st, Lap{}, found(err)
	}
	var l Lap
	err := s.db.WithContext(ctx).Preload("Stops", inOrder).First(&l, "id = ?", st.LapID).Error
	return st, l, found(err)
}

// PoolRecord is a pool with what its model is made of.
type PoolRecord struct {
	Pool      Pool
	Plumbing  Plumbing
	CleanLine *CleanLine // newest since the plumbing was last worked on; nil when none was taken
	// NewGauge is that the tank gauge came in after the clean line: what the old one said
	// there is no level for it.
	NewGauge bool
}

// PoolRecords finds pools with their newest plumbing and clean line.
func (s *Store) PoolRecords(ctx context.Context, ids []uuid.UUID) (map[uuid.UUID]*PoolRecord, error) {
	db := s.db.WithContext(ctx)
	var pools []Pool
	if err := db.Find(&pools, "id in ?", ids).Error; err != nil {
		return nil, err
	}
	var plumbing []Plumbing
	if err := db.Raw("select distinct on (pool_id) * from plumbing where pool_id in ? order by pool_id, revision desc",
		ids).Scan(&plumbing).Error; err != nil {
		return nil, err
	}
	var lines []CleanLine
	if err := db.Raw(`select distinct on (pool_id) * from clean_lines l where pool_id in ?
		and not exists (select 1 from clean_lines_withdrawn w where w.line_id = l.id)
		and not exists (select 1 from plumbing p where p.pool_id = l.pool_id and p.reason = 'work' and p.created_at > l.taken_at)
		order by pool_id, taken_at desc, id desc`, ids).Scan(&lines).Error; err != nil {
		return nil, err
	}
	var gauges []EquipmentEvent
	if err := db.Raw(`select distinct on (v.pool_id) v.* from equipment_events v join equipment e on e.id = v.equipment_id
		where v.pool_id in ? and v.act in ('install', 'replace') and e.kind = ? order by v.pool_id, v.happened_on desc, v.made_at desc`, ids, tankGauge).Scan(&gauges).Error; err != nil {
		return nil, err
	}
	out := make(map[uuid.UUID]*PoolRecord, len(pools))
	for _, p := range pools {
		out[p.ID] = &PoolRecord{Pool: p}
	}
	for _, p := range plumbing {
		out[p.PoolID].Plumbing = p
	}
	for i := range lines {
		out[lines[i].PoolID].CleanLine = &lines[i]
	}
	for i := range gauges {
		g := &gauges[i]
		if l := out[g.PoolID].CleanLine; l != nil {
			taken := l.TakenAt.UTC().Truncate(24 * time.Hour)
			out[g.PoolID].NewGauge = g.HappenedOn.After(taken) || g.HappenedOn.Equal(taken) && g.MadeAt.After(l.TakenAt)
		}
	}
	return out, nil
}

// tankGauge is the kind of part that a clean line's level stands on.
const tankGauge = "tank-gauge"

// PoolsByID finds pools.
func (s *Store) PoolsByID(ctx context.Context, ids []uuid.UUID) ([]Pool, error) {
	var ps []Pool
	return ps, s.db.WithContext(ctx).Find(&ps, "id in ?", ids).Error
}

// PoolByID finds a pool.
func (s *Store) PoolByID(ctx context.Context, id uuid.UUID) (Pool, error) {
	var p Pool
	return p, found(s.db.WithContext(ctx).First(&p, "id = ?", id).Error)
}

// EquipmentOf lists the equipment that is in place at pools.
func (s *Store) EquipmentOf(ctx context.Context, pools ...uuid.UUID) (map[uuid.UUID][]Equipment, error) {
	var es []Equipment
	err := s.db.WithContext(ctx).
		Where("pool_id in ? and removed_on is null", pools).
		Order("installed_on").
		Find(&es).
		Error
	out := make(map[uuid.UUID][]Equipment)
	for _, e := range es {
		out[e.PoolID] = append(out[e.PoolID], e)
	}
	return out, err
}

// remembered are the visits that a pool is judged by: the two years up to its last one,
// whenever that was.
const remembered = "closed_at >= (select max(l.closed_at) from visits l where l.pool_id = visits.pool_id) - interval '2 years'"

// VisitsOf lists all closed visits of pools, oldest first, with their readings, signs and
// work; corrected ones are left out.
func (s *Store) VisitsOf(ctx context.Context, pools []uuid.UUID) (map[uuid.UUID][]Visit, error) {
	return s.visits(ctx, s.withRows(ctx), pools)
}

// Remembered is VisitsOf of the visits that pools are judged by.
func (s *Store) Remembered(ctx context.Context, pools []uuid.UUID) (map[uuid.UUID][]Visit, error) {
	return s.visits(ctx, s.withRows(ctx).Where(remembered), pools)
}

func (s *Store) visits(ctx context.Context, q *gorm.DB, pools []uuid.UUID) (map[uuid.UUID][]Visit, error) {
	var vs []Visit
	err := q.Omit("Diagnosis").Where("pool_id in ?", pools).Where(counted).Order("arrived_at, id").Find(&vs).Error
	if err == nil {
		err = s.rejudged(ctx, vs)
	}
	out := make(map[uuid.UUID][]Visit)
	for _, v := range vs {
		out[v.PoolID] = append(out[v.PoolID], v)
	}
	return out, err
}

// HistoriesOf is Remembered with only what a filter's history is made of: no notes, no
// signs, and of the readings those with power.
func (s *Store) HistoriesOf(ctx context.Context, pools []uuid.UUID) (map[uuid.UUID][]Visit, error) {
	// By hand, without the mapper: rebuilding reads a whole company's years.
	const those = " where pool_id = any($1::uuid[]) and " + remembered + " and " + counted
	ids := uuidArray(pools)
	rows, err := s.query(
		ctx,
		`select id, pool_id, arrived_at, closed_at, cleaned, confirmed, chemicals_at, load_mean, load_sd, after_mean, after_sd, load_unit, prime_s, drain_s, left_open
		from visits`+those+" order by arrived_at, id",
		ids,
	)
	if err != nil {
		return nil, err
	}
	vs, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (Visit, error) {
		var v Visit
		return v, row.Scan(
			(*[16]byte)(&v.ID),
			(*[16]byte)(&v.PoolID),
			&v.ArrivedAt,
			&v.ClosedAt,
			&v.Cleaned,
			&v.Confirmed,
			&v.ChemicalsAt,
			&v.LoadMean,
			&v.LoadSD,
			&v.AfterMean,
			&v.AfterSD,
			&v.LoadUnit,
			&v.PrimeS,
			&v.DrainS,
			&v.LeftOpen,
		)
	})
	if err != nil {
		return nil, err
	}
	if err = s.rejudged(ctx, vs); err != nil {
		return nil, err
	}
	if rows, err = s.query(ctx, `select visit_id, seq, phase, setting, speed_rpm, power_w from visit_readings
		where power_w is not null and phase = 'found' and visit_id in (select id from visits`+those+") order by visit_id, seq", ids); err != nil {
		return nil, err
	}
	readings := make(map[uuid.UUID][]VisitReading, len(vs))
	var r VisitReading
	if _, err = pgx.ForEachRow(rows, []any{(*[16]byte)(&r.VisitID), &r.Seq, &r.Phase, &r.Setting, &r.SpeedRPM,
		&r.PowerW}, func() error {
		power := *r.PowerW
		kept := r
		kept.PowerW = &power
		readings[r.VisitID] = append(readings[r.VisitID], kept)
		return nil
	}); err != nil {
		return nil, err
	}
	out := make(map[uuid.UUID][]Visit, len(pools))
	for _, v := range vs {
		v.Readings = readings[v.ID]
		out[v.PoolID] = append(out[v.PoolID], v)
	}
	return out, nil
}

// uuidArray is ids as one parameter.
func uuidArray(ids []uuid.UUID) string {
	out := make([]string, len(ids))
	for i, id := range ids {
		out[i] = id.String()
	}
	return "{" + strings.Join(out, ",") + "}"
}

func (s *Store) withRows(ctx context.Context) *gorm.DB {
	bySeq := func(q *gorm.DB) *gorm.DB { return q.Order("seq") }
	return s.db.WithContext(ctx).Preload("Readings", bySeq).Preload("Signs").Preload("Works", bySeq)
}

// Log lists a pool's visits newest first, corrected ones included, before a time.
func (s *Store) Log(ctx context.Context, pool uuid.UUID, before time.Time, limit int) ([]Visit, error) {
	var vs []Visit
	return vs, s.withRows(ctx).
		Where("pool_id = ? and closed_at < ?", pool, before).
		Order("closed_at desc, recorded_at desc, id desc").
		Limit(limit).
		Find(&vs).
		Error
}

// VisitByID finds a visit with its rows.
func (s *Store) VisitByID(ctx context.Context, id uuid.UUID) (Visit, error) {
	one := make([]Visit, 1)
	if err := found(s.withRows(ctx).First(&one[0], "id = ?", id).Error); err != nil {
		return Visit{}, err
	}
	return one[0], s.rejudged(ctx, one)
}

// TakeBackVisit takes a visit back, once; again is the same. A corrected visit, or one that
// corrects another, stays: ErrVersion.
func (s *Store) TakeBackVisit(ctx context.Context, b VisitTakenBack) error {
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		var of int64
		err := tx.Model(&Visit{}).
			Where("corrects_id = ? or (id = ? and corrects_id is not null)", b.VisitID, b.VisitID).Count(&of).Error
		if err != nil {
			return err
		}
		if of > 0 {
			return ErrVersion
		}
		return tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&b).Error
	})
}

// TakenBack tells which of some visits were taken back, and when.
func (s *Store) TakenBack(ctx context.Context, visits []uuid.UUID) (map[uuid.UUID]time.Time, error) {
	var rows []VisitTakenBack
	err := s.db.WithContext(ctx).Find(&rows, "visit_id in ?", visits).Error
	out := make(map[uuid.UUID]time.Time, len(rows))
	for _, r := range rows {
		out[r.VisitID] = r.MadeAt
	}
	return out, err
}

// VisitOfStops finds the newest uncorrected visit of each stop.
func (s *Store) VisitOfStops(ctx context.Context, stops []uuid.UUID) (map[uuid.UUID]Visit, error) {
	var vs []Visit
	err := s.db.WithContext(ctx).Omit("Diagnosis").Where("stop_id in ?", stops).
		Where(counted).Order("recorded_at, id").Find(&vs).Error
	if err == nil {
		err = s.rejudged(ctx, vs)
	}
	out := make(map[uuid.UUID]Visit)
	for _, v := range vs {
		out[*v.StopID] = v
	}
	return out, err
}

// SaveVisit writes a visit once. Saving the same visit again (same id, same
// content) is the same save; the same id with other content is ErrDifferent.
// The returned visit is the one on record.
func (s *Store) SaveVisit(ctx context.Context, v Visit) (Visit, error) {
	err := s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		head := v
		head.Readings, head.Signs, head.Works = nil, nil, nil
		res := tx.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "id"}}, DoNothing: true}).Create(&head)
		if res.Error != nil || res.RowsAffected == 0 {
			return res.Error
		}
		for i := range v.Readings {
			v.Readings[i].VisitID = v.ID
		}
		for i := range v.Signs {
			v.Signs[i].VisitID = v.ID
		}
		for i := range v.Works {
			v.Works[i].VisitID = v.ID
		}
		if len(v.Readings) > 0 {
			if err := tx.Create(&v.Readings).Error; err != nil {
				return err
			}
		}
		if len(v.Signs) > 0 {
			if err := tx.Create(&v.Signs).Error; err != nil {
				return err
			}
		}
		if len(v.Works) > 0 {
			return tx.Create(&v.Works).Error
		}
		return nil
	})
	if errors.Is(err, gorm.ErrDuplicatedKey) { // two corrections of one visit
		return Visit{}, ErrVersion
	}
	if err != nil {
		return Visit{}, fmt.Errorf("saving visit %s: %w", v.ID, err)
	}
	kept, err := s.VisitByID(ctx, v.ID)
	if err == nil && kept.ContentHash != v.ContentHash {
		err = ErrDifferent
	}
	return kept, err
}

// rowsAtOnce keeps a bulk insert under the protocol's 65,535 parameters.
const rowsAtOnce = 1000

// AddVisits writes many new visits at once, all or none.
func (s *Store) AddVisits(ctx context.Context, vs []Visit) error {
	heads := make([]Visit, len(vs))
	var readings []VisitReading
	var signs []VisitSign
	var works []VisitWork
	for i, v := range vs {
		for _, r := range v.Readings {
			r.VisitID = v.ID
			readings = append(readings, r)
		}
		for _, x := range v.Signs {
			x.VisitID = v.ID
			signs = append(signs, x)
		}
		for _, w := range v.Works {
			w.VisitID = v.ID
			works = append(works, w)
		}
		v.Readings, v.Signs, v.Works = nil, nil, nil
		heads[i] = v
	}
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		return errors.Join(inBatches(tx, heads), inBatches(tx, readings), inBatches(tx, signs), inBatches(tx, works))
	})
}

func inBatches[T any](tx *gorm.DB, rows []T) error {
	if len(rows) == 0 {
		return nil
	}
	if err := tx.CreateInBatches(rows, rowsAtOnce).Error; err != nil {
		return fmt.Errorf("writing many %T: %w", rows[0], err)
	}
	return nil
}

// Insert writes new rows of any model, in order; for loading a town.
func (s *Store) Insert(ctx context.Context, rows ...any) error {
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		for _, r := range rows {
			if err := tx.Create(r).Error; err != nil {
				return fmt.Errorf("inserting %T: %w", r, err)
			}
		}
		return nil
	})
}
