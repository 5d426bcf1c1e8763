package api

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app/exchange"
)

// list has a customer list read, and gives what becomes of its rows.
func (c *client) list(name, file string) (exchange.ImportView, []exchange.RowOutcome) {
	v := c.imported(name, file)
	return v, c.rowsOf(v)
}

func (c *client) rowsOf(v exchange.ImportView) []exchange.RowOutcome {
	var rows []exchange.RowOutcome
	c.get("/api/v1/imports/"+v.ID.String()+"/rows", &rows)
	return rows
}

// choose decides about a list and waits until it is read again.
func (c *client) choose(v exchange.ImportView, choices exchange.ImportChoices) exchange.ImportView {
	var out exchange.ImportView
	require.Equal(c.w.t, http.StatusOK, c.do("PUT", "/api/v1/imports/"+v.ID.String()+"/choices", choices, &out))
	return c.settled(out.ID)
}

const usualList = `Customer Name,Address,City,State,Zip,Phone,Email,Service Day,Gallons,Tech
Dana Marsh,9 Alder Run,Cedar Hollow,AZ,00412,555-0171,dana@marsh.example,Tu/Th,18000,Mateo
Ines Calder,41 Fern Hill,Cedar Hollow,AZ,00413,555-0178,ines@calder.example,Mon,1800O,Rosa
Paul Greene,,Cedar Hollow,AZ,00413,555-0179,,Wed,12000,Rosa
Lena Foss,3 Orchard Bend,Cedar Hollow,AZ,00413,555-0180,lena@foss.example,Wed,,Javi
Otto Reyes,17 Wren Street,Cedar Hollow,AZ,00412,555-0181,otto@reyes.example,Fri,9000,Rosa
Otto Reyes,17 Wren Street,Cedar Hollow,AZ,00412,555-0181,otto@reyes.example,Fri,9000,Rosa
Tess Kimura,8 Lower Mill Lane,Cedar Hollow,AZ,00412,555-0182,tess@kimura,Thu,15000,Rosa Osei
`

// A usual customer list comes into an empty company: with what a row lacks said, but for a street. Twice it
// changes nothing, and it can be taken back and come in again.
func TestACustomerListComesIn(t *testing.T) {
	w := empty(t)
	rosa := w.owner()
	v, rows := rosa.list("customers-oct.csv", usualList)
	require.Equal(t, "read", v.State, "%s", v.Text)
	require.Len(t, v.Columns, 10)
	assert.Equal(t, []string{"Mateo", "Javi"}, v.Missing)
	assert.Equal(t, 2, v.Refused)
	byLine := map[int]exchange.RowOutcome{}
	for _, r := range rows {
		byLine[r.Line] = r
	}
	says := func(line int) string { return fmt.Sprint(byLine[line].Text) }
	assert.Equal(t, "gap", byLine[2].Outcome)
	assert.Contains(t, says(2), "Tu/Th")
	assert.Contains(t, says(2), "Tuesday")
	assert.Contains(t, says(3), "18,000")
	assert.Equal(t, "refused", byLine[4].Outcome)
	assert.Contains(t, says(4), "no street")
	assert.Contains(t, says(5), "Javi")
	assert.Contains(t, says(7), "row 6")
	assert.Contains(t, says(8), "email")
	assert.Equal(t, "Cedar Hollow, AZ 00412", byLine[2].Cells[exchange.FieldCity], "a ZIP keeps its zeros")

	assert.Equal(t, 422, rosa.do("POST", "/api/v1/imports/"+v.ID.String()+"/take", nil, nil), "two rows are refused")
	v = rosa.choose(v, exchange.ImportChoices{People: true,
		Fixes: map[string]map[exchange.Field]string{"4": {exchange.FieldStreet: "5 Fern Hill"}, "2": {exchange.FieldDay: "Thu"}}})
	require.Equal(t, "read", v.State)
	assert.Equal(t, 1, v.Refused)
	assert.Empty(t, v.Missing, "they come in too")
	require.Equal(t, 200, rosa.do("POST", "/api/v1/imports/"+v.ID.String()+"/take?leaveOut=true", nil, nil))
	v = rosa.settled(v.ID)
	require.Equal(t, "done", v.State, "%s", v.Text)
	assert.Equal(t, 6, v.Pools)
	require.NotNil(t, v.Until)
	assert.Len(t, rosa.pools(), 6)
	var staff []struct{ Name, Role string }
	rosa.get("/api/v1/people", &staff)
	assert.Len(t, staff, 3, "Mateo and Javi, to be invited")

	again, rows := rosa.list("customers-oct.csv", usualList)
	for _, r := range rows {
		assert.Contains(t, []string{"known", "refused"}, r.Outcome, "%d: %s", r.Line, r.Text)
	}
	assert.Equal(t, 0, again.Total, "nothing to write")

	var back exchange.ImportView
	require.Equal(t, 200, rosa.do("POST", "/api/v1/imports/"+v.ID.String()+"/withdrawal", nil, &back))
	assert.Nil(t, back.Until)
	assert.Empty(t, rosa.pools())
	require.Equal(t, 200, rosa.do("POST", "/api/v1/imports/"+v.ID.String()+"/withdrawal", nil, nil), "twice is once")
	v, _ = rosa.list("customers-oct.csv", usualList)
	require.Equal(t, 200, rosa.do("POST", "/api/v1/imports/"+v.ID.String()+"/take?leaveOut=true", nil, nil))
	require.Equal(t, "done", rosa.settled(v.ID).State)
	assert.Len(t, rosa.pools(), 5)
}

// Lists as they are about: nothing of them is lost in silence. Each row comes in, or says why not.
func TestOddListsLoseNothingInSilence(t *testing.T) {
	latin := "Nombre;Direcci\xf3n;D\xeda\nIn\xe9s;Calle Roble 41;mi\xe9rcoles\n"
	for name, x := range map[string]struct {
		list     string
		in, held int
	}{
		"one column of addresses":    {"Address\n\"9 Alder Run, Cedar Hollow, AZ 00412\"\n\"7 Wren St, Cedar Hollow, AZ 00412\"\n", 2, 0},
		"tabs":                       {"Client\tStreet\nDana\t9 Alder Run\n", 1, 0},
		"semicolons in Latin-1":      {latin, 1, 0},
		"pipes and an empty line":    {"Name|Address\n\nDana|9 Alder Run\n\n", 1, 0},
		"a title over the head":      {"Customers October,,\nName,Address,Phone\nDana,9 Alder Run,555-0171\n", 1, 0},
		"first and last name":        {"First Name,Last Name,Service Address\nDana,Marsh,9 Alder Run\n", 1, 0},
		"house number by itself":     {"Name,House No,Street\nDana,9,Alder Run\n", 1, 0},
		"numbers for days":           {"Name,Address,Day\nDana,9 Alder Run,2\nPaul,7 Wren St,5\n", 2, 0},
		"Spanish days":               {"Cliente,Calle,Día\nDana,Roble 41,lunes\nPaul,Fresno 2,sábado\n", 2, 0},
		"liters":                     {"Nombre,Dirección,Litros\nDana,Roble 41,68.000\n", 1, 0},
		"volume with letters":        {"Name,Address,Gallons\nDana,9 Alder Run,18k gal\nPaul,7 Wren St,about 20\n", 2, 0},
		"dimensions":                 {"Name,Address,Dimensions\nDana,9 Alder Run,16 x 32 x 5\n", 1, 0},
		"American dates":             {"Name,Address,Customer Since\nDana,9 Alder Run,5/13/2024\n", 1, 0},
		"three pools at one address": {"Name,Address\nDana,9 Alder Run\nPaul,9 Alder Run\nTess,9 Alder Run\n", 3, 0},
		"the same row twice":         {"Name,Address\nDana,9 Alder Run\nDana,9 Alder Run\n", 1, 1},
		"rows without a street":      {"Name,Address,Phone\nDana,,555-0171\nPaul,7 Wren St,555-0172\n", 1, 1},
		"more cells than headings":   {"Name,Address\nDana,9 Alder Run,surplus\nPaul,7 Wren St\n", 1, 1},
		"quotes and commas":          {"Name,Address\n\"Marsh, Dana\",\"9 Alder Run\"\n", 1, 0},
		"a formula-like name":        {"Name,Address\n'=Dana,9 Alder Run\n", 1, 0},
		"letters of another script":  {"Name,Address\n李雷,9 Alder Run\n", 1, 0},
		"a very long note":           {"Name,Address,Gate\nDana,9 Alder Run," + strings.Repeat("x", 900) + "\n", 1, 0},
	} {
		t.Run(name, func(t *testing.T) {
			w := empty(t)
			rosa := w.owner()
			v, rows := rosa.list("list.csv", x.list)
			require.Equal(t, "read", v.State, "%s", v.Text)
			in, held := 0, 0
			for _, r := range rows {
				switch r.Outcome {
				case "new", "gap":
					in++
				case "refused":
					held++
					assert.NotEmpty(t, r.Text, "row %d says why", r.Line)
				}
			}
			assert.Equal(t, x.in, in, "%+v", rows)
			assert.Equal(t, x.held, held)
			require.Equal(t, 200, rosa.do("POST", "/api/v1/imports/"+v.ID.String()+"/take?leaveOut=true", nil, nil))
			require.Equal(t, "done", rosa.settled(v.ID).State)
			assert.Len(t, rosa.pools(), x.in)
		})
	}
}

// Sixty pools without a pad are first-class: each page and list of theirs answers, their stops are on the week, and
// no page says anything of what nobody described.
func TestPoolsWithoutAPadAreFirstClass(t *testing.T) {
	w := empty(t)
	rosa := w.owner()
	var b strings.Builder
	out := csv.NewWriter(&b)
	require.NoError(t, out.Write([]string{"Customer", "Svc Address", "Svc Day", "Tech", "Gals"}))
	days := []string{"Mon", "Tue", "Wed", "Thu", "Fri"}
	for n := range 60 {
		require.NoError(t, out.Write([]string{fmt.Sprintf("Customer %c%d", 'A'+n%26, n), fmt.Sprintf("%d Alder Run", 100+n),
			days[n%5], "Rosa", "15000"}))
	}
	out.Flush()
	v, _ := rosa.list("list.csv", b.String())
	require.Equal(t, 0, v.Refused)
	require.Equal(t, 200, rosa.do("POST", "/api/v1/imports/"+v.ID.String()+"/take", nil, nil))
	require.Equal(t, "done", rosa.settled(v.ID).State)
	pools := rosa.pools()
	require.NotEmpty(t, pools)
	id := pools[0].ID
	_, doc := New(w.town.Service, Options{Version: "test"})
	for path, item := range doc.OpenAPI().Paths {
		if item.Get == nil || !strings.HasPrefix(path, "/api/v1/pools/{id}") || strings.Count(path, "{") > 1 {
			continue
		}
		query := ""
		for _, p := range item.Get.Parameters {
			if p.Required && p.In == "query" {
				query = "?" + p.Name + "=1"
			}
		}
		status, _, body := rosa.fetch(strings.Replace(path, "{id}", id, 1) + query)
		assert.Less(t, status, 500, "%s: %s", path, body)
	}
	var lap struct {
		Stops []struct{ ID, PoolID string }
	}
	rosa.get("/api/v1/lap", &lap)
	require.Len(t, lap.Stops, 12, "a fifth of them on each day")
	var bench struct {
		Pad     struct{ Described bool }
		Notices []string
		Verdict struct {
			State, Says string
			Suspects    []any
			Next        []any
		}
	}
	rosa.get("/api/v1/stops/"+lap.Stops[0].ID, &bench)
	assert.False(t, bench.Pad.Described)
	assert.Equal(t, "undescribed", bench.Verdict.State)
	assert.Contains(t, bench.Verdict.Says, "No one has described this pad")
	assert.Empty(t, bench.Verdict.Suspects)
	assert.Empty(t, bench.Verdict.Next)
	assert.Empty(t, bench.Notices)
	var work struct{ Procedures []any }
	rosa.get("/api/v1/pools/"+lap.Stops[0].PoolID+"/work", &work)
	assert.Empty(t, work.Procedures, "nobody knows the way around a pad not described")
	diagnose := map[string]any{"readings": []map[string]string{{"speed": "2400", "tank": "55", "vacuum": "", "flow": "", "power": ""}}, "signs": map[string]bool{}}
	var said struct {
		State   string
		Dangers []struct{ Code string }
	}
	var raw json.RawMessage
	status := rosa.do("POST", "/api/v1/stops/"+lap.Stops[0].ID+"/diagnosis", diagnose, &raw)
	require.Equal(t, 200, status, string(raw))
	require.NoError(t, json.Unmarshal(raw, &said))
	assert.Equal(t, "stop", said.State, "a tank over 50 psi is one on any pad")
}
