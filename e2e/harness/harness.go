// Package harness runs the real product on a database of its own and drives it
// with a real browser, for the journeys and for the pictures.
package harness

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"sync"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/proto"
	"github.com/go-rod/rod/lib/utils"
	"github.com/google/uuid"

	"fairlap/internal/api"
	"fairlap/internal/app"
	"fairlap/internal/app/access"
	"fairlap/internal/app/office"
	"fairlap/internal/demo"
	"fairlap/internal/demo/stage"
	"fairlap/internal/store"
	"fairlap/web"
)

// Day is the day of the demo town in journeys and pictures.
var Day = stage.Day

// Town is a running demo.
type Town struct {
	URL   string
	Store *store.Store

	db     *stage.Copy
	server *httptest.Server
	front  http.Handler
	fresh  func() http.Handler
	away   bool
}

var opened = sync.OnceValues(
	func() (*stage.Stage, error) { return stage.Open(context.Background(), demo.Clock(Day)()) },
)

// End stops what the towns of this program stood on.
func End() {
	if s, err := opened(); err == nil {
		s.Close()
	}
}

// Start gives a demo town of its own and serves it.
func Start() (*Town, error) {
	s, err := opened()
	if err != nil {
		return nil, err
	}
	c, err := s.Town()
	if err != nil {
		return nil, err
	}
	return serve(c)
}

// The owner of a company that has nothing yet, and how they sign in.
const (
	OwnersLogin    = "thorne"
	OwnersPassword = "a long enough one"
)

// Company gives a company that has an owner and nothing else, and serves it.
func Company() (*Town, error) {
	s, err := opened()
	if err != nil {
		return nil, err
	}
	c, err := s.Empty()
	if err != nil {
		return nil, err
	}
	err = c.Store.Insert(
		context.Background(),
		&store.Company{
			ID:       1,
			Name:     "Clearbrook Pool Care",
			TimeZone: Day.Location().String(),
			Settings: json.RawMessage(`{}`),
			Version:  1,
		},
		&store.User{
			ID:           uuid.Must(uuid.NewV7()),
			Login:        OwnersLogin,
			Name:         "M. Thorne",
			Role:         string(access.Owner),
			PasswordHash: office.HashPassword(OwnersPassword),
			Active:       true,
			Version:      1,
			CreatedAt:    Day,
		},
	)
	if err != nil {
		c.Drop()
		return nil, err
	}
	return serve(c)
}

func serve(c *stage.Copy) (*Town, error) {
	t := &Town{db: c, Store: c.Store}
	fail := func(err error) (*Town, error) {
		t.Stop()
		return nil, err
	}
	clock := demo.Clock(Day)
	dist, err := fs.Sub(web.Dist, "dist")
	if err != nil {
		return fail(err)
	}
	if _, err := fs.Stat(dist, "index.html"); err != nil {
		return fail(errors.New("the front end is not built: run make build"))
	}
	t.fresh = func() http.Handler {
		front, _ := api.New(app.New(t.Store, clock, t.db.World), api.Options{Version: "test", Assets: dist,
			Log: slog.New(slog.NewTextHandler(io.Discard, nil)), Sessions: t.Store.Pool})
		return front
	}
	t.front = t.fresh()
	t.server = httptest.NewServer(t)
	t.URL = t.server.URL
	return t, nil
}

// Kill ends the server in the middle of whatever it does, and starts another at its place.
func (t *Town) Kill() error {
	at := t.server.Listener.Addr().String()
	t.server.CloseClientConnections()
	t.server.Close()
	l, err := net.Listen("tcp", at)
	if err != nil {
		return fmt.Errorf("listening again: %w", err)
	}
	t.front = t.fresh()
	next := httptest.NewUnstartedServer(t)
	next.Listener.Close()
	next.Listener = l
	next.Start()
	t.server = next
	return nil
}

// ServeHTTP stands before the product so that a journey can cut the line.
func (t *Town) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	if t.away {
		panic(http.ErrAbortHandler)
	}
	t.front.ServeHTTP(w, r)
}

// Cut makes every request fail as a dead line does, until it is mended.
func (t *Town) Cut(away bool) { t.away = away }

// Stop ends everything.
func (t *Town) Stop() {
	if t.server != nil {
		t.server.Close()
	}
	if t.db != nil {
		t.db.Drop()
	}
}

// Browser starts Debian's Chromium, with nothing kept.
func Browser() (*rod.Browser, func(), error) {
	l, b, err := start(launcher.New())
	if err != nil {
		return nil, nil, err
	}
	return b, func() {
		_ = b.Close()
		l.Kill()
		l.Cleanup()
	}, nil
}

// BrowserOn starts Chromium on what an earlier one kept in a folder; the way to end it is a kill.
func BrowserOn(folder string) (*rod.Browser, func(), error) {
	l, b, err := start(launcher.New().UserDataDir(folder))
	if err != nil {
		return nil, nil, err
	}
	return b, l.Kill, nil
}

func start(l *launcher.Launcher) (*launcher.Launcher, *rod.Browser, error) {
	l = l.Bin("/usr/bin/chromium-headless-shell").Leakless(false).Headless(true).NoSandbox(true).
		Set("disable-gpu").
		// The core has 14,000 functions, of which a journey calls some hundred.
		Set("js-flags", "--wasm-lazy-compilation").
		Set("disable-dev-shm-usage").Set("disable-background-networking").Set("disable-component-update").
		Set("disable-background-timer-throttling").
		Set("disable-backgrounding-occluded-windows").Set("disable-renderer-backgrounding").
		Set("disable-sync").
		Set("no-first-run").Set("font-render-hinting", "none").Set("force-color-profile", "srgb").Set("hide-scrollbars")
	url, err := l.Launch()
	if err != nil {
		return nil, nil, fmt.Errorf("starting Chromium: %w", err)
	}
	// What a journey waits for is looked for again at once: the driver's own way waits up to a second.
	b := rod.New().ControlURL(url).Sleeper(func() utils.Sleeper {
		return utils.BackoffSleeper(20*time.Millisecond, 100*time.Millisecond, nil)
	})
	if err := b.Connect(); err != nil {
		l.Kill()
		return nil, nil, fmt.Errorf("reaching Chromium: %w", err)
	}
	return l, b, nil
}

// Sizes of a screen.
var (
	Desktop = proto.EmulationSetDeviceMetricsOverride{Width: 1280, Height: 800, DeviceScaleFactor: 1}
	Phone   = proto.EmulationSetDeviceMetricsOverride{Width: 390, Height: 844, DeviceScaleFactor: 2, Mobile: true}
)

// noWorker keeps a page from fetching the whole app for days without a line, twelve megabytes that
// a journey on the line has no use for.
const noWorker = `navigator.serviceWorker.register = () => new Promise(() => {})`

// clockOf sets a device's clock to a moment, from which it runs on.
func clockOf(at time.Time) string {
	return fmt.Sprintf(`{
	const Real = Date, shift = %d - Real.now();
	const At = class extends Real {
		constructor(...of) { of.length ? super(...of) : super(Real.now() + shift) }
		static now() { return Real.now() + shift }
	};
	window.Date = At;
}`, at.UnixMilli())
}

// Page opens a page of the town in a fresh session, without the worker, on a device whose clock is the town's.
func (t *Town) Page(b *rod.Browser, path string, size proto.EmulationSetDeviceMetricsOverride) *rod.Page {
	return t.PageAt(b, path, size, demo.Clock(Day)())
}

// PageAt is Page on a device whose clock says another moment.
func (t *Town) PageAt(
	b *rod.Browser,
	path string,
	size proto.EmulationSetDeviceMetricsOverride,
	at time.Time,
) *rod.Page {
	return t.page(b.MustIncognito(), path, size, noWorker+";"+clockOf(at))
}

// App opens a page of the town on what a browser has kept, as whoever installs it does.
func (t *Town) App(b *rod.Browser, path string, size proto.EmulationSetDeviceMetricsOverride) *rod.Page {
	return t.page(b, path, size, "")
}

func (t *Town) page(b *rod.Browser, path string, size proto.EmulationSetDeviceMetricsOverride, first string) *rod.Page {
	p := b.MustPage("")
	p.MustEvalOnNewDocument(first)
	p.MustSetViewport(size.Width, size.Height, size.DeviceScaleFactor, size.Mobile)
	// Pictures and waits want a page that stands still.
	_ = proto.EmulationSetEmulatedMedia{
		Features: []*proto.EmulationMediaFeature{{Name: "prefers-reduced-motion", Value: "reduce"}},
	}.Call(
		p,
	)
	p.MustNavigate(t.URL + path).MustWaitLoad()
	return p
}

// Save writes a picture of what the page shows.
func Save(p *rod.Page, path string, whole bool) error {
	b, err := p.Screenshot(whole, nil)
	if err != nil {
		return fmt.Errorf("taking %s: %w", path, err)
	}
	return os.WriteFile(path, b, 0o644)
}
