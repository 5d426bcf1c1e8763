package api

import (
	"context"
	"errors"
	"io"
	"math"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"fairlap/core/judge"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/day"
	"fairlap/internal/app/office"
	"fairlap/internal/app/record"
	"fairlap/internal/app/route"
	"fairlap/internal/app/visit"
	"fairlap/internal/paper"
	"fairlap/internal/store"
)

type body[T any] struct{ Body T }

func answer[T any](v T, err error) (*body[T], error) {
	if err != nil {
		return nil, err
	}
	return &body[T]{v}, nil
}

// ByID is exported because only then are its fields filled where it is embedded.
type ByID struct {
	ID uuid.UUID `path:"id" format:"uuid"`
}

type nothing struct{}

func op(method, path, id, summary string) huma.Operation {
	return huma.Operation{Method: method, Path: path, OperationID: id, Summary: summary}
}

type meOut struct {
	Demo bool       `json:"demo" doc:"a demo: anybody may sign in by role"`
	Me   *office.Me `json:"me" doc:"null when nobody is signed in"`
	New  bool       `json:"new,omitempty" doc:"there is no company yet: it is to be set up"`
}

type signInBody struct {
	Code     string `json:"code,omitempty" maxLength:"12" doc:"of an authenticator, where it is asked for"`
	Login    string `json:"login" minLength:"1" maxLength:"200"`
	Password string `json:"password" minLength:"1" maxLength:"200"`
}

// Remote finds the caller's address.
type Remote struct{ address string }

func (r *Remote) Resolve(ctx huma.Context) []error {
	host, _, err := net.SplitHostPort(ctx.RemoteAddr())
	if err != nil {
		host = ctx.RemoteAddr()
	}
	r.address = host
	return nil
}

func (a *API) routes() {
	a.sessionRoutes()
	a.runRoutes()
	a.equipmentRoutes()
	a.poolRecordRoutes()
	a.officeRoutes()
	a.jobRoutes()
	a.signInRoutes()
	a.practiceRoutes()
	a.speedPlanRoutes()
	a.inspectionRoutes()
	signedIn(a, op(http.MethodGet, "/api/v1/lap", "get-lap", "A technician's lap of a day"), everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			Day        string `query:"day" maxLength:"10"`
			Technician string `query:"technician" maxLength:"40"`
		}) (*body[route.LapView], error) {
			return answer(a.service.Route.Lap(ctx, who, in.Day, in.Technician))
		})
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/day", "get-day", "All that a device needs for today's lap without a line"),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			Have []string `query:"have" maxItems:"100" doc:"marks of the stops that the device has"`
		}) (*body[day.Pack], error) {
			return answer(a.service.Day.Pack(ctx, who, in.Have))
		},
	)
	signedIn(
		a,
		op(http.MethodPost, "/api/v1/receipts", "ask-receipts", "What is on record of what a device sent"),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			Body struct {
				IDs []uuid.UUID `json:"ids" maxItems:"5000" nullable:"false"`
			}
		}) (*body[day.Receipts], error) {
			return answer(a.service.Day.Receipts(ctx, who, in.Body.IDs))
		},
	)
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/technicians", "list-technicians", "Technicians whose laps you may see"),
		everyone,
		func(ctx context.Context, who access.Actor, _ *nothing) (*body[[]company.Person], error) {
			return answer(a.service.Company.People(ctx, who))
		},
	)
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/pools/{id}/call-outs",
			"call-out",
			"Put a pool on your lap of today, because somebody called",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[route.CallOut], error) {
			return answer(a.service.Route.CallOut(ctx, who, in.ID))
		},
	)
	signedIn(a, op(http.MethodGet, "/api/v1/stops/{id}", "get-stop", "Open a stop on the bench"), everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[visit.Bench], error) {
			return answer(a.service.Visit.Bench(ctx, who, in.ID))
		})
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/stops/{id}/diagnosis",
			"diagnose",
			"Judge readings and signs without keeping them",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body judge.Findings
		}) (*body[judge.Verdict], error) {
			return answer(a.service.Visit.Diagnose(ctx, who, in.ID, in.Body))
		},
	)
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/stops/{id}/file",
			"stop-file",
			"The stop as a file, which the command line judges alike",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body judge.Findings
		}) (*body[visit.StopFile], error) {
			return answer(a.service.Visit.File(ctx, who, in.ID, in.Body))
		},
	)
	signedIn(
		a,
		op(http.MethodPost, "/api/v1/visits", "save-visit", "Close a stop: keep the visit, once"),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct{ Body visit.VisitDraft }) (*body[visit.VisitRecord],
			error) {
			return answer(a.service.Visit.SaveVisit(ctx, who, in.Body))
		},
	)
	signedIn(a, op(http.MethodGet, "/api/v1/visits/{id}", "get-visit", "One visit of the record"), everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[visit.VisitRecord], error) {
			return answer(a.service.Visit.Visit(ctx, who, in.ID))
		})
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/visits/{id}/taken-back",
			"take-back-visit",
			"Take a visit back that you have just logged; it stays on record, marked",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[visit.VisitRecord], error) {
			v, err := a.service.Visit.TakeBack(ctx, who, in.ID)
			if errors.Is(err, visit.ErrStands) {
				return nil, huma.Error409Conflict("api.this-visit-stands-write-a")
			}
			return answer(v, err)
		},
	)
	a.poolRoutes()
	a.padRoutes()
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/demo/stops/{id}/meters", "read-demo-pad", "Read the demo's stand-in pad"),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			RPM float64 `query:"rpm" minimum:"0" maximum:"4000"`
		}) (*body[judge.Findings], error) {
			return answer(a.service.Visit.DemoMeter(ctx, who, in.ID, in.RPM))
		},
	)
}

func (a *API) sessionRoutes() {
	open(
		a,
		op(http.MethodGet, "/api/v1/me", "get-me", "Who is signed in"),
		func(ctx context.Context, _ *nothing) (*body[meOut], error) {
			out := meOut{Demo: a.service.Company.Demo()}
			actor, err := a.actor(ctx)
			var refused huma.StatusError
			if errors.Is(err, access.ErrSignIn) || errors.As(err, &refused) {
				if out.New, err = a.service.Office.Empty(ctx); err != nil {
					return nil, err
				}
				return &body[meOut]{out}, nil
			}
			if err != nil {
				return nil, err
			}
			me, err := a.service.Office.Me(ctx, actor)
			out.Me = &me
			return answer(out, err)
		},
	)
	open(
		a,
		op(http.MethodPost, "/api/v1/setup", "set-up", "Set a company up on an empty database, and sign its owner in"),
		func(ctx context.Context, in *struct {
			Remote
			Agent
			Body office.SetUp
		}) (*body[office.Me], error) {
			if err := a.try(ctx, "setup", in.address); err != nil {
				return nil, err
			}
			actor, err := a.service.Office.SetUpCompany(ctx, in.Body)
			if err != nil {
				return nil, err
			}
			if err := a.begin(ctx, actor, in.Agent.Agent); err != nil {
				return nil, err
			}
			return answer(a.service.Office.Me(ctx, actor))
		},
	)
	signedIn(
		a,
		op(http.MethodPost, "/api/v1/page-errors", "tell-page-error", "Tell the server's log of a page that broke"),
		everyone,
		func(ctx context.Context, _ access.Actor, in *struct {
			Body struct {
				ID      uuid.UUID `json:"id" format:"uuid" doc:"shown to the reader"`
				Page    string    `json:"page" maxLength:"300"`
				Message string    `json:"message" maxLength:"500"`
				Stack   string    `json:"stack" maxLength:"4000"`
			}
		}) (*nothing, error) {
			b := &in.Body
			a.log.WarnContext(ctx, "a page broke", "id", b.ID, "page", b.Page, "message", b.Message, "stack", b.Stack)
			return nil, nil
		},
	)
	signedIn(a, op(http.MethodGet, "/api/v1/first-steps", "list-first-steps", "How far a new company is"), everyone,
		func(ctx context.Context, who access.Actor, _ *nothing) (*body[[]office.FirstStep], error) {
			return answer(a.service.Office.FirstSteps(ctx, who))
		})
	signedIn(
		a,
		op(http.MethodPut, "/api/v1/first-steps/{id}", "skip-first-step", "Say that a first step is not needed, or is"),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			ID   string `path:"id" maxLength:"20"`
			Body struct {
				Skipped bool `json:"skipped"`
			}
		}) (*body[[]office.FirstStep], error) {
			return answer(a.service.Office.SkipFirstStep(ctx, who, in.ID, in.Body.Skipped))
		},
	)
	open(a, op(http.MethodPost, "/api/v1/sign-in", "sign-in", "Sign in"), func(ctx context.Context, in *struct {
		Remote
		Agent
		Body signInBody
	}) (*body[office.Me], error) {
		if err := a.try(ctx, in.Body.Login, in.address); err != nil {
			return nil, err
		}
		actor, err := a.service.Office.SignIn(ctx, in.Body.Login, in.Body.Password, in.Body.Code)
		if err != nil {
			return nil, err
		}
		if err := a.service.Office.Came(ctx, in.Body.Login, in.address); err != nil {
			return nil, err
		}
		if err := a.begin(ctx, actor, in.Agent.Agent); err != nil {
			return nil, err
		}
		return answer(a.service.Office.Me(ctx, actor))
	})
	open(
		a,
		op(http.MethodPost, "/api/v1/demo/sign-in", "demo-sign-in", "Sign in to a demo by role"),
		func(ctx context.Context, in *struct {
			Agent
			Body struct {
				Role access.Role `json:"role" enum:"technician,office,owner"`
			}
		}) (*body[office.Me], error) {
			actor, err := a.service.Office.DemoSignIn(ctx, in.Body.Role)
			if err != nil {
				return nil, err
			}
			if err := a.begin(ctx, actor, in.Agent.Agent); err != nil {
				return nil, err
			}
			return answer(a.service.Office.Me(ctx, actor))
		},
	)
	open(
		a,
		op(http.MethodPost, "/api/v1/sign-out", "sign-out", "Sign out"),
		func(ctx context.Context, _ *nothing) (*nothing, error) {
			if who, err := a.actor(ctx); err == nil {
				if in := a.signInOf(ctx); in != uuid.Nil {
					if err := a.service.Office.EndSignIn(ctx, who, in); err != nil {
						return nil, err
					}
				}
			}
			return nil, a.sessions.Destroy(ctx)
		},
	)
}

func (a *API) poolRoutes() {
	signedIn(a, op(http.MethodGet, "/api/v1/pools", "list-pools", "Pools you may see"), everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			Pages
			Find       string `query:"find" maxLength:"120" doc:"words that are in what it is called, in whose it is, or in its parts"`
			Sort       string `query:"sort" enum:"pool,-pool,load,-load,days,-days,visited,-visited,technician,-technician" default:"pool"`
			Technician string `query:"technician" format:"uuid" doc:"pools of this one only"`
			Weekday    int    `query:"weekday" minimum:"-1" maximum:"6" default:"-1" doc:"pools that are visited on this day only; 0 is Sunday, -1 any day"`
			Only       string `query:"only" enum:",open,over,danger" doc:"pools with a suspect left open, over their limit, or with work that keeps the pump off"`
		}) (*body[access.Page[record.PoolLine]], error) {
			ask := record.PoolsAsk{Find: in.Find, Sort: in.Sort, Only: in.Only, Window: in.window()}
			if id, err := uuid.Parse(in.Technician); err == nil {
				ask.Technician = &id
			}
			if in.Weekday >= 0 {
				day := time.Weekday(in.Weekday)
				ask.Weekday = &day
			}
			return answer(a.service.Record.Pools(ctx, who, ask))
		})
	signedIn(a, op(http.MethodGet, "/api/v1/pools/{id}", "get-pool", "A pool's record"), everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[record.PoolRecordView], error) {
			return answer(a.service.Record.PoolView(ctx, who, in.ID))
		})
	signedIn(
		a,
		op(http.MethodPut, "/api/v1/pools/{id}/access-note", "set-access-note", "Change how to get in"),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body struct {
				AccessNote string `json:"accessNote" maxLength:"500"`
				Version    int    `json:"version" minimum:"1"`
			}
		}) (*body[record.PoolNote], error) {
			note, err := a.service.Record.SetAccessNote(ctx, who, in.ID, in.Body.Version, in.Body.AccessNote)
			if errors.Is(err, store.ErrVersion) {
				return nil, huma.Error409Conflict("api.someone-else-changed-this-note",
					&huma.ErrorDetail{Location: "body.accessNote", Message: "api.it-now-says-this", Value: note})
			}
			return answer(note, err)
		},
	)
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/pools/{id}/due", "get-due", "A pool's due work, what wears, and what was decided"),
		everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[route.DueView], error) {
			return answer(a.service.Route.Due(ctx, who, in.ID))
		},
	)
	signedIn(
		a,
		op(http.MethodPost, "/api/v1/pools/{id}/due-marks", "mark-due", "Decide about a piece of due work"),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body route.DueMark
		}) (*body[route.DueView], error) {
			return answer(a.service.Route.MarkDue(ctx, who, in.ID, in.Body))
		},
	)
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/pools/{id}/cleaning", "get-pool-cleaning", "A pool's own choices on when to clean"),
		everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[office.PoolCleaningView], error) {
			return answer(a.service.Office.CleaningOf(ctx, who, in.ID))
		},
	)
	signedIn(
		a,
		op(
			http.MethodPut,
			"/api/v1/pools/{id}/cleaning",
			"save-pool-cleaning",
			"Change a pool's own choices on when to clean",
		),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body struct {
				office.PoolCleaning
				Version int `json:"version" minimum:"1"`
			}
		}) (*body[office.PoolCleaningView], error) {
			kept, err := a.service.Office.SaveCleaningOf(ctx, who, in.ID, in.Body.Version, in.Body.PoolCleaning)
			if errors.Is(err, store.ErrVersion) {
				return nil, huma.Error409Conflict("api.someone-else-changed-this-pool",
					&huma.ErrorDetail{Location: "body", Message: "api.its-choices-now-stand-so", Value: kept})
			}
			return answer(kept, err)
		},
	)
	signedIn(
		a,
		op(
			http.MethodPut,
			"/api/v1/equipment/{id}/life",
			"set-part-life",
			"Change how long one part is expected to last",
		),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body struct {
				Years *float64 `json:"years" doc:"null: what its kind lasts"`
			}
		}) (*nothing, error) {
			return nil, a.service.Office.SetPartLife(ctx, who, in.ID, in.Body.Years)
		},
	)
	a.planRoutes()
	signedIn(
		a,
		op(
			http.MethodGet,
			"/api/v1/service-lives",
			"get-service-lives",
			"Recurring services and lives of parts, as they are usual",
		),
		everyone,
		func(context.Context, access.Actor, *nothing) (*body[office.ServiceLives], error) {
			return answer(office.Lives(), nil)
		},
	)
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/settings", "get-settings", "The company's choices on when to clean"),
		everyone,
		func(ctx context.Context, _ access.Actor, _ *struct{}) (*body[company.CleaningSettings], error) {
			return answer(a.service.Office.Settings(ctx))
		},
	)
	signedIn(
		a,
		op(http.MethodPut, "/api/v1/settings", "save-settings", "Change the company's choices on when to clean"),
		deskAndUp,
		func(ctx context.Context, who access.Actor,
			in *struct{ Body company.CleaningSettings }) (*body[company.CleaningSettings], error) {
			kept, err := a.service.Office.SaveSettings(ctx, who, in.Body)
			if errors.Is(err, store.ErrVersion) {
				return nil, huma.Error409Conflict("api.someone-else-changed-these-settings",
					&huma.ErrorDetail{Location: "body", Message: "api.they-now-stand-so", Value: kept})
			}
			return answer(kept, err)
		},
	)
}

// lapOnPaper takes a lap's words for the sheet, in the company's zone.
func lapOnPaper(v route.LapView) paper.Lap {
	zone, err := time.LoadLocation(v.Zone)
	if err != nil {
		zone = time.UTC
	}
	day, _ := time.Parse(time.DateOnly, v.Day)
	out := paper.Lap{Company: v.Company, Technician: v.Technician, Day: day, Minutes: v.Minutes, Limit: v.LimitMinutes}
	for _, m := range v.Van {
		out.Van = append(
			out.Van,
			words.Of(
				"api.material",
				"what",
				words.Msg(m.Name),
				"amount",
				words.QD(m.Unit, math.Round(m.Amount*10)/10, -1),
			),
		)
	}
	for _, st := range v.Stops {
		out.Stops = append(
			out.Stops,
			paper.Stop{
				Arrive:    st.PlannedAt.In(zone),
				Street:    st.Street,
				Equipment: st.Equipment,
				Reason: words.Of(
					"api.reason",
					"word",
					words.Msg(st.Reason.Word),
					"detail",
					words.Msg(st.Reason.Detail),
				),
				Work:    st.Due,
				Minutes: st.Minutes,
				Done:    st.State == "done",
			},
		)
	}
	return out
}

type leftOut struct {
	Pools int `json:"pools" doc:"that changed hands"`
}

// planRoutes are who goes where and when.
func (a *API) planRoutes() {
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/pools/{id}/visit-moves",
			"move-visit",
			"Put a planned visit on another day or into other hands",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body route.VisitMove
		}) (*nothing, error) {
			return nil, a.service.Route.MoveVisit(ctx, who, in.ID, in.Body)
		},
	)
	signedIn(
		a,
		op(
			http.MethodGet,
			"/api/v1/laps/{id}/shorter",
			"get-shorter-lap",
			"A lap's order beside the shortest along the roads",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[route.Shorter], error) {
			return answer(a.service.Route.Shorten(ctx, who, in.ID))
		},
	)
	signedIn(
		a,
		op(
			http.MethodGet,
			"/api/v1/laps/{id}/map",
			"get-lap-map",
			"Where a lap's stops are, and the streets around them",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[route.LapMap], error) {
			return answer(a.service.Route.Map(ctx, who, in.ID))
		},
	)
	signedIn(
		a,
		op(http.MethodPut, "/api/v1/laps/{id}/order", "order-lap", "Put a lap's stops in another order"),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body route.LapOrder
		}) (*body[route.LapView], error) {
			v, err := a.service.Route.OrderLap(ctx, who, in.ID, in.Body)
			if errors.Is(err, store.ErrVersion) {
				return nil, huma.Error409Conflict("api.this-lap-changed-since-you")
			}
			return answer(v, err)
		},
	)
	signedIn(a, op(http.MethodGet, "/api/v1/laps/{id}/sheet.pdf", "get-lap-sheet", "A lap on paper"), everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*file, error) {
			v, err := a.service.Route.LapOf(ctx, who, in.ID)
			if err != nil {
				return nil, err
			}
			pdf, err := paper.LapSheet(lapOnPaper(v), who.Printer)
			return answerFile(access.File{Name: "lap-" + v.Day + ".pdf", Type: "application/pdf", Content: pdf}, err)
		})
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/technicians/{id}/leave",
			"technician-leaves",
			"End a technician's work; their pools go to another, or to nobody",
		),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body struct {
				To *uuid.UUID `json:"to,omitempty" format:"uuid" doc:"absent: nobody yet"`
			}
		}) (*body[leftOut], error) {
			n, err := a.service.Office.Leave(ctx, who, in.ID, in.Body.To)
			return answer(leftOut{n}, err)
		},
	)
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/week", "get-week", "One of the coming weeks with its stops and due work"),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			Week  int    `query:"week" minimum:"1" maximum:"6" default:"1" doc:"1 is the seven days from today"`
			Page  int    `query:"page" minimum:"1" maximum:"1000" default:"1" doc:"of the people, six each"`
			Whose string `query:"whose" format:"uuid" doc:"one technician's days alone"`
		}) (*body[route.WeekView], error) {
			ask := route.WeekAsk{Week: in.Week, Page: in.Page}
			if id, err := uuid.Parse(in.Whose); err == nil {
				ask.Whose = &id
			}
			return answer(a.service.Route.Week(ctx, who, ask))
		},
	)
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/drivers", "list-drivers", "People who have days to plan, to give stops to"),
		everyone,
		func(ctx context.Context, who access.Actor, _ *nothing) (*body[[]company.Person], error) {
			return answer(a.service.Route.Drivers(ctx, who))
		},
	)
	signedIn(a, op(http.MethodGet, "/api/v1/due.csv", "get-due-file", "All due work as CSV"), everyone,
		func(_ context.Context, who access.Actor, _ *nothing) (*huma.StreamResponse, error) {
			return a.stream(
				csvType,
				"due-work.csv",
				func(ctx context.Context, w io.Writer) error { return a.service.Route.DueFile(ctx, who, w) },
			), nil
		})
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/calendar-feed", "get-calendar-feed", "Whether your calendar has an address"),
		everyone,
		func(ctx context.Context, who access.Actor, _ *struct{}) (*body[route.CalendarFeed], error) {
			return answer(a.service.Route.Feed(ctx, who))
		},
	)
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/calendar-feed",
			"open-calendar-feed",
			"A new secret address of your calendar; the old one ends",
		),
		everyone,
		func(ctx context.Context, who access.Actor, _ *struct{}) (*body[route.CalendarFeed], error) {
			return answer(a.service.Route.OpenFeed(ctx, who))
		},
	)
	signedIn(
		a,
		op(http.MethodDelete, "/api/v1/calendar-feed", "close-calendar-feed", "End your calendar's address"),
		everyone,
		func(ctx context.Context, who access.Actor, _ *struct{}) (*body[route.CalendarFeed], error) {
			return answer(a.service.Route.CloseFeed(ctx, who))
		},
	)
	open(
		a,
		op(
			http.MethodGet,
			"/api/calendar/{secret}",
			"get-calendar",
			"Somebody's laps as iCalendar, by their secret address",
		),
		func(ctx context.Context, in *struct {
			Secret string `path:"secret" maxLength:"100"`
		}) (*file, error) {
			return answerFile(a.service.Route.Calendar(ctx, strings.TrimSuffix(in.Secret, ".ics")))
		},
	)
}
