package padwork

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"fairlap/core/catalogue"
	"fairlap/core/figure"
	"fairlap/core/pad"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/store"
)

// CatalogueItem is a model to describe a pad with.
type CatalogueItem struct {
	catalogue.Item
	Kind string `json:"kind" enum:"pump,filter,heater,cell"`
	Own  bool   `json:"own" doc:"imported by the company"`
}

// Catalogue lists the built-in models and the company's own; an own model stands
// for a built-in one of its name.
func (s *Service) Catalogue(ctx context.Context) ([]CatalogueItem, error) {
	rows, err := s.keeper.Store.Catalogue(ctx)
	if err != nil {
		return nil, fmt.Errorf("reading the catalogue: %w", err)
	}
	var out []CatalogueItem
	imported := map[string]bool{}
	for _, r := range rows {
		var item catalogue.Item
		if err := json.Unmarshal(r.Item, &item); err != nil {
			return nil, fmt.Errorf("reading the catalogue's %s: %w", r.Model, err)
		}
		imported[r.Model] = true
		out = append(out, CatalogueItem{Item: item, Kind: r.Kind, Own: true})
	}
	for _, item := range catalogue.BuiltIn() {
		if !imported[item.Model] {
			out = append(out, CatalogueItem{Item: item, Kind: item.Kind(), Own: false})
		}
	}
	return out, nil
}

// ImportCatalogue reads a company's own models, all or none.
func (s *Service) ImportCatalogue(ctx context.Context, a access.Actor, text string) ([]CatalogueItem, error) {
	items, errs := catalogue.Read(strings.NewReader(text))
	if err := access.Mistakes("text", errs); err != nil {
		return nil, err
	}
	rows := make([]store.CatalogueItem, len(items))
	for i, item := range items {
		b, err := json.Marshal(item)
		if err != nil {
			return nil, fmt.Errorf("writing %s down: %w", item.Model, err)
		}
		rows[i] = store.CatalogueItem{
			Model:      item.Model,
			Kind:       item.Kind(),
			Item:       b,
			ImportedAt: s.keeper.Now(),
			ImportedBy: &a.ID,
		}
	}
	if err := s.keeper.Audited(ctx, a, "catalogue", nil,
		words.Of("app.took-models-into-the-catalogue", "rows", words.N(len(rows))),
		func(st *store.Store) error { return st.ImportCatalogue(ctx, rows) }); err != nil {
		return nil, fmt.Errorf("keeping the catalogue: %w", err)
	}
	return s.Catalogue(ctx)
}

// OwnPump is a pump read off its plate.
type OwnPump = catalogue.OwnPump

// AddPump takes a pump into the catalogue that somebody read off its plate and curve. A
// model that is known already stays as it is.
func (s *Service) AddPump(ctx context.Context, a access.Actor, o OwnPump) ([]CatalogueItem, error) {
	p, errs := o.Pump()
	return s.addItem(ctx, a, catalogue.Item{Model: o.Model, Pump: &p}, errs)
}

// AddPlate takes a pump or a filter that no list has by its plate: an ordinary one of its size.
func (s *Service) AddPlate(ctx context.Context, a access.Actor, p catalogue.Plate) ([]CatalogueItem, error) {
	item, errs := p.Item()
	return s.addItem(ctx, a, item, errs)
}

// addItem keeps a model of the company's own that has not been there.
func (s *Service) addItem(ctx context.Context, a access.Actor, item catalogue.Item, errs []pad.FieldError) (
	[]CatalogueItem, error,
) {
	item.Model = strings.TrimSpace(item.Model)
	if item.Pump != nil {
		item.Pump.Model = item.Model
	}
	if item.Filter != nil {
		item.Filter.Model = item.Model
	}
	if item.Model == "" {
		errs = append(errs, pad.FieldError{Path: "model", Text: "app.type-what-its-plate-calls"})
	}
	if err := access.Mistakes("", errs); err != nil {
		return nil, err
	}
	known, err := s.Catalogue(ctx)
	if err != nil {
		return nil, err
	}
	for _, k := range known {
		if strings.EqualFold(k.Model, item.Model) {
			return nil, figure.Wrong("model", "app.there-is-a-model-of")
		}
	}
	b, err := json.Marshal(item)
	if err != nil {
		return nil, fmt.Errorf("writing %s down: %w", item.Model, err)
	}
	row := store.CatalogueItem{Model: item.Model, Kind: item.Kind(), Item: b, ImportedAt: s.keeper.Now(),
		ImportedBy: &a.ID}
	text := words.Of("app.entered-the-pump", "model", words.Name(item.Model))
	if item.Filter != nil {
		text = words.Of("app.entered-the-filter", "model", words.Name(item.Model))
	}
	if err := s.keeper.Audited(ctx, a, "catalogue", nil, text,
		func(st *store.Store) error { return st.ImportCatalogue(ctx, []store.CatalogueItem{row}) }); err != nil {
		return nil, fmt.Errorf("keeping %s: %w", item.Model, err)
	}
	return s.Catalogue(ctx)
}

// CatalogueFile writes the whole catalogue as a file that ImportCatalogue reads.
func (s *Service) CatalogueFile(ctx context.Context) (access.File, error) {
	items, err := s.Catalogue(ctx)
	if err != nil {
		return access.File{}, err
	}
	plain := make([]catalogue.Item, len(items))
	for i, item := range items {
		plain[i] = item.Item
	}
	var b bytes.Buffer
	if err := catalogue.Write(&b, plain); err != nil {
		return access.File{}, fmt.Errorf("writing the catalogue: %w", err)
	}
	return access.File{Name: "catalogue.csv", Type: "text/csv; charset=utf-8", Content: b.Bytes()}, nil
}
