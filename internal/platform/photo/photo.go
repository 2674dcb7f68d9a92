// Package photo makes a picture that a person sends safe and small: it is decoded, turned upright, made no larger than a
// screen, and encoded anew, so that nothing of what a camera wrote beside it is left, such as where it was taken.
package photo

import (
	"bytes"
	"image"
	"image/color"
	_ "image/jpeg" // what is read
	_ "image/png"

	"github.com/disintegration/imaging"

	"zestytin/core/reason"
)

// Limits of a picture: bytes as it is sent, pixels before it is decoded, and px on its longer side when it is kept.
const (
	MostBytes  = 5 << 20
	mostPixels = 50e6
	Side       = 1600
	quality    = 82
)

// Picture as it is kept: a JPEG.
type Picture struct {
	JPEG          []byte
	Width, Height int
}

// Read a JPEG or PNG.
func Read(data []byte) (Picture, error) {
	if len(data) > MostBytes {
		return Picture{}, reason.Of("photo.too-large", reason.Int(MostBytes>>20))
	}
	head, format, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || format != "jpeg" && format != "png" {
		return Picture{}, reason.Of("photo.no-picture")
	}
	if float64(head.Width)*float64(head.Height) > mostPixels || head.Width < 1 || head.Height < 1 {
		return Picture{}, reason.Of("photo.too-many-pixels", reason.Int(head.Width), reason.Int(head.Height))
	}
	img, err := imaging.Decode(bytes.NewReader(data), imaging.AutoOrientation(true))
	if err != nil {
		return Picture{}, reason.Of("photo.no-picture")
	}
	small := imaging.Fit(img, Side, Side, imaging.Lanczos)
	paper := imaging.New(small.Bounds().Dx(), small.Bounds().Dy(), color.White) // behind what is transparent
	paper = imaging.Overlay(paper, small, image.Point{}, 1)
	var out bytes.Buffer
	if err := imaging.Encode(&out, paper, imaging.JPEG, imaging.JPEGQuality(quality)); err != nil {
		return Picture{}, err
	}
	return Picture{out.Bytes(), paper.Bounds().Dx(), paper.Bounds().Dy()}, nil
}
