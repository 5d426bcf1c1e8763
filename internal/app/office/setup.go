package office

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base32"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/units"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// SetUp is a company that begins on an empty database.
type SetUp struct {
	Code     string `json:"code" maxLength:"20" doc:"that the server wrote into its log"`
	Company  string `json:"company" maxLength:"120"`
	Phone    string `json:"phone,omitempty" maxLength:"60"`
	Address  string `json:"address,omitempty" maxLength:"200"`
	Country  string `json:"country" maxLength:"2" doc:"like US: units, currency and language follow, and can be changed"`
	TimeZone string `json:"timeZone" maxLength:"60"`
	Lang     string `json:"lang,omitempty" enum:"en,es"`
	Name     string `json:"name" maxLength:"120" doc:"the owner's"`
	Login    string `json:"login" maxLength:"60" doc:"the owner's: an email address or a name without spaces"`
	Password string `json:"password" maxLength:"200"`
}

// countries are where companies work, and what people read there; others read metric.
var countries = map[string]struct {
	Currency string
	Units    units.System
}{
	"US": {"$", units.US}, "CA": {"$", units.Metric}, "MX": {"$", units.Metric}, "AU": {"$", units.Metric},
	"NZ": {"$", units.Metric}, "GB": {"£", units.Metric}, "IE": {"€", units.Metric}, "ES": {"€", units.Metric},
	"FR": {"€", units.Metric}, "DE": {"€", units.Metric}, "IT": {"€", units.Metric}, "PT": {"€", units.Metric},
	"AR": {"$", units.Metric}, "CL": {"$", units.Metric}, "CO": {"$", units.Metric}, "ZA": {"R", units.Metric},
}

// Empty tells whether there is no company yet.
func (s *Service) Empty(ctx context.Context) (bool, error) {
	_, err := s.keeper.Store.Company(ctx)
	if errors.Is(err, store.ErrNotFound) {
		return true, nil
	}
	return false, err
}

// setupCodeBytes make a code of eight letters: with the tries that are allowed, more than enough.
const setupCodeBytes = 5

// SetupCode makes the code by which a company may be set up, in the place of one before; "" where there is a company.
func (s *Service) SetupCode(ctx context.Context) (string, error) {
	empty, err := s.Empty(ctx)
	if err != nil || !empty {
		return "", err
	}
	b := make([]byte, setupCodeBytes)
	if _, err := rand.Read(b); err != nil {
		return "", fmt.Errorf("making the set-up code: %w", err)
	}
	code := base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(b)
	if err := s.keeper.Store.KeepSetupCode(ctx, hex.EncodeToString(company.Digest(code)), s.keeper.Now()); err != nil {
		return "", fmt.Errorf("keeping the set-up code: %w", err)
	}
	return code, nil
}

// SetUpCompany writes the company and its owner into an empty database, and signs the owner in.
func (s *Service) SetUpCompany(ctx context.Context, in SetUp) (access.Actor, error) {
	empty, err := s.Empty(ctx)
	if err != nil {
		return access.Actor{}, fmt.Errorf("looking for a company: %w", err)
	}
	if !empty {
		return access.Actor{}, access.ErrForbidden
	}
	kept, err := s.keeper.Store.SetupCode(ctx)
	if err != nil {
		return access.Actor{}, fmt.Errorf("reading the set-up code: %w", err)
	}
	for _, text := range []*string{&in.Code, &in.Company, &in.Phone, &in.Address, &in.Country, &in.Name, &in.Login} {
		*text = strings.TrimSpace(*text)
	}
	in.Login, in.Country = strings.ToLower(in.Login), strings.ToUpper(in.Country)
	var errs figure.FieldErrors
	typed := hex.EncodeToString(company.Digest(strings.ToUpper(in.Code)))
	if kept == "" || subtle.ConstantTimeCompare([]byte(typed), []byte(kept)) != 1 {
		errs.Add("code", "app.setup-code")
	}
	if in.Company == "" {
		errs.Add("company", "app.type-the-company-s-name")
	}
	if _, err := time.LoadLocation(in.TimeZone); err != nil || in.TimeZone == "" {
		errs.Add("timeZone", "app.type-a-time-zone-like")
	}
	if !countryLike.MatchString(in.Country) {
		errs.Add("country", "app.setup-country")
	}
	if in.Name == "" {
		errs.Add("name", "app.type-a-name")
	}
	if in.Login == "" || strings.ContainsAny(in.Login, " \t\n") {
		errs.Add("login", "app.type-a-login-without-spaces")
	}
	if why := Weak(in.Password, in.Login, in.Name, in.Company); why != "" {
		errs.Add("password", why)
	}
	if len(errs) > 0 {
		return access.Actor{}, errs
	}
	text, err := json.Marshal(in.settings())
	if err != nil {
		return access.Actor{}, fmt.Errorf("writing the settings: %w", err)
	}
	owner := store.User{ID: uuid.Must(uuid.NewV7()), Login: in.Login, Name: in.Name, Role: string(access.Owner),
		PasswordHash: HashPassword(in.Password), Active: true, Version: 1, CreatedAt: s.keeper.Now()}
	if err := s.keeper.Store.Insert(ctx, &store.Company{ID: 1, Name: in.Company, TimeZone: in.TimeZone,
		Settings: json.RawMessage(`{}`), Office: text, Version: 1}, &owner); err != nil {
		return access.Actor{}, fmt.Errorf("writing the company down: %w", err)
	}
	if err := s.keeper.Store.DropSetupCode(ctx); err != nil {
		return access.Actor{}, fmt.Errorf("ending the set-up code: %w", err)
	}
	return s.keeper.Actor(ctx, owner)
}

var countryLike = regexp.MustCompile(`^[A-Z]{2}$`)

// settings are the office's, as the country has them.
func (in *SetUp) settings() company.OfficeSettings {
	out := company.UsualOffice()
	out.Phone, out.Address, out.Country = in.Phone, in.Address, in.Country
	out.Currency, out.Units = "$", string(units.Metric)
	if c, ok := countries[in.Country]; ok {
		out.Currency, out.Units = c.Currency, string(c.Units)
	}
	if in.Lang != "" {
		out.Lang = in.Lang
	}
	return out
}

// FirstStep is one thing that a new company does before its first week.
type FirstStep struct {
	ID    string        `json:"id" enum:"people,customers,days,prices,visit"`
	State string        `json:"state" enum:"todo,done,skipped"`
	Text  words.Message `json:"says"`
	Done  int           `json:"done" doc:"of all; of what is counted"`
	Of    int           `json:"of"`
}

// firstSteps are they, in order.
var firstSteps = []string{"people", "customers", "days", "prices", "visit"}

// FirstSteps is how far a new company is: empty once every step is done or not needed.
func (s *Service) FirstSteps(ctx context.Context, a access.Actor) ([]FirstStep, error) {
	if a.Role == access.Technician {
		return []FirstStep{}, nil
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return nil, err
	}
	n, err := s.keeper.Store.Beginnings(ctx)
	if err != nil {
		return nil, fmt.Errorf("counting what there is: %w", err)
	}
	usual := company.UsualOffice()
	priced := c.Office.WaterPerKGal != usual.WaterPerKGal || c.Office.LabourPerHour != usual.LabourPerHour ||
		c.Office.EnergyPerKWh != usual.EnergyPerKWh
	steps := map[string]FirstStep{
		"people": {Done: n.People, Of: n.People,
			Text: words.Of("app.first-people", "people", words.N(n.People), "invited", words.N(n.Invited))},
		"customers": {Done: n.Pools, Of: n.Pools, Text: words.Of("app.first-customers", "pools", words.N(n.Pools))},
		"days": {Done: n.Routed, Of: n.Pools,
			Text: words.Of("app.first-days", "routed", words.N(n.Routed), "pools", words.N(n.Pools))},
		"prices": {Text: "app.first-prices"},
		"visit":  {Done: n.Visits, Text: "app.first-visit"},
	}
	if n.People == 1 {
		steps["people"] = FirstStep{Done: 1, Of: 1, Text: "app.first-only-you"}
	}
	if n.Pools == 0 {
		steps["customers"] = FirstStep{Text: "app.first-no-pool"}
		steps["days"] = FirstStep{Text: "app.first-after-customers"}
	}
	done := map[string]bool{"people": n.People > 1, "customers": n.Pools > 0, "days": n.Pools > 0 && n.Routed == n.Pools,
		"prices": priced, "visit": n.Visits > 0}
	out, left := make([]FirstStep, 0, len(firstSteps)), 0
	for _, id := range firstSteps {
		step := steps[id]
		step.ID, step.State = id, "todo"
		switch {
		case done[id]:
			step.State = "done"
		case slices.Contains(c.Office.NotNeeded, id):
			step.State = "skipped"
		default:
			left++
		}
		out = append(out, step)
	}
	if left == 0 {
		return []FirstStep{}, nil
	}
	return out, nil
}

// SkipFirstStep says that a step is not needed, or is after all.
func (s *Service) SkipFirstStep(ctx context.Context, a access.Actor, id string, skipped bool) ([]FirstStep, error) {
	if a.Role == access.Technician {
		return nil, access.ErrForbidden
	}
	if !slices.Contains(firstSteps, id) {
		return nil, store.ErrNotFound
	}
	row, err := s.keeper.Store.Company(ctx)
	if err != nil {
		return nil, fmt.Errorf("reading the company: %w", err)
	}
	o, err := company.OfficeOf(row)
	if err != nil {
		return nil, err
	}
	o.NotNeeded = slices.DeleteFunc(o.NotNeeded, func(x string) bool { return x == id })
	if skipped {
		o.NotNeeded = append(o.NotNeeded, id)
	}
	text, err := json.Marshal(o)
	if err != nil {
		return nil, fmt.Errorf("writing the settings: %w", err)
	}
	err = s.keeper.Audited(ctx, a, "company", nil, "app.changed-the-company-s-set", func(st *store.Store) error {
		_, err := st.SaveCompany(ctx, row.Version, row.Name, row.TimeZone, text)
		return err
	})
	if err != nil {
		return nil, err
	}
	return s.FirstSteps(ctx, a)
}
