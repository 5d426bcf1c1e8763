package picture

import (
	"bytes"
	"errors"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// fuzzedPixels keeps a fuzzer from spending its minute on unpacking.
const fuzzedPixels = 1 << 18

// Whatever is given as a picture is refused in a sentence or kept small, and what is kept is a
// picture that reads again.
func FuzzTake(f *testing.F) {
	src := image.NewRGBA(image.Rect(0, 0, 9, 5))
	src.Set(3, 3, color.White)
	var a, b bytes.Buffer
	require.NoError(f, png.Encode(&a, src))
	require.NoError(f, jpeg.Encode(&b, src, nil))
	f.Add(a.Bytes())
	f.Add(b.Bytes())
	f.Add([]byte("GIF89a"))
	f.Add([]byte("RIFF\x00\x00\x00\x00WEBPVP8 "))
	f.Fuzz(func(t *testing.T, content []byte) {
		if head, _, err := image.DecodeConfig(bytes.NewReader(content)); err == nil &&
			head.Width*head.Height > fuzzedPixels {
			return
		}
		kept, err := Take(content)
		if err != nil {
			var refused Refusal
			assert.True(t, errors.As(err, &refused), "%v", err)
			return
		}
		again, err := jpeg.Decode(bytes.NewReader(kept.JPEG))
		require.NoError(t, err)
		assert.Equal(t, kept.Width, again.Bounds().Dx())
		assert.LessOrEqual(t, max(kept.Width, kept.Height), longestSide)
	})
}
