package record

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/mail"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/pad"
	"fairlap/core/pool"
	"fairlap/core/units"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/papers"
	"fairlap/internal/app/photo"
	"fairlap/internal/app/route"
	"fairlap/internal/store"
)

// PoolAbout is what a pool is, whose it is, and who comes when.
type PoolAbout struct {
	PoolEdit
	ID          string               `json:"id"`
	Name        string               `json:"name" doc:"its street, and which pool it is there"`
	Spa         words.Message        `json:"spa" doc:"the spa on its pad in words; empty: none"`
	Technician  string               `json:"technician"`
	Technicians []company.Person     `json:"technicians" nullable:"false" doc:"whom it may be given to"`
	Customer    *CustomerOf          `json:"customer" doc:"absent: nobody is named"`
	Photo       string               `json:"photo" doc:"id of the picture that stands for the pool; empty: none"`
	Photos      []photo.PhotoView    `json:"photos" nullable:"false" doc:"newest first"`
	Links       []papers.LinkView    `json:"links" nullable:"false" doc:"the customer's ways to its papers, newest first; for the desk"`
	Changes     []company.AuditEntry `json:"changes" nullable:"false" doc:"who changed these facts, newest first"`
	ArchivedAt  *time.Time           `json:"archivedAt"`
	MayEdit     bool                 `json:"mayEdit"`
}

// PoolEdit are a pool's facts that the desk may change.
type PoolEdit struct {
	Street       string     `json:"street" maxLength:"120" doc:"and number"`
	Town         string     `json:"town,omitempty" maxLength:"120" doc:"the rest of the address"`
	Which        string     `json:"which,omitempty" maxLength:"40" doc:"of the pools at this street; empty where there is one"`
	Gallons      float64    `json:"gallons"`
	Surface      string     `json:"surface" maxLength:"40"`
	InGround     bool       `json:"inGround"`
	AccessNote   string     `json:"accessNote" maxLength:"500"`
	Weekday      int        `json:"weekday" minimum:"0" maximum:"6" doc:"of its visits; 0 is Sunday"`
	TechnicianID *uuid.UUID `json:"technicianId,omitempty" format:"uuid" doc:"absent: nobody yet"`
	Minutes      int        `json:"minutes" doc:"of a visit without due work"`
	LapOrder     int        `json:"lapOrder" doc:"its place in its day's given order"`
	Lat          *float64   `json:"lat" doc:"degrees north; null: not known"`
	Lon          *float64   `json:"lon" doc:"degrees east"`
	SeasonOpens  string     `json:"seasonOpens" maxLength:"5" doc:"day of the year like 04-15; empty: the company's"`
	SeasonCloses string     `json:"seasonCloses" maxLength:"5"`
	CustomerID   *uuid.UUID `json:"customerId,omitempty" format:"uuid"`
	Version      int        `json:"version"`
}

// CustomerOf is whose pool it is.
type CustomerOf struct {
	ID      uuid.UUID `json:"id" format:"uuid"`
	Name    string    `json:"name" maxLength:"120"`
	Phone   string    `json:"phone" maxLength:"60"`
	Email   string    `json:"email" maxLength:"200"`
	Note    string    `json:"note" maxLength:"1000"`
	Lang    string    `json:"lang,omitempty" enum:",en,es" doc:"that their papers are in; empty: as whoever opens them"`
	Version int       `json:"version" doc:"0: a new one"`
	Erased  bool      `json:"erased" doc:"their details were taken off at their wish"`
}

func customerOf(c store.Customer) CustomerOf {
	return CustomerOf{
		ID:      c.ID,
		Name:    c.Name,
		Phone:   c.Phone,
		Email:   c.Email,
		Note:    c.Note,
		Lang:    c.Lang,
		Version: c.Version,
		Erased:  c.ErasedAt != nil,
	}
}

func poolEdit(p *store.Pool) (PoolEdit, error) {
	var opening company.Season
	if err := json.Unmarshal(p.Cleaning, &opening); err != nil {
		return PoolEdit{}, fmt.Errorf("the choices of %s: %w", p.Name(), err)
	}
	return PoolEdit{
		Street:       p.Street,
		Town:         p.Town,
		Which:        p.Which,
		Gallons:      units.Volume(p.VolumeM3).Gallons(),
		Surface:      p.Surface,
		InGround:     p.InGround,
		AccessNote:   p.AccessNote,
		Weekday:      p.Weekday,
		TechnicianID: p.TechnicianID,
		Minutes:      p.BaseMinutes,
		LapOrder:     p.LapOrder,
		Lat:          p.Lat,
		Lon:          p.Lon,
		SeasonOpens:  opening.Opens,
		SeasonCloses: opening.Closes,
		CustomerID:   p.CustomerID,
		Version:      p.Version,
	}, nil
}

// About tells what a pool is and whose.
func (s *Service) About(ctx context.Context, a access.Actor, id uuid.UUID) (PoolAbout, error) {
	p, err := s.keeper.SeePool(ctx, a, id)
	if err != nil {
		return PoolAbout{}, err
	}
	out := PoolAbout{
		ID:         id.String(),
		Name:       p.Name(),
		ArchivedAt: p.ArchivedAt,
		MayEdit:    a.Role != access.Technician,
		Links:      []papers.LinkView{},
		Changes:    []company.AuditEntry{},
	}
	if out.PoolEdit, err = poolEdit(&p); err != nil {
		return out, err
	}
	if out.Technicians, err = s.keeper.People(ctx, a); err != nil {
		return out, fmt.Errorf("listing the technicians: %w", err)
	}
	names, err := s.keeper.Names(ctx)
	if err != nil {
		return out, err
	}
	if p.TechnicianID != nil {
		out.Technician = names[*p.TechnicianID]
	}
	if p.CustomerID != nil {
		cs, err := s.keeper.Store.Customers(ctx, []uuid.UUID{*p.CustomerID})
		if err != nil {
			return out, fmt.Errorf("reading the customer: %w", err)
		}
		if who, ok := cs[*p.CustomerID]; ok {
			v := customerOf(who)
			out.Customer = &v
		}
	}
	doc, err := s.docOf(ctx, id)
	if err != nil {
		return out, err
	}
	if doc.Spa != nil {
		out.Spa = words.Of("app.volume", "volume", words.QD("gal", doc.Spa.Gallons, 0))
	}
	if out.Photos, err = photo.New(s.keeper).PhotosOf(ctx, id, names); err != nil {
		return out, err
	}
	if p.PhotoID != nil {
		out.Photo = p.PhotoID.String()
	}
	if !out.MayEdit {
		return out, nil
	}
	if out.Links, err = papers.New(s.keeper).LinksOf(ctx, id, names); err != nil {
		return out, err
	}
	out.Changes, err = s.keeper.AuditTrail(
		ctx,
		store.AuditAsk{Pool: &id, From: store.Newest(s.keeper.Now()), Limit: 20},
	)
	return out, err
}

// docOf is a pool's pad as it is described now.
func (s *Service) docOf(ctx context.Context, id uuid.UUID) (pad.Document, error) {
	var doc pad.Document
	rows, err := s.keeper.Store.PlumbingOf(ctx, id)
	if err != nil {
		return doc, fmt.Errorf("reading the pad: %w", err)
	}
	if len(rows) == 0 {
		return doc, nil
	}
	if err := json.Unmarshal(rows[0].Document, &doc); err != nil {
		return doc, fmt.Errorf("reading the pad: %w", err)
	}
	return doc, nil
}

// checkFacts checks what a pool may be; technicians are who may be given it.
func checkFacts(in *PoolEdit, technicians []company.Person) figure.FieldErrors {
	var errs figure.FieldErrors
	wrong := func(field string, text words.Message) { errs.Add(field, text) }
	in.Street, in.Town, in.Which = strings.TrimSpace(in.Street), strings.TrimSpace(in.Town), strings.TrimSpace(in.Which)
	in.Surface, in.AccessNote = strings.TrimSpace(in.Surface), strings.TrimSpace(in.AccessNote)
	if in.Street == "" {
		wrong("street", "app.type-the-street-and-number")
	}
	if !(in.Gallons >= 100 && in.Gallons <= 1e6) {
		wrong("gallons", "app.a-pool-holds-between-100")
	}
	if in.Minutes < 1 || in.Minutes > 480 {
		wrong("minutes", "app.between-1-and-480-minutes")
	}
	if in.LapOrder < 0 || in.LapOrder > 100_000 {
		wrong("lapOrder", "app.a-place-in-the-day")
	}
	if in.Lat != nil && !(*in.Lat >= -90 && *in.Lat <= 90) {
		wrong("lat", "app.between-90-and-90-degrees")
	}
	if in.Lon != nil && !(*in.Lon >= -180 && *in.Lon <= 180) {
		wrong("lon", "app.between-180-and-180-degrees")
	}
	if (in.Lat == nil) != (in.Lon == nil) {
		field := "lon"
		if in.Lat == nil {
			field = "lat"
		}
		wrong(field, "app.a-place-needs-both-degrees")
	}
	errs = append(errs, company.CheckSeason("", in.SeasonOpens, in.SeasonCloses)...)
	if in.TechnicianID != nil {
		known := false
		for _, t := range technicians {
			known = known || t.ID == in.TechnicianID.String()
		}
		if !known {
			wrong("technicianId", "app.choose-one-of-the-technicians")
		}
	}
	return errs
}

// SaveAbout changes a pool's facts. When somebody else changed the pool meanwhile, the
// error is store.ErrVersion and the facts come as they now stand.
func (s *Service) SaveAbout(ctx context.Context, a access.Actor, id uuid.UUID, in PoolEdit) (PoolAbout, error) {
	if a.Role == access.Technician {
		return PoolAbout{}, access.ErrForbidden
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return PoolAbout{}, err
	}
	was, err := s.keeper.Store.PoolByID(ctx, id)
	if err != nil {
		return PoolAbout{}, fmt.Errorf("finding the pool: %w", err)
	}
	technicians, err := s.keeper.People(ctx, a)
	if err != nil {
		return PoolAbout{}, fmt.Errorf("listing the technicians: %w", err)
	}
	errs := checkFacts(&in, technicians)
	if in.CustomerID != nil {
		known, err := s.keeper.Store.Customers(ctx, []uuid.UUID{*in.CustomerID})
		if err != nil {
			return PoolAbout{}, fmt.Errorf("finding the customer: %w", err)
		}
		if len(known) == 0 {
			errs.Add("customerId", "app.this-customer-is-not-on")
		}
	}
	if len(errs) > 0 {
		return PoolAbout{}, errs
	}
	choices := map[string]any{}
	if err := json.Unmarshal(was.Cleaning, &choices); err != nil {
		return PoolAbout{}, fmt.Errorf("the choices of %s: %w", was.Name(), err)
	}
	delete(choices, "seasonOpens")
	delete(choices, "seasonCloses")
	if in.SeasonOpens != "" {
		choices["seasonOpens"], choices["seasonCloses"] = in.SeasonOpens, in.SeasonCloses
	}
	cleaning, err := json.Marshal(choices)
	if err != nil {
		return PoolAbout{}, fmt.Errorf("writing the choices: %w", err)
	}
	before, err := poolEdit(&was)
	if err != nil {
		return PoolAbout{}, err
	}
	err = s.changePool(
		ctx,
		c,
		a,
		id,
		words.Of("app.changed", "what", words.Msg(changed(before, in))),
		func(st *store.Store) error {
			_, err := st.ChangePool(
				ctx,
				id,
				in.Version,
				map[string]any{
					"street":        in.Street,
					"town":          in.Town,
					"which":         in.Which,
					"volume_m3":     float64(units.Gallons(in.Gallons)),
					"surface":       in.Surface,
					"in_ground":     in.InGround,
					"access_note":   in.AccessNote,
					"weekday":       in.Weekday,
					"technician_id": in.TechnicianID,
					"base_minutes":  in.Minutes,
					"lap_order":     in.LapOrder,
					"lon":           in.Lon,
					"lat":           in.Lat,
					"cleaning":      cleaning,
					"customer_id":   in.CustomerID,
				},
			)
			return err
		},
	)
	if errors.Is(err, store.ErrTaken) {
		return PoolAbout{}, figure.FieldErrors{sameAddress(in.Which)}
	}
	if err != nil && !errors.Is(err, store.ErrVersion) {
		return PoolAbout{}, fmt.Errorf("changing the pool: %w", err)
	}
	out, bad := s.About(ctx, a, id)
	return out, errors.Join(err, bad)
}

// changePool changes a pool's facts as one with what follows from them: the trail, and
// today's laps.
func (s *Service) changePool(
	ctx context.Context,
	c company.Company,
	a access.Actor,
	id uuid.UUID,
	text words.Message,
	do func(*store.Store) error,
) error {
	return s.inTx(ctx, func(s *Service) error {
		if err := s.keeper.Audited(ctx, a, "pool", &id, text, do); err != nil {
			return err
		}
		return route.New(s.keeper).FollowPlan(ctx, c, id, c.Today(s.keeper.Now()))
	})
}

// changed names the facts that differ, for the trail; a way in and a customer are
// named, never quoted.
func changed(a, b PoolEdit) words.Message {
	var out []words.Message
	add := func(differs bool, what words.Message) {
		if differs {
			out = append(out, what)
		}
	}
	add(a.Street != b.Street, fromTo("app.the-street", words.Named(a.Street), words.Named(b.Street)))
	add(a.Town != b.Town, fromTo("app.the-town", orNone(a.Town), orNone(b.Town)))
	add(a.Which != b.Which, fromTo("app.which-pool-it-is-there", orNone(a.Which), orNone(b.Which)))
	add(
		int(a.Gallons+0.5) != int(b.Gallons+0.5),
		words.Of("app.the-volume-from-to", "a", words.QD("gal", a.Gallons, 0), "b", words.QD("gal", b.Gallons, 0)),
	)
	add(a.Surface != b.Surface, fromTo("app.the-surface", orNone(a.Surface), orNone(b.Surface)))
	add(a.InGround != b.InGround, "app.whether-it-is-in-the")
	add(a.AccessNote != b.AccessNote, "app.how-to-get-in")
	add(a.Weekday != b.Weekday, fromTo("app.the-weekday", weekdayName(a.Weekday), weekdayName(b.Weekday)))
	add(company.IDOr(a.TechnicianID) != company.IDOr(b.TechnicianID), "app.who-comes")
	add(
		a.Minutes != b.Minutes,
		words.Of("app.the-minutes-from-to", "minutes", words.N(a.Minutes), "minutes2", words.N(b.Minutes)),
	)
	add(a.LapOrder != b.LapOrder, "app.its-place-in-the-day")
	add(!same(a.Lat, b.Lat) || !same(a.Lon, b.Lon), "app.its-place-on-the-map")
	add(a.SeasonOpens != b.SeasonOpens || a.SeasonCloses != b.SeasonCloses, "app.its-season")
	add(company.IDOr(a.CustomerID) != company.IDOr(b.CustomerID), "app.whose-it-is")
	if len(out) == 0 {
		return "app.nothing"
	}
	return words.Join(words.Comma, out...)
}

func orNone(text string) words.Message {
	if text == "" {
		return "app.none"
	}
	return words.Named(text)
}

func fromTo(what, from, to words.Message) words.Message {
	return words.Of("app.from-to", "what", words.Msg(what), "from", words.Msg(from), "to", words.Msg(to))
}

// weekdayName names a day of the week; 0 is Sunday.
func weekdayName(day int) words.Message {
	return words.Message("words.weekday-" + strconv.Itoa(day%7))
}

func same(a, b *float64) bool { return a == b || a != nil && b != nil && *a == *b }

// FindCustomers finds customers by letters of their name.
func (s *Service) FindCustomers(ctx context.Context, a access.Actor, letters string) ([]CustomerOf, error) {
	if a.Role == access.Technician {
		return nil, access.ErrForbidden
	}
	cs, err := s.keeper.Store.CustomersNamed(ctx, strings.TrimSpace(letters), 20)
	out := make([]CustomerOf, 0, len(cs))
	for _, c := range cs {
		out = append(out, customerOf(c))
	}
	return out, err
}

// PutCustomer keeps a customer's details. When somebody else changed them meanwhile,
// the error is store.ErrVersion and they come as they now stand.
func (s *Service) PutCustomer(ctx context.Context, a access.Actor, in CustomerOf) (CustomerOf, error) {
	if a.Role == access.Technician {
		return CustomerOf{}, access.ErrForbidden
	}
	in.Name, in.Phone, in.Email, in.Note = strings.TrimSpace(
		in.Name,
	), strings.TrimSpace(
		in.Phone,
	), strings.TrimSpace(
		in.Email,
	), strings.TrimSpace(
		in.Note,
	)
	var errs figure.FieldErrors
	if in.ID == uuid.Nil {
		errs.Add("id", "app.the-customer-needs-an-id")
	}
	if in.Name == "" {
		errs.Add("name", "app.type-the-customer-s-name")
	}
	if in.Email != "" {
		if m, err := mail.ParseAddress(in.Email); err != nil || m.Address != in.Email {
			errs.Add("email", "app.this-reads-like-no-e")
		}
	}
	if len(errs) > 0 {
		return CustomerOf{}, errs
	}
	version, act := in.Version, words.Message("app.changed-a-customer-s-details")
	if version == 0 {
		version, act = 1, "app.wrote-a-new-customer-down"
	}
	var kept store.Customer
	err := s.keeper.Audited(ctx, a, "customer", nil, act, func(st *store.Store) (err error) {
		kept, err = st.PutCustomer(
			ctx,
			store.Customer{
				ID:        in.ID,
				Name:      in.Name,
				Phone:     in.Phone,
				Email:     in.Email,
				Note:      in.Note,
				Lang:      in.Lang,
				Version:   version,
				CreatedAt: s.keeper.Now(),
			},
		)
		return err
	})
	if err != nil && !errors.Is(err, store.ErrVersion) {
		return CustomerOf{}, fmt.Errorf("keeping the customer: %w", err)
	}
	return customerOf(kept), err
}

// EraseCustomer takes a customer's details off, as they may ask; the pools' record
// stays.
func (s *Service) EraseCustomer(ctx context.Context, a access.Actor, id uuid.UUID) error {
	if a.Role == access.Technician {
		return access.ErrForbidden
	}
	err := s.keeper.Audited(ctx, a, "customer", nil, "app.erased-a-customer-s-details-2", func(st *store.Store) error {
		return st.EraseCustomer(ctx, id, s.keeper.Now())
	})
	if err != nil {
		return fmt.Errorf("erasing the customer: %w", err)
	}
	return nil
}

// ArchivePool takes a pool out of care, or back into it. Nothing of its record goes.
func (s *Service) ArchivePool(
	ctx context.Context,
	a access.Actor,
	id uuid.UUID,
	version int,
	archived bool,
) (PoolAbout, error) {
	if a.Role == access.Technician {
		return PoolAbout{}, access.ErrForbidden
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return PoolAbout{}, err
	}
	now := s.keeper.Now()
	var at *time.Time
	text := words.Message("app.took-the-pool-back-into")
	if archived {
		at, text = &now, "app.archived-the-pool-nobody-comes"
	}
	err = s.changePool(ctx, c, a, id, text, func(st *store.Store) error {
		_, err := st.ChangePool(ctx, id, version, map[string]any{"archived_at": at})
		return err
	})
	if err != nil && !errors.Is(err, store.ErrVersion) {
		return PoolAbout{}, fmt.Errorf("archiving the pool: %w", err)
	}
	out, bad := s.About(ctx, a, id)
	return out, errors.Join(err, bad)
}

// VolumeOf works a pool's volume out from what is taped out.
func VolumeOf(d pool.Dimensions) (float64, error) {
	v, err := d.Volume()
	var refused *pool.Refused
	if errors.As(err, &refused) {
		return 0, figure.Wrong(refused.Field, refused.Text)
	}
	return v.Gallons(), err
}

// AddNote keeps what somebody writes down about a pool between visits.
func (s *Service) AddNote(ctx context.Context, a access.Actor, poolID, id uuid.UUID, text string) error {
	if _, err := s.keeper.SeePool(ctx, a, poolID); err != nil {
		return err
	}
	text = strings.TrimSpace(text)
	if text == "" {
		return figure.Wrong("text", "app.write-the-note-first")
	}
	now := s.keeper.Now()
	made := a.When(now)
	if err := s.keeper.Store.AddNote(ctx,
		store.Note{ID: id, PoolID: poolID, Text: text, MadeBy: a.ID, MadeAt: made,
			ReceivedAt: access.Late(made, now)}); err != nil {
		return fmt.Errorf("keeping the note: %w", err)
	}
	return nil
}
