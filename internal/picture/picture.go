// Package picture takes in pictures that somebody sends: it makes sure that one is a
// picture, makes it small, and leaves behind what the camera wrote into it.
package picture

import (
	"bytes"
	"fmt"
	"image"
	_ "image/gif" // taken in, written as JPEG
	"image/jpeg"
	_ "image/png" // taken in, written as JPEG

	"golang.org/x/image/draw"
	_ "golang.org/x/image/webp" // taken in, written as JPEG

	"fairlap/core/words"
)

// Bounds of what is taken in and kept (ours).
const (
	LargestBytes  = 12 << 20
	largestPixels = 50_000_000
	longestSide   = 1600
	quality       = 82
)

// Refusal is why a picture was not taken, in one plain sentence.
type Refusal struct{ Text words.Message }

func (r Refusal) Error() string { return words.Plain.Say(r.Text) }

// Kept is a picture as it is kept: JPEG, no side over 1,600 pixels, without the
// camera's notes on place and time.
type Kept struct {
	JPEG          []byte
	Width, Height int
}

// Take reads a JPEG, PNG, GIF or WebP picture. The error is a Refusal for what is none or is
// too large.
func Take(content []byte) (Kept, error) {
	if len(content) > LargestBytes {
		return Kept{}, Refusal{
			words.Of("picture.too-large", "size", words.N(len(content)>>20), "most", words.N(LargestBytes>>20)),
		}
	}
	head, _, err := image.DecodeConfig(bytes.NewReader(content))
	if err != nil {
		return Kept{}, Refusal{"picture.this-file-is-no-picture"}
	}
	if head.Width*head.Height > largestPixels || head.Width < 1 || head.Height < 1 {
		return Kept{}, Refusal{
			words.Of(
				"picture.too-many-points",
				"points",
				words.N(head.Width*head.Height/1_000_000),
				"most",
				words.N(largestPixels/1_000_000),
			),
		}
	}
	src, _, err := image.Decode(bytes.NewReader(content))
	if err != nil {
		return Kept{}, Refusal{"picture.this-picture-is-damaged-it"}
	}
	return written(src, longestSide)
}

// Smaller is a kept picture with no side over a number of points. The error is of one
// that can't be read.
func Smaller(content []byte, longest int) ([]byte, error) {
	src, err := jpeg.Decode(bytes.NewReader(content))
	if err != nil {
		return nil, fmt.Errorf("reading the picture: %w", err)
	}
	k, err := written(src, longest)
	return k.JPEG, err
}

// written is a picture as JPEG with no side over a number of points.
func written(src image.Image, longest int) (Kept, error) {
	w, h := src.Bounds().Dx(), src.Bounds().Dy()
	if long := max(w, h); long > longest {
		w, h = max(1, w*longest/long), max(1, h*longest/long)
	}
	dst := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(dst, dst.Bounds(), image.White, image.Point{}, draw.Src) // under what is see-through
	draw.CatmullRom.Scale(dst, dst.Bounds(), src, src.Bounds(), draw.Over, nil)
	var out bytes.Buffer
	if err := jpeg.Encode(&out, dst, &jpeg.Options{Quality: quality}); err != nil {
		return Kept{}, fmt.Errorf("writing the picture: %w", err)
	}
	return Kept{out.Bytes(), w, h}, nil
}
