package app_test

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math/rand/v2"
	"strconv"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/fault"
	"fairlap/core/guided"
	"fairlap/core/inspection"
	"fairlap/core/judge"
	"fairlap/core/procedure"
	"fairlap/core/words"
	"fairlap/internal/app"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/inspect"
	"fairlap/internal/app/office"
	"fairlap/internal/app/padwork"
	"fairlap/internal/app/record"
	"fairlap/internal/app/route"
	"fairlap/internal/app/standing"
	"fairlap/internal/app/visit"
	"fairlap/internal/app/work"
	"fairlap/internal/demo/demotest"
	"fairlap/internal/store"
)

func TestMain(m *testing.M) { demotest.Main(m) }

var ctx = context.Background()

// town is a demo town's rooms with its people.
type town struct {
	demotest.Fixture
	rooms             *app.Rooms
	tech, desk, owner access.Actor
}

func open(t testing.TB) *town {
	f := demotest.Town(t)
	w := &town{Fixture: f, rooms: f.Service}
	for role, who := range map[access.Role]*access.Actor{access.Technician: &w.tech, access.Office: &w.desk,
		access.Owner: &w.owner} {
		var err error
		*who, err = w.rooms.Office.DemoSignIn(ctx, role)
		require.NoError(t, err)
	}
	return w
}

// lap is the technician's of today.
func (w *town) lap(t testing.TB) route.LapView {
	l, err := w.rooms.Route.Lap(ctx, w.tech, "", "")
	require.NoError(t, err)
	return l
}

func asJSON(t testing.TB, v any, err error) string {
	t.Helper()
	require.NoError(t, err)
	text, err := json.Marshal(v)
	require.NoError(t, err)
	return string(text)
}

// Every stop of the day, with what its pad shows at some speed and a sign or two, is judged
// on a device from its pack to the byte as the server judges it.
func TestAPackAnswersAsTheServer(t *testing.T) {
	w := open(t)
	chance := rand.New(rand.NewPCG(7, 19))
	for _, st := range w.lap(t).Stops {
		id := uuid.MustParse(st.ID)
		found, err := w.rooms.Visit.DemoMeter(ctx, w.tech, id, 1500+2000*chance.Float64())
		require.NoError(t, err)
		bench, err := w.rooms.Visit.Bench(ctx, w.tech, id)
		require.NoError(t, err)
		for range chance.IntN(3) {
			found.Signs[string(bench.Signs[chance.IntN(len(bench.Signs))].ID)] = chance.IntN(2) == 0
		}
		server, err := w.rooms.Visit.Diagnose(ctx, w.tech, id, found)
		says := asJSON(t, server, err)
		at, err := w.rooms.Standing.AtStop(ctx, w.tech, id, demotest.Now())
		require.NoError(t, err)
		var pack judge.Pack
		require.NoError(t, json.Unmarshal([]byte(asJSON(t, at.Pack, nil)), &pack))
		device, err := pack.Ready()
		require.NoError(t, err)
		verdict, _, err := device.Judge(found, demotest.Now(), nil)
		assert.Equal(t, says, asJSON(t, verdict, err), st.Street)
	}
}

// What a stop opens with is the answer to a page on which nothing is typed yet.
func TestAStopOpensWithItsFirstVerdict(t *testing.T) {
	w := open(t)
	for _, st := range w.lap(t).Stops {
		id := uuid.MustParse(st.ID)
		bench, err := w.rooms.Visit.Bench(ctx, w.tech, id)
		opened := asJSON(t, bench.Verdict, err)
		verdict, err := w.rooms.Visit.Diagnose(ctx, w.tech, id, judge.Findings{Readings: []judge.TypedReading{{}}})
		assert.Equal(t, asJSON(t, verdict, err), opened, st.Street)
	}
}

// A day's pack has of each stop what its page would ask for at the end of the five minutes that it
// stands for; a phone that says what it has is sent the rest, and after a visit that stop alone.
func TestADaysPackIsWhatItsStopsAskFor(t *testing.T) {
	w := open(t)
	day, err := w.rooms.Day.Pack(ctx, w.tech, nil)
	require.NoError(t, err)
	until := demotest.Now().Truncate(5 * time.Minute).Add(5 * time.Minute)
	rooms := app.New(w.Store, func() time.Time { return until }, w.rooms.Company.World)
	lap, err := rooms.Route.Lap(ctx, w.tech, "", "")
	require.NoError(t, err)
	assert.Equal(t, asJSON(t, lap, nil), asJSON(t, day.Lap, nil))
	require.Len(t, day.Stops, len(lap.Stops))
	var have []string
	for i, of := range lap.Stops {
		id, has := uuid.MustParse(of.ID), day.Stops[i].Has
		have = append(have, day.Stops[i].Mark)
		bench, err := rooms.Visit.Bench(ctx, w.tech, id)
		assert.Equal(t, asJSON(t, bench, err), asJSON(t, has.Bench, nil), of.Street)
		pool := uuid.MustParse(bench.Pool.ID)
		works, err := rooms.Work.Work(ctx, w.tech, pool, &id)
		assert.Equal(t, asJSON(t, works, err), asJSON(t, has.Work, nil), of.Street)
		record, err := rooms.Record.PoolView(ctx, w.tech, pool)
		assert.Equal(t, asJSON(t, record, err), asJSON(t, has.Pool, nil), of.Street)
		due, err := rooms.Route.Due(ctx, w.tech, pool)
		assert.Equal(t, asJSON(t, due, err), asJSON(t, has.Due, nil), of.Street)
		var pack judge.Pack
		require.NoError(t, json.Unmarshal(has.Pack, &pack))
		zone, err := time.LoadLocationFromTZData(pack.Zone, day.Zone)
		require.NoError(t, err)
		known, err := pack.ReadyIn(zone)
		require.NoError(t, err)
		here, _, err := known.Judge(judge.Findings{}, until, nil)
		assert.Equal(
			t,
			asJSON(t, bench.Verdict, nil),
			asJSON(t, here, err),
			"%s judged with the zone that came along",
			of.Street,
		)
	}
	sent := func() (streets []string) {
		again, err := w.rooms.Day.Pack(ctx, w.tech, have)
		require.NoError(t, err)
		for i, s := range again.Stops {
			if s.Has != nil {
				streets = append(streets, lap.Stops[i].Street)
			}
		}
		return streets
	}
	assert.Empty(t, sent(), "it has them all")
	require.NoError(
		t,
		w.rooms.Record.AddNote(
			ctx,
			w.tech,
			uuid.MustParse(lap.Stops[1].PoolID),
			uuid.New(),
			"not in what a stop shows",
		),
	)
	assert.Empty(t, sent())
	_, err = w.rooms.Visit.SaveVisit(ctx, w.tech, visit.VisitDraft{
		ID: uuid.New(), StopID: uuid.MustParse(lap.Stops[1].ID), ArrivedAt: demotest.Now(), ClosedAt: demotest.Now(),
		Findings: judge.Findings{Readings: []judge.TypedReading{{Speed: "2400", Tank: "12"}}},
	})
	require.NoError(t, err)
	assert.Contains(t, sent(), lap.Stops[1].Street)
	_, err = w.rooms.Day.Pack(ctx, w.owner, nil)
	assert.ErrorIs(t, err, store.ErrNotFound, "the desk has no lap of its own")
}

// Nobody sees or changes the pool of another: each room says so by itself, whatever asks it.
func TestNoRoomOpensAnothersPool(t *testing.T) {
	w := open(t)
	mine := map[string]bool{}
	own, err := w.rooms.Record.Pools(ctx, w.tech, record.PoolsAsk{Window: access.Window{Page: 1, Size: 200}})
	require.NoError(t, err)
	for _, p := range own.Items {
		mine[p.ID] = true
	}
	all, err := w.rooms.Record.Pools(ctx, w.desk, record.PoolsAsk{Window: access.Window{Page: 1, Size: 200}})
	require.NoError(t, err)
	require.Greater(t, all.Total, own.Total)
	var other uuid.UUID
	for _, p := range all.Items {
		if !mine[p.ID] {
			other = uuid.MustParse(p.ID)
		}
	}
	us, err := w.rooms.Company.People(ctx, w.desk)
	require.NoError(t, err)
	stop := uuid.Nil
	for _, u := range us {
		if u.ID == w.tech.ID.String() {
			continue
		}
		if l, err := w.rooms.Route.Lap(ctx, w.desk, "", u.ID); err == nil && len(l.Stops) > 0 {
			stop = uuid.MustParse(l.Stops[0].ID)
		}
	}
	require.NotEqual(t, uuid.Nil, stop)
	a, r := w.tech, w.rooms
	for name, ask := range map[string]func() error{
		"bench":       func() error { _, err := r.Visit.Bench(ctx, a, stop); return err },
		"diagnosis":   func() error { _, err := r.Visit.Diagnose(ctx, a, stop, judge.Findings{}); return err },
		"file":        func() error { _, err := r.Visit.File(ctx, a, stop, judge.Findings{}); return err },
		"visit":       func() error { _, err := r.Visit.SaveVisit(ctx, a, visit.VisitDraft{StopID: stop}); return err },
		"pool":        func() error { _, err := r.Record.PoolView(ctx, a, other); return err },
		"about":       func() error { _, err := r.Record.About(ctx, a, other); return err },
		"log":         func() error { _, err := r.Record.Log(ctx, a, other, record.LogAsk{}); return err },
		"note":        func() error { return r.Record.AddNote(ctx, a, other, uuid.New(), "x") },
		"due":         func() error { _, err := r.Route.Due(ctx, a, other); return err },
		"mark":        func() error { _, err := r.Route.MarkDue(ctx, a, other, route.DueMark{}); return err },
		"move":        func() error { return r.Route.MoveVisit(ctx, a, other, route.VisitMove{}) },
		"call-out":    func() error { _, err := r.Route.CallOut(ctx, a, other); return err },
		"work":        func() error { _, err := r.Work.Work(ctx, a, other, nil); return err },
		"run":         func() error { _, err := r.Work.StartRun(ctx, a, other, work.NewRun{}); return err },
		"part":        func() error { return r.Equipment.ChangePart(ctx, a, other, equipment.PartChange{}) },
		"inspections": func() error { _, err := r.Inspect.Inspections(ctx, a, other); return err },
		"inspection": func() error {
			_, err := r.Inspect.StartInspection(ctx, a, other, inspect.NewInspection{ID: uuid.New()})
			return err
		},
		"pad":         func() error { _, err := r.Pads.PoolPad(ctx, a, other); return err },
		"paths":       func() error { _, err := r.Pads.Paths(ctx, a, other, padwork.PathsAsk{}); return err },
		"limits":      func() error { _, err := r.Pads.Limits(ctx, a, other); return err },
		"clean lines": func() error { _, err := r.Pads.CleanLines(ctx, a, other); return err },
		"speed plan":  func() error { _, err := r.Pads.SpeedPlan(ctx, a, other); return err },
		"papers":      func() error { _, err := r.Papers.Papers(ctx, a, other); return err },
		"link":        func() error { _, err := r.Papers.OpenLink(ctx, a, other, 30); return err },
		"cleaning":    func() error { _, err := r.Office.CleaningOf(ctx, a, other); return err },
		"trail": func() error {
			_, err := r.Office.Trail(ctx, a, store.AuditAsk{From: store.Newest(demotest.Now())})
			return err
		},
		"spreadsheets": func() error {
			_,
				err := r.Exchange.StartImport(ctx, a, "pools.csv", []byte("street\n"))
			return err
		},
	} {
		assert.ErrorIs(t, ask(), access.ErrForbidden, name)
	}
}

// What is kept of the pools between requests is what a fresh look at the record gives, after
// whatever was written.
func TestWhatIsKeptIsWhatTheRecordGives(t *testing.T) {
	w := open(t)
	l := w.lap(t)
	pool, stop := uuid.MustParse(l.Stops[0].PoolID), uuid.MustParse(l.Stops[0].ID)
	pages := func(r *app.Rooms) string {
		list, err := r.Record.Pools(
			ctx,
			w.desk,
			record.PoolsAsk{Sort: "days", Window: access.Window{Page: 1, Size: 200}},
		)
		out := asJSON(t, list, err)
		week, err := r.Route.Week(ctx, w.desk, route.WeekAsk{Week: 1})
		out += asJSON(t, week, err)
		day, err := r.Route.Lap(ctx, w.tech, "", "")
		out += asJSON(t, day, err)
		due, err := r.Route.Due(ctx, w.desk, pool)
		return out + asJSON(t, due, err)
	}
	held := func(after string) {
		t.Helper()
		fresh := app.New(w.Store, demotest.Now, w.rooms.Company.World)
		assert.Equal(t, pages(fresh), pages(w.rooms), after)
	}
	before := pages(w.rooms)
	held("nothing")
	now := demotest.Now()
	draft := visit.VisitDraft{
		ID: uuid.Must(uuid.NewV7()), StopID: stop, ArrivedAt: now.Add(-20 * time.Minute), ClosedAt: now,
		Findings: judge.Findings{Readings: []judge.TypedReading{{Speed: "2400", Tank: "14"}}, Signs: map[string]bool{}},
		Works:    []visit.Work{{Kind: "cleaned"}},
	}
	_, err := w.rooms.Visit.SaveVisit(ctx, w.tech, draft)
	require.NoError(t, err)
	held("a visit")
	assert.NotEqual(t, before, pages(w.rooms), "a visit moves them")
	require.NoError(t, w.rooms.Equipment.ChangePart(ctx, w.tech, pool, equipment.PartChange{
		ID: uuid.New(), Act: "install", Kind: "lid-o-ring", Model: "Old ring", On: "2019-01-01",
	}))
	held("an old part")
	run, err := w.rooms.Work.StartRun(ctx, w.tech, pool, work.NewRun{ID: uuid.New(), Procedure: procedure.DoseRun})
	require.NoError(t, err)
	_, err = w.rooms.Work.AppendRun(ctx, w.tech, uuid.MustParse(run.ID), []work.RunEvent{{
		ID: uuid.New(),
		Typed: guided.Typed{
			Act:    procedure.ActGo,
			Turn:   run.Turn,
			Step:   run.At,
			Option: run.Script.Steps[0].Options[0].ID,
			At:     now,
		},
	}})
	require.NoError(t, err)
	held("a dose")
	due, err := w.rooms.Route.Due(ctx, w.desk, pool)
	require.NoError(t, err)
	require.NotEmpty(t, due.Items)
	until := now.AddDate(0, 0, 20)
	_, err = w.rooms.Route.MarkDue(
		ctx,
		w.desk,
		pool,
		route.DueMark{ID: uuid.New(), Item: due.Items[0].Item, Act: "snooze", Until: &until},
	)
	require.NoError(t, err)
	held("work put off")
	settings, err := w.rooms.Office.Settings(ctx)
	require.NoError(t, err)
	settings.CleanAbove = 0.2
	_, err = w.rooms.Office.SaveSettings(ctx, w.owner, settings)
	require.NoError(t, err)
	held("another choice of when to clean")
	sheet, err := w.rooms.Inspect.StartInspection(ctx, w.tech, pool, inspect.NewInspection{ID: uuid.New()})
	require.NoError(t, err)
	answers := inspection.Answers{}
	no := false
	for _, item := range sheet.Items {
		if item.Kind == inspection.YesNo {
			answers[item.ID] = inspection.Answer{Yes: &no}
		}
	}
	_, err = w.rooms.Inspect.SaveInspection(
		ctx,
		w.tech,
		uuid.MustParse(sheet.ID),
		inspect.InspectionEdit{Answers: answers, Version: sheet.Version, Close: true},
	)
	require.NoError(t, err)
	held("an inspection")
}

// What is read within a unit of work that is taken back is not remembered.
func TestATakenBackUnitIsForgotten(t *testing.T) {
	w := open(t)
	pool := uuid.MustParse(w.lap(t).Stops[0].PoolID)
	before, err := w.rooms.Equipment.PartsAcross(
		ctx,
		w.desk,
		equipment.PartsAsk{Find: "Quince", Window: access.Window{Page: 1, Size: 50}},
	)
	require.NoError(t, err)
	changed := errors.New("changed my mind")
	err = w.rooms.Standing.InTx(ctx, func(k *standing.Keeper) error {
		err := equipment.New(k).ChangePart(ctx, w.tech, pool, equipment.PartChange{
			ID: uuid.New(), Act: "install", Kind: "lid-o-ring", Model: "Never was", On: "2026-01-01",
		})
		require.NoError(t, err)
		within, err := equipment.New(k).
			PartsAcross(ctx, w.desk, equipment.PartsAsk{Find: "Never was", Window: access.Window{Page: 1, Size: 50}})
		require.NoError(t, err)
		require.Equal(t, 1, within.Total, "within, it is there")
		return changed
	})
	require.ErrorIs(t, err, changed)
	after, err := w.rooms.Equipment.PartsAcross(
		ctx,
		w.desk,
		equipment.PartsAsk{Find: "Quince", Window: access.Window{Page: 1, Size: 50}},
	)
	require.NoError(t, err)
	assert.Equal(t, before, after)
	due, err := w.rooms.Route.Due(ctx, w.desk, pool)
	require.NoError(t, err)
	for _, d := range due.Items {
		assert.NotContains(t, string(d.Name), "Never was")
	}
}

// A day is the company's: ten minutes before its midnight is still today, ten after it is not,
// whatever the machine's clock calls the day.
func TestADayIsTheCompanysOwn(t *testing.T) {
	w := open(t)
	c, err := w.rooms.Company.Company(ctx)
	require.NoError(t, err)
	for at, day := range map[time.Time]string{
		time.Date(2026, 11, 24, 23, 50, 0, 0, c.Zone): "2026-11-24",
		time.Date(2026, 11, 25, 0, 10, 0, 0, c.Zone):  "2026-11-25",
	} {
		for _, clock := range []*time.Location{c.Zone, time.UTC, time.FixedZone("far", 13*3600)} {
			rooms := app.New(w.Store, func() time.Time { return at.In(clock) }, company.World{})
			l, err := rooms.Route.Lap(ctx, w.tech, "", "")
			if errors.Is(err, store.ErrNotFound) {
				continue // nobody drives that day
			}
			require.NoError(t, err)
			assert.Equal(t, day, l.Day, "%s by a clock in %s", at, clock)
		}
		assert.Equal(t, day, c.Today(at.UTC()).Format(time.DateOnly))
	}
}

// The same draft, part, note, run, mark and move sent again is one, and other content under
// its id is refused by every room alike.
func TestSentTwiceIsOnce(t *testing.T) {
	w := open(t)
	l := w.lap(t)
	pool, stop := uuid.MustParse(l.Stops[2].PoolID), uuid.MustParse(l.Stops[2].ID)
	now := demotest.Now()
	part := equipment.PartChange{ID: uuid.New(), Act: "install", Kind: "lid-o-ring", Model: "Ring", On: "2026-01-01"}
	note := uuid.New()
	mark := route.DueMark{ID: uuid.New(), Item: "clean-filter", Act: "override", Reason: "The owner asked."}
	draft := visit.VisitDraft{
		ID: uuid.Must(uuid.NewV7()), StopID: stop, ArrivedAt: now.Add(-20 * time.Minute), ClosedAt: now,
		Findings: judge.Findings{Readings: []judge.TypedReading{}, Signs: map[string]bool{}},
	}
	for name, send := range map[string]func(other bool) error{
		"part": func(other bool) error {
			in := part
			if other {
				in.Note = "another"
			}
			return w.rooms.Equipment.ChangePart(ctx, w.tech, pool, in)
		},
		"note": func(other bool) error {
			return w.rooms.Record.AddNote(ctx, w.tech, pool, note, map[bool]string{false: "one", true: "two"}[other])
		},
		"mark": func(other bool) error {
			in := mark
			if other {
				in.Reason = "Another reason."
			}
			_, err := w.rooms.Route.MarkDue(ctx, w.desk, pool, in)
			return err
		},
		"visit": func(other bool) error {
			in := draft
			if other {
				in.Note = "another"
			}
			_, err := w.rooms.Visit.SaveVisit(ctx, w.tech, in)
			return err
		},
	} {
		require.NoError(t, send(false), name)
		require.NoError(t, send(false), "%s again", name)
		assert.ErrorIs(t, send(true), store.ErrDifferent, name)
	}
}

// Windows on a list hold each of its lines once, in order, however wide they are.
func TestWindowsHoldEachLineOnce(t *testing.T) {
	chance := rand.New(rand.NewPCG(3, 5))
	for range 200 {
		list := make([]int, chance.IntN(60))
		for i := range list {
			list[i] = i
		}
		size := 1 + chance.IntN(12)
		var seen []int
		for page := 1; ; page++ {
			got := access.Of(access.Window{Page: page, Size: size}, list)
			assert.Equal(t, len(list), got.Total)
			assert.NotNil(t, got.Items)
			if len(got.Items) == 0 {
				break
			}
			seen = append(seen, got.Items...)
		}
		assert.Equal(t, fmt.Sprint(list), fmt.Sprint(append([]int{}, seen...)), strconv.Itoa(size))
	}
}

// Who asks decides what they read: a person's own choice, else the company's.
func TestEverybodyReadsTheirOwn(t *testing.T) {
	w := open(t)
	assert.Equal(t, words.Lang("en"), w.tech.Printer.Lang)
	me, err := w.rooms.Office.SetReads(ctx, w.tech, office.Reads{Lang: "es", Units: "metric"})
	require.NoError(t, err)
	assert.Equal(t, "es", me.Lang)
	again, err := w.rooms.Company.ActorByID(ctx, w.tech.ID.String(), demotest.Now())
	require.NoError(t, err)
	assert.Equal(t, words.Lang("es"), again.Printer.Lang)
	desk, err := w.rooms.Company.ActorByID(ctx, w.desk.ID.String(), demotest.Now())
	require.NoError(t, err)
	assert.Equal(t, words.Lang("en"), desk.Printer.Lang, "nobody else's")
	assert.NotEqual(t, again.Printer.Say(fault.Catalogue[1].Name), desk.Printer.Say(fault.Catalogue[1].Name))
}
