package lang_test

import (
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/units"
	"smolder/internal/lang"
	"smolder/internal/lang/langtest"
)

// german is a file of a few messages, as somebody might begin one.
const german = `{"tag": "de", "name": "Deutsch",
 "messages": {"Turn down to %s at %s.": "Um %[2]s auf %[1]s zurückdrehen.", "18 % is dry.": "18 % sind trocken.", "not known": "nicht bekannt",
  "March": "März", " and ": " und ", ", ": ", ", "open¦of a door": "offen", "a third": "ein Drittel",
  "Lit {1} by {2}{3}{4}.": "Angezündet von {2}{3}{4}, {1}.", "cords": "Klafter"},
 "layouts": {"2 January 2006": "2. January 2006"}, "plurals": {"%d burns": {"one": "ein Brand", "other": "%d Brände"}}}`

func read(t *testing.T, text string) *lang.Language {
	t.Helper()
	l, err := lang.Read(strings.NewReader(text))
	require.NoError(t, err)
	return l
}

func TestALanguageIsAFile(t *testing.T) {
	de := lang.In(read(t, german), units.Metric)
	assert.Equal(t, "Um 18:40 auf ein Drittel zurückdrehen.", de.F("Turn down to %s at %s.", lang.Message("a third"), "18:40"))
	assert.Equal(t, "Turn down to a third at 18:40.", lang.Metric.F("Turn down to %s at %s.", lang.Message("a third"), "18:40"))
	assert.Equal(t, "18 % sind trocken.", de.T("18 % is dry."))
	assert.Equal(t, "no word of this", de.T("no word of this"), "what it lacks is said in English")
	assert.Equal(t, "offen", de.T("open¦of a door"))
	assert.Equal(t, "open", lang.Metric.T("open¦of a door"))
	assert.Equal(t, "a, b und c", de.And([]string{"a", "b", "c"}))
	assert.Equal(t, "a and b", lang.Metric.And([]string{"a", "b"}))
}

func TestPlurals(t *testing.T) {
	de := lang.In(read(t, german), units.Metric)
	for n, want := range map[int][2]string{0: {"0 burns", "0 Brände"}, 1: {"one burn", "ein Brand"}, 7: {"7 burns", "7 Brände"}} {
		assert.Equal(t, want[0], lang.Metric.N(n, "one burn", "%d burns"))
		assert.Equal(t, want[1], de.N(n, "one burn", "%d burns"))
	}
}

func TestFiguresAsALanguageWritesThem(t *testing.T) {
	de := lang.In(read(t, german), units.Metric)
	assert.Equal(t, "6,2 kg", de.Mass(6.2))
	assert.Equal(t, "6.2 kg", lang.Metric.Mass(6.2))
	assert.Equal(t, "12 °C", de.RoomTemperature(12))
	assert.Equal(t, "19,5 °C", de.RoomTemperature(19.5))
	assert.Equal(t, "−1,50", de.Number(-1.5, 2))
	assert.Equal(t, "nicht bekannt", de.Number(units.Kilogram(0).Pounds()/0, 1))
	assert.Equal(t, "2,40 Klafter", lang.In(de.Language(), units.Imperial).Volume(8699))
	day := time.Date(2026, 3, 5, 18, 40, 0, 0, time.UTC)
	assert.Equal(t, "5. März 2026", de.Date(day, "2 January 2006"))
	assert.Equal(t, "5 March 2026", lang.Metric.Date(day, "2 January 2006"))
}

func TestAFileThatIsNoLanguage(t *testing.T) {
	for name, c := range map[string]struct{ text, says string }{
		"no JSON":          {"tag: de", "JSON object"},
		"no tag":           {`{"name": "x"}`, "tag"},
		"nonsense for tag": {`{"tag": "not a tag", "name": "x"}`, "tag"},
		"no name":          {`{"tag": "de"}`, "name"},
		"loses a figure":   {`{"tag": "de", "name": "x", "messages": {"at %s of %d": "um %s"}}`, "fills in"},
		"other figure":     {`{"tag": "de", "name": "x", "messages": {"at %s": "um %d"}}`, "fills in"},
		"loses a tag":      {`{"tag": "de", "name": "x", "messages": {"Lit {1} by {2}": "Von {2} angezündet"}}`, "fills in"},
		"an action":        {`{"tag": "de", "name": "x", "messages": {"now": "{{.Password}}"}}`, "no actions"},
		"half a plural":    {`{"tag": "de", "name": "x", "plurals": {"%d burns": {"one": "ein Brand"}}}`, "other"},
		"too large":        {`{"tag": "de", "name": "` + strings.Repeat("x", 8<<20) + `"}`, "8 MB"},
	} {
		_, err := lang.Read(strings.NewReader(c.text))
		assert.ErrorContains(t, err, c.says, name)
	}
}

func TestTheLanguageThatABrowserAsksFor(t *testing.T) {
	all, err := lang.Gather(fstest.MapFS{"de.json": {Data: []byte(german)}, "notes.txt": {Data: []byte("no language")}})
	require.NoError(t, err)
	for header, want := range map[string]string{"": "en", "en-GB,en;q=0.9": "en", "de-AT,de;q=0.9,en;q=0.4": "de", "fr, en;q=0.4": "en",
		"fr, de;q=0.2": "de", "*": "en", ";;q=": "en", strings.Repeat("de,", 300): "de"} {
		got := lang.In(all.Accepted(header), units.Metric).Tag()
		assert.Equal(t, want, got, header[:min(len(header), 40)])
	}
	assert.Nil(t, (*lang.Languages)(nil).Accepted("de"), "where there is only English")
	_, err = lang.Gather(fstest.MapFS{"xx.json": {Data: []byte("{")}})
	assert.ErrorContains(t, err, "xx.json")
}

func TestTheMessagesOfATemplate(t *testing.T) {
	const page = `{{define "main"}}<h1 class="x">{{.Stove}}</h1>
<p>Lit {{.When}} by <b>{{.Who}}</b>.</p>{{if .Old}}<p>It is  old
and cold.</p>{{else}}new{{end}}
<input placeholder="now" value="{{.V}}"><script>var words = "not these";</script>
<td>{{if .A}}left{{else}}right{{end}}</td>{{/* a comment */}}{{range .L}}<li>{{.}} kg</li>{{end}}{{end}}`
	found, err := lang.MarkupMessages(page)
	require.NoError(t, err)
	assert.Equal(t, []lang.Message{"Lit {1} by {2}{3}{4}.", "It is old and cold.", "now", "new", "left", "right", "{1} kg"}, found)

	same, err := lang.Markup(page, func(lang.Message) (string, bool) { return "", false })
	require.NoError(t, err)
	assert.Equal(t, page, same, "what is not translated stays as it is")

	said, err := read(t, german).Markup(page)
	require.NoError(t, err)
	assert.Contains(t, said, `<p>Angezündet von <b>{{.Who}}</b>, {{.When}}.</p>`)
}

func TestWordsOutsideOfBrackets(t *testing.T) {
	assert.Equal(t, "[Turn down to ]%s[ at ]%[2]d", langtest.Bracketed("Turn down to %s at %[2]d"))
	assert.Equal(t, "{1} · {2}[ left]", langtest.Bracketed("{1} · {2} left"))
	assert.Empty(t, langtest.Outside("[Turn down to ]6,2 kg[ at ]18:40"))
	assert.Equal(t, []string{"oak", "there"}, langtest.Outside("[Turn] oak 3 there"))
}

// TestEveryMessageGoesIntoBrackets reads all that the program says in another language: a
// template or format that a language could not fill would be refused here.
func TestEveryMessageGoesIntoBrackets(t *testing.T) {
	all, err := lang.Catalogued()
	require.NoError(t, err)
	require.Greater(t, len(all.Messages), 1000)
	l, err := langtest.Language()
	require.NoError(t, err)
	assert.Empty(t, all.Lacks(l))
	assert.NotEmpty(t, all.Lacks(read(t, german)))
}
