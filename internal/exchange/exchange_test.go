package exchange_test

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"os"
	"regexp"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/demo"
	"smolder/internal/exchange"
	"smolder/internal/form"
	"smolder/internal/lang"
	"smolder/internal/say"
)

var forms = map[string]struct {
	write func(io.Writer, exchange.File) error
	read  func(io.Reader, time.Time) (exchange.File, error)
}{
	"csv":  {exchange.WriteCSV, exchange.ReadCSV},
	"json": {exchange.WriteJSON, exchange.ReadJSON},
}

// sample is a demo burn with every kind of entry, odd letters among them.
func sample() exchange.File {
	b := demo.Burn()
	at := b.Started
	b.Entries = append(b.Entries,
		burn.Entry{ID: "note", At: at, Kind: burn.Note, Note: "=HYPERLINK(\"x\"), \"quoted\",\nand a new line"},
		burn.Entry{ID: "draft", At: at, Kind: burn.Draft, Draft: 12.5, Typed: "-0.05 inwc"},
		burn.Entry{ID: "smoke", At: at, Kind: burn.Smoke, Smoke: burn.SmokeGrey},
		burn.Entry{ID: "prime", At: at, Kind: burn.Prime},
		burn.Entry{ID: "rake", At: at, Kind: burn.Rake},
		burn.Entry{ID: "ajar", At: at, Kind: burn.Door, Door: fire.Ajar},
		burn.Entry{ID: "struck", At: at, Kind: burn.Note, Note: "a slip", Struck: true})
	return exchange.File{Title: "+ for the night", Burn: b}
}

func TestWhatIsWrittenIsReadBack(t *testing.T) {
	want := sample()
	for name, form := range forms {
		var out bytes.Buffer
		require.NoError(t, form.write(&out, want), name)
		got, err := form.read(bytes.NewReader(out.Bytes()), now)
		require.NoError(t, err, name)
		assert.Equal(t, want.Title, got.Title)
		assert.Equal(t, want.Burn.Stove, got.Burn.Stove)
		assert.Equal(t, want.Burn.House, got.Burn.House)
		assert.True(t, want.Burn.Started.Equal(got.Burn.Started) && want.Burn.Ended.Equal(got.Burn.Ended))
		wanted := want.Burn.Valid() // undone entries stay at home
		require.Len(t, got.Burn.Valid(), len(wanted), name)
		for i, e := range got.Burn.Valid() {
			if e.Load != nil {
				e.Load.StackID, wanted[i].Load.StackID = 0, 0 // a number that means something only at home
				assert.InDelta(t, float64(wanted[i].Load.Moisture), float64(e.Load.Moisture), 1e-12)
				e.Load.Moisture = wanted[i].Load.Moisture
			}
			assert.InDelta(t, wanted[i].Opening, e.Opening, 1e-12)
			e.Opening = wanted[i].Opening
			assert.Equal(t, wanted[i], e, name)
		}
	}
}

func TestSpreadsheetsSeeNoFormula(t *testing.T) {
	var out bytes.Buffer
	require.NoError(t, exchange.WriteCSV(&out, sample()))
	for _, cell := range strings.FieldsFunc(out.String(), func(r rune) bool { return r == ',' || r == '\n' }) {
		assert.NotRegexp(t, `^"?[=+@]`, cell)
	}
	for name, spoil := range map[string]func(*burn.Entry){"stack": func(e *burn.Entry) { e.Load.StackName = "=1+1" },
		"wood": func(e *burn.Entry) { e.Load.Species.Key = "@x" }} {
		f := sample()
		i := slices.IndexFunc(f.Burn.Entries, func(e burn.Entry) bool { return e.Kind == burn.Load })
		l := *f.Burn.Entries[i].Load
		f.Burn.Entries[i].Load = &l
		spoil(&f.Burn.Entries[i])
		out.Reset()
		require.NoError(t, exchange.WriteCSV(&out, f))
		assert.Contains(t, out.String(), ",'"+map[string]string{"stack": "=1+1", "wood": "@x"}[name], "every column that is text")
	}
}

func TestWhatMakesNoSenseIsRefused(t *testing.T) {
	for name, form := range forms {
		var out bytes.Buffer
		require.NoError(t, form.write(&out, sample()))
		good := out.String()
		for says, bad := range map[string]string{
			"":                 "",
			"not a":            "hello, I am a shopping list\n",
			"its stove":        strings.Replace(good, "Auntie", "", 1),
			"no id of its own": strings.Replace(good, "demo-", strings.Repeat("x", 80), 1),
		} {
			f, err := form.read(strings.NewReader(bad), now)
			require.ErrorIs(t, err, exchange.ErrFormat, "%s %q %v", name, says, f.Title)
		}
	}
	var out bytes.Buffer
	require.NoError(t, exchange.WriteCSV(&out, sample()))
	_, err := exchange.ReadCSV(strings.NewReader(strings.Replace(out.String(), ",ajar,", ",agape,", 1)), now)
	assert.ErrorContains(t, err, `"agape" in column value is not shut, ajar or open`)
	assert.Regexp(t, `line \d+`, err.Error(), "says where")
	out.Reset()
	require.NoError(t, exchange.WriteJSON(&out, sample()))
	_, err = exchange.ReadJSON(strings.NewReader(strings.Replace(out.String(), `"version": 2`, `"version": 7`, 1)), now)
	assert.ErrorContains(t, err, "version 2 would do")
}

// now is when the tests read a file in.
var now = time.Date(2027, 1, 1, 0, 0, 0, 0, time.UTC)

// planned is a sample with a plan and weather in it.
func planned() exchange.File {
	f := sample()
	p := made()
	f.Plan = &p
	f.Burn.Weather = []fire.Weather{{At: 0, Outdoor: 2, Wind: 4}, {At: time.Hour, Outdoor: 1, Wind: 5}}
	f.Burn.OutdoorUnknown, f.Burn.Window = true, true
	return f
}

// made is one plan, searched once and copied.
func made() plan.Plan {
	p, err := form.Read[form.Plan](kept())
	if err != nil {
		panic(err)
	}
	return p
}

var kept = sync.OnceValue(func() []byte {
	st, stacks := demo.Stoves()[0], demo.Stacks()
	w := wish.Wish{Stove: st.Stove, House: st.Space.House, Aim: wish.Hold, For: 4 * time.Hour, Outdoor: 2, Room: 17, Low: 19, High: 21.5,
		Start: wish.GoodCoals, Wood: wish.Pick{ID: 1, Stack: stacks[0]}}
	p, err := search.Best(context.Background(), w, search.Quick, nil)
	if err != nil {
		panic(err)
	}
	b, err := form.Write(form.PlanOf(p))
	if err != nil {
		panic(err)
	}
	return b
})

// Files that once looped the server, spun a core, or reached where they should
// not: each is refused, at once, with a sentence.
func attacks() map[string]string {
	var out bytes.Buffer
	if err := exchange.WriteJSON(&out, planned()); err != nil {
		panic(err)
	}
	good := out.String()
	change := func(f func(*exchange.File)) string {
		file := planned()
		f(&file)
		var out bytes.Buffer
		if err := exchange.WriteJSON(&out, file); err != nil {
			panic(err)
		}
		return out.String()
	}
	return map[string]string{
		"a curve to 1e308":   regexp.MustCompile(`"room_c": \[\s*[\d.]+`).ReplaceAllString(good, `"room_c": [1e308`),
		"a range to -1e308":  regexp.MustCompile(`"guide_low": \[\s*[\d.]+`).ReplaceAllString(good, `"guide_low": [-1e308`),
		"began in 1700":      change(func(f *exchange.File) { f.Burn.Started = time.Date(1700, 1, 1, 0, 0, 0, 0, time.UTC) }),
		"lasts for years":    change(func(f *exchange.File) { f.Burn.Ended = f.Burn.Started.AddDate(3, 0, 0) }),
		"a long title":       change(func(f *exchange.File) { f.Title = strings.Repeat("x", 2<<20) }),
		"a title with NUL":   change(func(f *exchange.File) { f.Title = "a\x00b" }),
		"20,000 controls":    change(func(f *exchange.File) { f.Burn.Stove.Controls = slices.Repeat(f.Burn.Stove.Controls, 20000) }),
		"an id that climbs":  change(func(f *exchange.File) { f.Burn.Entries[3].ID = "../remove?" }),
		"an endless wish":    change(func(f *exchange.File) { f.Plan.Wish.For = 1 << 60 }),
		"steps of no time":   change(func(f *exchange.File) { f.Plan.Predicted.Every = 0 }),
		"a step in ages":     change(func(f *exchange.File) { f.Plan.Steps[0].Expected = 1 << 60 }),
		"a control of lines": change(func(f *exchange.File) { f.Burn.Stove.Controls[0].Name = "Lever\r\nX" }),
		"weather without end": change(func(f *exchange.File) {
			for i := range 5000 {
				f.Burn.Weather = append(f.Burn.Weather, fire.Weather{At: time.Duration(i+2) * time.Hour})
			}
		}),
		"5,000 loads": change(func(f *exchange.File) {
			i := slices.IndexFunc(f.Burn.Entries, func(e burn.Entry) bool { return e.Kind == burn.Load })
			for n := range 5000 {
				e := f.Burn.Entries[i]
				e.ID = fmt.Sprintf("load-%d", n)
				f.Burn.Entries = append(f.Burn.Entries, e)
			}
		}),
	}
}

func TestFilesThatWouldHarmAreRefused(t *testing.T) {
	for name, text := range attacks() {
		f, err := exchange.ReadJSON(strings.NewReader(text), now)
		require.ErrorIs(t, err, exchange.ErrFormat, name)
		assert.Less(t, len(err.Error()), 500, name)
		_ = f
	}
	var out bytes.Buffer
	require.NoError(t, exchange.WriteCSV(&out, sample()))
	for _, bad := range []string{"NaN", "Inf", "1e999"} {
		_, err := exchange.ReadCSV(strings.NewReader(strings.Replace(out.String(), ",12.5,", ","+bad+",", 1)), now)
		assert.ErrorIs(t, err, exchange.ErrFormat, bad)
	}
	_, err := exchange.ReadJSON(strings.NewReader(""), now)
	assert.ErrorContains(t, err, "the file is empty")
	_, err = exchange.ReadJSON(strings.NewReader(`{"format": "smolder burn", "version": 2`), now)
	assert.ErrorContains(t, err, "ends in the middle")
	_, err = exchange.ReadJSON(strings.NewReader(`{"title": "`+strings.Repeat("x", 9<<20)+`"}`), now)
	assert.ErrorContains(t, err, "8 MB")
	good := planned()
	out.Reset()
	require.NoError(t, exchange.WriteJSON(&out, good))
	back, err := exchange.ReadJSON(bytes.NewReader(out.Bytes()), now)
	require.NoError(t, err, "a plan made here passes")
	assert.Equal(t, good.Burn.Weather, back.Burn.Weather)
	assert.True(t, back.Burn.OutdoorUnknown && back.Burn.Window)
	require.NotNil(t, back.Plan)
	assert.Equal(t, say.Plan(*good.Plan, lang.Metric), say.Plan(*back.Plan, lang.Metric))
}

// A file from before mineral fuel had a kind of its own is still read.
func TestAnOlderFile(t *testing.T) {
	b, err := os.ReadFile("testdata/burn-v1.json")
	require.NoError(t, err)
	f, err := exchange.ReadJSON(bytes.NewReader(b), now)
	require.NoError(t, err)
	kinds := map[burn.Kind]int{}
	for _, e := range f.Burn.Entries {
		kinds[e.Kind]++
	}
	assert.Equal(t, 1, kinds[burn.Load])
	assert.Equal(t, 1, kinds[burn.Mineral])
}

// use does with a file that was let in what the application would.
func use(f exchange.File) {
	m := burn.Measure(f.Burn, f.Burn.Started.Add(30*time.Minute))
	_ = m
	if f.Plan != nil {
		for _, sys := range []units.System{units.Metric, units.Imperial} {
			say.Steps(*f.Plan, lang.English(sys))
			say.Plan(*f.Plan, lang.English(sys))
			say.Cautions(*f.Plan, lang.English(sys))
		}
	}
	_ = exchange.WriteCSV(io.Discard, f)
}

func FuzzReadCSV(f *testing.F) {
	var out bytes.Buffer
	if err := exchange.WriteCSV(&out, sample()); err != nil {
		f.Fatal(err)
	}
	f.Add(out.String())
	for _, bad := range []string{"NaN", "1e308", "'=1+1", "\r", "-5"} {
		f.Add(strings.Replace(out.String(), ",12.5,", ","+bad+",", 1))
	}
	f.Fuzz(func(t *testing.T, text string) {
		if file, err := exchange.ReadCSV(strings.NewReader(text), now); err == nil {
			use(file)
			var again bytes.Buffer
			if err := exchange.WriteCSV(&again, file); err != nil {
				t.Fatal(err)
			}
			if _, err := exchange.ReadCSV(&again, now); err != nil {
				t.Fatalf("what was read and written is not read again: %v", err)
			}
		}
	})
}

func FuzzReadJSON(f *testing.F) {
	var out bytes.Buffer
	if err := exchange.WriteJSON(&out, planned()); err != nil {
		f.Fatal(err)
	}
	f.Add(out.String())
	for name, text := range attacks() {
		if len(text) < 1<<20 {
			f.Add(text)
		} else {
			f.Logf("%s is too large for a seed", name)
		}
	}
	f.Fuzz(func(t *testing.T, text string) {
		if file, err := exchange.ReadJSON(strings.NewReader(text), now); err == nil {
			use(file)
			if err := exchange.WriteJSON(io.Discard, file); err != nil {
				t.Fatal(err)
			}
		}
	})
}
