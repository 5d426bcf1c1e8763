package store_test

import (
	"bytes"
	"crypto/sha256"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/johannesboyne/gofakes3"
	"github.com/johannesboyne/gofakes3/backend/s3mem"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/clock"
	"fairlap/internal/demo/demotest"
	"fairlap/internal/pictures"
	"fairlap/internal/store"
)

// Wherever pictures are kept, they come back as they went in, one that is there twice goes when
// neither shows it, an archive holds them and whoever takes it in has them.
func TestPicturesAreKeptAlikeWhereverTheyAre(t *testing.T) {
	backend := s3mem.New()
	require.NoError(t, backend.CreateBucket("pools"))
	s3 := httptest.NewServer(gofakes3.New(backend).Server())
	defer s3.Close()
	bucket := strings.Replace(s3.URL, "http://", "http://key:secret@", 1)
	for name, keep := range map[string]func(*store.Store) error{
		"database": func(*store.Store) error { return nil },
		"folder": func(s *store.Store) error {
			k, err := pictures.In(t.TempDir())
			s.KeepPhotos(k)
			return err
		},
		"bucket": func(s *store.Store) error {
			k, err := pictures.At(ctx, bucket+"/pools/pictures")
			s.KeepPhotos(k)
			return err
		},
	} {
		t.Run(name, func(t *testing.T) {
			st, v := minimal(t)
			require.NoError(t, keep(st))
			require.NoError(t, st.PhotosKept(ctx))
			content := []byte("a picture, " + name)
			digest := sha256.Sum256(content)
			var ids []uuid.UUID
			for range 2 {
				p := store.Photo{
					ID:      uuid.Must(uuid.NewV7()),
					PoolID:  v.PoolID,
					Digest:  digest[:],
					Width:   1,
					Height:  1,
					TakenAt: clock.Now(),
					MadeBy:  v.TechnicianID,
					MadeAt:  clock.Now(),
				}
				require.NoError(t, st.AddPhoto(ctx, p, content))
				ids = append(ids, p.ID)
			}
			got, err := st.PhotoBytes(ctx, digest[:])
			require.NoError(t, err)
			assert.Equal(t, content, got)
			_, err = st.PhotoBytes(ctx, []byte("nothing like it at all, 32 bytes"))
			assert.ErrorIs(t, err, store.ErrNotFound)
			var archive bytes.Buffer
			require.NoError(t, st.Export(ctx, &archive))
			into := demotest.Empty(t)
			_, err = into.Import(ctx, bytes.NewReader(archive.Bytes()))
			require.NoError(t, err)
			got, err = into.PhotoBytes(ctx, digest[:])
			require.NoError(t, err)
			assert.Equal(t, content, got, "an archive holds it")
			for i, id := range ids {
				_, err = st.TakePhotosAway(ctx, "a face", clock.Now(), "id = ?", id)
				require.NoError(t, err)
				_, err = st.PhotoBytes(ctx, digest[:])
				if i == 0 {
					assert.NoError(t, err, "the other still shows it")
				} else {
					assert.ErrorIs(t, err, store.ErrNotFound)
				}
			}
		})
	}
}
