package main

import (
	"flag"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/evaluation"
)

var writeGolden = flag.Bool("write-golden", false, "write testdata/golden.txt")

// goldenStops is how many stops are held to the second decimal.
const goldenStops = 50

// Fifty stops are answered as they were: whoever moves an answer on purpose writes the file
// anew, and the change is read line by line. (The stops are of the seed for tuning; how right
// the answers are is docs/evaluation.md's.)
func TestFiftyStopsAreAnsweredAsTheyWere(t *testing.T) {
	stops, err := maker(t).Stops(goldenStops, evaluation.Evenly)
	require.NoError(t, err)
	var lines []string
	for i, s := range stops {
		said, err := evaluation.Ours(s, evaluation.Seen{Meters: evaluation.AllMeters, Speeds: 1, Looks: s.AsTheyFell()})
		require.NoError(t, err)
		var rows []string
		for _, x := range said[:min(3, len(said))] {
			rows = append(rows, fmt.Sprintf("%s %.2f", x.Fault, x.P))
		}
		lines = append(lines, fmt.Sprintf("%02d %s | %s | %s", i+1, s.Pad.Name, s.Truth, strings.Join(rows, ", ")))
	}
	if *writeGolden {
		require.NoError(t, os.WriteFile("testdata/golden.txt", []byte(strings.Join(lines, "\n")+"\n"), 0o600))
	}
	want, err := os.ReadFile("testdata/golden.txt")
	require.NoError(t, err)
	assert.Equal(t, strings.Split(strings.TrimSpace(string(want)), "\n"), lines)
}
