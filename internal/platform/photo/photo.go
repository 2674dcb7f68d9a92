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

// Picture as it is kept.
type Picture struct {
	Bytes         []byte
	Width, Height int
}

// Read a JPEG or PNG; it is kept as a JPEG.
func Read(data []byte) (Picture, error) {
	img, err := decode(data)
	if err != nil {
		return Picture{}, err
	}
	small := imaging.Fit(img, Side, Side, imaging.Lanczos)
	paper := imaging.New(small.Bounds().Dx(), small.Bounds().Dy(), color.White) // behind what is transparent
	return encode(imaging.Overlay(paper, small, image.Point{}, 1), imaging.JPEG)
}

// The box into which a logo is made to fit, px.
const (
	logoWidth  = 640
	logoHeight = 320
)

// Logo is read from a JPEG or PNG; it is kept as a PNG, what is transparent stays so.
func Logo(data []byte) (Picture, error) {
	img, err := decode(data)
	if err != nil {
		return Picture{}, err
	}
	return encode(imaging.Fit(img, logoWidth, logoHeight, imaging.Lanczos), imaging.PNG)
}

// decode what somebody sent, upright, once it is known how large it is.
func decode(data []byte) (image.Image, error) {
	if len(data) > MostBytes {
		return nil, reason.Of("photo.too-large", reason.Int(MostBytes>>20))
	}
	head, format, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || format != "jpeg" && format != "png" {
		return nil, reason.Of("photo.no-picture")
	}
	if float64(head.Width)*float64(head.Height) > mostPixels || head.Width < 1 || head.Height < 1 {
		return nil, reason.Of("photo.too-many-pixels", reason.Int(head.Width), reason.Int(head.Height))
	}
	img, err := imaging.Decode(bytes.NewReader(data), imaging.AutoOrientation(true))
	if err != nil {
		return nil, reason.Of("photo.no-picture")
	}
	return img, nil
}

func encode(img *image.NRGBA, as imaging.Format) (Picture, error) {
	var out bytes.Buffer
	err := imaging.Encode(&out, img, as, imaging.JPEGQuality(quality))
	return Picture{out.Bytes(), img.Bounds().Dx(), img.Bounds().Dy()}, err
}
