package api

import (
	"context"
	"errors"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"fairlap/core/pad"
	"fairlap/internal/app"
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

func answerFile(f app.PadFile, err error) (*file, error) {
	if err != nil {
		return nil, err
	}
	return &file{f.Type, `attachment; filename="` + f.Name + `"`, f.Content}, nil
}

type typedWalk struct {
	Readings []app.TypedReading `json:"readings" maxItems:"12" nullable:"false"`
}

type textFile struct {
	Body struct {
		Text string `json:"text" maxLength:"2097152"`
	}
}

func (a *API) padRoutes() {
	signedIn(a, described(op(http.MethodPost, "/api/pads/sketch", "sketch-pad", "Draw the usual pad round a bare minimum")), everyone,
		func(_ context.Context, _ app.Actor, in *struct{ Body pad.Sketch }) (*body[pad.Document], error) {
			return answer(a.service.SketchPad(in.Body))
		})
	signedIn(a, described(op(http.MethodPost, "/api/pads/preview", "preview-pad", "Solve a described pad without keeping it")), everyone,
		func(ctx context.Context, _ app.Actor, in *struct {
			Body struct {
				Gallons  float64      `json:"gallons" doc:"0 is not known"`
				Document pad.Document `json:"document"`
			}
		}) (*body[app.PadPreview], error) {
			return answer(a.service.PreviewPad(ctx, in.Body.Document, in.Body.Gallons))
		})
	signedIn(a, op(http.MethodPost, "/api/pads/read", "read-pad-file", "Read a pad document, or an EPANET file that was exported here"), everyone,
		func(_ context.Context, _ app.Actor, in *textFile) (*body[pad.Document], error) {
			return answer(a.service.ReadPadFile(in.Body.Text))
		})
	signedIn(a, described(op(http.MethodPost, "/api/pools", "create-pool", "Take a pool on")), everyone,
		func(ctx context.Context, who app.Actor, in *struct{ Body app.NewPool }) (*body[app.PoolRecordView], error) {
			return answer(a.service.CreatePool(ctx, who, in.Body))
		})
	signedIn(a, op(http.MethodGet, "/api/pools/{id}/pad", "get-pad", "A pool's pad and its revisions"), everyone,
		func(ctx context.Context, who app.Actor, in *ByID) (*body[app.PadOnRecord], error) {
			return answer(a.service.PoolPad(ctx, who, in.ID))
		})
	signedIn(a, described(op(http.MethodPut, "/api/pools/{id}/pad", "save-pad", "Keep a new revision of a pool's pad")), everyone,
		func(ctx context.Context, who app.Actor, in *struct {
			ByID
			Body app.PadChange
		}) (*body[app.PadOnRecord], error) {
			kept, err := a.service.SavePad(ctx, who, in.ID, in.Body)
			if errors.Is(err, store.ErrVersion) {
				return nil, huma.Error409Conflict("api.someone-else-changed-this-pad",
					&huma.ErrorDetail{Location: "body.basedOn", Message: "api.this-is-how-it-stands", Value: kept})
			}
			return answer(kept, err)
		})
	signedIn(a, op(http.MethodGet, "/api/pools/{id}/pad/file", "get-pad-file", "A pool's pad as a file"), everyone,
		func(ctx context.Context, who app.Actor, in *struct {
			ByID
			Format string `query:"format" enum:"json,inp,csv" default:"json"`
		}) (*file, error) {
			return answerFile(a.service.PadFile(ctx, who, in.ID, in.Format))
		})
	signedIn(a, op(http.MethodPost, "/api/pools/{id}/paths", "try-paths", "Where the water would go, before the hand moves"), everyone,
		func(ctx context.Context, who app.Actor, in *struct {
			ByID
			Body app.PathsAsk
		}) (*body[app.PathsView], error) {
			return answer(a.service.Paths(ctx, who, in.ID, in.Body))
		})
	signedIn(a, op(http.MethodGet, "/api/pools/{id}/limits", "get-limits", "Every limit of a pool's pad at its programmed speeds"), everyone,
		func(ctx context.Context, who app.Actor, in *ByID) (*body[app.LimitsView], error) {
			return answer(a.service.Limits(ctx, who, in.ID))
		})
	a.cleanLineRoutes()
	a.catalogueRoutes()
	signedIn(a, op(http.MethodGet, "/api/track-record", "get-track-record", "How often the shown diagnoses were right"), everyone,
		func(ctx context.Context, _ app.Actor, _ *nothing) (*body[app.TrackRecord], error) {
			return answer(a.service.TrackRecord(ctx))
		})
}

func (a *API) cleanLineRoutes() {
	signedIn(a, op(http.MethodPost, "/api/walks/read", "read-walk-file", "Read a speed walk's file"), everyone,
		func(_ context.Context, _ app.Actor, in *textFile) (*body[[]app.TypedReading], error) {
			return answer(a.service.ReadWalkFile(in.Body.Text))
		})
	signedIn(a, op(http.MethodPost, "/api/pools/{id}/walk", "try-walk", "Fit a speed walk without keeping it"), everyone,
		func(ctx context.Context, who app.Actor, in *struct {
			ByID
			Body typedWalk
		}) (*body[app.WalkFit], error) {
			return answer(a.service.TryWalk(ctx, who, in.ID, in.Body.Readings))
		})
	signedIn(a, op(http.MethodGet, "/api/pools/{id}/clean-lines", "list-clean-lines", "A pool's clean lines, newest first"), everyone,
		func(ctx context.Context, who app.Actor, in *ByID) (*body[[]app.CleanLineView], error) {
			return answer(a.service.CleanLines(ctx, who, in.ID))
		})
	signedIn(a, op(http.MethodPost, "/api/pools/{id}/clean-lines", "save-clean-line", "Keep a speed walk as the pad's clean line, once"), everyone,
		func(ctx context.Context, who app.Actor, in *struct {
			ByID
			Body app.NewCleanLine
		}) (*body[app.CleanLineView], error) {
			return answer(a.service.SaveCleanLine(ctx, who, in.ID, in.Body))
		})
}

func (a *API) catalogueRoutes() {
	signedIn(a, op(http.MethodGet, "/api/catalogue", "list-catalogue", "Models to describe a pad with"), everyone,
		func(ctx context.Context, _ app.Actor, _ *nothing) (*body[[]app.CatalogueItem], error) {
			return answer(a.service.Catalogue(ctx))
		})
	signedIn(a, op(http.MethodGet, "/api/catalogue/file", "get-catalogue-file", "The catalogue as a file"), everyone,
		func(ctx context.Context, _ app.Actor, _ *nothing) (*file, error) {
			return answerFile(a.service.CatalogueFile(ctx))
		})
	signedIn(a, op(http.MethodPost, "/api/catalogue", "import-catalogue", "Import your own models, all or none"), deskAndUp,
		func(ctx context.Context, who app.Actor, in *textFile) (*body[[]app.CatalogueItem], error) {
			return answer(a.service.ImportCatalogue(ctx, who, in.Body.Text))
		})
	signedIn(a, op(http.MethodPost, "/api/catalogue/pumps", "add-pump", "Enter a pump from its plate and two points of its curve"), everyone,
		func(ctx context.Context, who app.Actor, in *struct{ Body app.OwnPump }) (*body[[]app.CatalogueItem], error) {
			return answer(a.service.AddPump(ctx, who, in.Body))
		})
}
