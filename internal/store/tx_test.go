package store_test

import (
	"context"
	"math/rand/v2"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/store"
)

// Whoever asked may go at any moment: the unit of work ends, and nobody else's question is on its connection then. The
// transaction once ended beside a question asked by hand, which brought the whole program down.
func TestAUnitOfWorkEndsWhereItsAskerGoes(t *testing.T) {
	st, _ := minimal(t)
	chance := rand.New(rand.NewPCG(5, 1))
	var all sync.WaitGroup
	turn := make(chan struct{}, 6)
	goes, gone := 1500, 0
	var count sync.Mutex
	for range goes {
		after := time.Duration(1000+chance.IntN(4000)) * time.Microsecond
		turn <- struct{}{}
		all.Go(func() {
			defer func() { <-turn }()
			going, cancel := context.WithTimeout(ctx, after)
			defer cancel()
			err := st.InTx(going, func(in *store.Store) error {
				for {
					if _, err := in.SettledVisits(going, 10); err != nil {
						return err
					}
				}
			})
			count.Lock()
			defer count.Unlock()
			gone++
			assert.Error(t, err)
			assert.Error(t, going.Err(), err)
		})
	}
	all.Wait()
	assert.Equal(t, goes, gone)
	// The connections are whole: what is asked next is answered.
	_, err := st.SettledVisits(ctx, 10)
	require.NoError(t, err)
}
