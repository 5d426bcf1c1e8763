//go:build long

package main

import (
	"context"
	"fmt"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// pooled is a pooler that gives a connection for one transaction and no longer.
const pooled = `
[databases]
* = host=127.0.0.1 port=%s user=%s
[pgbouncer]
listen_addr = 127.0.0.1
listen_port = %d
unix_socket_dir =
auth_type = any
pool_mode = transaction
default_pool_size = 6
max_client_conn = 200
ignore_startup_parameters = extra_float_digits,jit,options,search_path,statement_timeout,application_name
`

// pool starts a pooler before the database.
func (s *several) pool() {
	bouncer, err := exec.LookPath("pgbouncer")
	if err != nil {
		bouncer = "/usr/sbin/pgbouncer"
	}
	at, err := url.Parse(s.db.URL)
	require.NoError(s.t, err)
	port := freePorts(s.t, 1)[0]
	conf := filepath.Join(s.dir, "pgbouncer.ini")
	require.NoError(s.t, os.WriteFile(conf, fmt.Appendf(nil, pooled, at.Port(), at.User.Username(), port), 0o644))
	args := []string{conf}
	if me, err := user.Current(); err == nil && me.Uid == "0" { // it won't run as root
		args = []string{"-u", "postgres", conf}
	}
	cmd := exec.Command(bouncer, args...)
	cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL}
	require.NoError(s.t, cmd.Start(), "install pgbouncer: make .make/system does")
	s.t.Cleanup(func() { _ = cmd.Process.Kill(); _ = cmd.Wait() })
	at.Host = fmt.Sprintf("127.0.0.1:%d", port)
	query := at.Query()
	query.Set("default_query_exec_mode", "exec") // nothing is prepared across transactions
	at.RawQuery = query.Encode()
	s.pooled = at.String()
	require.Eventually(s.t, func() bool {
		c, err := net.Dial("tcp", at.Host)
		if err == nil {
			c.Close()
		}
		return err == nil
	}, 10*time.Second, 50*time.Millisecond)
}

// Two servers work through a pooler of transactions: what is read, logged by eight at once and
// done by the queue is as without one, and each visit is on record once.
func TestACompanyWorksThroughAPoolerOfTransactions(t *testing.T) {
	s := startSeveralBy(t, true)
	ctx := context.Background()
	db, err := pgx.Connect(ctx, s.db.URL)
	require.NoError(t, err)
	defer db.Close(ctx)
	count := func(query string) (n int) {
		require.NoError(t, db.QueryRow(ctx, query).Scan(&n))
		return n
	}
	before := count("select count(*) from visits")
	const writers, each = 8, 6
	var all sync.WaitGroup
	for w := range writers {
		all.Go(func() {
			for i := range each {
				status, got, err := s.ask("POST", "/api/v1/visits", s.draft(w*each+i))
				if assert.NoError(t, err) {
					assert.Less(t, status, 300, string(got))
				}
				status, got, err = s.ask("GET", "/api/v1/week", nil)
				if assert.NoError(t, err) {
					assert.Equal(t, http.StatusOK, status, string(got))
				}
			}
		})
	}
	all.Wait()
	assert.Equal(t, before+writers*each, count("select count(*) from visits"))
	assert.Zero(
		t,
		count(
			"select count(*) from standings s join pools p on p.id = s.pool_id where s.record_rev <> p.record_rev and p.id in (select pool_id from visits order by recorded_at desc limit 1)",
		),
		"rows moved on with their visits",
	)
	require.Eventually(t, func() bool {
		return count("select count(*) from river_job where state = 'completed'") > 0
	}, 90*time.Second, time.Second, "jobs are asked for")
	var clients int
	require.NoError(
		t,
		db.QueryRow(ctx, "select count(*) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()").
			Scan(&clients),
	)
	assert.LessOrEqual(t, clients, 12, "the pooler's connections, however many the servers have")
}
