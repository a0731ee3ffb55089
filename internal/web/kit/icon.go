package kit

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"net/http"

	"golang.org/x/image/vector"
)

// The application as a phone keeps it: its manifest and its icon, a firebox with a flame in it, in
// the colours of the paper theme.
var (
	iconPaper = color.RGBA{0xf3, 0xee, 0xe1, 0xff}
	iconInk   = color.RGBA{0x21, 0x1d, 0x17, 0xff}
	iconEmber = color.RGBA{0xb8, 0x46, 0x1a, 0xff}
)

// iconSizes are the icon's, px: of a phone's screen, and of a larger one.
var iconSizes = []int{180, 192, 512}

// icon draws the application's icon: what is drawn keeps to the middle four fifths, so that a
// phone may cut it round.
func icon(size int) ([]byte, error) {
	img := image.NewRGBA(image.Rect(0, 0, size, size))
	unit := float32(size) / 100
	fill := func(c color.Color, draw func(r *vector.Rasterizer)) {
		r := vector.NewRasterizer(size, size)
		draw(r)
		r.Draw(img, img.Bounds(), image.NewUniform(c), image.Point{})
	}
	box := func(x0, y0, x1, y1 float32) func(r *vector.Rasterizer) {
		return func(r *vector.Rasterizer) {
			r.MoveTo(x0*unit, y0*unit)
			r.LineTo(x1*unit, y0*unit)
			r.LineTo(x1*unit, y1*unit)
			r.LineTo(x0*unit, y1*unit)
			r.ClosePath()
		}
	}
	fill(iconPaper, box(0, 0, 100, 100))
	fill(iconInk, box(20, 20, 80, 80))
	fill(iconPaper, box(25, 25, 75, 75))
	for i := range 4 { // coals
		x := 30 + float32(i)*10.5
		fill(iconEmber, box(x, 66, x+8, 71))
	}
	fill(iconEmber, func(r *vector.Rasterizer) { // a flame
		r.MoveTo(50*unit, 62*unit)
		r.CubeTo(34*unit, 56*unit, 40*unit, 42*unit, 49*unit, 30*unit)
		r.CubeTo(52*unit, 40*unit, 64*unit, 46*unit, 58*unit, 57*unit)
		r.CubeTo(56*unit, 60*unit, 53*unit, 62*unit, 50*unit, 62*unit)
		r.ClosePath()
	})
	var out bytes.Buffer
	err := png.Encode(&out, img)
	return out.Bytes(), err
}

// installable serves the manifest (W3C web application manifest) and the icons.
func installable(mux *http.ServeMux) error {
	type image struct {
		Src     string `json:"src"`
		Sizes   string `json:"sizes"`
		Type    string `json:"type"`
		Purpose string `json:"purpose"`
	}
	manifest := map[string]any{"name": "Smolder", "short_name": "Smolder", "id": "/", "start_url": "/", "scope": "/", "display": "standalone",
		"background_color": "#f3eee1", "theme_color": "#16120e"}
	var images []image
	for _, size := range iconSizes {
		drawn, err := icon(size)
		if err != nil {
			return err
		}
		path := fmt.Sprintf("/icon-%d.png", size)
		images = append(images, image{path, fmt.Sprintf("%[1]dx%[1]d", size), "image/png", "any maskable"})
		mux.HandleFunc(path, func(w http.ResponseWriter, _ *http.Request) {
			w.Header().Set("Content-Type", "image/png")
			w.Header().Set("Cache-Control", "public, max-age=86400")
			_, _ = w.Write(drawn) // whoever asked may have gone
		})
	}
	manifest["icons"] = images
	manifest["shortcuts"] = []map[string]string{{"name": "At the stove", "url": "/stove"}, {"name": "Plan", "url": "/plan"}}
	text, err := json.Marshal(manifest)
	if err != nil {
		return err
	}
	mux.HandleFunc("/manifest.webmanifest", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "application/manifest+json")
		w.Header().Set("Cache-Control", "public, max-age=3600")
		_, _ = w.Write(text) // whoever asked may have gone
	})
	return nil
}
