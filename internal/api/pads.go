package api

import (
	"context"
	"errors"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"fairlap/core/catalogue"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/internal/app/access"
	"fairlap/internal/app/padwork"
	"fairlap/internal/app/record"
	"fairlap/internal/app/visit"
	"fairlap/internal/store"
)

// described marks a route whose body is a pad document: the document's own rules
// refuse it, in sentences.
func described(o huma.Operation) huma.Operation {
	o.SkipValidateBody = true
	return o
}

// file is an answer that a browser keeps.
type file struct {
	ContentType        string `header:"Content-Type"`
	ContentDisposition string `header:"Content-Disposition"`
	Body               []byte
}

func answerFile(f access.File, err error) (*file, error) {
	if err != nil {
		return nil, err
	}
	return &file{f.Type, `attachment; filename="` + f.Name + `"`, f.Content}, nil
}

type typedWalk struct {
	Readings []judge.TypedReading `json:"readings" maxItems:"12" nullable:"false"`
}

type textFile struct {
	Body struct {
		Text string `json:"text" maxLength:"2097152"`
	}
}

func (a *API) padRoutes() {
	signedIn(
		a,
		described(op(http.MethodPost, "/api/v1/pads/sketch", "sketch-pad", "Draw the usual pad round a bare minimum")),
		everyone,
		func(_ context.Context, _ access.Actor, in *struct{ Body pad.Sketch }) (*body[pad.Document], error) {
			return answer(a.service.Pads.SketchPad(in.Body))
		},
	)
	signedIn(
		a,
		described(
			op(http.MethodPost, "/api/v1/pads/preview", "preview-pad", "Solve a described pad without keeping it"),
		),
		everyone,
		func(ctx context.Context, _ access.Actor, in *struct {
			Body struct {
				Gallons  float64      `json:"gallons" doc:"0 is not known"`
				Document pad.Document `json:"document"`
			}
		}) (*body[padwork.PadPreview], error) {
			return answer(a.service.Pads.PreviewPad(ctx, in.Body.Document, in.Body.Gallons))
		},
	)
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/pads/read",
			"read-pad-file",
			"Read a pad document, or an EPANET file that was exported here",
		),
		everyone,
		func(_ context.Context, _ access.Actor, in *textFile) (*body[pad.Document], error) {
			return answer(a.service.Pads.ReadPadFile(in.Body.Text))
		},
	)
	signedIn(
		a,
		described(op(http.MethodPost, "/api/v1/pools", "create-pool", "Take a pool on")),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct{ Body record.NewPool }) (*body[record.PoolRecordView],
			error) {
			return answer(a.service.Record.CreatePool(ctx, who, in.Body))
		},
	)
	signedIn(a, op(http.MethodGet, "/api/v1/pools/{id}/pad", "get-pad", "A pool's pad and its revisions"), everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[padwork.PadOnRecord], error) {
			return answer(a.service.Pads.PoolPad(ctx, who, in.ID))
		})
	signedIn(
		a,
		described(op(http.MethodPut, "/api/v1/pools/{id}/pad", "save-pad", "Keep a new revision of a pool's pad")),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body padwork.PadChange
		}) (*body[padwork.PadOnRecord], error) {
			kept, err := a.service.Pads.SavePad(ctx, who, in.ID, in.Body)
			if errors.Is(err, store.ErrVersion) {
				return nil, huma.Error409Conflict("api.someone-else-changed-this-pad",
					&huma.ErrorDetail{Location: "body.basedOn", Message: "api.this-is-how-it-stands", Value: kept})
			}
			return answer(kept, err)
		},
	)
	signedIn(a, op(http.MethodGet, "/api/v1/pools/{id}/pad/file", "get-pad-file", "A pool's pad as a file"), everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Format string `query:"format" enum:"json,inp,csv" default:"json"`
		}) (*file, error) {
			return answerFile(a.service.Pads.PadFile(ctx, who, in.ID, in.Format))
		})
	signedIn(
		a,
		op(http.MethodPost, "/api/v1/pools/{id}/paths", "try-paths", "Where the water would go, before the hand moves"),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body padwork.PathsAsk
		}) (*body[judge.PathsView], error) {
			return answer(a.service.Pads.Paths(ctx, who, in.ID, in.Body))
		},
	)
	signedIn(
		a,
		op(
			http.MethodGet,
			"/api/v1/pools/{id}/limits",
			"get-limits",
			"Every limit of a pool's pad at its programmed speeds",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[judge.LimitsView], error) {
			return answer(a.service.Pads.Limits(ctx, who, in.ID))
		},
	)
	a.cleanLineRoutes()
	a.catalogueRoutes()
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/track-record", "get-track-record", "How often the shown diagnoses were right"),
		everyone,
		func(ctx context.Context, _ access.Actor, _ *nothing) (*body[visit.TrackRecord], error) {
			return answer(a.service.Visit.TrackRecord(ctx))
		},
	)
}

func (a *API) cleanLineRoutes() {
	signedIn(a, op(http.MethodPost, "/api/v1/walks/read", "read-walk-file", "Read a speed walk's file"), everyone,
		func(_ context.Context, _ access.Actor, in *textFile) (*body[[]judge.TypedReading], error) {
			return answer(a.service.Pads.ReadWalkFile(in.Body.Text))
		})
	signedIn(
		a,
		op(http.MethodPost, "/api/v1/pools/{id}/walk", "try-walk", "Fit a speed walk without keeping it"),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body typedWalk
		}) (*body[padwork.WalkFit], error) {
			return answer(a.service.Pads.TryWalk(ctx, who, in.ID, in.Body.Readings))
		},
	)
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/pools/{id}/clean-lines", "list-clean-lines", "A pool's clean lines, newest first"),
		everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[[]padwork.CleanLineView], error) {
			return answer(a.service.Pads.CleanLines(ctx, who, in.ID))
		},
	)
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/pools/{id}/clean-lines",
			"save-clean-line",
			"Keep a speed walk as the pad's clean line, once",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body padwork.NewCleanLine
		}) (*body[padwork.CleanLineView], error) {
			return answer(a.service.Pads.SaveCleanLine(ctx, who, in.ID, in.Body))
		},
	)
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/pools/{id}/clean-lines/{line}/withdrawal",
			"withdraw-clean-line",
			"Withdraw a clean line, once: what was read since is judged again without it",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Line uuid.UUID `path:"line" format:"uuid"`
			Body padwork.Withdrawal
		}) (*nothing, error) {
			return nil, a.service.Pads.WithdrawCleanLine(ctx, who, in.ID, in.Line, in.Body)
		},
	)
}

func (a *API) catalogueRoutes() {
	signedIn(a, op(http.MethodGet, "/api/v1/catalogue", "list-catalogue", "Models to describe a pad with"), everyone,
		func(ctx context.Context, _ access.Actor, _ *nothing) (*body[[]padwork.CatalogueItem], error) {
			return answer(a.service.Pads.Catalogue(ctx))
		})
	signedIn(a, op(http.MethodGet, "/api/v1/catalogue/file", "get-catalogue-file", "The catalogue as a file"), everyone,
		func(ctx context.Context, _ access.Actor, _ *nothing) (*file, error) {
			return answerFile(a.service.Pads.CatalogueFile(ctx))
		})
	signedIn(
		a,
		op(http.MethodPost, "/api/v1/catalogue", "import-catalogue", "Import your own models, all or none"),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *textFile) (*body[[]padwork.CatalogueItem], error) {
			return answer(a.service.Pads.ImportCatalogue(ctx, who, in.Body.Text))
		},
	)
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/catalogue/pumps",
			"add-pump",
			"Enter a pump from its plate and two points of its curve",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct{ Body padwork.OwnPump }) (*body[[]padwork.CatalogueItem],
			error) {
			return answer(a.service.Pads.AddPump(ctx, who, in.Body))
		},
	)
	signedIn(
		a,
		op(http.MethodPost, "/api/v1/catalogue/plates", "add-plate",
			"Enter a pump or a filter that is on no list by its plate: an ordinary one of its size"),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct{ Body catalogue.Plate }) (*body[[]padwork.CatalogueItem],
			error) {
			return answer(a.service.Pads.AddPlate(ctx, who, in.Body))
		},
	)
}
