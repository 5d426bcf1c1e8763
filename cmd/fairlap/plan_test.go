package main

import (
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const (
	plannedPad = "../../docs/examples/vs-cartridge-heater-cell.pad.json"
	summer     = "../../docs/examples/summer.needs.json"
)

func TestAPlanFromFiles(t *testing.T) {
	out, err := fairlap(t, "plan", plannedPad, summer)
	require.NoError(t, err, out)
	assert.Contains(t, out, "No plan is cheaper by more than")
	out, err = fairlap(t, "plan", plannedPad, summer, "--json")
	require.NoError(t, err)
	var got planOut
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	assert.Equal(t, 2.0, got.Needs.Turnovers, "twice in the heat, as usual")
	assert.LessOrEqual(t, len(got.Slots), 6)
	assert.InDelta(t, 2, got.Totals.Turnovers, 0.1)
}

// Only speed and watts at two speeds narrow what the plan is sure of.
func TestTwoReadingsMakeAPlan(t *testing.T) {
	sure := func(walk string) float64 {
		file := filepath.Join(t.TempDir(), "walk.csv")
		require.NoError(t, os.WriteFile(file, []byte(walk), 0o600))
		out, err := fairlap(t, "plan", plannedPad, summer, "--json", "--walk", file)
		require.NoError(t, err, out)
		var got planOut
		require.NoError(t, json.Unmarshal([]byte(out), &got))
		require.NotNil(t, got.Totals)
		return got.Totals.TurnoversSD
	}
	out, err := fairlap(t, "plan", plannedPad, summer, "--json")
	require.NoError(t, err)
	var bare planOut
	require.NoError(t, json.Unmarshal([]byte(out), &bare))
	assert.Less(t, sure("rpm,tank_psi\n1700,5\n3000,15.5\n"), bare.Totals.TurnoversSD)
	assert.LessOrEqual(t, sure("rpm,power_w\n1700,225\n3000,1120\n"), bare.Totals.TurnoversSD*1.02)
}

func TestNeedsInAFileAreToldWhatIsWrong(t *testing.T) {
	for message, text := range map[string]string{
		"can't be read as JSON": "{", "unknown field": `{"gallon": 3}`, "No price covers": `{"gallons":18000,"tariff":{"bands":[{"from":8,"to":20,"price":0.1}]}}`, "no turnover can be asked for": `{"gallons":0}`,
	} {
		file := filepath.Join(t.TempDir(), "needs.json")
		require.NoError(t, os.WriteFile(file, []byte(text), 0o600))
		_, err := fairlap(t, "plan", plannedPad, file)
		require.Error(t, err, message)
		assert.Contains(t, err.Error(), message)
	}
	file := filepath.Join(t.TempDir(), "needs.json")
	require.NoError(t, os.WriteFile(file, []byte(`{"gallons":60000,"turnovers":6}`), 0o600))
	out, err := fairlap(t, "plan", plannedPad, file)
	require.Error(t, err)
	assert.Contains(t, out, "can't be met: 6 turnovers a day")
	assert.Contains(t, out, "Ask for 0.9 turnovers a day")
}
