package access

import (
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
)

func TestWhoMaySee(t *testing.T) {
	me, other := uuid.New(), uuid.New()
	tech := Actor{ID: me, Role: Technician}
	assert.True(t, tech.MaySee(&me))
	assert.False(t, tech.MaySee(&other))
	assert.False(t, tech.MaySee(nil), "a pool of nobody's is the desk's")
	assert.True(t, Actor{ID: other, Role: Office}.MaySee(&me))
	assert.True(t, Actor{ID: other, Role: Owner}.MaySee(nil))
}
