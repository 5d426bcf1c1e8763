package exchange

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
)

// Archive is everything on record, written out whole beside the database: whoever reads it
// slowly holds nobody up. It is gone when it is closed.
type Archive struct {
	*os.File
	leave func()
}

// Close takes the file away.
func (a *Archive) Close() error {
	defer a.leave()
	return errors.Join(a.File.Close(), os.Remove(a.Name()))
}

// ErrBusy is that as many archives are written as may be at once.
var ErrBusy = errors.New("archives are being written already")

// archivesAtOnce is how many are written out and read at once.
const archivesAtOnce = 2

// ExportArchive writes everything on record; only the owner may ask.
func (s *Service) ExportArchive(ctx context.Context) (*Archive, error) {
	select {
	case s.archives <- struct{}{}:
	default:
		return nil, ErrBusy
	}
	f, err := os.CreateTemp("", "fairlap-archive-*")
	if err != nil {
		<-s.archives
		return nil, fmt.Errorf("making a file for the archive: %w", err)
	}
	a := &Archive{f, func() { <-s.archives }}
	if err := s.keeper.Store.Export(ctx, f); err != nil {
		return nil, errors.Join(err, a.Close())
	}
	if _, err := f.Seek(0, io.SeekStart); err != nil {
		return nil, errors.Join(fmt.Errorf("reading the archive again: %w", err), a.Close())
	}
	return a, nil
}
