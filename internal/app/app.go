// Package app is the use cases: the only place where the core's rules meet the store's
// records. Each folder is a room, named by what people do in it; none knows of HTTP.
package app

import (
	"time"

	"fairlap/internal/app/company"
	"fairlap/internal/app/day"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/exchange"
	"fairlap/internal/app/inspect"
	"fairlap/internal/app/learn"
	"fairlap/internal/app/office"
	"fairlap/internal/app/padwork"
	"fairlap/internal/app/papers"
	"fairlap/internal/app/photo"
	"fairlap/internal/app/record"
	"fairlap/internal/app/route"
	"fairlap/internal/app/standing"
	"fairlap/internal/app/visit"
	"fairlap/internal/app/work"
	"fairlap/internal/store"
)

// Rooms are all rooms over one company's record.
type Rooms struct {
	Company   *company.Reader
	Standing  *standing.Keeper
	Visit     *visit.Service
	Work      *work.Service
	Inspect   *inspect.Service
	Route     *route.Service
	Day       *day.Service
	Record    *record.Service
	Equipment *equipment.Service
	Pads      *padwork.Service
	Photos    *photo.Service
	Papers    *papers.Service
	Office    *office.Service
	Exchange  *exchange.Service
	Learn     *learn.Service
}

// New opens the rooms. now is the clock.
func New(st *store.Store, now func() time.Time, world company.World) *Rooms {
	office.Prepare()
	r := company.New(st, now, world)
	k := standing.New(r)
	return &Rooms{Company: r, Standing: k,
		Visit:     visit.New(k),
		Work:      work.New(k),
		Inspect:   inspect.New(k),
		Route:     route.New(k),
		Day:       day.New(k),
		Record:    record.New(k),
		Equipment: equipment.New(k),
		Pads:      padwork.New(k),
		Photos:    photo.New(k),
		Papers:    papers.New(k),
		Office:    office.New(k),
		Exchange:  exchange.New(k),
		Learn:     learn.New(r),
	}
}
