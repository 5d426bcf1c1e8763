// Package picture takes in pictures that somebody sends: it makes sure that one is a
// picture, makes it small, and leaves behind what the camera wrote into it.
package picture

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
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
	mostDecoded   = 160 << 20 // bytes that its points take while it is made small
	atOnce        = 2         // pictures that are made small at the same time
	longestSide   = 1600
	quality       = 82
)

// turn holds who makes a picture small: what one takes is bounded, and so is what all take.
var turn = make(chan struct{}, atOnce)

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
	points := head.Width * head.Height
	if each := bytesOf(head.ColorModel); points*each > mostDecoded {
		return Kept{}, Refusal{words.Of("picture.too-many-points",
			"points", words.N(points/1_000_000), "most", words.N(mostDecoded/each/1_000_000))}
	}
	turn <- struct{}{}
	defer func() { <-turn }()
	src, _, err := image.Decode(bytes.NewReader(content))
	if err != nil {
		return Kept{}, Refusal{"picture.this-picture-is-damaged-it"}
	}
	return written(src, longestSide)
}

// bytesOf is how many a point takes while a picture is decoded.
func bytesOf(m color.Model) int {
	switch m {
	case color.GrayModel:
		return 1
	case color.YCbCrModel:
		return 3
	case color.RGBA64Model, color.NRGBA64Model:
		return 8
	}
	if _, ok := m.(color.Palette); ok {
		return 1
	}
	return 4
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
	if r := image.Rect(0, 0, 2*w, 2*h); src.Bounds().Dx() > 3*w {
		// Far larger than is kept: taken at every few points first, which the rest then smooths.
		near := image.NewRGBA(r)
		draw.NearestNeighbor.Scale(near, r, src, src.Bounds(), draw.Src, nil)
		src = near
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
