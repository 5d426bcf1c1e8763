package picture

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"runtime"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func drawn(t *testing.T, w, h int) []byte {
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	for x := range w {
		m.Set(x, h/2, color.RGBA{uint8(x), 80, 120, 255})
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, m))
	return b.Bytes()
}

func TestAPictureIsMadeSmallAndPlain(t *testing.T) {
	k, err := Take(drawn(t, 3200, 1000))
	require.NoError(t, err)
	assert.Equal(t, [2]int{1600, 500}, [2]int{k.Width, k.Height})
	m, err := jpeg.Decode(bytes.NewReader(k.JPEG))
	require.NoError(t, err)
	assert.Equal(t, 1600, m.Bounds().Dx())
	small, err := Take(drawn(t, 40, 30))
	require.NoError(t, err)
	assert.Equal(t, 40, small.Width, "a small one is not blown up")
}

func TestWhatTheCameraWroteIsLeftBehind(t *testing.T) {
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, image.NewGray(image.Rect(0, 0, 20, 20)), nil))
	// An application segment as cameras write it, with a place in it.
	note := append([]byte{0xff, 0xe1, 0, 24}, []byte("Exif\x00\x00 33.44 N, 112 W")...)
	withNote := append(append(append([]byte{}, b.Bytes()[:2]...), note[:26]...), b.Bytes()[2:]...)
	k, err := Take(withNote)
	require.NoError(t, err)
	assert.NotContains(t, string(k.JPEG), "33.44")
}

func TestWhatIsNoPictureIsRefused(t *testing.T) {
	whole := drawn(t, 300, 300)
	for text, content := range map[string][]byte{
		"not a picture we can read": []byte("<script>alert(1)</script>"),
		"ends in the middle":        whole[:len(whole)/2],
		"The most is 12 MB":         make([]byte, 40<<20),
	} {
		_, err := Take(content)
		var r Refusal
		require.ErrorAs(t, err, &r)
		assert.Contains(t, err.Error(), text)
	}
}

// A small file of a great many points is refused before they are unpacked (381 kB took 1 GB and
// 23 s); the largest that is taken is made small from few of them.
func TestAPictureOfTooManyPointsIsRefusedBeforeItIsUnpacked(t *testing.T) {
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, image.NewNRGBA64(image.Rect(0, 0, 1, 1))))
	deep := b.Bytes() // as large as its head says: 192 MB unpacked
	binary.BigEndian.PutUint32(deep[16:], 6000)
	binary.BigEndian.PutUint32(deep[20:], 4000)
	binary.BigEndian.PutUint32(deep[29:], crc32.ChecksumIEEE(deep[12:29]))
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	_, err := Take(deep)
	runtime.ReadMemStats(&after)
	var r Refusal
	require.ErrorAs(t, err, &r)
	assert.Contains(t, err.Error(), "24 million points")
	assert.Less(t, float64(after.TotalAlloc-before.TotalAlloc), 5e6)

	b.Reset()
	grey := image.NewGray(image.Rect(0, 0, 5000, 3750))
	for x := range 5000 {
		grey.SetGray(x, 2000, color.Gray{255})
	}
	require.NoError(t, jpeg.Encode(&b, grey, nil))
	k, err := Take(b.Bytes())
	require.NoError(t, err)
	assert.Equal(t, [2]int{1600, 1200}, [2]int{k.Width, k.Height})
}
