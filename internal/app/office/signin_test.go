package office

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestAPasswordIsCheckedAndOnlyItsHashKept(t *testing.T) {
	h := HashPassword("correct horse")
	assert.NotContains(t, h, "horse")
	assert.True(t, checkPassword(h, "correct horse"))
	assert.False(t, checkPassword(h, "Correct horse"))
	assert.NotEqual(t, h, HashPassword("correct horse"), "each has its own salt")
	for _, bad := range []string{"", "$argon2id$", "$argon2id$v=19$m=x$a$b", "plain"} {
		assert.False(t, checkPassword(bad, "correct horse"))
	}
}
