package api

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"image"
	"image/png"
	"io"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/exchange"
	"fairlap/internal/app/office"
	"fairlap/internal/app/padwork"
	"fairlap/internal/app/papers"
	"fairlap/internal/app/photo"
	"fairlap/internal/app/record"
	"fairlap/internal/app/route"
	"fairlap/internal/demo/demotest"
	"fairlap/internal/paper"
)

// raw is a body that is sent as it is.
type raw string

func picture(w, h int) raw {
	var b bytes.Buffer
	if err := png.Encode(&b, image.NewRGBA(image.Rect(0, 0, w, h))); err != nil {
		panic(err)
	}
	return raw(b.String())
}

// fetch gives an answer as it comes.
func (c *client) fetch(path string) (int, string, []byte) {
	res, err := c.http.Get(c.w.server.URL + path)
	require.NoError(c.w.t, err)
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	require.NoError(c.w.t, err)
	return res.StatusCode, res.Header.Get("Content-Type"), b
}

func about(street string, version int) map[string]any {
	return map[string]any{
		"street":       street,
		"gallons":      18600,
		"surface":      "plaster",
		"inGround":     true,
		"accessNote":   "x",
		"weekday":      2,
		"minutes":      30,
		"lapOrder":     1,
		"lat":          nil,
		"lon":          nil,
		"seasonOpens":  "",
		"seasonCloses": "",
		"version":      version,
	}
}

func officeOf(version int) map[string]any {
	return map[string]any{
		"name":            "Pellam Ridge Pool Care",
		"timeZone":        "America/Phoenix",
		"units":           "us",
		"currency":        "$",
		"phone":           "555 0100",
		"waterPerKgal":    8,
		"labourPerHour":   60,
		"energyPerKwh":    0.2,
		"straightRun":     "installer",
		"cellClear":       false,
		"keepPhotosYears": 0,
		"keepPeopleYears": 0,
		"version":         version,
	}
}

func customer(name string) map[string]any {
	return map[string]any{
		"id":      uuid.NewString(),
		"name":    name,
		"phone":   "555 0101",
		"email":   "",
		"note":    "",
		"version": 0,
		"erased":  false,
	}
}

func (w *world) photo() string {
	id := uuid.NewString()
	require.Equal(w.t, 200, w.as("owner").do("POST", "/api/v1/pools/"+w.pool+"/photos?photo="+id, picture(60, 40), nil))
	return id
}

func (w *world) link() papers.LinkView {
	var l papers.LinkView
	require.Equal(w.t, 200, w.as("office").do("POST", "/api/v1/pools/"+w.pool+"/links", map[string]int{"days": 30}, &l))
	return l
}

func (w *world) customer() string {
	c := customer("A. Customer")
	require.Equal(w.t, 200, w.as("office").do("PUT", "/api/v1/customers", c, nil))
	return c["id"].(string)
}

func (w *world) importing() uuid.UUID {
	var v exchange.ImportView
	require.Equal(
		w.t,
		200,
		w.as("office").do("POST", "/api/v1/imports?name=pools.csv", raw("street,volume_gal\nA 1,9000\n"), &v),
	)
	return v.ID
}

// imported sends a file and waits for its dry run.
func (c *client) imported(name, file string) exchange.ImportView {
	var v exchange.ImportView
	require.Equal(c.w.t, 200, c.do("POST", "/api/v1/imports?name="+name, raw(file), &v))
	return c.settled(v.ID)
}

func (c *client) settled(id uuid.UUID) exchange.ImportView {
	var v exchange.ImportView
	require.Eventually(c.w.t, func() bool {
		c.get("/api/v1/imports/"+id.String(), &v)
		return v.State != "reading" && v.State != "writing"
	}, time.Minute, 20*time.Millisecond)
	return v
}

func TestTwoDesksAtOnePool(t *testing.T) {
	w := serve(t)
	path := "/api/v1/pools/" + w.pool + "/about"
	desk, owner := w.as("office"), w.as("owner")
	var v record.PoolAbout
	require.Equal(t, 200, desk.do("PUT", path, about("14a Quince Court", 1), &v))
	assert.Equal(t, "14a Quince Court", v.Street)
	assert.Contains(t, say(v.Changes[0].Text), "the street from 14 Quince Court to 14a Quince Court")
	assert.NotContains(t, say(v.Changes[0].Text), "Side gate", "a way in is named, not quoted")
	var p problemBody
	require.Equal(t, 409, owner.do("PUT", path, about("14b Quince Court", 1), &p))
	var stands record.PoolAbout
	require.NoError(t, json.Unmarshal(p.Errors[0].Value, &stands))
	assert.Equal(t, "14a Quince Court", stands.Street, "the second sees both versions")
	require.Equal(t, 200, owner.do("PUT", path, about("14b Quince Court", stands.Version), nil), "and chooses")
	for field, spoil := range map[string]func(map[string]any){
		"street":       func(m map[string]any) { m["street"] = " " },
		"gallons":      func(m map[string]any) { m["gallons"] = 3 },
		"minutes":      func(m map[string]any) { m["minutes"] = 0 },
		"lon":          func(m map[string]any) { m["lat"] = 33.4 },
		"seasonCloses": func(m map[string]any) { m["seasonOpens"] = "04-15" },
		"customerId":   func(m map[string]any) { m["customerId"] = uuid.NewString() },
		"technicianId": func(m map[string]any) { m["technicianId"] = uuid.NewString() },
	} {
		body := about("14 Quince Court", stands.Version+1)
		spoil(body)
		var p problemBody
		assert.Equal(t, 422, desk.do("PUT", path, body, &p), field)
		assert.NotEmpty(t, p.at(field), field)
	}
	body := about("40 Fennel Walk", stands.Version+1)
	assert.Equal(t, 422, desk.do("PUT", path, body, &p))
	assert.Contains(t, p.at("which"), "at this street already")
}

func TestAnArchivedPoolIsLeftAloneAndComesBack(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	count := func() (n int) {
		pools := desk.pools()
		return len(pools)
	}
	before := count()
	var v record.PoolAbout
	require.Equal(
		t,
		200,
		desk.do("PUT", "/api/v1/pools/"+w.pool+"/archived", map[string]any{"archived": true, "version": 1}, &v),
	)
	require.NotNil(t, v.ArchivedAt)
	assert.Equal(t, before-1, count())
	var found access.Page[record.PoolLine]
	desk.get("/api/v1/pools?find=quince", &found)
	require.Len(t, found.Items, 1, "never deleted")
	assert.True(t, found.Items[0].Archived)
	require.Equal(
		t,
		200,
		desk.do(
			"PUT",
			"/api/v1/pools/"+w.pool+"/archived",
			map[string]any{"archived": false, "version": v.Version},
			nil,
		),
	)
	assert.Equal(t, before, count())
}

func TestPoolsAreFoundByStreetCustomerModelAndPart(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	id := w.customer()
	body := about("14 Quince Court", 1)
	body["customerId"] = id
	require.Equal(t, 200, desk.do("PUT", "/api/v1/pools/"+w.pool+"/about", body, nil))
	for q, want := range map[string]string{"quin": "14 Quince Court", "a. customer": "14 Quince Court", "halide quince": "14 Quince Court", "lattice tamarack": "61 Tamarack Street", "zinc quince": "14 Quince Court"} {
		var found access.Page[record.PoolLine]
		desk.get("/api/v1/pools?find="+strings.ReplaceAll(q, " ", "%20"), &found)
		require.NotEmpty(t, found.Items, q)
		assert.Equal(t, want, found.Items[0].Street, q)
	}
	var found access.Page[record.PoolLine]
	desk.get("/api/v1/pools?find=%25", &found)
	assert.Empty(t, found.Items, "a sign of the pattern is a letter like any other")
	w.other().get("/api/v1/pools?find=quince", &found)
	assert.Empty(t, found.Items, "another technician's pool")
}

func TestACustomerIsErasedAndTheRecordStays(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	id := w.customer()
	body := about("14 Quince Court", 1)
	body["customerId"] = id
	require.Equal(t, 200, desk.do("PUT", "/api/v1/pools/"+w.pool+"/about", body, nil))
	link := w.link()
	visits := len(w.log("kind=visit"))
	require.Equal(t, 200, w.nobody().do("GET", "/api/v1/shared/"+link.Secret, nil, nil))
	require.Less(t, desk.do("POST", "/api/v1/customers/"+id+"/erased", nil, nil), 300)
	var v record.PoolAbout
	desk.get("/api/v1/pools/"+w.pool+"/about", &v)
	assert.Equal(t, "", v.Customer.Name+v.Customer.Phone+v.AccessNote)
	assert.True(t, v.Customer.Erased)
	assert.Len(t, w.log("kind=visit"), visits)
	assert.Equal(t, 404, w.nobody().do("GET", "/api/v1/shared/"+link.Secret, nil, nil), "their link ends with it")
	_, _, trail := desk.fetch("/api/v1/audit")
	assert.NotContains(t, string(trail), "A. Customer", "the trail names no erased person")
	assert.Equal(
		t,
		409,
		desk.do(
			"PUT",
			"/api/v1/customers",
			map[string]any{
				"id":      id,
				"name":    "A. Customer",
				"phone":   "",
				"email":   "",
				"note":    "",
				"version": 2,
				"erased":  false,
			},
			nil,
		),
		"and stays erased",
	)
	var p problemBody
	bad := customer("B")
	bad["email"] = "not an address"
	assert.Equal(t, 422, desk.do("PUT", "/api/v1/customers", bad, &p))
	assert.NotEmpty(t, p.at("email"))
}

func TestACustomersLinkShowsItsOwnPoolAlone(t *testing.T) {
	w := serve(t)
	link := w.link()
	photo := w.photo()
	guest := w.nobody()
	var v papers.SharedView
	guest.get("/api/v1/shared/"+link.Secret, &v)
	assert.Equal(t, "14 Quince Court", v.Street)
	var other route.LapView
	w.as("technician").get("/api/v1/lap", &other)
	foreign := other.Stops[1].PoolID
	for _, paper := range v.Papers {
		status, _, b := guest.fetch(fmt.Sprintf("/api/v1/shared/%s/papers/%s?of=%s", link.Secret, paper.Kind, paper.Of))
		assert.Equal(t, 200, status, say(paper.Name))
		assert.NotContains(t, string(b), "Side gate", "how to get in is nowhere public")
	}
	var log record.LogPage
	w.as("owner").get("/api/v1/pools/"+foreign+"/log?kind=visit", &log)
	status, _, _ := guest.fetch("/api/v1/shared/" + link.Secret + "/papers/visit?of=" + log.Entries[0].ID)
	assert.Equal(t, 404, status, "another pool's visit")
	for _, path := range []string{"/api/v1/pools/" + w.pool, "/api/v1/pools/" + w.pool + "/about", "/api/v1/photos/" + photo, "/api/v1/pools/" + w.pool + "/papers/owner"} {
		status, _, _ := guest.fetch(path)
		assert.Equal(t, 401, status, path)
	}
	status, kind, _ := guest.fetch("/api/v1/shared/" + link.Secret + "/photo")
	assert.Equal(t, 200, status)
	assert.Equal(t, "image/jpeg", kind)
	status, _, _ = guest.fetch("/api/v1/shared/" + strings.Repeat("A", 43))
	assert.Equal(t, 404, status, "a guessed one")
	// An expired one, and a revoked one.
	old := w.link()
	_, err := w.town.Store.Pool.Exec(
		context.Background(),
		"update pool_links set expires_at = $2 where id = $1",
		old.ID,
		demotest.Now().Add(-42*time.Minute),
	)
	require.NoError(t, err)
	require.Less(t, w.as("office").do("DELETE", "/api/v1/pools/"+w.pool+"/links/"+link.ID, nil, nil), 300)
	for _, l := range []papers.LinkView{old, link} {
		for _, rest := range []string{"", "/photo", "/papers/owner", "/papers/owner/pdf"} {
			status, _, _ := guest.fetch("/api/v1/shared/" + l.Secret + rest)
			assert.Equal(t, 404, status, rest)
		}
	}
	var p problemBody
	assert.Equal(t, 422, w.as("office").do("POST", "/api/v1/pools/"+w.pool+"/links", map[string]int{"days": 9000}, &p))
	assert.NotEmpty(t, p.at("days"))
}

func TestPapersSayWhatTheRecordSays(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	words := func(kind string) string {
		var d paper.Page
		c.get("/api/v1/pools/"+w.pool+"/papers/"+kind, &d)
		b, err := json.Marshal(d)
		require.NoError(t, err)
		assert.NotContains(t, string(b), "Side gate")
		return string(b)
	}
	assert.Contains(t, words("owner"), "Never turn the filter valve")
	assert.Contains(t, words("report"), "Halide 40")
	var plan padwork.PlanView
	c.get("/api/v1/pools/"+w.pool+"/plan", &plan)
	said := regexp.MustCompile(`about ([0-9.]+) kWh a day`).FindStringSubmatch(words("season"))
	require.Len(t, said, 2)
	kwh, err := strconv.ParseFloat(said[1], 64)
	require.NoError(t, err)
	assert.InEpsilon(
		t,
		plan.Present.Totals.KWh,
		kwh,
		0.06,
		"the season's paper and the speed plan weigh the same programme",
	)
	assert.Contains(t, words("visit"), "What the gauges said")
	status, kind, pdf := c.fetch("/api/v1/pools/" + w.pool + "/papers/report/pdf")
	assert.Equal(t, 200, status)
	assert.Equal(t, "application/pdf", kind)
	assert.True(t, bytes.HasPrefix(pdf, []byte("%PDF-")))
	metric := officeOf(1)
	metric["units"] = "metric"
	require.Equal(t, 200, w.as("office").do("PUT", "/api/v1/office", metric, nil))
	assert.Contains(t, words("visit"), " bar")
	assert.NotContains(t, words("season"), " gal")
}

func TestPicturesNeedASessionOrALink(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	path := "/api/v1/pools/" + w.pool + "/photos?photo="
	id := uuid.NewString()
	var v photo.PhotoView
	require.Equal(t, 200, c.do("POST", path+id+"&caption=Pad%20from%20the%20gate", picture(2000, 1000), &v))
	assert.Equal(t, [2]int{1600, 800}, [2]int{v.Width, v.Height})
	require.Equal(t, 200, c.do("POST", path+id, picture(2000, 1000), nil), "sent twice is kept once")
	var a record.PoolAbout
	c.get("/api/v1/pools/"+w.pool+"/about", &a)
	require.Len(t, a.Photos, 1)
	assert.Equal(t, id, a.Photo, "the first stands for the pool")
	for text, file := range map[string]raw{"not a picture we can read": "<svg onload=alert(1)>", "The most is 12 MB": raw(strings.Repeat("x", 12<<20+1))} {
		var p problemBody
		assert.Equal(t, 422, c.do("POST", path+uuid.NewString(), file, &p))
		assert.Contains(t, p.at("photo"), text)
	}
	var p problemBody
	assert.Equal(t, 413, c.do("POST", path+uuid.NewString(), raw(strings.Repeat("x", 40<<20)), &p))
	assert.Contains(t, p.Detail, "Pictures may have 12 MB")
	assert.Equal(t, 422, c.do("POST", path+uuid.NewString()+"&visit="+uuid.NewString(), picture(3, 3), &p))
	assert.NotEmpty(t, p.at("visit"))
	desk := w.as("office")
	assert.Equal(t, 403, c.do("POST", "/api/v1/photos/"+id+"/gone", map[string]string{"why": "x"}, nil))
	assert.Equal(t, 422, desk.do("POST", "/api/v1/photos/"+id+"/gone", map[string]string{"why": " "}, nil))
	require.Less(t, desk.do("POST", "/api/v1/photos/"+id+"/gone", map[string]string{"why": "shows a face"}, nil), 300)
	status, _, _ := c.fetch("/api/v1/photos/" + id)
	assert.Equal(t, 404, status)
	gone := w.log("kind=photo")
	require.Len(t, gone, 1, "that it was there stays in the log")
	assert.Contains(t, say(gone[0].Detail), "shows a face")
	var left int
	require.NoError(
		t,
		w.town.Store.Pool.QueryRow(context.Background(), "select count(*) from photo_contents").Scan(&left),
	)
	assert.Zero(t, left)
}

func TestTheLogHoldsEverythingAndIsSearched(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	require.Equal(
		t,
		200,
		c.do(
			"POST",
			"/api/v1/pools/"+w.pool+"/parts",
			map[string]any{
				"id":    uuid.NewString(),
				"act":   "install",
				"kind":  "Timer",
				"model": "Dial 2",
				"on":    demotest.On("2026-11-20"),
			},
			nil,
		),
	)
	note := uuid.NewString()
	require.Less(
		t,
		c.do(
			"POST",
			"/api/v1/pools/"+w.pool+"/notes",
			map[string]string{"id": note, "text": "Heron nests by the pump."},
			nil,
		),
		300,
	)
	w.photo()
	w.run()
	require.Equal(
		t,
		200,
		c.do(
			"POST",
			"/api/v1/pools/"+w.pool+"/due-marks",
			map[string]any{"id": uuid.NewString(), "item": "clean-line", "act": "done", "reason": ""},
			nil,
		),
	)
	kinds := map[string]bool{}
	for _, e := range w.log("") {
		kinds[e.Kind] = true
		assert.NotEmpty(t, e.By, "%s: who", e.Kind)
		assert.False(t, e.At.IsZero(), "%s: when", e.Kind)
	}
	for _, k := range []string{"visit", "run", "part", "note", "photo", "due"} {
		assert.True(t, kinds[k], k)
	}
	found := w.log("find=heron%20pump")
	require.Len(t, found, 1)
	assert.Equal(t, note, found[0].ID)
	assert.Len(t, w.log("kind=part&find=dial"), 1)
	assert.Empty(t, w.log("kind=part&find=heron"))
	// Paged: the pages together are the whole, no entry twice.
	seen := map[string]bool{}
	from := ""
	for {
		var page record.LogPage
		c.get("/api/v1/pools/"+w.pool+"/log?kind=visit"+from, &page)
		for _, e := range page.Entries {
			assert.False(t, seen[e.ID])
			seen[e.ID] = true
		}
		if page.Next == "" {
			break
		}
		from = "&from=" + page.Next
	}
	var pool record.PoolRecordView
	c.get("/api/v1/pools/"+w.pool, &pool)
	assert.Len(t, seen, pool.VisitCount)
}

// A log and a trail of 500 entries of one moment are read whole, page by page.
func TestEntriesOfOneMomentArePagedWhole(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	w.sql(
		"insert into notes (id, pool_id, text, made_by, made_at) select gen_random_uuid(), $1, 'rain ' || n, (select id from users limit 1), $2::timestamptz from generate_series(1, 500) n",
		w.pool,
		demotest.At("2026-11-20 03:00:00"),
	)
	w.sql(
		"insert into audit (id, at, act, says) select gen_random_uuid(), $1::timestamptz, 'company', 'x' from generate_series(1, 500)",
		demotest.At("2026-11-20 03:00:00"),
	)
	type page struct {
		Entries []struct{ ID string }
		Next    string
	}
	for path, most := range map[string]int{"/api/v1/pools/" + w.pool + "/log?find=rain": 25, "/api/v1/audit?": 50} {
		seen := map[string]bool{}
		for from := ""; ; {
			var p page
			desk.get(path+from, &p)
			require.LessOrEqual(t, len(p.Entries), most)
			for _, e := range p.Entries {
				require.False(t, seen[e.ID], "no entry twice")
				seen[e.ID] = true
			}
			if p.Next == "" {
				break
			}
			from = "&from=" + p.Next
		}
		assert.GreaterOrEqual(t, len(seen), 500, path)
	}
	var p problemBody
	assert.Equal(t, 422, desk.do("GET", "/api/v1/audit?from=nowhere", nil, &p))
	assert.Contains(t, p.at("query.from"), "place in this list")
}

func TestPeopleAndTheirRoles(t *testing.T) {
	w := serve(t)
	desk, owner := w.as("office"), w.as("owner")
	person := func(role string) map[string]any {
		return map[string]any{
			"id":       uuid.NewString(),
			"login":    "Newt" + role,
			"name":     "N. Newt",
			"role":     role,
			"active":   true,
			"version":  0,
			"mine":     false,
			"password": "a long enough one",
		}
	}
	assert.Equal(t, 403, desk.do("PUT", "/api/v1/people", person("owner"), nil), "the office makes no owners")
	assert.Equal(
		t,
		403,
		w.as("technician").do("PUT", "/api/v1/office", officeOf(1), nil),
		"a technician changes no settings",
	)
	newt := person("technician")
	var v office.PersonRow
	require.Equal(t, 200, desk.do("PUT", "/api/v1/people", newt, &v))
	var p problemBody
	other := person("technician")
	assert.Equal(t, 422, desk.do("PUT", "/api/v1/people", other, &p))
	assert.Contains(t, p.at("login"), "has this login already")
	short := person("office")
	short["password"] = "short"
	assert.Equal(t, 422, owner.do("PUT", "/api/v1/people", short, &p))
	assert.NotEmpty(t, p.at("password"))
	// A new password ends the sign-ins from before it.
	them := w.nobody()
	require.Equal(
		t,
		200,
		them.do(
			"POST",
			"/api/v1/sign-in",
			map[string]string{"login": "newttechnician", "password": "a long enough one"},
			nil,
		),
	)
	require.Equal(t, 200, them.do("GET", "/api/v1/pools", nil, nil))
	_, err := w.town.Store.Pool.Exec(
		context.Background(),
		"update users set password_at = $2 where id = $1",
		newt["id"],
		demotest.Now().Add(time.Second),
	)
	require.NoError(t, err)
	assert.Equal(t, 401, them.do("GET", "/api/v1/pools", nil, nil))
	var all []office.PersonRow
	owner.get("/api/v1/people", &all)
	for _, x := range all {
		if x.Role == access.Owner {
			gone := map[string]any{
				"id":      x.ID,
				"login":   x.Login,
				"name":    x.Name,
				"role":    "owner",
				"active":  false,
				"version": x.Version,
				"mine":    true,
			}
			assert.Equal(t, 422, owner.do("PUT", "/api/v1/people", gone, &p), "somebody must stay owner")
		}
	}
	_, _, trail := owner.fetch("/api/v1/audit")
	assert.Contains(t, string(trail), "Added N. Newt as technician.")
	assert.NotContains(t, string(trail), "long enough")
}

func TestTheOfficesSettings(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	var v office.CompanyView
	require.Equal(t, 200, desk.do("PUT", "/api/v1/office", officeOf(1), &v))
	assert.Equal(t, 0.2, v.EnergyPerKWh)
	assert.Equal(t, 409, desk.do("PUT", "/api/v1/office", officeOf(1), nil), "the cleaning settings share the version")
	for field, value := range map[string]any{"name": "", "timeZone": "Moon/Base", "currency": " ", "waterPerKgal": -1, "keepPhotosYears": 0.2} {
		body := officeOf(v.Version)
		body[field] = value
		var p problemBody
		assert.Equal(t, 422, desk.do("PUT", "/api/v1/office", body, &p), field)
		assert.NotEmpty(t, p.at(field), field)
	}
	var s company.CleaningSettings
	desk.get("/api/v1/settings", &s)
	assert.Equal(t, 24.0, s.HoldHours, "the cleaning settings are as they were")
}

func TestWhatIsKeptOnlySoLong(t *testing.T) {
	w := serve(t)
	ctx := context.Background()
	w.photo()
	id := w.customer()
	body := about("14 Quince Court", 2)
	body["customerId"] = id
	require.Equal(t, 200, w.as("office").do("PUT", "/api/v1/pools/"+w.pool+"/about", body, nil))
	require.NoError(t, w.town.Service.Office.Retain(ctx), "nothing is set: nothing goes")
	_, err := w.town.Store.Pool.Exec(ctx, "update photos set taken_at = '2020-01-01'")
	require.NoError(t, err)
	_, err = w.town.Store.Pool.Exec(ctx, "update pools set archived_at = '2020-01-01' where customer_id = $1", id)
	require.NoError(t, err)
	set := officeOf(1)
	set["keepPhotosYears"], set["keepPeopleYears"] = 3, 5
	require.Equal(t, 200, w.as("office").do("PUT", "/api/v1/office", set, nil))
	require.NoError(t, w.town.Service.Office.Retain(ctx))
	require.NoError(t, w.town.Service.Office.Retain(ctx))
	var photos, named, told int
	require.NoError(
		t,
		w.town.Store.Pool.QueryRow(ctx, "select (select count(*) from photos where gone_at is null), (select count(*) from customers where name = 'A. Customer'), (select count(*) from audit where act = 'retention')").
			Scan(&photos, &named, &told),
	)
	assert.Equal(t, [3]int{0, 0, 2}, [3]int{photos, named, told})
}
