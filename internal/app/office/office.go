package office

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// CompanyView is the company as the office keeps it.
type CompanyView struct {
	company.OfficeSettings
	Name     string `json:"name" maxLength:"120"`
	TimeZone string `json:"timeZone" maxLength:"60"`
	Version  int    `json:"version" minimum:"1"`
}

func companyView(row store.Company) (CompanyView, error) {
	o, err := company.OfficeOf(row)
	return CompanyView{OfficeSettings: o, Name: row.Name, TimeZone: row.TimeZone, Version: row.Version}, err
}

// Office tells how the company is set up.
func (s *Service) Office(ctx context.Context, a access.Actor) (CompanyView, error) {
	if a.Role == access.Technician {
		return CompanyView{}, access.ErrForbidden
	}
	row, err := s.keeper.Store.Company(ctx)
	if err != nil {
		return CompanyView{}, fmt.Errorf("reading the company: %w", err)
	}
	return companyView(row)
}

// SaveOffice changes how the company is set up. When somebody else changed it
// meanwhile, the error is store.ErrVersion and it comes as it now stands.
func (s *Service) SaveOffice(ctx context.Context, a access.Actor, in CompanyView) (CompanyView, error) {
	if a.Role == access.Technician {
		return CompanyView{}, access.ErrForbidden
	}
	in.Name, in.Currency, in.Phone = strings.TrimSpace(
		in.Name,
	), strings.TrimSpace(
		in.Currency,
	), strings.TrimSpace(
		in.Phone,
	)
	var errs figure.FieldErrors
	wrong := func(field string, message words.Message) { errs.Add(field, message) }
	if in.Name == "" {
		wrong("name", "app.type-the-company-s-name")
	}
	if _, err := time.LoadLocation(in.TimeZone); err != nil || in.TimeZone == "" {
		wrong("timeZone", "app.type-a-time-zone-like")
	}
	if in.Currency == "" {
		wrong("currency", "app.type-a-sign-like-or")
	}
	for field, v := range map[string]float64{"waterPerKgal": in.WaterPerKGal, "labourPerHour": in.LabourPerHour,
		"energyPerKwh": in.EnergyPerKWh} {
		if !(v >= 0 && v <= 10_000) {
			wrong(field, "app.a-price-between-0-and")
		}
	}
	for field, v := range map[string]float64{"keepPhotosYears": in.KeepPhotosYears,
		"keepPeopleYears": in.KeepPeopleYears} {
		if !(v == 0 || v >= 1 && v <= 50) {
			wrong(field, "app.between-1-and-50-years")
		}
	}
	if len(errs) > 0 {
		return CompanyView{}, errs
	}
	text, err := json.Marshal(in.OfficeSettings)
	if err != nil {
		return CompanyView{}, fmt.Errorf("writing the settings: %w", err)
	}
	var row store.Company
	err = s.keeper.Audited(ctx, a, "company", nil, "app.changed-the-company-s-set", func(st *store.Store) (err error) {
		row, err = st.SaveCompany(ctx, in.Version, in.Name, in.TimeZone, text)
		return err
	})
	if err != nil && !errors.Is(err, store.ErrVersion) {
		return CompanyView{}, err
	}
	out, bad := companyView(row)
	return out, errors.Join(err, bad)
}

// PersonRow is somebody who signs in, as the office keeps them.
type PersonRow struct {
	ID      uuid.UUID   `json:"id" format:"uuid"`
	Login   string      `json:"login" maxLength:"60"`
	Name    string      `json:"name" maxLength:"120"`
	Role    access.Role `json:"role" enum:"technician,office,owner"`
	Active  bool        `json:"active"`
	Version int         `json:"version" doc:"0: somebody new"`
	Mine    bool        `json:"mine" doc:"the one who asks"`
}

// PersonEdit adds or changes somebody; a password is set only when one is given.
type PersonEdit struct {
	PersonRow
	Password string `json:"password,omitempty" maxLength:"200"`
}

// Staff lists everybody, those who left too.
func (s *Service) Staff(ctx context.Context, a access.Actor) ([]PersonRow, error) {
	if a.Role == access.Technician {
		return nil, access.ErrForbidden
	}
	us, err := s.keeper.Store.Everybody(ctx)
	out := make([]PersonRow, 0, len(us))
	for _, u := range us {
		out = append(out, personRow(u, a))
	}
	return out, err
}

func personRow(u store.User, a access.Actor) PersonRow {
	return PersonRow{
		ID:      u.ID,
		Login:   u.Login,
		Name:    u.Name,
		Role:    access.Role(u.Role),
		Active:  u.Active,
		Version: u.Version,
		Mine:    u.ID == a.ID,
	}
}

// mayRank is who may give or take a role: the owner any, the office technicians'.
func mayRank(a access.Actor, r access.Role) bool {
	return a.Role == access.Owner || a.Role == access.Office && r == access.Technician
}

// PutPerson adds somebody or changes them. When somebody else changed them meanwhile,
// the error is store.ErrVersion and they come as they now stand.
func (s *Service) PutPerson(ctx context.Context, a access.Actor, in PersonEdit) (PersonRow, error) {
	if !mayRank(a, in.Role) {
		return PersonRow{}, access.ErrForbidden
	}
	in.Login, in.Name = strings.ToLower(strings.TrimSpace(in.Login)), strings.TrimSpace(in.Name)
	everybody, err := s.keeper.Store.Everybody(ctx)
	if err != nil {
		return PersonRow{}, fmt.Errorf("listing the people: %w", err)
	}
	var was *store.User
	owners := 0
	for i, u := range everybody {
		if u.ID == in.ID {
			was = &everybody[i]
		} else if u.Active && access.Role(u.Role) == access.Owner {
			owners++
		}
	}
	var errs figure.FieldErrors
	wrong := func(field string, text words.Message) { errs.Add(field, text) }
	switch {
	case in.ID == uuid.Nil:
		wrong("id", "app.everybody-needs-an-id-of")
	case was == nil && in.Version > 0:
		return PersonRow{}, store.ErrNotFound
	case was != nil && !mayRank(a, access.Role(was.Role)):
		return PersonRow{}, access.ErrForbidden
	}
	if in.Login == "" || strings.ContainsAny(in.Login, " \t\n") {
		wrong("login", "app.type-a-login-without-spaces")
	}
	if in.Name == "" {
		wrong("name", "app.type-a-name")
	}
	if in.Password != "" { // without one they are invited
		if why := s.weakFor(ctx, store.User{Login: in.Login, Name: in.Name}, in.Password); why != "" {
			wrong("password", why)
		}
	}
	if owners == 0 && (in.Role != access.Owner || !in.Active) {
		wrong("role", "app.somebody-must-stay-owner")
	}
	if was != nil && was.ID == a.ID && !in.Active {
		wrong("active", "app.nobody-can-shut-themselves-out")
	}
	if was != nil && was.Active && !in.Active && access.Role(was.Role) == access.Technician {
		wrong("active", "app.a-technician-leaves-on-the")
	}
	if len(errs) > 0 {
		return PersonRow{}, errs
	}
	if was != nil && in.Version == 0 { // made twice
		if was.Login == in.Login && was.Name == in.Name && was.Role == string(in.Role) &&
			(in.Password == "" || checkPassword(was.PasswordHash, in.Password)) {
			return personRow(*was, a), nil
		}
		return PersonRow{}, store.ErrDifferent
	}
	now := s.keeper.Now()
	u := store.User{
		ID:         in.ID,
		Login:      in.Login,
		Name:       in.Name,
		Role:       string(in.Role),
		Active:     true,
		Version:    1,
		CreatedAt:  now,
		PasswordAt: now,
	}
	if in.Password != "" {
		u.PasswordHash = HashPassword(in.Password)
	}
	text := words.Of("app.added-person", "name", words.Name(in.Name), "role", words.Msg(roleName(in.Role)))
	if was != nil {
		what := []words.Message{roleName(in.Role)}
		if !in.Active {
			what = append(what, "app.no-longer-active")
		}
		if in.Password != "" {
			what = append(what, "app.with-a-new-password")
		}
		text = words.Of("app.changed-person", "name", words.Name(in.Name), "what", words.List(words.Comma, what...))
	}
	err = s.keeper.Audited(ctx, a, "people", nil, text, func(st *store.Store) (err error) {
		if was == nil {
			return st.AddUser(ctx, u)
		}
		to := map[string]any{"login": u.Login, "name": u.Name, "role": u.Role, "active": in.Active}
		if in.Password != "" {
			to["password_hash"], to["password_at"] = u.PasswordHash, now
		}
		u, err = st.ChangeUser(ctx, in.ID, in.Version, to)
		return err
	})
	if errors.Is(err, store.ErrTaken) {
		return PersonRow{}, figure.Wrong("login", "app.somebody-has-this-login-already")
	}
	return personRow(u, a), err
}

// importsKept is how long an import can be looked at.
const importsKept = 30 * 24 * time.Hour

// Retain takes away what the company no longer wants to keep. It may be asked as often
// as one likes.
func (s *Service) Retain(ctx context.Context) error {
	c, err := s.keeper.Company(ctx)
	if errors.Is(err, store.ErrNotFound) {
		return nil // nobody's record yet
	}
	if err != nil {
		return err
	}
	now := s.keeper.Now()
	if err := s.keeper.Store.ForgetTries(ctx, now); err != nil {
		return fmt.Errorf("forgetting tries that are over: %w", err)
	}
	if err := s.keeper.Store.ForgetImports(ctx, now.Add(-importsKept)); err != nil {
		return err
	}
	ago := func(years float64) time.Time { return now.AddDate(0, 0, -int(years*365.25)) }
	if y := c.Office.KeepPhotosYears; y > 0 {
		const old = "taken_at < ?"
		if n, err := s.keeper.Store.CountPhotos(ctx, old, ago(y)); err != nil || n == 0 {
			if err != nil {
				return fmt.Errorf("counting old pictures: %w", err)
			}
		} else if err := s.keeper.Audited(ctx, access.Actor{}, "retention", nil,
			words.Of("app.took-pictures-away-that-were", "n", words.N(n), "y", words.N(y)),
			func(st *store.Store) error {
				_, err := st.TakePhotosAway(ctx, string(words.Of("app.older-than-years", "y", words.N(y))), now, old,
					ago(y))
				return err
			}); err != nil {
			return fmt.Errorf("taking old pictures away: %w", err)
		}
	}
	if y := c.Office.KeepPeopleYears; y > 0 {
		gone, err := s.keeper.Store.LongGone(ctx, ago(y))
		if err != nil {
			return fmt.Errorf("looking for customers long gone: %w", err)
		}
		for _, id := range gone {
			if err := s.keeper.Audited(ctx, access.Actor{}, "retention", nil,
				words.Of("app.erased-a-customer-s-details", "y", words.N(y)), func(st *store.Store) error {
					return st.EraseCustomer(ctx, id, now)
				}); err != nil {
				return fmt.Errorf("erasing a customer long gone: %w", err)
			}
		}
	}
	return nil
}

// roleName names a role.
func roleName(r access.Role) words.Message { return words.Message("app.role-" + string(r)) }
