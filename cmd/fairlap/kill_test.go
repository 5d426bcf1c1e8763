package main

import (
	"bytes"
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/clock"
	"fairlap/internal/localdb"
	"fairlap/internal/store"
)

func TestUnknownVariablesAreErrors(t *testing.T) {
	t.Setenv("FAIRLAP_DATABASEURL", "x")
	cmd := root()
	cmd.SetArgs([]string{"openapi"})
	assert.ErrorContains(t, cmd.Execute(), "FAIRLAP_DATABASEURL")
}

func TestVariablesFillFlags(t *testing.T) {
	t.Setenv("FAIRLAP_DATABASE_URL", "postgres://nobody@127.0.0.1:1/none?connect_timeout=1")
	cmd := root()
	cmd.SetArgs([]string{"migrate"})
	assert.ErrorContains(t, cmd.Execute(), "reaching the database")
}

func TestTheContractPrintsWithoutADatabase(t *testing.T) {
	cmd := root()
	var out bytes.Buffer
	cmd.SetOut(&out)
	cmd.SetArgs([]string{"openapi"})
	require.NoError(t, cmd.Execute())
	assert.Contains(t, out.String(), "openapi: 3.1")
	assert.Contains(t, out.String(), "/api/v1/stops/{id}/diagnosis")
}

func TestInitWritesACompanyOnce(t *testing.T) {
	db, err := localdb.Start(context.Background(), localdb.Options{Fast: true})
	require.NoError(t, err)
	defer db.Stop()
	run := func(password string) error {
		cmd := root()
		cmd.SetIn(strings.NewReader(password + "\n"))
		cmd.SetArgs(
			[]string{
				"init",
				"--database-url",
				db.URL,
				"--company",
				"Test Care",
				"--login",
				"Owner",
				"--name",
				"The Owner",
			},
		)
		return cmd.Execute()
	}
	assert.ErrorContains(t, run("short"), "at least 12")
	require.NoError(t, run("a long enough secret"))
	assert.ErrorContains(t, run("a long enough secret"), "already holds a company")
	st, err := store.Open(context.Background(), db.URL)
	require.NoError(t, err)
	defer st.Close()
	who, err := app.New(
		st,
		clock.Now,
		company.World{},
	).Office.SignIn(
		context.Background(),
		"OWNER",
		"a long enough secret",
		"",
	)
	require.NoError(t, err)
	assert.Equal(t, access.Owner, who.Role)
}

// A demo has no passwords: it listens where others could reach it only when that is meant.
func TestADemoIsNotLeftOpenByMistake(t *testing.T) {
	for _, address := range []string{"0.0.0.0:0", ":0", "192.0.2.1:80", "[::]:0"} {
		cmd := demoCommand()
		cmd.SetArgs([]string{"--listen", address})
		cmd.SilenceUsage, cmd.SilenceErrors = true, true
		assert.ErrorContains(t, cmd.Execute(), "--open", address)
	}
	for _, address := range []string{"127.0.0.1:8080", "localhost:0", "[::1]:9"} {
		assert.True(t, loopback(address), address)
	}
}

func TestATrustedProxyIsAnAddressOrARange(t *testing.T) {
	how := serving{proxies: []string{"10.0.0.0/8", "::1", "192.0.2.4"}}
	got, err := how.trusted()
	require.NoError(t, err)
	assert.Equal(t, "[10.0.0.0/8 ::1/128 192.0.2.4/32]", fmt.Sprint(got))
	how.proxies = []string{"the proxy"}
	_, err = how.trusted()
	assert.ErrorContains(t, err, "no address")
}
