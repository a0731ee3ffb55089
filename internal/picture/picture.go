// Package picture makes of a picture that somebody sends one that may be kept and shown:
// turned upright, small enough, encoded anew, so that nothing but its pixels is left.
package picture

import (
	"bytes"
	"encoding/binary"
	"errors"
	"image"
	"image/color"
	"image/jpeg"
	_ "image/png" // is read
	"io"

	"golang.org/x/image/draw"
	_ "golang.org/x/image/webp" // is read
)

const (
	// Side is how long the longer side of a picture is at most, px.
	Side = 1600
	// MostPixels is how many a picture that is sent may have: what a telephone makes.
	MostPixels = 50_000_000
	// mostDecoded is how many bytes a picture may take once it is unpacked: a JPEG of
	// MostPixels takes two to three bytes a pixel; a PNG of them at four, or eight where it
	// has sixteen bits, would take up to 400 MB.
	mostDecoded = 160 << 20
	// MostBytes is how large a file may be that is sent.
	MostBytes = 8 << 20
	quality   = 82
)

// Why a picture is not taken.
var (
	ErrKind  = errors.New("no JPEG, PNG or WebP")
	ErrLarge = errors.New("too large")
)

// one at a time is unpacked: each takes some hundred megabytes while it lasts.
var one = make(chan struct{}, 1)

// Clean reads a picture and returns it as it may be kept.
func Clean(r io.Reader) (out []byte, width, height int, err error) {
	data, err := io.ReadAll(io.LimitReader(r, MostBytes+1))
	if err != nil {
		return nil, 0, 0, err
	}
	if len(data) > MostBytes {
		return nil, 0, 0, ErrLarge
	}
	config, _, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil {
		return nil, 0, 0, ErrKind
	}
	if config.Width < 1 || config.Height < 1 {
		return nil, 0, 0, ErrKind
	}
	if config.Width > MostPixels || config.Height > MostPixels || config.Width*config.Height > MostPixels {
		return nil, 0, 0, ErrLarge
	}
	if config.Width*config.Height*bytesOf(config.ColorModel) > mostDecoded {
		return nil, 0, 0, ErrLarge
	}
	one <- struct{}{}
	defer func() { <-one }()
	img, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, 0, 0, ErrKind
	}
	img = upright(fit(img), orientation(data))
	var b bytes.Buffer
	if err := jpeg.Encode(&b, img, &jpeg.Options{Quality: quality}); err != nil {
		return nil, 0, 0, err
	}
	size := img.Bounds().Size()
	return b.Bytes(), size.X, size.Y, nil
}

// bytesOf is how many bytes a pixel takes once it is unpacked.
func bytesOf(m color.Model) int {
	switch m {
	case color.GrayModel, color.AlphaModel:
		return 1
	case color.Gray16Model, color.Alpha16Model:
		return 2
	case color.YCbCrModel:
		return 3
	case color.RGBA64Model, color.NRGBA64Model:
		return 8
	}
	if _, palette := m.(color.Palette); palette {
		return 1
	}
	return 4
}

// fit makes a picture no larger than [Side], on white where it lets through.
func fit(img image.Image) image.Image {
	size := img.Bounds().Size()
	w, h := size.X, size.Y
	if longer := max(w, h); longer > Side {
		w, h = max(1, w*Side/longer), max(1, h*Side/longer)
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(out, out.Bounds(), image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.ApproxBiLinear.Scale(out, out.Bounds(), img, img.Bounds(), draw.Over, nil)
	return out
}

// upright turns a picture as its camera was held (EXIF 2.3, tag 0x0112).
func upright(img image.Image, o int) image.Image {
	if o < 2 || o > 8 {
		return img
	}
	size := img.Bounds().Size()
	w, h := size.X, size.Y
	if o >= 5 {
		w, h = h, w
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range size.Y {
		for x := range size.X {
			tx, ty := x, y
			switch o {
			case 2:
				tx = size.X - 1 - x
			case 3:
				tx, ty = size.X-1-x, size.Y-1-y
			case 4:
				ty = size.Y - 1 - y
			case 5:
				tx, ty = y, x
			case 6:
				tx, ty = size.Y-1-y, x
			case 7:
				tx, ty = size.Y-1-y, size.X-1-x
			case 8:
				tx, ty = y, size.X-1-x
			}
			out.Set(tx, ty, img.At(x, y))
		}
	}
	return out
}

// orientation reads how the camera was held from a JPEG's EXIF; 0: it does not say.
func orientation(data []byte) int {
	if len(data) < 4 || data[0] != 0xFF || data[1] != 0xD8 {
		return 0
	}
	for at := 2; at+4 <= len(data) && data[at] == 0xFF; {
		marker, length := data[at+1], int(binary.BigEndian.Uint16(data[at+2:]))
		if marker == 0xDA || length < 2 || at+2+length > len(data) {
			return 0
		}
		if part := data[at+4 : at+2+length]; marker == 0xE1 && bytes.HasPrefix(part, []byte("Exif\x00\x00")) {
			return tagOrientation(part[6:])
		}
		at += 2 + length
	}
	return 0
}

// tagOrientation finds the tag in the first directory of a TIFF.
func tagOrientation(tiff []byte) int {
	if len(tiff) < 8 {
		return 0
	}
	var order binary.ByteOrder = binary.LittleEndian
	if tiff[0] == 'M' {
		order = binary.BigEndian
	}
	at := int(order.Uint32(tiff[4:]))
	if at < 0 || at+2 > len(tiff) {
		return 0
	}
	n := int(order.Uint16(tiff[at:]))
	for i := range n {
		entry := at + 2 + 12*i
		if entry+12 > len(tiff) {
			return 0
		}
		if order.Uint16(tiff[entry:]) == 0x0112 {
			return int(order.Uint16(tiff[entry+8:]))
		}
	}
	return 0
}
