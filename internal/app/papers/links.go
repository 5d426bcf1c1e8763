package papers

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// LinkView is a customer's way to their pool's papers.
type LinkView struct {
	ID        string     `json:"id"`
	MadeAt    time.Time  `json:"madeAt"`
	By        string     `json:"by"`
	ExpiresAt time.Time  `json:"expiresAt"`
	RevokedAt *time.Time `json:"revokedAt"`
	Secret    string     `json:"secret,omitempty" doc:"its address ends in it; told once, when it is made"`
}

// LinksOf lists the links to a pool's papers.
func (s *Service) LinksOf(ctx context.Context, pool uuid.UUID, names map[uuid.UUID]string) ([]LinkView, error) {
	rows, err := s.keeper.Store.LinksOf(ctx, pool)
	if err != nil {
		return nil, fmt.Errorf("listing the links: %w", err)
	}
	out := make([]LinkView, len(rows))
	for i, r := range rows {
		out[i] = LinkView{
			ID:        r.ID.String(),
			MadeAt:    r.MadeAt,
			By:        names[r.MadeBy],
			ExpiresAt: r.ExpiresAt,
			RevokedAt: r.RevokedAt,
		}
	}
	return out, nil
}

// OpenLink makes a link to a pool's papers that ends after some days.
func (s *Service) OpenLink(ctx context.Context, a access.Actor, pool uuid.UUID, days int) (LinkView, error) {
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return LinkView{}, err
	}
	if a.Role == access.Technician && !c.Office.TechniciansLink {
		return LinkView{}, access.ErrForbidden
	}
	if days < 1 || days > 730 {
		return LinkView{}, figure.Wrong("days", "app.between-1-and-730-days")
	}
	if _, err := s.keeper.SeePool(ctx, a, pool); err != nil {
		return LinkView{}, err
	}
	secret, err := company.NewSecret()
	if err != nil {
		return LinkView{}, err
	}
	now := s.keeper.Now()
	row := store.PoolLink{
		ID:        uuid.Must(uuid.NewV7()),
		Digest:    company.Digest(secret),
		PoolID:    pool,
		MadeBy:    a.ID,
		MadeAt:    now,
		ExpiresAt: now.AddDate(0, 0, days),
	}
	err = s.keeper.Audited(
		ctx,
		a,
		"link",
		&pool,
		words.Of("app.made-a-link-to-the", "days", words.N(days)),
		func(st *store.Store) error { return st.AddLink(ctx, row) },
	)
	if err != nil {
		return LinkView{}, fmt.Errorf("making the link: %w", err)
	}
	return LinkView{ID: row.ID.String(), MadeAt: now, By: a.Name, ExpiresAt: row.ExpiresAt, Secret: secret}, nil
}

// EndLink revokes a link.
func (s *Service) EndLink(ctx context.Context, a access.Actor, pool, id uuid.UUID) error {
	if a.Role == access.Technician {
		return access.ErrForbidden
	}
	return s.keeper.Audited(
		ctx,
		a,
		"link",
		&pool,
		"app.revoked-a-link-to-the",
		func(st *store.Store) error { return st.EndLink(ctx, pool, id, s.keeper.Now()) },
	)
}

// sharedPool is the pool that a living link leads to. store.ErrNotFound for one that
// never was, was revoked or has ended.
func (s *Service) sharedPool(ctx context.Context, secret string) (store.Pool, error) {
	l, err := s.keeper.Store.LinkByDigest(ctx, company.Digest(secret), s.keeper.Now())
	if err != nil {
		return store.Pool{}, err
	}
	return s.keeper.Store.PoolByID(ctx, l.PoolID)
}

// SharedView is what a customer sees by their link: papers, nothing about how to get in.
type SharedView struct {
	Company string      `json:"company"`
	Phone   string      `json:"phone"`
	Street  string      `json:"street"`
	Papers  []PaperName `json:"papers" nullable:"false"`
	Photo   string      `json:"photo" doc:"id of the picture that stands for the pool; empty: none"`
	Units   string      `json:"units" enum:"us,metric"`
	Lang    string      `json:"lang" enum:"en,es" doc:"that it is told in"`
}

// Shared opens a customer's link; their own language goes before the browser's.
func (s *Service) Shared(ctx context.Context, reader words.Lang, secret string) (SharedView, error) {
	p, err := s.sharedPool(ctx, secret)
	if err != nil {
		return SharedView{}, err
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return SharedView{}, err
	}
	papers, err := s.papersOf(ctx, p.ID)
	if err != nil {
		return SharedView{}, err
	}
	lang, err := s.langOf(ctx, &p, reader)
	if err != nil {
		return SharedView{}, err
	}
	return SharedView{
		Company: c.Name,
		Phone:   c.Office.Phone,
		Street:  p.Name(),
		Papers:  papers,
		Photo:   company.IDOr(p.PhotoID),
		Units:   c.Office.Units,
		Lang:    string(lang),
	}, nil
}

// SharedPhoto is the picture that stands for a link's pool; no other is shown by it.
func (s *Service) SharedPhoto(ctx context.Context, secret string) ([]byte, error) {
	p, err := s.sharedPool(ctx, secret)
	if err != nil {
		return nil, err
	}
	if p.PhotoID == nil {
		return nil, store.ErrNotFound
	}
	photo, err := s.keeper.Store.PhotoByID(ctx, *p.PhotoID)
	if err != nil {
		return nil, err
	}
	return s.keeper.Store.PhotoBytes(ctx, photo.Digest)
}
