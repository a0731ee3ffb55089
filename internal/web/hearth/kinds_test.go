package hearth

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/house"
	"smolder/internal/core/lay"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/strip"
	"smolder/internal/web/api"
	"smolder/internal/web/kit"
)

// A kind of entry is whole: a row of the core has its words, its sentence, its sign, a form or
// a tap with a key of its own, its name in the description for programs and in the formats;
// what it does to the fire comes back as the entry that it is; what is seen by it changes what
// is believed. A part that is missing fails here.
func TestEveryKindIsWhole(t *testing.T) {
	answer := httptest.NewRecorder()
	api.New(&kit.Site{}).ServeHTTP(answer, httptest.NewRequest(http.MethodGet, api.Prefix+"/openapi.json", nil))
	require.Equal(t, http.StatusOK, answer.Code)
	formats, err := os.ReadFile("../../../docs/formats.md")
	require.NoError(t, err)
	st := fixture.Stoves()[fixture.Auntie].Stove
	lit := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	keys := map[string]burn.Kind{}
	for _, row := range burn.KindRows {
		k := row.Kind
		assert.True(t, k.Known())
		assert.NotEmpty(t, say.EntryWord(k, lang.Metric), "%s: no word", k)
		e := burn.Entry{ID: "e", At: lit.Add(time.Minute), Kind: k}
		if row.Plain {
			assert.NotEmpty(t, say.Entry(burn.Burn{Stove: st}, e, lang.Metric), "%s: no sentence", k)
			if sign, word, _ := say.EntryMark(burn.Burn{Stove: st}, e, lang.Metric); sign != "" {
				assert.True(t, strip.HasSign(sign), "%s: nothing draws the sign %q", k, sign)
				assert.NotEmpty(t, word, "%s: no word beside its sign", k)
			}
		}
		form, is := kinds[k]
		assert.True(t, is, "%s: neither form nor tap", k)
		assert.True(t, row.Plain || form.read != nil && form.write != nil, "%s: its value is neither read nor written", k)
		if form.key != "" {
			assert.Empty(t, keys[form.key], "%s has the key %s too", k, form.key)
			keys[form.key] = k
		}
		assert.Contains(t, answer.Body.String(), `"`+string(k)+`"`, "%s: not told to programs", k)
		assert.Contains(t, string(formats), "`"+string(k)+"`", "%s: not in docs/formats.md", k)
		b := burn.Burn{Stove: st, Started: lit, Coals: 0.5, Entries: []burn.Entry{e}}
		events := b.Record(lit.Add(time.Hour))
		switch {
		case row.Does != "":
			require.NotEmpty(t, events, k)
			assert.Equal(t, row.Does, events[len(events)-1].Act.Kind, "%s: what it does", k)
		case row.Sees != "":
			require.Len(t, events, 1, k)
			assert.Equal(t, row.Sees, events[0].Seen.Sight, "%s: what is seen by it", k)
			assert.True(t, belief.Reads(row.Sees), "%s: no belief reads it", k)
		}
	}
	for k := range kinds {
		assert.True(t, k.Known(), "%s is no kind", k)
	}
	assert.Len(t, say.EntryWords(lang.Metric), len(burn.Kinds))
}

// A gauge place is whole: words, a pen that is drawn, a column of its own with a head by which
// it is known, what a gauge there follows, a belief that reads it and knows how it may err,
// its name to programs and in the formats.
func TestEveryPlaceIsWhole(t *testing.T) {
	answer := httptest.NewRecorder()
	api.New(&kit.Site{}).ServeHTTP(answer, httptest.NewRequest(http.MethodGet, api.Prefix+"/openapi.json", nil))
	read := func(name string) string {
		text, err := os.ReadFile("../../../" + name)
		require.NoError(t, err)
		return string(text)
	}
	formats, css, drawn := read("docs/formats.md"), read("assets/app.css"), read("internal/strip/run.go")
	columns := map[string]stove.Place{}
	f := fire.New(fire.Setup{Stove: fixture.Stoves()[fixture.Auntie].Stove, House: house.Default(), Outdoor: 2, Room: 18, Coals: 0.5, Warmth: 150}, 8*time.Second)
	f.BurnTo(30*time.Minute, 0)
	for _, r := range stove.PlaceRows {
		assert.NotEmpty(t, say.Places.Name(r.Place), "%s: no words", r.Place)
		assert.Contains(t, css, ".pen-"+r.Pen+" {", "%s: no pen on pages", r.Place)
		assert.NotEmpty(t, r.Heads, "%s: no head of a column means it", r.Place)
		assert.Empty(t, columns[r.Column], "%s: its column is another's", r.Place)
		columns[r.Column] = r.Place
		assert.Contains(t, formats, r.Column, "%s: its column is not in docs/formats.md", r.Place)
		assert.Contains(t, formats, "`"+string(r.Place)+"`", "%s: not in docs/formats.md", r.Place)
		assert.Contains(t, answer.Body.String(), `"`+string(r.Place)+`"`, "%s: not told to programs", r.Place)
		if !r.Fire {
			continue
		}
		if r.Place != stove.ConnectorProbe { // drawn as all are
			assert.Contains(t, drawn, ".pen-"+r.Pen+"{", "%s: no pen in a picture of its own", r.Place)
		}
		got, ok := f.Sample().Reading(r.Place)
		assert.True(t, ok && got > 30, "%s: follows nothing, %.0f °C", r.Place, float64(got))
		assert.Positive(t, float64(r.Band.Low))
		assert.Less(t, float64(r.Band.High), float64(r.Band.TooHot))
		_, spread, known := belief.Usual().Spread(belief.ErrorOf(r.Place))
		assert.True(t, known && spread > 0, "%s: no belief knows how it may err", r.Place)
	}
}

// A control's role, a lay and an aim are whole: words, their names to programs and in the formats;
// a role does something to a fire or is told to do nothing; a lay has a drawing of its own, and
// burns; an aim is planned for.
func TestEveryRoleLayAndAimIsWhole(t *testing.T) {
	answer := httptest.NewRecorder()
	api.New(&kit.Site{}).ServeHTTP(answer, httptest.NewRequest(http.MethodGet, api.Prefix+"/openapi.json", nil))
	told := answer.Body.String()
	formats, err := os.ReadFile("../../../docs/formats.md")
	require.NoError(t, err)
	whole := func(what, key, words string) {
		assert.NotEmpty(t, words, "%s %s: no words", what, key)
		assert.Contains(t, told, `"`+key+`"`, "%s %s: not told to programs", what, key)
		assert.Contains(t, string(formats), "`"+key+"`", "%s %s: not in docs/formats.md", what, key)
	}
	for _, r := range stove.RoleRows {
		whole("role", string(r.Role), say.Roles.Name(r.Role).English())
		assert.Equal(t, r.Air, r.Role.Air())
		if r.Air {
			_, moved := burn.EntryOf(fire.Act{Kind: fire.ActControl, Role: r.Role, Control: "x", Opening: 0.5})
			assert.True(t, moved, "role %s: is not logged", r.Role)
		}
	}
	st := fixture.Stoves()[fixture.Auntie].Stove
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
	drawings := map[string]fire.Lay{}
	for _, r := range fire.LayRows {
		whole("lay", string(r.Lay), say.Lays.Name(r.Lay).English())
		loads := lay.Loads{Splits: w.LoadOf(0, 3, stove.Sideways, r.Lay)}
		if r.Lay != fire.OnCoals {
			loads.Kindling = w.KindlingLoad(r.Lay)
		}
		drawn := fmt.Sprintf("%+v", lay.Pack(st, loads).Bars)
		assert.Empty(t, drawings[drawn], "lay %s: drawn as another", r.Lay)
		drawings[drawn] = r.Lay
	}
	for _, a := range wish.Aims {
		whole("aim", string(a), say.Aims.Name(a).English())
	}
}
