package record

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/internal/app/access"
	"fairlap/internal/app/padwork"
	"fairlap/internal/store"
)

// NewPool is a pool to take on.
type NewPool struct {
	ID          uuid.UUID     `json:"id" format:"uuid" doc:"made by whoever writes it, so that a repeated save is one save"`
	Street      string        `json:"street" minLength:"1" maxLength:"120"`
	Town        string        `json:"town,omitempty" maxLength:"120" doc:"the rest of the address"`
	Which       string        `json:"which,omitempty" maxLength:"40" doc:"of the pools at this street; empty where there is one"`
	Gallons     float64       `json:"gallons"`
	Surface     string        `json:"surface" maxLength:"40"`
	AboveGround bool          `json:"aboveGround,omitempty"`
	AccessNote  string        `json:"accessNote" maxLength:"500"`
	Customer    *CustomerOf   `json:"customer,omitempty" doc:"a new one, or one on record by its id"`
	Document    *pad.Document `json:"document,omitempty" doc:"left out: nobody has described the pad yet"`
	Weekday     *int          `json:"weekday,omitempty" minimum:"0" maximum:"6" doc:"of its visits; 0 is Sunday; left out: today's"`
	Technician  *uuid.UUID    `json:"technicianId,omitempty" format:"uuid" doc:"whose pool it is; left out: nobody's yet, or the technician's who takes it on"`
}

// CreatePool takes a pool on. A technician's new pool is their own.
func (s *Service) CreatePool(ctx context.Context, a access.Actor, n NewPool) (PoolRecordView, error) {
	var errs figure.FieldErrors
	if strings.TrimSpace(n.Street) == "" {
		errs.Add("street", "app.type-the-street-and-number")
	}
	if !(n.Gallons >= 100 && n.Gallons <= 1e6) {
		errs.Add("gallons", "app.a-pool-holds-between-100")
	}
	if n.Customer != nil &&
		(n.Customer.ID == uuid.Nil || n.Customer.Version == 0 && strings.TrimSpace(n.Customer.Name) == "") {
		errs.Add("customer.name", "app.type-the-customer-s-name-2")
	}
	var typed figure.FieldErrors
	document, parts := pad.Presume(), []store.Equipment(nil)
	if n.Document != nil {
		document = *n.Document
		document.Presumed = false
		parts = padwork.PartsOf(n.ID, document)
	}
	if errors.As(access.Mistakes("document", document.Validate()), &typed) {
		errs = append(errs, typed...)
	}
	if n.Technician != nil && a.Role != access.Technician {
		if err := s.mayHavePools(ctx, *n.Technician, &errs); err != nil {
			return PoolRecordView{}, err
		}
	}
	if len(errs) > 0 {
		return PoolRecordView{}, errs
	}
	doc, err := json.Marshal(document)
	if err != nil {
		return PoolRecordView{}, fmt.Errorf("writing the pad down: %w", err)
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return PoolRecordView{}, err
	}
	whole, err := json.Marshal(n)
	if err != nil {
		return PoolRecordView{}, fmt.Errorf("writing the pool down: %w", err)
	}
	sum := sha256.Sum256(whole)
	now := s.keeper.Now()
	p := store.Pool{
		MadeHash:      hex.EncodeToString(sum[:]),
		ID:            n.ID,
		Street:        strings.TrimSpace(n.Street),
		Town:          strings.TrimSpace(n.Town),
		Which:         strings.TrimSpace(n.Which),
		VolumeM3:      float64(units.Gallons(n.Gallons)),
		Surface:       n.Surface,
		AccessNote:    n.AccessNote,
		InGround:      !n.AboveGround,
		Weekday:       int(now.In(c.Zone).Weekday()),
		BaseMinutes:   25,
		OnRecordSince: c.Today(now),
		Version:       1,
	}
	if n.Weekday != nil {
		p.Weekday = *n.Weekday
	}
	p.TechnicianID = n.Technician
	if a.Role == access.Technician {
		p.TechnicianID = &a.ID
	}
	if n.Customer != nil {
		p.CustomerID = &n.Customer.ID
	}
	first := store.Plumbing{
		ID:        uuid.Must(uuid.NewV7()),
		PoolID:    n.ID,
		Revision:  1,
		Document:  doc,
		Reason:    store.ReasonDescription,
		CreatedBy: &a.ID,
		CreatedAt: now,
	}
	var kept store.Pool
	err = s.inTx(ctx, func(s *Service) (err error) {
		if who := n.Customer; who != nil && who.Version == 0 {
			if _, err := s.keeper.Store.PutCustomer(ctx,
				store.Customer{ID: who.ID, Name: strings.TrimSpace(who.Name), Phone: strings.TrimSpace(who.Phone),
					Email: strings.TrimSpace(who.Email), Version: 1, CreatedAt: now}); err != nil &&
				!errors.Is(err, store.ErrVersion) {
				return fmt.Errorf("writing the customer down: %w", err)
			}
		}
		kept, err = s.keeper.Store.CreatePool(ctx, p, first, parts)
		return err
	})
	if errors.Is(err, store.ErrTaken) {
		return PoolRecordView{}, figure.FieldErrors{sameAddress(p.Which)}
	}
	if err != nil {
		return PoolRecordView{}, fmt.Errorf("taking the pool on: %w", err)
	}
	return s.PoolView(ctx, a, kept.ID)
}

// mayHavePools holds somebody to be one who drives: a technician, or an owner who drives too.
func (s *Service) mayHavePools(ctx context.Context, id uuid.UUID, errs *figure.FieldErrors) error {
	u, err := s.keeper.Store.UserByID(ctx, id)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return fmt.Errorf("finding whose pool it is: %w", err)
	}
	if err != nil || !u.Active || !access.Role(u.Role).Drives() {
		errs.Add("technicianId", "app.nobody-who-drives")
	}
	return nil
}

// sameAddress tells that a pool of this name is on record.
func sameAddress(which string) figure.FieldError {
	if which == "" {
		return figure.FieldError{Field: "which", Text: "app.there-is-a-pool-at"}
	}
	return figure.FieldError{Field: "which", Text: "app.there-is-a-pool-of"}
}
