package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Customer is whose pool it is.
type Customer struct {
	ID        uuid.UUID `gorm:"primaryKey"`
	Name      string
	Phone     string
	Email     string
	Note      string
	Lang      string // that their papers are in; empty: as whoever opens them
	Version   int
	CreatedAt time.Time
	ErasedAt  *time.Time
}

// Audit is one change of what can be changed, by whom. It is never changed itself.
type Audit struct {
	ID     uuid.UUID `gorm:"primaryKey"`
	At     time.Time
	UserID *uuid.UUID
	Act    string
	PoolID *uuid.UUID
	Text   string `gorm:"column:says"`
}

// TableName keeps the mass noun.
func (Audit) TableName() string { return "audit" }

// Audited does something and writes down who did it, both or neither.
func (s *Store) Audited(ctx context.Context, entry Audit, do func(*Store) error) error {
	return s.InTx(ctx, func(in *Store) error {
		if err := do(in); err != nil {
			return err
		}
		if err := in.db.WithContext(ctx).Create(&entry).Error; err != nil {
			return fmt.Errorf("writing down who did it: %w", err)
		}
		return nil
	})
}

// AuditAsk says which changes are listed.
type AuditAsk struct {
	Pool  *uuid.UUID // of one pool; nil: of all
	Who   *uuid.UUID // by one person; nil: by anybody
	Acts  []string   // of these kinds; none: of any
	From  Cursor
	Limit int
}

// AuditTrail lists changes from a cursor on, newest first.
func (s *Store) AuditTrail(ctx context.Context, ask AuditAsk) ([]Audit, error) {
	q := s.db.WithContext(ctx).
		Where("(at, id) < (?, ?)", ask.From.At, ask.From.ID).
		Order("at desc, id desc").
		Limit(ask.Limit)
	if ask.Pool != nil {
		q = q.Where("pool_id = ?", *ask.Pool)
	}
	if ask.Who != nil {
		q = q.Where("user_id = ?", *ask.Who)
	}
	if len(ask.Acts) > 0 {
		q = q.Where("act in ?", ask.Acts)
	}
	var out []Audit
	return out, q.Find(&out).Error
}

// Everybody lists all users, those who left too.
func (s *Store) Everybody(ctx context.Context) ([]User, error) {
	var us []User
	return us, s.db.WithContext(ctx).Order("active desc, name").Find(&us).Error
}

// AddUser writes a new user; ErrTaken says that the login is another's.
func (s *Store) AddUser(ctx context.Context, u User) error {
	err := s.db.WithContext(ctx).Create(&u).Error
	if errors.Is(err, gorm.ErrDuplicatedKey) {
		return ErrTaken
	}
	return err
}

// ChangeUser changes a user if the version is still the given one; the user as they
// then stand comes with ErrVersion too.
func (s *Store) ChangeUser(ctx context.Context, id uuid.UUID, version int, to map[string]any) (User, error) {
	to["version"] = version + 1
	res := s.db.WithContext(ctx).Model(&User{}).Where("id = ? and version = ?", id, version).Updates(to)
	if res.Error != nil {
		return User{}, res.Error
	}
	var u User
	err := found(s.db.WithContext(ctx).First(&u, "id = ?", id).Error)
	if err == nil && res.RowsAffected == 0 {
		err = ErrVersion
	}
	return u, err
}

// SaveCompany changes the company if the version is still the given one; the company
// as it then stands comes with ErrVersion too.
func (s *Store) SaveCompany(
	ctx context.Context,
	version int,
	name, zone string,
	office json.RawMessage,
) (Company, error) {
	return s.saveCompany(ctx, version, map[string]any{"name": name, "time_zone": zone, "office": office})
}

// SaveSettings replaces the company's choices on when to clean if the version is
// still the given one; the company as it then stands comes with ErrVersion too.
func (s *Store) SaveSettings(ctx context.Context, version int, settings json.RawMessage) (Company, error) {
	return s.saveCompany(ctx, version, map[string]any{"settings": settings})
}

func (s *Store) saveCompany(ctx context.Context, version int, to map[string]any) (Company, error) {
	to["version"] = version + 1
	res := s.db.WithContext(ctx).Model(&Company{}).Where("id = 1 and version = ?", version).Updates(to)
	if res.Error != nil {
		return Company{}, fmt.Errorf("writing the company's choices: %w", res.Error)
	}
	c, err := s.Company(ctx)
	if err == nil && res.RowsAffected == 0 {
		err = ErrVersion
	}
	return c, err
}

// Customers finds customers.
func (s *Store) Customers(ctx context.Context, ids []uuid.UUID) (map[uuid.UUID]Customer, error) {
	var cs []Customer
	err := s.db.WithContext(ctx).Find(&cs, "id in ?", ids).Error
	out := make(map[uuid.UUID]Customer, len(cs))
	for _, c := range cs {
		out[c.ID] = c
	}
	return out, err
}

// CustomersNamed finds customers whose name holds some letters, for choosing one.
func (s *Store) CustomersNamed(ctx context.Context, letters string, limit int) ([]Customer, error) {
	var cs []Customer
	return cs, s.db.WithContext(ctx).
		Where("erased_at is null and name ilike ?", "%"+likely(letters)+"%").
		Order("name").
		Limit(limit).
		Find(&cs).
		Error
}

// PutCustomer writes a customer: a new one, or a changed one if its version is still
// the given one. ErrVersion comes with the customer as it then stands.
func (s *Store) PutCustomer(ctx context.Context, c Customer) (Customer, error) {
	res := s.db.WithContext(ctx).
		Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "id"}}, DoNothing: true}).
		Create(&c)
	if res.Error != nil || res.RowsAffected == 1 {
		return c, res.Error
	}
	res = s.db.WithContext(ctx).
		Model(&Customer{}).
		Where("id = ? and version = ? and erased_at is null", c.ID, c.Version).
		Updates(map[string]any{"name": c.Name, "phone": c.Phone, "email": c.Email, "note": c.Note, "lang": c.Lang,
			"version": c.Version + 1})
	if res.Error != nil {
		return c, res.Error
	}
	var kept Customer
	err := found(s.db.WithContext(ctx).First(&kept, "id = ?", c.ID).Error)
	if err == nil && res.RowsAffected == 0 {
		err = ErrVersion
	}
	return kept, err
}

// EraseCustomer empties a customer's details, takes the way in off their pools and
// ends the links to them. What was done at the pools stays.
func (s *Store) EraseCustomer(ctx context.Context, id uuid.UUID, now time.Time) error {
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		res := tx.Model(&Customer{}).Where("id = ? and erased_at is null", id).
			Updates(map[string]any{"name": "", "phone": "", "email": "", "note": "", "erased_at": now,
				"version": gorm.Expr("version + 1")})
		if res.Error != nil {
			return res.Error
		}
		if res.RowsAffected == 0 {
			return ErrNotFound
		}
		theirs := tx.Model(&Pool{}).Select("id").Where("customer_id = ?", id)
		if err := tx.Model(&PoolLink{}).Where("pool_id in (?) and revoked_at is null", theirs).Update("revoked_at",
			now).Error; err != nil {
			return err
		}
		return tx.Model(&Pool{}).
			Where("customer_id = ?", id).
			Updates(map[string]any{"access_note": "", "version": gorm.Expr("version + 1")}).
			Error
	})
}

// LongGone lists customers all of whose pools have been archived since before a day.
func (s *Store) LongGone(ctx context.Context, before time.Time) ([]uuid.UUID, error) {
	var ids []uuid.UUID
	return ids, s.Read(ctx, &ids, `select c.id from customers c where c.erased_at is null
		and exists (select 1 from pools p where p.customer_id = c.id)
		and not exists (select 1 from pools p where p.customer_id = c.id and (p.archived_at is null or p.archived_at >= ?))`, before)
}

// ChangePool changes a pool's facts if its version is still the given one; the pool
// as it then stands comes with ErrVersion too. ErrTaken says that the name at
// its street is another's.
func (s *Store) ChangePool(ctx context.Context, id uuid.UUID, version int, to map[string]any) (Pool, error) {
	p, err := s.updatePool(ctx, id, version, to)
	if errors.Is(err, gorm.ErrDuplicatedKey) {
		return p, ErrTaken
	}
	return p, err
}

// PoolLink is a customer's way to their pool's papers; its secret is known only by
// its digest.
type PoolLink struct {
	ID        uuid.UUID `gorm:"primaryKey"`
	Digest    []byte
	PoolID    uuid.UUID
	MadeBy    uuid.UUID
	MadeAt    time.Time
	ExpiresAt time.Time
	RevokedAt *time.Time
}

// AddLink writes a link.
func (s *Store) AddLink(ctx context.Context, l PoolLink) error {
	return s.db.WithContext(ctx).Create(&l).Error
}

// LinksOf lists a pool's links, newest first.
func (s *Store) LinksOf(ctx context.Context, pool uuid.UUID) ([]PoolLink, error) {
	var ls []PoolLink
	return ls, s.db.WithContext(ctx).Where("pool_id = ?", pool).Order("made_at desc").Find(&ls).Error
}

// EndLink revokes a pool's link.
func (s *Store) EndLink(ctx context.Context, pool, id uuid.UUID, at time.Time) error {
	res := s.db.WithContext(ctx).
		Model(&PoolLink{}).
		Where("id = ? and pool_id = ? and revoked_at is null", id, pool).
		Update("revoked_at", at)
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return res.Error
}

// LinkByDigest finds a living link of a pool in care.
func (s *Store) LinkByDigest(ctx context.Context, digest []byte, now time.Time) (PoolLink, error) {
	var l PoolLink
	return l, found(s.db.WithContext(ctx).Joins("join pools p on p.id = pool_links.pool_id and p.archived_at is null").
		First(&l, "digest = ? and revoked_at is null and expires_at > ?", digest, now).Error)
}

// Note is what somebody wrote down about a pool between visits. It is never changed.
type Note struct {
	ID         uuid.UUID `gorm:"primaryKey"`
	PoolID     uuid.UUID
	Text       string
	MadeBy     uuid.UUID
	MadeAt     time.Time
	ReceivedAt *time.Time // nil: at once
}

// AddNote writes a note once: the same id again is the same note, with another text it
// is ErrDifferent.
func (s *Store) AddNote(ctx context.Context, n Note) error {
	return once(s.db.WithContext(ctx), n.ID, &n, func(k *Note) bool {
		return k.PoolID == n.PoolID && k.Text == n.Text && k.MadeBy == n.MadeBy
	})
}
