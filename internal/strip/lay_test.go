package strip_test

import (
	"encoding/xml"
	"io"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/lay"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/strip"
)

// drawing is a load of beech with its kindling in a firebox of a size, drawn.
func drawing(size float64, l fire.Lay, d stove.Direction, splits, sticks int) (lay.Packing, string) {
	beech, _ := wood.SpeciesByKey("beech")
	soft, _ := wood.SpeciesByKey("softwood-offcuts")
	s := stove.Stove{Name: `"Auntie" & <co>`, Volume: units.Litre(55 * size * size * size), Width: units.Metre(0.46 * size),
		Depth: units.Metre(0.38 * size), Height: units.Metre(0.33 * size)}
	loads := lay.Loads{Splits: fire.Load{Species: beech, Moisture: 0.18, Pieces: splits, PieceMass: units.Kilogram(1.3 * size * size * size),
		PieceLength: units.Metre(0.33 * size), Direction: d, Lay: l}}
	if sticks > 0 {
		loads.Kindling = fire.Load{Species: soft, Moisture: 0.13, Pieces: sticks, PieceMass: 0.09, PieceLength: units.Metre(0.24 * size), Kindling: true, Lay: l}
	}
	p := lay.Pack(s, loads)
	return p, string(strip.Lay{Packing: p, ID: "lay-1", Name: s.Name, Baffle: "baffle, air tubes", Locale: lang.Metric}.SVG())
}

var (
	viewBox = regexp.MustCompile(`viewBox="0 0 (\d+) (\d+)"`)
	drawn   = regexp.MustCompile(`<rect class="bar[^"]*" x="(-?[\d.]+)" y="(-?[\d.]+)" width="([\d.]+)" height="([\d.]+)"`)
	ascents = regexp.MustCompile(`class="step">(\d+)<`)
)

// Every lay draws whole: each piece once from the door and once from above,
// numbered from below, with its flames, and with nothing outside the picture.
func TestEveryLayIsDrawn(t *testing.T) {
	for _, l := range say.Lays {
		for _, size := range []float64{0.7, 1, 1.3} {
			for _, d := range []stove.Direction{stove.EndOn, stove.Sideways} {
				sticks := 12
				if l.Key == fire.OnCoals {
					sticks = 0
				}
				p, svg := drawing(size, l.Key, d, 3, sticks)
				name := string(l.Key) + ", " + string(d)
				wellFormed(t, svg)
				assert.NotContains(t, svg, "NaN", name)
				assert.Contains(t, svg, ">load line<", name)
				assert.NotContains(t, svg, "style=", name)
				assert.NotContains(t, svg, "<co>", "a stove's name is escaped")
				assert.Len(t, drawn.FindAllString(svg, -1), 2*len(p.Bars), "%s: each piece in both views", name)
				assert.Equal(t, len(p.Light), strings.Count(svg, `class="flame"`), name)
				if l.Key != fire.OnCoals {
					assert.NotZero(t, len(p.Light), "%s is lit somewhere", name)
				}
				inside(t, name, svg)
				stepsRise(t, name, svg)
			}
		}
	}
}

func wellFormed(t *testing.T, svg string) {
	t.Helper()
	d := xml.NewDecoder(strings.NewReader(svg))
	for {
		_, err := d.Token()
		if err == io.EOF {
			return
		}
		require.NoError(t, err)
	}
}

// inside checks that labels and pieces lie within the picture. Pieces that are
// leaned or turned reach a little further than they are long.
func inside(t *testing.T, name, svg string) {
	t.Helper()
	m := viewBox.FindStringSubmatch(svg)
	require.NotNil(t, m, name)
	wide, _ := strconv.ParseFloat(m[1], 64)
	high, _ := strconv.ParseFloat(m[2], 64)
	for _, l := range labels(t, svg) {
		assert.True(t, l.x0 >= -1 && l.x1 <= wide+8 && l.y0 >= 0 && l.y1 <= high, "%s: %q leaves the picture", name, l.text)
	}
	for _, m := range drawn.FindAllStringSubmatch(svg, -1) {
		var v [4]float64
		for i := range v {
			v[i], _ = strconv.ParseFloat(m[i+1], 64)
		}
		assert.True(t, v[0] >= 0 && v[1] >= 0 && v[0]+v[2] <= wide && v[1]+v[3] <= high, "%s: a piece leaves the picture: %v", name, v)
	}
}

// stepsRise checks that the numbers of the steps count from one and that no two
// lie on each other.
func stepsRise(t *testing.T, name, svg string) {
	t.Helper()
	found := ascents.FindAllStringSubmatch(svg, -1)
	for i, m := range found {
		assert.Equal(t, strconv.Itoa(i+1), m[1], name)
	}
	boxes := labels(t, svg)
	for i, a := range boxes {
		for _, b := range boxes[i+1:] {
			apart := a.x1 <= b.x0 || b.x1 <= a.x0 || a.y1 <= b.y0 || b.y1 <= a.y0
			assert.True(t, apart, "%s: %q runs into %q", name, a.text, b.text)
		}
	}
}

func TestTheSameLayDrawsTheSame(t *testing.T) {
	_, one := drawing(1, fire.TopDown, stove.EndOn, 4, 14)
	_, two := drawing(1, fire.TopDown, stove.EndOn, 4, 14)
	assert.Equal(t, one, two)
	_, across := drawing(1, fire.TopDown, stove.Sideways, 4, 14)
	assert.NotEqual(t, one, across, "the direction is seen")
	empty := strip.Lay{Packing: lay.Packing{}, ID: "e", Locale: lang.Imperial}
	wellFormed(t, string(empty.SVG()))
}
