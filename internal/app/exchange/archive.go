package exchange

import (
	"context"
	"io"
)

// ExportArchive writes everything on record; only the owner may ask.
func (s *Service) ExportArchive(ctx context.Context, w io.Writer) error {
	return s.keeper.Store.Export(ctx, w)
}
