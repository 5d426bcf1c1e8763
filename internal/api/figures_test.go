package api

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app/exchange"
)

// A spreadsheet is read by its own marks, here or beyond the sea; what could be two
// figures is asked.
func TestSpreadsheetsOfBothSidesOfTheSea(t *testing.T) {
	head := func(by string) string {
		out := ""
		for i, c := range []string{"street", "kind", "model", "serial", "installed_on", "cost"} {
			if i > 0 {
				out += by
			}
			out += c
		}
		return out + "\n"
	}
	for name, c := range map[string]struct {
		file string
		cost map[string]float64
		asks string
	}{
		"US":                  {head(",") + "14 Quince Court,Timer,Dial A,,2020-03-01,\"1,200\"\n14 Quince Court,Timer,Dial B,,2020-03-01,89.50\n", map[string]float64{"Dial A": 1200, "Dial B": 89.5}, ""},
		"European":            {head(";") + "14 Quince Court;Timer;Dial C;;2020-03-01;1.200\n14 Quince Court;Timer;Dial D;;2020-03-01;89,50\n", map[string]float64{"Dial C": 1200, "Dial D": 89.5}, ""},
		"who knows":           {head(",") + "14 Quince Court,Timer,Dial E,,2020-03-01,\"1,200\"\n", nil, "may be 1200 or 1.2"},
		"both ways in a file": {head(";") + "14 Quince Court;Timer;Dial F;;2020-03-01;89,50\n14 Quince Court;Timer;Dial G;;2020-03-01;89.50\n14 Quince Court;Timer;Dial H;;2020-03-01;1,200\n", nil, "may be 1200 or 1.2"},
		"words":               {head(",") + "14 Quince Court,Timer,Dial I,,2020-03-01,dear\n", nil, "is not a number"},
	} {
		t.Run(name, func(t *testing.T) {
			w := serve(t)
			desk := w.as("office")
			if c.asks != "" {
				v := desk.imported("equipment.csv", c.file)
				assert.Equal(t, 1, v.Refused)
				var rows []exchange.RowOutcome
				desk.get("/api/v1/imports/"+v.ID.String()+"/rows?outcome=refused", &rows)
				require.Len(t, rows, 1)
				assert.Contains(t, sayAll(rows[0].Text)[0], c.asks)
				return
			}
			require.Equal(t, "done", desk.take("equipment.csv", c.file).State)
			parts := desk.parts()
			got := map[string]float64{}
			for _, p := range parts {
				if _, ours := c.cost[p.Model]; ours {
					require.NotNil(t, p.Cost)
					got[p.Model] = *p.Cost
				}
			}
			assert.Equal(t, c.cost, got)
		})
	}
}
