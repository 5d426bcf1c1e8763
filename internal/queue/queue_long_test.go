//go:build long

package queue

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app"
	"fairlap/internal/app/access"
	"fairlap/internal/demo/demotest"
)

// A file that one server was given is read and written by whichever has time, once, though the
// one that took it never works; who sent it sees how it stands at any of them.
func TestAnImportIsDoneByWhicheverServerHasTime(t *testing.T) {
	town := demotest.Town(t)
	_, given := beside(t, town) // takes files in and works none
	first, _ := beside(t, town)
	second, other := beside(t, town)
	run(t, first)
	run(t, second)
	desk, err := given.Office.DemoSignIn(ctx, access.Office)
	require.NoError(t, err)
	file := "street,volume_gal,pump,filter\n77 Abbey Road,14000,Brisk 150 VS,Stanchion S24\n"
	v, err := given.Exchange.StartImport(ctx, desk, "pools.csv", []byte(file))
	require.NoError(t, err)
	settled := func(state string) {
		require.Eventually(t, func() bool {
			v, err = other.Exchange.Import(ctx, desk, v.ID)
			return err == nil && v.State == state
		}, 30*time.Second, 50*time.Millisecond, "%+v", v)
	}
	settled("read")
	if v.Refused > 0 {
		rows, err := other.Exchange.ImportRows(ctx, desk, v.ID, "", 0)
		require.NoError(t, err)
		require.Zero(t, v.Refused, "%+v", rows)
	}
	for _, rooms := range []*app.Rooms{other, given, other} { // asked three times it is written once
		_, err = rooms.Exchange.TakeImport(ctx, desk, v.ID)
		require.NoError(t, err)
	}
	settled("done")
	require.NoError(t, other.Exchange.WorkImport(ctx, v.ID, true), "and a job that comes again does nothing")
	var n int
	require.NoError(
		t,
		town.Store.Pool.QueryRow(ctx, "select count(*) from pools where street = '77 Abbey Road'").Scan(&n),
	)
	assert.Equal(t, 1, n)
}
