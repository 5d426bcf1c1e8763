// Package localdb starts a PostgreSQL of its own from Debian's binaries, on
// loopback and never as root, for the demo and for tests.
package localdb

import (
	"context"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"sort"
	"strconv"
	"syscall"
	"time"

	"github.com/jackc/pgx/v5"

	"fairlap/internal/clock"
)

// Options say where and how.
type Options struct {
	// Dir keeps the data between starts; "" makes a throw-away folder.
	Dir string
	// Fast trades durability for speed; for tests only.
	Fast bool
	// Port is where to listen; 0 is any that is free.
	Port int
}

// DB is a running server.
type DB struct {
	URL string // of the database fairlap

	port   int
	cmd    *exec.Cmd
	done   chan error
	remove string
}

// ErrNoBinaries says that PostgreSQL is not installed.
var ErrNoBinaries = errors.New(
	"PostgreSQL's server programs were not found under /usr/lib/postgresql; install the package postgresql or set FAIRLAP_DATABASE_URL",
)

func binaries() (string, error) {
	dirs, _ := filepath.Glob("/usr/lib/postgresql/*/bin/initdb")
	if len(dirs) == 0 {
		return "", ErrNoBinaries
	}
	sort.Slice(dirs, func(a, b int) bool { return versionOf(dirs[a]) < versionOf(dirs[b]) })
	return filepath.Dir(dirs[len(dirs)-1]), nil
}

// Tool finds one of PostgreSQL's own programs.
func Tool(name string) (string, error) {
	if path, err := exec.LookPath(name); err == nil {
		return path, nil
	}
	dir, err := binaries()
	if err != nil {
		return "", err
	}
	return filepath.Join(dir, name), nil
}

func versionOf(path string) int {
	n, _ := strconv.Atoi(filepath.Base(filepath.Dir(filepath.Dir(path))))
	return n
}

// asUser makes a command run as the postgres user when we are root, since the
// server refuses root.
func asUser(cmd *exec.Cmd) error {
	cmd.Dir = "/"
	cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGQUIT, Setpgid: true}
	if os.Geteuid() != 0 {
		return nil
	}
	uid, gid, err := postgresUser()
	if err != nil {
		return err
	}
	cmd.SysProcAttr.Credential = &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}
	return nil
}

func postgresUser() (uid, gid int, err error) {
	u, err := user.Lookup("postgres")
	if err != nil {
		return 0, 0, fmt.Errorf("running as root needs the user postgres: %w", err)
	}
	uid, _ = strconv.Atoi(u.Uid)
	gid, _ = strconv.Atoi(u.Gid)
	return uid, gid, nil
}

// Start starts a server and makes the database fairlap. Stop it when done.
func Start(ctx context.Context, o Options) (*DB, error) {
	bin, err := binaries()
	if err != nil {
		return nil, err
	}
	db := &DB{done: make(chan error, 1)}
	dir := o.Dir
	if dir == "" {
		parent := os.TempDir()
		if st, err := os.Stat("/dev/shm"); o.Fast && err == nil && st.IsDir() {
			parent = "/dev/shm"
		}
		if dir, err = os.MkdirTemp(parent, "fairlap-pg-"); err != nil {
			return nil, fmt.Errorf("making the data folder: %w", err)
		}
		db.remove = dir
	} else if err := os.MkdirAll(dir, 0o755); err != nil {
		return nil, fmt.Errorf("making the data folder: %w", err)
	}
	fail := func(err error) (*DB, error) {
		db.Stop()
		return nil, err
	}
	if os.Geteuid() == 0 {
		uid, gid, err := postgresUser()
		if err != nil {
			return fail(err)
		}
		if err := os.Chown(dir, uid, gid); err != nil {
			return fail(fmt.Errorf("giving the data folder to postgres: %w", err))
		}
		if err := os.Chmod(dir, 0o700); err != nil {
			return fail(err)
		}
	}
	data := filepath.Join(dir, "data")
	if _, err := os.Stat(filepath.Join(data, "PG_VERSION")); err != nil {
		init := exec.CommandContext(
			ctx,
			filepath.Join(bin, "initdb"),
			"-D",
			data,
			"-U",
			"postgres",
			"-A",
			"trust",
			"-E",
			"UTF8",
			"--locale=C.UTF-8",
			"--no-sync",
		)
		if err := asUser(init); err != nil {
			return fail(err)
		}
		if out, err := init.CombinedOutput(); err != nil {
			return fail(fmt.Errorf("initdb: %w: %s", err, out))
		}
	}
	if db.port = o.Port; db.port == 0 {
		if db.port, err = freePort(); err != nil {
			return fail(err)
		}
	}
	args := []string{
		"-D",
		data,
		"-p",
		strconv.Itoa(db.port),
		"-c",
		"listen_addresses=127.0.0.1",
		"-c",
		"unix_socket_directories=",
	}
	if o.Fast {
		args = append(
			args,
			"-c",
			"fsync=off",
			"-c",
			"synchronous_commit=off",
			"-c",
			"full_page_writes=off",
			"-c",
			"max_connections=300",
		)
	}
	db.cmd = exec.Command(filepath.Join(bin, "postgres"), args...)
	if err := asUser(db.cmd); err != nil {
		return fail(err)
	}
	log, err := os.CreateTemp("", "fairlap-pg-*.log")
	if err != nil {
		return fail(err)
	}
	defer os.Remove(log.Name())
	defer log.Close()
	db.cmd.Stdout, db.cmd.Stderr = log, log
	if err := db.cmd.Start(); err != nil {
		return fail(fmt.Errorf("starting postgres: %w", err))
	}
	go func() { db.done <- db.cmd.Wait() }()
	if err := db.await(ctx); err != nil {
		text, _ := os.ReadFile(log.Name())
		return fail(fmt.Errorf("%w: %s", err, text))
	}
	db.URL = db.Address("fairlap")
	if err := db.Create(ctx, "fairlap", ""); err != nil {
		return fail(err)
	}
	return db, nil
}

// At is a server that another program started here, and ends.
func At(port int) *DB { return &DB{port: port} }

// Port is where the server listens.
func (db *DB) Port() int { return db.port }

// Kill ends the server and all that it started outright, as a machine that loses its power
// does; its folder stays.
func (db *DB) Kill() {
	_ = syscall.Kill(-db.cmd.Process.Pid, syscall.SIGKILL)
	<-db.done
	db.done <- nil
}

// Address is the URL of a database on this server.
func (db *DB) Address(name string) string {
	return fmt.Sprintf("postgres://postgres@127.0.0.1:%d/%s?sslmode=disable", db.port, name)
}

// Create makes a database unless it exists; template "" is the server's own.
func (db *DB) Create(ctx context.Context, name, template string) error {
	c, err := pgx.Connect(ctx, db.Address("postgres"))
	if err != nil {
		return fmt.Errorf("connecting to the new server: %w", err)
	}
	defer c.Close(ctx)
	var there bool
	if err := c.QueryRow(ctx, "select exists (select 1 from pg_database where datname = $1)", name).Scan(&there); err != nil ||
		there {
		return err
	}
	q := "create database " + pgx.Identifier{name}.Sanitize()
	if template != "" {
		q += " template " + pgx.Identifier{template}.Sanitize() + " strategy file_copy"
	}
	_, err = c.Exec(ctx, q)
	return err
}

// Drop ends a database, whoever is still on it.
func (db *DB) Drop(ctx context.Context, name string) error {
	c, err := pgx.Connect(ctx, db.Address("postgres"))
	if err != nil {
		return fmt.Errorf("connecting to the server: %w", err)
	}
	defer c.Close(ctx)
	_, err = c.Exec(ctx, "drop database if exists "+pgx.Identifier{name}.Sanitize()+" with (force)")
	return err
}

func (db *DB) await(ctx context.Context) error {
	for deadline := clock.Now().Add(30 * time.Second); clock.Now().Before(deadline); time.Sleep(50 * time.Millisecond) {
		select {
		case err := <-db.done:
			db.done <- err
			return fmt.Errorf("postgres ended at once: %w", err)
		case <-ctx.Done():
			return ctx.Err()
		default:
		}
		if c, err := pgx.Connect(ctx, db.Address("postgres")); err == nil {
			return c.Close(ctx)
		}
	}
	return errors.New("postgres did not answer within 30 s")
}

// Stop ends the server and removes a throw-away folder.
func (db *DB) Stop() {
	if db.cmd != nil && db.cmd.Process != nil {
		_ = db.cmd.Process.Signal(syscall.SIGINT) // fast shutdown
		select {
		case <-db.done:
		case <-time.After(10 * time.Second):
			_ = db.cmd.Process.Signal(syscall.SIGQUIT)
			<-db.done
		}
	}
	if db.remove != "" {
		_ = os.RemoveAll(db.remove)
	}
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, fmt.Errorf("finding a free port: %w", err)
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}
