package gate

import (
	"context"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// As many work as there are places; some wait; whoever comes after that, or waits too long, is
// sent away, and a place that is left is taken again.
func TestALineBeforeWorkHasAnEnd(t *testing.T) {
	q := NewLine(2, 3)
	ctx := context.Background()
	var leaves []func()
	for range 2 {
		leave, ok := q.Enter(ctx, time.Minute)
		require.True(t, ok)
		leaves = append(leaves, leave)
	}
	var in sync.WaitGroup
	var came, left atomic.Int32
	for range 3 {
		in.Go(func() {
			if leave, ok := q.Enter(ctx, time.Minute); ok {
				came.Add(1)
				leave()
			} else {
				left.Add(1)
			}
		})
	}
	require.Eventually(t, func() bool { return len(q.inside) == 5 }, time.Second, time.Millisecond)
	_, ok := q.Enter(ctx, time.Minute)
	assert.False(t, ok, "nobody waits past the end of the line")
	for _, leave := range leaves {
		leave()
	}
	in.Wait()
	assert.Equal(t, int32(3), came.Load())
	assert.Zero(t, left.Load())
	leave, _ := q.Enter(ctx, time.Minute)
	other, _ := q.Enter(ctx, time.Minute)
	_, ok = q.Enter(ctx, time.Millisecond)
	assert.False(t, ok, "who waits too long is sent away")
	leave()
	other()
	assert.Empty(t, q.inside)
	assert.Empty(t, q.working)
}
