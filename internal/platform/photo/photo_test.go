package photo

import (
	"bytes"
	"encoding/binary"
	"errors"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"zestytin/core/reason"
)

// shot is a JPEG of 40 by 20 px, red on the left, that its camera says lies on its side (orientation 6: turn it a quarter
// to the right), taken at a place. Orientation is tag 0x0112, the place tag 0x8825 (Exif 2.3, 4.6.4 and 4.6.6; memory).
func shot(t *testing.T) []byte {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, 40, 20))
	for y := range 20 {
		for x := range 40 {
			c := color.RGBA{0, 0, 255, 255}
			if x < 20 {
				c = color.RGBA{255, 0, 0, 255}
			}
			img.Set(x, y, c)
		}
	}
	var out bytes.Buffer
	if err := jpeg.Encode(&out, img, nil); err != nil {
		t.Fatal(err)
	}
	tiff := []byte("MM\x00\x2a\x00\x00\x00\x08\x00\x02" +
		"\x01\x12\x00\x03\x00\x00\x00\x01\x00\x06\x00\x00" +
		"\x88\x25\x00\x04\x00\x00\x00\x01\x00\x00\x00\x2a" + "\x00\x00\x00\x00SECRET-PLACE")
	exif := append([]byte("Exif\x00\x00"), tiff...)
	app1 := []byte{0xff, 0xe1}
	app1 = binary.BigEndian.AppendUint16(app1, uint16(len(exif)+2))
	data := out.Bytes()
	return append(append(append(append([]byte{}, data[:2]...), app1...), exif...), data[2:]...)
}

// It is turned upright, and where it was taken is gone.
func TestUprightAndWithoutPlace(t *testing.T) {
	sent := shot(t)
	p, err := Read(sent)
	if err != nil {
		t.Fatal(err)
	}
	if p.Width != 20 || p.Height != 40 || bytes.Contains(p.Bytes, []byte("SECRET")) ||
		bytes.Contains(p.Bytes, []byte("Exif")) ||
		!bytes.Contains(sent, []byte("SECRET")) {
		t.Errorf("%d by %d", p.Width, p.Height)
	}
	img, err := jpeg.Decode(bytes.NewReader(p.Bytes))
	if err != nil {
		t.Fatal(err)
	}
	if r, _, b, _ := img.At(10, 5).RGBA(); r < b { // what was left is above
		t.Error("it lies on its side")
	}
}

// Large ones are made small, in their shape; what is transparent lies on white.
func TestSmallAndOnWhite(t *testing.T) {
	img := image.NewNRGBA(image.Rect(0, 0, 3200, 1000))
	var out bytes.Buffer
	if err := png.Encode(&out, img); err != nil {
		t.Fatal(err)
	}
	p, err := Read(out.Bytes())
	if err != nil || p.Width != 1600 || p.Height != 500 {
		t.Fatalf("%d by %d: %v", p.Width, p.Height, err)
	}
	kept, err := jpeg.Decode(bytes.NewReader(p.Bytes))
	if err != nil {
		t.Fatal(err)
	}
	if r, g, b, _ := kept.At(800, 250).RGBA(); r+g+b < 3*0xf000 {
		t.Errorf("on %d %d %d", r, g, b)
	}
}

// What is no picture, too large, or says that it is larger than it could be is refused before it is decoded.
func TestNoPicture(t *testing.T) {
	var huge bytes.Buffer
	if err := png.Encode(&huge, image.NewGray(image.Rect(0, 0, 1, 1))); err != nil {
		t.Fatal(err)
	}
	bomb := huge.Bytes()
	binary.BigEndian.PutUint32(bomb[16:], 60000)
	binary.BigEndian.PutUint32(bomb[20:], 60000)
	for name, x := range map[string]struct {
		data []byte
		code string
	}{
		"nothing":  {nil, "photo.no-picture"},
		"a text":   {[]byte("no picture at all"), "photo.no-picture"},
		"a GIF":    {[]byte("GIF89a\x01\x00\x01\x00\x00\x00\x00"), "photo.no-picture"},
		"a half":   {shot(t)[:200], "photo.no-picture"},
		"too many": {fixed(bomb), "photo.too-many-pixels"},
		"5 MB":     {make([]byte, MostBytes+1), "photo.too-large"},
	} {
		_, err := Read(x.data)
		var r reason.Reason
		if !errors.As(err, &r) || r.Code != x.code {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// fixed sum of the header of a PNG that was changed.
func fixed(data []byte) []byte {
	binary.BigEndian.PutUint32(data[29:], crc32.ChecksumIEEE(data[12:29]))
	return data
}
