package picture_test

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/picture"
)

// taken is a picture with a red left half, as a telephone that was held on its side sends
// it: with where it was taken in it, and that it is to be turned.
func taken(t *testing.T, w, h int, orientation uint16) []byte {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			img.Set(x, y, color.RGBA{R: uint8(255 * (1 - 2*x/w)), A: 255}) //nolint:gosec // 0 or 255
		}
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, img, nil))
	tiff := []byte("MM\x00*\x00\x00\x00\x08\x00\x02")
	entry := func(tag, kind uint16, n uint32, value []byte) {
		tiff = binary.BigEndian.AppendUint16(tiff, tag)
		tiff = binary.BigEndian.AppendUint16(tiff, kind)
		tiff = binary.BigEndian.AppendUint32(tiff, n)
		tiff = append(tiff, value...)
	}
	entry(0x0112, 3, 1, []byte{byte(orientation >> 8), byte(orientation), 0, 0})
	entry(0x8825, 4, 1, []byte("GPS!"))
	exif := append([]byte("Exif\x00\x00"), append(tiff, []byte("60 degrees north")...)...)
	out := append([]byte{0xFF, 0xD8, 0xFF, 0xE1}, binary.BigEndian.AppendUint16(nil, uint16(len(exif)+2))...) //nolint:gosec // short
	return append(append(out, exif...), b.Bytes()[2:]...)
}

// A picture is turned upright and made small, and nothing but its pixels is left.
func TestClean(t *testing.T) {
	out, w, h, err := picture.Clean(bytes.NewReader(taken(t, 3200, 1000, 6)))
	require.NoError(t, err)
	assert.Equal(t, [2]int{500, 1600}, [2]int{w, h}, "turned and fitted")
	assert.NotContains(t, string(out), "degrees north")
	assert.NotContains(t, string(out), "Exif")
	img, err := jpeg.Decode(bytes.NewReader(out))
	require.NoError(t, err)
	r, _, _, _ := img.At(250, 100).RGBA()
	assert.Greater(t, r, uint32(0xC000), "what was left is above")
	r, _, _, _ = img.At(250, 1500).RGBA()
	assert.Less(t, r, uint32(0x4000))

	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, image.NewNRGBA(image.Rect(0, 0, 30, 20)))) // one that lets through
	out, w, _, err = picture.Clean(&b)
	require.NoError(t, err)
	assert.Equal(t, 30, w)
	img, err = jpeg.Decode(bytes.NewReader(out))
	require.NoError(t, err)
	r, _, _, _ = img.At(5, 5).RGBA()
	assert.Greater(t, r, uint32(0xF000), "on white")
}

// What is no picture, or one made to hurt, is refused before it costs anything.
func TestPicturesThatAreRefused(t *testing.T) {
	huge := taken(t, 20, 10, 1)
	at := bytes.Index(huge, []byte{0xFF, 0xC0}) // says that it is 60,000 by 60,000
	require.Positive(t, at)
	copy(huge[at+5:], []byte{0xEA, 0x60, 0xEA, 0x60})
	good := taken(t, 200, 100, 1)
	for name, c := range map[string]struct {
		data []byte
		want error
	}{
		"nothing": {nil, picture.ErrKind}, "a page": {[]byte("<script>alert(1)</script>"), picture.ErrKind}, "huge": {huge, picture.ErrLarge},
		"cut off": {good[:len(good)/2], picture.ErrKind}, "too many bytes": {append(good, make([]byte, picture.MostBytes)...), picture.ErrLarge},
	} {
		_, _, _, err := picture.Clean(bytes.NewReader(c.data))
		require.ErrorIs(t, err, c.want, name)
	}
	for i := range 40 { // a tag of any nonsense is no reason to stop
		odd := taken(t, 20, 10, 9)
		odd[20+i%30] ^= 0xFF
		_, _, _, _ = picture.Clean(bytes.NewReader(odd))
	}
}
