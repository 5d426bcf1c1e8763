package api

import (
	"context"
	"errors"
	"io"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/pool"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/exchange"
	"fairlap/internal/app/office"
	"fairlap/internal/app/papers"
	"fairlap/internal/app/photo"
	"fairlap/internal/app/record"
	"fairlap/internal/paper"
	"fairlap/internal/store"
)

// nowStands answers a change that came too late with what stands now.
func nowStands(detail string, v any) error {
	return huma.Error409Conflict(
		detail,
		&huma.ErrorDetail{Location: "body", Message: "api.this-is-how-it-stands", Value: v},
	)
}

// changed answers a change: what it led to, or, where somebody else was faster, what
// stands now.
func changed[T any](v T, err error, detail string) (*body[T], error) {
	if errors.Is(err, store.ErrVersion) {
		return nil, nowStands(detail, v)
	}
	return answer(v, err)
}

// poolRecordRoutes are what a pool is, its log, its pictures and its papers.
func (a *API) poolRecordRoutes() {
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/pools/{id}/about", "get-about", "What a pool is, whose, and who comes when"),
		everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[record.PoolAbout], error) {
			return answer(a.service.Record.About(ctx, who, in.ID))
		},
	)
	signedIn(a, op(http.MethodPut, "/api/v1/pools/{id}/about", "save-about", "Change what a pool is"), deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body record.PoolEdit
		}) (*body[record.PoolAbout], error) {
			v, err := a.service.Record.SaveAbout(ctx, who, in.ID, in.Body)
			return changed(v, err, "api.someone-else-changed-this-pool")
		})
	signedIn(
		a,
		op(http.MethodPut, "/api/v1/pools/{id}/archived", "archive-pool", "Take a pool out of care, or back into it"),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body struct {
				Archived bool `json:"archived"`
				Version  int  `json:"version" minimum:"1"`
			}
		}) (*body[record.PoolAbout], error) {
			v, err := a.service.Record.ArchivePool(ctx, who, in.ID, in.Body.Version, in.Body.Archived)
			return changed(v, err, "api.someone-else-changed-this-pool")
		},
	)
	signedIn(a, op(http.MethodGet, "/api/v1/pools/{id}/log", "get-log", "A pool's log, newest first"), everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			From
			Kind []string `query:"kind" enum:"visit,run,part,note,photo,pad,clean-line,due,inspection"`
			Find string   `query:"find" maxLength:"120"`
		}) (*body[record.LogPage], error) {
			return answer(
				a.service.Record.Log(
					ctx,
					who,
					in.ID,
					record.LogAsk{From: in.cursor(a.service.Company.Now()), Kinds: in.Kind, Find: in.Find},
				),
			)
		})
	signedIn(
		a,
		op(http.MethodPost, "/api/v1/pools/{id}/notes", "add-note", "Write something down about a pool, once"),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body struct {
				ID   uuid.UUID `json:"id" format:"uuid"`
				Text string    `json:"text" maxLength:"4000"`
			}
		}) (*nothing, error) {
			return nil, a.service.Record.AddNote(ctx, who, in.ID, in.Body.ID, in.Body.Text)
		},
	)
	signedIn(
		a,
		op(http.MethodPost, "/api/v1/volume", "work-out-volume", "A pool's volume from its shape and depths"),
		everyone,
		func(_ context.Context, _ access.Actor, in *struct{ Body pool.Dimensions }) (*body[volumeOut], error) {
			v, err := record.VolumeOf(in.Body)
			return answer(volumeOut{v}, err)
		},
	)
	a.photoRoutes()
	a.paperRoutes()
}

type volumeOut struct {
	Gallons float64 `json:"gallons"`
}

// jpegFile is a picture as it is served.
type jpegFile struct {
	ContentType  string `header:"Content-Type"`
	CacheControl string `header:"Cache-Control"`
	Body         []byte
}

func answerJPEG(b []byte, err error) (*jpegFile, error) {
	if err != nil {
		return nil, err
	}
	return &jpegFile{"image/jpeg", "private, max-age=3600", b}, nil
}

func (a *API) photoRoutes() {
	signedIn(
		a,
		op(http.MethodPost, "/api/v1/pools/{id}/photos", "add-photo", "Keep a picture, once; the body is the picture"),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Photo      uuid.UUID `query:"photo" format:"uuid" required:"true" doc:"id of the picture, made by whoever sends it"`
			Visit      string    `query:"visit" maxLength:"36" doc:"the visit that it belongs to"`
			Inspection string    `query:"inspection" maxLength:"36" doc:"the inspection that it belongs to"`
			Item       string    `query:"item" maxLength:"40" doc:"of an inspection: the thing that it shows"`
			Caption    string    `query:"caption" maxLength:"300"`
			TakenAt    time.Time `query:"takenAt"`
			RawBody    []byte    `contentType:"application/octet-stream"`
		}) (*body[photo.PhotoView], error) {
			p := photo.NewPhoto{ID: in.Photo, Item: in.Item, Caption: in.Caption, TakenAt: in.TakenAt}
			var err error
			if p.VisitID, err = ofPool("visit", in.Visit); err != nil {
				return nil, err
			}
			if p.Inspection, err = ofPool("inspection", in.Inspection); err != nil {
				return nil, err
			}
			return answer(a.service.Photos.AddPhoto(ctx, who, in.ID, p, in.RawBody))
		},
	)
	signedIn(a, op(http.MethodGet, "/api/v1/photos/{id}", "get-photo", "A picture"), everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*jpegFile, error) {
			return answerJPEG(a.service.Photos.Photo(ctx, who, in.ID))
		})
	signedIn(
		a,
		op(http.MethodPut, "/api/v1/photos/{id}/shown", "show-photo", "Let a picture stand for its pool"),
		everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*nothing, error) {
			return nil, a.service.Photos.ShowPhoto(ctx, who, in.ID)
		},
	)
	signedIn(
		a,
		op(http.MethodPost, "/api/v1/photos/{id}/gone", "take-photo-away", "Take a picture away, and say why"),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body struct {
				Why string `json:"why" maxLength:"300"`
			}
		}) (*nothing, error) {
			return nil, a.service.Photos.TakePhotoAway(ctx, who, in.ID, in.Body.Why)
		},
	)
}

// ofPool reads the id of something of a pool's that may be left out.
func ofPool(field, text string) (*uuid.UUID, error) {
	if text == "" {
		return nil, nil
	}
	id, err := uuid.Parse(text)
	if err != nil {
		return nil, figure.Wrong(field, words.Of("api.not-the-pools", "what", words.Name(field)))
	}
	return &id, nil
}

// PaperAsk names a paper of a pool.
type PaperAsk struct {
	Kind papers.PaperKind `path:"kind" enum:"visit,report,season,owner,inspection"`
	Of   string           `query:"of" maxLength:"36" doc:"the visit or inspection that it is of; the last one without it"`
}

func (p PaperAsk) of() (*uuid.UUID, error) {
	if p.Of == "" {
		return nil, nil
	}
	id, err := uuid.Parse(p.Of)
	if err != nil {
		return nil, store.ErrNotFound
	}
	return &id, nil
}

// forItsReader has a paper told to whom it is for, whoever asked for it.
func forItsReader(ctx context.Context, d paper.Page, err error) (paper.Page, error) {
	if err == nil {
		readerOf(ctx).Printer = d.For
	}
	return d, err
}

// pdfOf sets a paper as PDF.
func (a *API) pdfOf(ctx context.Context, d paper.Page, err error) (*file, error) {
	if err != nil {
		return nil, err
	}
	return answerFile(a.service.Papers.PaperPDF(ctx, d))
}

func (a *API) paperRoutes() {
	signedIn(a, op(http.MethodGet, "/api/v1/pools/{id}/papers", "list-papers", "A pool's papers"), everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[[]papers.PaperName], error) {
			return answer(a.service.Papers.Papers(ctx, who, in.ID))
		})
	type ask struct {
		ByID
		PaperAsk
	}
	write := func(ctx context.Context, who access.Actor, in *ask) (paper.Page, error) {
		of, err := in.of()
		if err != nil {
			return paper.Page{}, err
		}
		d, err := a.service.Papers.Paper(ctx, who, in.ID, in.Kind, of)
		return forItsReader(ctx, d, err)
	}
	signedIn(a, op(http.MethodGet, "/api/v1/pools/{id}/papers/{kind}", "get-paper", "One paper of a pool"), everyone,
		func(ctx context.Context, who access.Actor, in *ask) (*body[paper.Page], error) {
			return answer(write(ctx, who, in))
		})
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/pools/{id}/papers/{kind}/pdf", "get-paper-pdf", "One paper of a pool as PDF"),
		everyone,
		func(ctx context.Context, who access.Actor, in *ask) (*file, error) {
			d, err := write(ctx, who, in)
			return a.pdfOf(ctx, d, err)
		},
	)
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/pools/{id}/links",
			"open-link",
			"A secret link to a pool's papers for its customer",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body struct {
				Days int `json:"days" doc:"that it is good for"`
			}
		}) (*body[papers.LinkView], error) {
			return answer(a.service.Papers.OpenLink(ctx, who, in.ID, in.Body.Days))
		},
	)
	signedIn(a, op(http.MethodDelete, "/api/v1/pools/{id}/links/{link}", "end-link", "Revoke a link"), deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Link uuid.UUID `path:"link" format:"uuid"`
		}) (*nothing, error) {
			return nil, a.service.Papers.EndLink(ctx, who, in.ID, in.Link)
		})
	a.sharedRoutes()
}

// BySecret is exported because only then is its field filled where it is embedded.
type BySecret struct {
	Secret string `path:"secret" maxLength:"100"`
}

// sharedRoutes are what a customer's link opens, signed out: its own pool alone.
func (a *API) sharedRoutes() {
	open(a, op(http.MethodGet, "/api/v1/shared/{secret}", "get-shared", "What a customer's link leads to"),
		func(ctx context.Context, in *BySecret) (*body[papers.SharedView], error) {
			v, err := a.service.Papers.Shared(ctx, readerOf(ctx).Lang, in.Secret)
			if err == nil {
				readerOf(ctx).Lang = words.Lang(v.Lang)
			}
			return answer(v, err)
		})
	open(
		a,
		op(
			http.MethodGet,
			"/api/v1/shared/{secret}/photo",
			"get-shared-photo",
			"The picture that stands for a link's pool",
		),
		func(ctx context.Context, in *BySecret) (*jpegFile, error) {
			return answerJPEG(a.service.Papers.SharedPhoto(ctx, in.Secret))
		},
	)
	type ask struct {
		BySecret
		PaperAsk
	}
	write := func(ctx context.Context, in *ask) (paper.Page, error) {
		of, err := in.of()
		if err != nil {
			return paper.Page{}, err
		}
		d, err := a.service.Papers.SharedPaper(ctx, readerOf(ctx).Printer, in.Secret, in.Kind, of)
		return forItsReader(ctx, d, err)
	}
	open(
		a,
		op(
			http.MethodGet,
			"/api/v1/shared/{secret}/papers/{kind}",
			"get-shared-paper",
			"One paper by a customer's link",
		),
		func(ctx context.Context, in *ask) (*body[paper.Page], error) { return answer(write(ctx, in)) },
	)
	open(
		a,
		op(
			http.MethodGet,
			"/api/v1/shared/{secret}/papers/{kind}/pdf",
			"get-shared-paper-pdf",
			"One paper by a customer's link as PDF",
		),
		func(ctx context.Context, in *ask) (*file, error) {
			d, err := write(ctx, in)
			return a.pdfOf(ctx, d, err)
		},
	)
}

// officeRoutes are the company's set-up, its people, its customers, and its record as
// spreadsheets.
func (a *API) officeRoutes() {
	signedIn(a, op(http.MethodGet, "/api/v1/office", "get-office", "How the company is set up"), deskAndUp,
		func(ctx context.Context, who access.Actor, _ *nothing) (*body[office.CompanyView], error) {
			return answer(a.service.Office.Office(ctx, who))
		})
	signedIn(
		a,
		op(http.MethodPut, "/api/v1/office", "save-office", "Change how the company is set up"),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct{ Body office.CompanyView }) (*body[office.CompanyView],
			error) {
			v, err := a.service.Office.SaveOffice(ctx, who, in.Body)
			return changed(v, err, "api.someone-else-changed-the-company")
		},
	)
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/people", "list-people", "Everybody who signs in, those who left too"),
		deskAndUp,
		func(ctx context.Context, who access.Actor, _ *nothing) (*body[[]office.PersonRow], error) {
			return answer(a.service.Office.Staff(ctx, who))
		},
	)
	signedIn(
		a,
		op(http.MethodPut, "/api/v1/people", "put-person", "Add somebody, or change them"),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct{ Body office.PersonEdit }) (*body[office.PersonRow],
			error) {
			v, err := a.service.Office.PutPerson(ctx, who, in.Body)
			return changed(v, err, "api.someone-else-changed-this-person")
		},
	)
	signedIn(
		a,
		op(
			http.MethodPut,
			"/api/v1/me/reads",
			"choose-what-is-read",
			"Choose your language and units; empty is as the company does",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct{ Body office.Reads }) (*body[office.Me], error) {
			return answer(a.service.Office.SetReads(ctx, who, in.Body))
		},
	)
	signedIn(
		a,
		op(http.MethodPut, "/api/v1/me/password", "change-password", "Choose a new password; your other sign-ins end"),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			Remote
			Body struct {
				Password    string `json:"password" maxLength:"200"`
				NewPassword string `json:"newPassword" maxLength:"200"`
			}
		}) (*nothing, error) {
			if err := a.try(ctx, "me:"+who.ID.String(), in.address); err != nil {
				return nil, err
			}
			at, err := a.service.Office.ChangePassword(ctx, who, in.Body.Password, in.Body.NewPassword)
			if err == nil {
				a.sessions.Put(ctx, sessionBegan, at.UnixMicro())
			}
			return nil, err
		},
	)
	signedIn(a, op(http.MethodGet, "/api/v1/audit", "get-audit", "Who changed what, newest first"), deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			From
			Act []string `query:"act" enum:"pool,customer,link,photo,people,company,cleaning,catalogue,import,retention"`
			By  string   `query:"by" format:"uuid" doc:"changes of this one only"`
		}) (*body[office.TrailPage], error) {
			ask := store.AuditAsk{From: in.cursor(a.service.Company.Now()), Acts: in.Act}
			if id, err := uuid.Parse(in.By); err == nil {
				ask.Who = &id
			}
			return answer(a.service.Office.Trail(ctx, who, ask))
		})
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/customers", "find-customers", "Customers by letters of their name"),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			Q string `query:"q" maxLength:"120"`
		}) (*body[[]record.CustomerOf], error) {
			return answer(a.service.Record.FindCustomers(ctx, who, in.Q))
		},
	)
	signedIn(
		a,
		op(http.MethodPut, "/api/v1/customers", "put-customer", "Write a customer down, or change their details"),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct{ Body record.CustomerOf }) (*body[record.CustomerOf],
			error) {
			v, err := a.service.Record.PutCustomer(ctx, who, in.Body)
			return changed(v, err, "api.someone-else-changed-this-customer")
		},
	)
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/customers/{id}/erased",
			"erase-customer",
			"Erase a customer's details; the pools' record stays",
		),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *ByID) (*nothing, error) {
			return nil, a.service.Record.EraseCustomer(ctx, who, in.ID)
		},
	)
	a.sheetRoutes()
}

const csvType = "text/csv; charset=utf-8"

// stream answers with a file that is written while it is read; one that ends early does not look
// whole.
func (a *API) stream(kind, name string, write func(context.Context, io.Writer) error) *huma.StreamResponse {
	return &huma.StreamResponse{Body: func(hc huma.Context) {
		hc.SetHeader("Content-Type", kind)
		hc.SetHeader("Content-Disposition", `attachment; filename="`+name+`"`)
		if err := write(hc.Context(), hc.BodyWriter()); err != nil {
			a.log.ErrorContext(hc.Context(), "a file broke off", "file", name, "error", err)
			panic(http.ErrAbortHandler)
		}
	}}
}

func (a *API) sheetRoutes() {
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/sheets", "export-sheets", "Pools, equipment, visits and readings as a spreadsheet"),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			Table  string `query:"table" enum:",pools,equipment,visits,readings" doc:"one table; all without it"`
			Format string `query:"format" enum:"csv,xlsx" default:"xlsx"`
		}) (*huma.StreamResponse, error) {
			var tables []string
			name := "fair-lap"
			if in.Table != "" {
				tables, name = []string{in.Table}, in.Table
			}
			if in.Format == "csv" && in.Table == "" {
				return nil, figure.Wrong("table", "api.a-csv-file-holds-one")
			}
			kind := csvType
			if in.Format == "xlsx" {
				kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
			}
			return a.stream(kind, name+"."+in.Format, func(ctx context.Context, w io.Writer) error {
				return a.service.Exchange.ExportSheets(ctx, who, tables, in.Format, w)
			}), nil
		},
	)
	signedIn(
		a,
		op(
			http.MethodGet,
			"/api/v1/archive",
			"export-archive",
			"Everything on record as lines of JSON; it holds password hashes",
		),
		[]access.Role{access.Owner},
		func(ctx context.Context, _ access.Actor, _ *nothing) (*huma.StreamResponse, error) {
			archive, err := a.service.Exchange.ExportArchive(ctx)
			if err != nil {
				return nil, err
			}
			return a.stream(
				"application/x-ndjson",
				"fair-lap-archive.ndjson",
				func(_ context.Context, w io.Writer) error {
					defer archive.Close()
					_, err := io.Copy(w, archive)
					return err
				},
			), nil
		},
	)
	signedIn(
		a,
		op(http.MethodPost, "/api/v1/imports", "start-import", "Read a spreadsheet as a dry run; the body is the file"),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			Name    string `query:"name" maxLength:"200"`
			RawBody []byte `contentType:"application/octet-stream"`
		}) (*body[exchange.ImportView], error) {
			return answer(a.service.Exchange.StartImport(ctx, who, in.Name, in.RawBody))
		},
	)
	signedIn(a, op(http.MethodGet, "/api/v1/imports/{id}", "get-import", "How an import stands"), deskAndUp,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[exchange.ImportView], error) {
			return answer(a.service.Exchange.Import(ctx, who, in.ID))
		})
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/imports/{id}/rows", "list-import-rows", "What becomes of each row"),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Outcome string `query:"outcome" enum:",new,gap,known,refused"`
			From    int    `query:"from" minimum:"0"`
		}) (*body[[]exchange.RowOutcome], error) {
			return answer(a.service.Exchange.ImportRows(ctx, who, in.ID, in.Outcome, in.From))
		},
	)
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/imports/{id}/take",
			"take-import",
			"Write what a dry run found, all of it or nothing",
		),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			LeaveOut bool `query:"leaveOut" doc:"rows that are refused stay out, the others come in"`
		}) (*body[exchange.ImportView], error) {
			return answer(a.service.Exchange.TakeImport(ctx, who, in.ID, in.LeaveOut))
		},
	)
	signedIn(
		a,
		op(http.MethodPut, "/api/v1/imports/{id}/choices", "choose-import",
			"Decide what a customer list's columns are, fix its cells, and read it again"),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body exchange.ImportChoices
		}) (*body[exchange.ImportView], error) {
			return answer(a.service.Exchange.ChooseImport(ctx, who, in.ID, in.Body))
		},
	)
	signedIn(a, op(http.MethodGet, "/api/v1/imports", "list-imports", "What came in lately, newest first"), deskAndUp,
		func(ctx context.Context, who access.Actor, _ *struct{}) (*body[[]exchange.ImportView], error) {
			return answer(a.service.Exchange.Imports(ctx, who))
		})
	signedIn(
		a,
		op(http.MethodPost, "/api/v1/imports/{id}/withdrawal", "withdraw-import",
			"Take back what an import brought, as far as nothing was recorded of it since"),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[exchange.ImportView], error) {
			return answer(a.service.Exchange.WithdrawImport(ctx, who, in.ID))
		},
	)
}
