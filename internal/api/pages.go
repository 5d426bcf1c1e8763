package api

import (
	"time"

	"github.com/danielgtaylor/huma/v2"

	"fairlap/internal/app/access"
	"fairlap/internal/store"
)

// From is where a list is read on.
type From struct {
	From string `query:"from" maxLength:"64" doc:"the cursor that the page before gave; absent: the newest"`

	at store.Cursor
}

// Resolve reads the cursor.
func (f *From) Resolve(huma.Context) []error {
	if f.From == "" {
		return nil
	}
	var err error
	if f.at, err = store.ParseCursor(f.From); err != nil {
		return []error{&huma.ErrorDetail{Location: "query.from", Message: "api.no-place-in-this-list", Value: f.From}}
	}
	return nil
}

// cursor is the place asked for, else the newest.
func (f *From) cursor(now time.Time) store.Cursor {
	if f.From == "" {
		return store.Newest(now)
	}
	return f.at
}

// Pages are which page of a list is asked for.
type Pages struct {
	Page int `query:"page" minimum:"1" maximum:"100000" default:"1"`
	Size int `query:"size" minimum:"1" maximum:"200" default:"50" doc:"lines on a page"`
}

func (p *Pages) window() access.Window { return access.Window{Page: p.Page, Size: p.Size} }
