package office

import (
	"context"
	"fmt"
	"time"

	"github.com/pquerna/otp"
	"github.com/pquerna/otp/totp"

	"fairlap/core/figure"
	"fairlap/internal/app/access"
	"fairlap/internal/store"
)

// Of a second step's codes (RFC 6238): the seconds that each stands for, and how many steps a
// clock may be off.
const (
	stepSeconds = 30
	stepsOff    = 1
)

// SecondStep is a key for an authenticator; it holds once a code of it was told.
type SecondStep struct {
	Key     string `json:"key" doc:"to type in where no code can be read"`
	Address string `json:"address" doc:"what a QR code of it says"`
}

// HasSecondStep tells whether somebody's sign-in asks for a code.
func (s *Service) HasSecondStep(ctx context.Context, a access.Actor) (bool, error) {
	u, err := s.keeper.Store.UserByID(ctx, a.ID)
	if err != nil {
		return false, fmt.Errorf("looking the user up: %w", err)
	}
	return u.StepKey != "", nil
}

// NewSecondStep makes a key for the actor's authenticator. Nothing holds yet.
func (s *Service) NewSecondStep(ctx context.Context, a access.Actor) (SecondStep, error) {
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return SecondStep{}, err
	}
	u, err := s.keeper.Store.UserByID(ctx, a.ID)
	if err != nil {
		return SecondStep{}, fmt.Errorf("looking the user up: %w", err)
	}
	key, err := totp.Generate(totp.GenerateOpts{Issuer: c.Name, AccountName: u.Login, Period: stepSeconds})
	if err != nil {
		return SecondStep{}, fmt.Errorf("making a key: %w", err)
	}
	return SecondStep{key.Secret(), key.URL()}, nil
}

// SetSecondStep has the actor's sign-in ask for codes of a key, once they told one; with an
// empty key it asks no more. Either takes their password.
func (s *Service) SetSecondStep(ctx context.Context, a access.Actor, password, key, code string) error {
	u, err := s.keeper.Store.UserByID(ctx, a.ID)
	if err != nil {
		return fmt.Errorf("looking the user up: %w", err)
	}
	if !checkPassword(u.PasswordHash, password) {
		return figure.Wrong("password", "app.this-is-not-your-password")
	}
	step := int64(0)
	if key != "" {
		var ok bool
		if step, ok = stepOf(key, code, s.keeper.Now()); !ok {
			return figure.Wrong("code", "app.this-code-does-not-fit")
		}
	}
	return s.keeper.Audited(ctx, a, "people", nil, "app.changed-the-second-step", func(st *store.Store) error {
		_, err := st.ChangeUser(ctx, a.ID, u.Version, map[string]any{"step_key": key, "step_last": step})
		return err
	})
}

// stepOf finds which step of time a code is of; false for none about now.
func stepOf(key, code string, now time.Time) (int64, bool) {
	for off := -stepsOff; off <= stepsOff; off++ {
		at := now.Add(time.Duration(off*stepSeconds) * time.Second)
		ok, err := totp.ValidateCustom(code, key, at, totp.ValidateOpts{Period: stepSeconds, Digits: otp.DigitsSix})
		if err == nil && ok {
			return at.Unix() / stepSeconds, true
		}
	}
	return 0, false
}

// secondStep checks the code of somebody whose sign-in asks for one; each code is good once.
func (s *Service) secondStep(ctx context.Context, u store.User, code string) error {
	if u.StepKey == "" {
		return nil
	}
	if code == "" {
		return access.ErrCode
	}
	step, ok := stepOf(u.StepKey, code, s.keeper.Now())
	if !ok {
		return figure.Wrong("code", "app.this-code-does-not-fit")
	}
	taken, err := s.keeper.Store.TakeStep(ctx, u.ID, step)
	if err != nil {
		return fmt.Errorf("taking the code: %w", err)
	}
	if !taken {
		return figure.Wrong("code", "app.this-code-was-used")
	}
	return nil
}
