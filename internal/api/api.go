// Package api is the HTTP surface: routes, request and response types, sign-in
// and errors. It holds no rules of the job.
package api

import (
	"context"
	"io/fs"
	"log/slog"
	"net/http"
	"net/netip"
	"reflect"
	"runtime/debug"
	"strings"
	"sync/atomic"
	"time"

	"github.com/alexedwards/scs/pgxstore"
	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-gonic/gin"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/klauspost/compress/gzhttp"
	"go.opentelemetry.io/contrib/instrumentation/github.com/gin-gonic/gin/otelgin"

	"fairlap/internal/app"
	"fairlap/internal/app/office"
	"fairlap/internal/clock"
	"fairlap/internal/gate"
	"fairlap/internal/queue"
)

// API is the HTTP surface over the use cases.
type API struct {
	service  *app.Rooms
	sessions *scs.SessionManager
	line     *gate.Line // before what works for a while
	going    *atomic.Bool
	metrics  *gate.Metrics
	jobs     *queue.Queue
	huma     huma.API
	log      *slog.Logger
}

// Options say how to serve.
type Options struct {
	Version string
	Assets  fs.FS // the built front end
	Log     *slog.Logger
	// Secure marks the session cookie for HTTPS only.
	Secure bool
	// Tiles is the address of a map's tiles; pictures may come from there. Empty: none.
	Tiles string
	// Proxies are those that are believed about where a request comes from.
	Proxies []netip.Prefix
	// Metrics counts; nil: nobody looks.
	Metrics *gate.Metrics
	// Going says that this server is about to end: nothing new should come to it. nil: it stays.
	Going *atomic.Bool
	// Traced gives each request a span of the global tracer.
	Traced bool
	// Line is before what works for a while; nil: one for the processors that there are.
	Line *gate.Line
	// Jobs are what is done beside; nil only for printing the contract, and where nobody looks.
	Jobs *queue.Queue
	// Sessions keeps sign-ins; nil only for printing the contract.
	Sessions *pgxpool.Pool
}

// New builds the handler. A nil service gives one that is good only for its
// contract (OpenAPI).
func New(service *app.Rooms, o Options) (http.Handler, huma.API) {
	if o.Line == nil {
		o.Line = gate.ForProcessors()
	}
	if o.Going == nil {
		o.Going = new(atomic.Bool)
	}
	m := o.Metrics
	if m == nil {
		m = gate.NewMetrics()
	}
	if o.Log == nil {
		o.Log = slog.Default()
	}
	o.Log = slog.New(withRequest{o.Log.Handler()})
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	a := &API{service: service, line: o.Line, metrics: m, going: o.Going, jobs: o.Jobs, log: o.Log, sessions: scs.New()}
	a.sessions.Lifetime, a.sessions.Cookie.Name = office.SignInLife, "fairlap"
	if o.Secure {
		a.sessions.Cookie.Name = "__Host-fairlap" // from this host alone, whatever stands beside it
	}
	a.sessions.Cookie.SameSite, a.sessions.Cookie.HttpOnly, a.sessions.Cookie.Secure = http.SameSiteLaxMode, true,
		o.Secure
	if o.Sessions != nil {
		a.sessions.Store = hashed{pgxstore.NewWithCleanupInterval(o.Sessions, time.Hour)}
	}
	a.sessions.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		a.log.ErrorContext(r.Context(), "session store", "error", err)
		writeProblem(r.Context(), w, http.StatusServiceUnavailable, databaseAway)
	}
	engine.Use(answered(m), gin.CustomRecovery(func(c *gin.Context, v any) {
		a.log.ErrorContext(c.Request.Context(), "panic", "value", v, "stack", string(debug.Stack()))
		writeProblem(c.Request.Context(), c.Writer, http.StatusInternalServerError, somethingBroke)
		c.Abort()
	}))
	engine.Use(readableQuery)
	if o.Traced {
		engine.Use(otelgin.Middleware("fairlap"))
	}
	cfg := huma.DefaultConfig("Fair Lap", o.Version)
	cfg.Components.Schemas = huma.NewMapRegistry("#/components/schemas/", shapeName)
	cfg.CreateHooks, cfg.DocsPath, cfg.SchemasPath = nil, "", ""
	cfg.OpenAPIPath = "/api/v1/openapi"
	cfg.Components.SecuritySchemes = map[string]*huma.SecurityScheme{
		sessionScheme: {Type: "apiKey", In: "cookie", Name: a.sessions.Cookie.Name},
	}
	cfg.Formats, cfg.Transformers = formats(), []huma.Transformer{a.tell}
	a.huma = humagin.New(engine, cfg)
	a.routes()
	engine.GET("/api/v1/contract", a.contract(o.Version))
	engine.GET("/healthz", func(c *gin.Context) { c.String(http.StatusOK, "ok\n") })
	engine.GET("/readyz", a.ready)
	a.serveAssets(engine, o.Assets)
	guarded := http.NewCrossOriginProtection()
	guarded.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		writeProblem(r.Context(), w, http.StatusForbidden, "api.this-request-came-from-another")
	}))
	api := guarded.Handler(a.sessions.LoadAndSave(engine))
	all := securityHeaders(
		o.Secure,
		originOf(o.Tiles),
		a.lastAnswers(a.logged(a.reads(smaller(skipSessions(api, engine))))),
	)
	return gate.Proved(gate.Behind(o.Proxies, gate.Patient(gate.Stall, all))), a.huma
}

// answered counts requests by route.
func answered(m *gate.Metrics) gin.HandlerFunc {
	return func(c *gin.Context) {
		start := clock.Now()
		c.Next()
		if route := c.FullPath(); route != "" {
			m.Answered(route, c.Request.Method, c.Writer.Status(), clock.Since(start))
		}
	}
}

// lastAnswers ends each connection with its next answer while the server is going, so that
// nobody writes into one that is about to close.
func (a *API) lastAnswers(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if a.going.Load() {
			w.Header().Set("Connection", "close")
		}
		next.ServeHTTP(w, r)
	})
}

// smaller packs what goes out where that is worth it: answers, and the front end's files for a browser that does not
// take them as the build has packed them. What is packed already goes as it is, and so does what is not text.
func smaller(next http.Handler) http.Handler {
	pack, err := gzhttp.NewWrapper(gzhttp.MinSize(1024), gzhttp.ContentTypes([]string{
		"application/json", "application/problem+json", "application/openapi+json", "application/openapi+yaml",
		"application/x-ndjson", "application/wasm", "image/svg+xml",
		"text/html", "text/csv", "text/calendar", "text/css", "text/javascript",
	}))
	if err != nil {
		panic(err) // of options that are constants
	}
	return pack(next)
}

// skipSessions keeps assets and probes away from the session store, so that the
// page itself still comes when the database is away.
func skipSessions(withSession, plain http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if isAPI(r.URL.Path) {
			withSession.ServeHTTP(w, r)
			return
		}
		plain.ServeHTTP(w, r)
	})
}

// ready tells a proxy, and whoever keeps the machine, whether requests should come here, and
// what is missing where not.
func (a *API) ready(c *gin.Context) {
	ctx, cancel := context.WithTimeout(c.Request.Context(), 2*time.Second)
	defer cancel()
	missing, without := a.service.Company.Missing(ctx)
	if a.going.Load() {
		missing = append(missing, "this server is going: it ends what it began and takes nothing new")
	}
	if len(missing) > 0 {
		c.String(http.StatusServiceUnavailable, strings.Join(missing, "\n")+"\n")
		return
	}
	c.String(http.StatusOK, strings.Join(append([]string{"ready"}, without...), "\n")+"\n")
}

// shapeName names a type in the contract. Practice has steps, views, people and answers of its
// own.
func shapeName(t reflect.Type, hint string) string {
	name := huma.DefaultSchemaNamer(t, hint)
	for t.Kind() == reflect.Pointer || t.Kind() == reflect.Slice {
		t = t.Elem()
	}
	if strings.HasSuffix(t.PkgPath(), "core/practice") || strings.HasSuffix(t.PkgPath(), "app/learn") {
		return "Practice" + name
	}
	return name
}
