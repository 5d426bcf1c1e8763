package api

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"log/slog"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"fairlap/core/judge"
	"fairlap/internal/app"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/exchange"
	"fairlap/internal/app/record"
	"fairlap/internal/demo/demotest"
	"fairlap/internal/store"
)

// emptyCompany is the demo's company and its people, without any pool.
func emptyCompany(t *testing.T, w *world) *world {
	st := demotest.Empty(t)
	ctx := context.Background()
	c, err := w.town.Store.Company(ctx)
	require.NoError(t, err)
	us, err := w.town.Store.Everybody(ctx)
	require.NoError(t, err)
	require.NoError(t, st.Insert(ctx, &c, &us))
	svc := app.New(st, demotest.Now, company.World{Demo: noMeters{}})
	h, _ := New(svc, Options{Log: slog.New(slog.NewTextHandler(io.Discard, nil)), Sessions: st.Pool})
	server := httptest.NewServer(h)
	t.Cleanup(server.Close)
	return &world{t: t, town: demotest.Fixture{Store: st, Service: svc}, server: server}
}

type noMeters struct{}

func (noMeters) Read(string, float64) (judge.TypedReading, map[string]bool, bool) {
	return judge.TypedReading{}, nil, false
}

var sheetNames = []string{"pools", "equipment", "visits", "readings"}

// The town goes out as a workbook and as CSV files, comes into an empty company, and
// goes out of that the same.
func TestSpreadsheetsGoRound(t *testing.T) {
	w := serve(t)
	w.as("office").
		do("PUT", "/api/v1/pools/"+w.pool+"/about", about("=14 Quince Court", 1), nil)
		// words that look like a formula
	csv := map[string]string{}
	for _, name := range sheetNames {
		status, _, b := w.as("office").fetch("/api/v1/sheets?format=csv&table=" + name)
		require.Equal(t, 200, status)
		csv[name] = string(b)
	}
	assert.Greater(t, strings.Count(csv["readings"], "\n"), 2500)
	_, _, book := w.as("office").fetch("/api/v1/sheets?format=xlsx")
	for form, send := range map[string]func(c *client) []exchange.ImportView{
		"xlsx": func(c *client) []exchange.ImportView {
			return []exchange.ImportView{c.take("town.xlsx",
				string(book))}
		},
		"csv": func(c *client) (out []exchange.ImportView) {
			out = append(out, c.take("pools.csv", csv["pools"]), c.take("equipment.csv", csv["equipment"]))
			return append(out, c.take("visits.csv", csv["visits"]))
		},
	} {
		t.Run(form, func(t *testing.T) {
			other := emptyCompany(t, w)
			c := other.as("office")
			for _, v := range send(c) {
				require.Equal(t, "done", v.State, say(v.Text))
			}
			for _, name := range sheetNames {
				if form == "csv" && name == "readings" {
					continue // a reading comes in with its visit, in a workbook
				}
				_, _, b := c.fetch("/api/v1/sheets?format=csv&table=" + name)
				assert.Equal(t, sorted(csv[name]), sorted(string(b)), name)
			}
			again := c.imported("town.xlsx", string(book))
			for _, table := range again.Tables {
				assert.Zero(t, table.New, "a second time everything is known: %s", table.Name)
			}
			assert.Zero(t, again.Refused)
		})
	}
}

// sorted are a file's lines: of rows of one day any order is the same.
func sorted(text string) []string {
	return slices.Sorted(strings.Lines(text))
}

// take imports a file to its end.
func (c *client) take(name, file string) exchange.ImportView {
	v := c.imported(name, file)
	require.Equal(c.w.t, "read", v.State, say(v.Text))
	if v.Refused > 0 {
		var rows []exchange.RowOutcome
		c.get("/api/v1/imports/"+v.ID.String()+"/rows?outcome=refused", &rows)
		require.Zero(c.w.t, v.Refused, "%v", rows[0])
	}
	require.Equal(c.w.t, 200, c.do("POST", "/api/v1/imports/"+v.ID.String()+"/take", nil, nil))
	return c.settled(v.ID)
}

// A spoiled file of 500 rows lists its 20 bad rows and imports nothing.
func TestASpoiledSpreadsheetComesInNotAtAll(t *testing.T) {
	w := serve(t)
	c := w.as("office")
	var b strings.Builder
	b.WriteString("street;volume_gal;pump;filter;since;technician;weekday;lat;lon;note\n")
	bad := []string{
		";18000;Brisk 150 VS;Stanchion S24;;;;;;", "Bad 2;lots;Brisk 150 VS;Stanchion S24;;;;;;",
		"Bad 3;3;Brisk 150 VS;Stanchion S24;;;;;;", "Bad 4;18000;No Such Pump;Stanchion S24;;;;;;",
		"Bad 5;18000;;Stanchion S24;;;;;;", "Bad 6;18000;Brisk 150 VS;Stanchion S24;24.11.2026;;;;;",
		"Bad 7;18000;Brisk 150 VS;Stanchion S24;" + demotest.Now().AddDate(0, 0, 38).Format(time.DateOnly) + ";;;;;",
		"Bad 8;18000;Brisk 150 VS;Stanchion S24;;nobody;;;;",
		"Bad 9;18000;Brisk 150 VS;Stanchion S24;;;someday;;;", "Bad 10;18000;Brisk 150 VS;Stanchion S24;;;;33,4;;",
		"Bad 11;18000;Brisk 150 VS;Stanchion S24;;;;99;1;", "7 New Row;18000;Brisk 150 VS;Stanchion S24;;;;;;",
		"40 Fennel Walk;15555;Brisk 150 VS;Stanchion S20;;;;;;", "Bad 14;18000;Brisk 150 VS;Stanchion S24;;osei;;;;",
		strings.Repeat("x", 200) + ";18000;Brisk 150 VS;Stanchion S24;;;;;;",
		"Bad 16;1e999;Brisk 150 VS;Stanchion S24;;;;;;",
		"Bad 17;NaN;Brisk 150 VS;Stanchion S24;;;;;;", "Bad 18;18000;Brisk 150 VS;;;;;;;",
		"Bad 19;;Brisk 150 VS;Stanchion S24;;;;;;", "Bad 20;18000;Brisk 150 VS;Stanchion S24;;;;;;;too many",
	}
	for i := range 480 {
		fmt.Fprintf(&b, "%d New Row;18.500,0;Brisk 150 VS;Stanchion S24;;;;;;<script>alert(1)</script>\n", i+1)
		if i%24 == 11 {
			b.WriteString(bad[i/24] + "\n")
		}
	}
	text := strings.ReplaceAll(b.String(), "18.500,0", "18500,5")
	v := c.imported("pools.csv", text)
	require.Equal(t, "read", v.State, say(v.Text))
	assert.Equal(t, 20, v.Refused)
	assert.Equal(t, []exchange.ImportTable{{Name: "pools", New: 480, Refused: 20}}, v.Tables)
	var rows []exchange.RowOutcome
	c.get("/api/v1/imports/"+v.ID.String()+"/rows?outcome=refused", &rows)
	require.Len(t, rows, 20)
	for i, r := range rows {
		assert.NotEmpty(t, r.Text, "row %d", r.Line)
		assert.Equal(t, 14+25*i, r.Line, "where a reader finds it: %v", sayAll(r.Text))
	}
	var p problemBody
	assert.Equal(t, 422, c.do("POST", "/api/v1/imports/"+v.ID.String()+"/take", nil, &p))
	assert.Contains(t, p.at("file"), "have problems")
	var found access.Page[record.PoolLine]
	c.get("/api/v1/pools?find=new+row", &found)
	assert.Empty(t, found.Items, "nothing half-imported")
	for _, line := range bad {
		text = strings.Replace(text, line+"\n", "", 1)
	}
	done := c.take("pools.csv", text)
	require.Equal(t, "done", done.State, say(done.Text))
	c.get("/api/v1/pools?find=new+row&size=200", &found)
	assert.Equal(t, 480, found.Total)
	assert.Len(t, found.Items, 200, "a page holds no more")
	var pool record.PoolRecordView
	c.get("/api/v1/pools/"+found.Items[0].ID, &pool)
	assert.InDelta(t, 18500.5, pool.Pool.Gallons, 0.1)
}

func TestAVisitInASpreadsheetTellsTheFiltersLoad(t *testing.T) {
	w := serve(t)
	c := w.as("office")
	f := excelize.NewFile()
	require.NoError(t, f.SetSheetName("Sheet1", "Visits"))
	rows := [][]any{
		{"visit", "street", "technician", "arrived_at", "cleaned", "works", "signs"},
		{"v1", "14 Quince Court", "brandt", 45292.4375, "yes", "basket; part: new ring", "air-in-pot=no"},
		{"v2", "14 Quince Court", "brandt", "2024-01-08 10:30", "no", "", ""},
	}
	for i, r := range rows {
		require.NoError(t, f.SetSheetRow("Visits", fmt.Sprintf("A%d", i+1), &r))
	}
	_, err := f.NewSheet("Readings")
	require.NoError(t, err)
	for i, r := range [][]any{{"visit", "phase", "rpm", "tank_psi"}, {"v1", "found", 2400, "17,5"},
		{"v1", "after", 2400, 12.5}, {"v2", "found", 2400, 13}, {"v3", "found", 2400, 13}} {
		require.NoError(t, f.SetSheetRow("Readings", fmt.Sprintf("A%d", i+1), &r))
	}
	var b bytes.Buffer
	_, err = f.WriteTo(&b)
	require.NoError(t, err)
	v := c.imported("old.xlsx", b.String())
	assert.Equal(t, 1, v.Refused, "a reading of no visit")
	require.NoError(t, f.RemoveRow("Readings", 5))
	b.Reset()
	_, err = f.WriteTo(&b)
	require.NoError(t, err)
	require.Equal(t, "done", c.take("old.xlsx", b.String()).State)
	var page record.LogPage
	c.get(
		"/api/v1/pools/"+w.pool+"/log?kind=visit&from="+store.Cursor{
			At: time.Date(2024, 2, 1, 0, 0, 0, 0, time.UTC),
		}.String(),
		&page,
	)
	require.Len(t, page.Entries, 2)
	first := page.Entries[1].Visit
	assert.Equal(
		t,
		"2024-01-01T17:30:00Z",
		first.ArrivedAt.UTC().Format("2006-01-02T15:04:05Z"),
		"a spreadsheet's number of days, in the company's zone",
	)
	require.NotNil(t, first.Load)
	require.NotNil(t, first.LoadAfter)
	assert.Greater(t, *first.Load, *first.LoadAfter+0.3)
	assert.Len(t, first.Works, 3)
}

func TestAFileThatIsNoneIsToldInWords(t *testing.T) {
	w := serve(t)
	c := w.as("office")
	for text, file := range map[string]string{"not a table": "\x00\x01\x02",
		"no list of customers": "a,b\n1,2\n", "damaged": "PK\x03\x04 rest"} {
		v := c.imported("x.csv", file)
		assert.Equal(t, "failed", v.State)
		assert.Contains(t, say(v.Text), text)
	}
	var p problemBody
	assert.Equal(t, 400, c.do("POST", "/api/v1/imports?name=x.csv", raw(""), &p))
	assert.Equal(t, "This is empty.", p.Detail)
	id := w.importing().String()
	assert.Equal(t, 404, w.as("owner").do("GET", "/api/v1/imports/"+id, nil, nil), "somebody else's")
}
