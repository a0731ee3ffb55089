package exchange_test

import (
	"bytes"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/demo"
	"smolder/internal/exchange"
)

var forms = map[string]struct {
	write func(io.Writer, exchange.File) error
	read  func(io.Reader) (exchange.File, error)
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
		got, err := form.read(bytes.NewReader(out.Bytes()))
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
			f, err := form.read(strings.NewReader(bad))
			require.ErrorIs(t, err, exchange.ErrFormat, "%s %q %v", name, says, f.Title)
		}
	}
	var out bytes.Buffer
	require.NoError(t, exchange.WriteCSV(&out, sample()))
	_, err := exchange.ReadCSV(strings.NewReader(strings.Replace(out.String(), ",ajar,", ",agape,", 1)))
	assert.ErrorContains(t, err, `"agape" in column value is not shut, ajar or open`)
	assert.Regexp(t, `line \d+`, err.Error(), "says where")
	out.Reset()
	require.NoError(t, exchange.WriteJSON(&out, sample()))
	_, err = exchange.ReadJSON(strings.NewReader(strings.Replace(out.String(), `"version": 1`, `"version": 7`, 1)))
	assert.ErrorContains(t, err, "version 1 would do")
}

func FuzzReadCSV(f *testing.F) {
	var out bytes.Buffer
	if err := exchange.WriteCSV(&out, sample()); err != nil {
		f.Fatal(err)
	}
	f.Add(out.String())
	f.Fuzz(func(t *testing.T, text string) {
		if file, err := exchange.ReadCSV(strings.NewReader(text)); err == nil {
			if err := exchange.WriteCSV(io.Discard, file); err != nil {
				t.Fatal(err)
			}
		}
	})
}
