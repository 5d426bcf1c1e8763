//go:build long

package e2e

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
)

// Of many who drive, a stop's menu has those on the board; anybody else is looked for by name. The
// company's day shows twelve of them, and the others on its next page.
func TestAStopGoesToSomebodyOfMany(t *testing.T) {
	town, err := harness.Start()
	require.NoError(t, err)
	_, err = town.Store.Pool.Exec(context.Background(), `insert into users (id, login, name, role, password_hash)
		select gen_random_uuid(), 'many' || k, 'Diver ' || chr(64 + k), 'technician', '' from generate_series(1, 14) k`)
	require.NoError(t, err)
	s := openAt(t, town, harness.Desktop)
	s.signIn("office")
	s.findText("#company li", "Diver A") // the first page of people has no stop today
	s.tap("#company .ant-pagination-item-2")
	s.findText("#company li", "O. Brandt")
	s.tapText("nav a", "Week")
	s.choose("#week-whose", "O. Brandt")
	s.tap(`[data-move="19 Sorrel Bend"]`)
	s.findText(".ant-dropdown-menu-item", "Someone else")
	assert.NotContains(t, s.text(), "Give to Diver", "not a line for each")
	s.tapText(".ant-dropdown-menu-item", "Someone else")
	s.choose("#given-to", "Diver N")
	s.tap("#confirm-give")
	s.findText(".week-moved", "19 Sorrel Bend goes to .*, Diver N")
	s.tap("#undo-move")
	s.find(`[data-move="19 Sorrel Bend"]`)
}
