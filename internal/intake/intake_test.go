package intake_test

import (
	"bytes"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/stove"
	"smolder/internal/intake"
	"smolder/internal/store"
)

var (
	now    = time.Date(2026, 11, 26, 18, 30, 0, 0, time.UTC)
	at     = time.Date(2026, 11, 26, 18, 4, 5, 0, time.UTC)
	reader = intake.Reader{Now: now, Stoves: []intake.Stove{{1, "Auntie", []stove.Place{stove.ConnectorProbe, stove.Top}}, {2, "Pip", nil}}}
)

// The same reading in every form.
func TestForms(t *testing.T) {
	want := []store.Reported{{Stove: 1, Place: "connector-probe", At: at, Value: 231.5}}
	for name, c := range map[string]struct{ kind, text string }{
		"json":             {"application/x-ndjson", `{"at": "2026-11-26T18:04:05Z", "stove": 1, "place": "connector-probe", "value": 231.5, "unit": "C"}`},
		"json, by name":    {"", "\n" + `{"at": "2026-11-26T19:04:05+01:00", "stove": "auntie", "place": "connector-probe", "value": "231.5"}` + "\n\n"},
		"csv":              {"text/csv; charset=utf-8", "at,stove,place,value,unit\n2026-11-26T18:04:05Z,1,connector-probe,231.5,C\n"},
		"csv, other order": {"", "at,unit,value,place,stove\r\n2026-11-26T18:04:05Z,F,448.7,connector-probe,Auntie\r\n"},
		"line protocol":    {"text/plain", "temperature,stove=1,place=connector-probe value=231.5 1795716245000000000"},
		"unit as a tag":    {"", "# a remark\nt,place=connector-probe,stove=Auntie,unit=K value=504.65 1795716245000000000\n"},
	} {
		b, err := reader.Read(intake.FormOf(c.kind, []byte(c.text)), []byte(c.text))
		require.NoError(t, err, name)
		require.Empty(t, b.Faults, name)
		require.Len(t, b.Readings, 1, name)
		assert.InDelta(t, want[0].Value, b.Readings[0].Value, 0.01, name)
		b.Readings[0].Value = want[0].Value
		assert.Equal(t, want, b.Readings, name)
	}
}

// Good lines are kept, bad ones told by their number with what would do.
func TestFaults(t *testing.T) {
	for text, says := range map[string]string{
		`{"stove": 1, "place": "top", "value": "hot"}`:                            `"hot" is not a number; 231.5 would do`,
		`{"stove": 9, "place": "top", "value": 20}`:                               `there is no stove "9"; its number or its name would do`,
		`{"stove": 1, "place": "oven", "value": 20}`:                              `"oven" is no place of a gauge; connector-probe, connector-surface, top, catalyst, firebox, room, outdoors or draft would do`,
		`{"stove": 1, "place": "catalyst", "value": 20}`:                          `Auntie has no gauge at "catalyst"; add it on its page first`,
		`{"stove": 1, "place": "top", "value": 20, "unit": "R"}`:                  `"R" is no unit of a temperature; C, F or K would do`,
		`{"stove": 1, "place": "top", "value": 2000}`:                             `2000.0 is beyond what any gauge there shows; -60 to 1300 °C would do`,
		`{"stove": 1, "place": "draft", "value": 20, "unit": "C"}`:                `"C" is no unit of a draft; Pa or inwc would do`,
		`{"at": "yesterday", "stove": 1, "place": "top", "value": 20}`:            `"yesterday" is not a time; 2026-11-26T18:04:05Z would do, or nothing for now`,
		`{"at": "2026-11-26T18:36:00Z", "stove": 1, "place": "top", "value": 20}`: `it is of 6 min ahead; set the device's clock, or leave "at" out`,
		`{"at": "2020-11-26T18:36:00Z", "stove": 1, "place": "top", "value": 20}`: `it is older than a year; readings of the last year would do`,
		`{"stove": 1, "place": "top", "value":`:                                   `this is not a JSON object of a reading; {"at": "2026-11-26T18:04:05Z", "stove": 1, "place": "top", "value": 215, "unit": "C"} would do`,
		`{"stove": 1, "place": "top", "value": 1e999}`:                            `"1e999" is not a number; 231.5 would do`,

		`{"stove": 1, "place": "top", "value": 20, "x": "` + strings.Repeat("x", 5000) + `"}`: `the line is longer than any reading; one JSON object a line would do`,
	} {
		good := `{"stove": 1, "place": "top", "value": 20}`
		all := good + "\n" + text + "\n" + good
		b, err := reader.Read(intake.JSONLines, []byte(all))
		require.NoError(t, err)
		assert.Len(t, b.Readings, 2, text)
		require.Len(t, b.Faults, 1, text)
		assert.Equal(t, 2, b.Faults[0].Line)
		assert.Equal(t, says, strings.ReplaceAll(b.Faults[0].Detail, "−", "-"))
	}
	b, err := reader.Read(intake.CSV, []byte("when,what\n1,2\n"))
	require.NoError(t, err)
	require.Len(t, b.Faults, 1)
	assert.Contains(t, b.Faults[0].Detail, "the header has no column")
	b, err = reader.Read(intake.LineProtocol, []byte("nonsense\ntemperature,stove=1,place=top value=215\n"))
	require.NoError(t, err)
	assert.Len(t, b.Readings, 1)
	assert.Equal(t, 1, b.Faults[0].Line)
	assert.Equal(t, now, b.Readings[0].At, "without a time it is of now")
	only := reader
	only.Only = 2
	b, _ = only.Read(intake.JSONLines, []byte(`{"stove": 1, "place": "room", "value": 20}`))
	assert.Equal(t, `this token is for another stove than "1"`, b.Faults[0].Detail)
	b, _ = only.Read(intake.JSONLines, []byte(`{"place": "room", "value": 20}`))
	assert.Equal(t, int64(2), b.Readings[0].Stove, "a token for one stove says which")
}

// What is written plainly is read as the standard library reads it.
func TestPlainLinesAreReadAsJSON(t *testing.T) {
	for _, line := range []string{
		`{"stove": 1, "place": "top", "value": 20}`, `{"stove":"1","place":"top","value":"20.5","unit":"F"}`, `{}`, `{"stove": 01, "place": "top", "value": 20}`,
		`{"stove": 1, "place": "t\u006fp", "value": 2e1}`, `{"stove": 1, "place": "top", "value": 20,}`, `{"stove": 1 "place": "top"}`,
		`{"stove": 1, "place": "top", "value": -}`,
		`{"stove": 1, "place": "top", "value": 1.2.3}`, `{"stove": 1, "place": "top", "value": 20} x`, `{"stove": 1, "place": top, "value": 20}`,
		`{"at": 5, "stove": 1, "place": "top", "value": 20}`} {
		quick, err := reader.Read(intake.JSONLines, []byte(line))
		require.NoError(t, err)
		slow, err := reader.Read(intake.JSONLines, []byte(`{"no such field": null, `+strings.TrimPrefix(line, "{")))
		require.NoError(t, err)
		assert.Equal(t, slow.Readings, quick.Readings, line)
		assert.Len(t, quick.Faults, len(slow.Faults), line)
	}
}

// A batch that is too long is refused whole.
func TestTooMany(t *testing.T) {
	line := `{"stove": 1, "place": "top", "value": 20}` + "\n"
	_, err := reader.Read(intake.JSONLines, []byte(strings.Repeat(line, intake.MostLines)))
	require.NoError(t, err)
	_, err = reader.Read(intake.JSONLines, []byte(strings.Repeat(line, intake.MostLines+2)))
	require.ErrorIs(t, err, intake.ErrMany)
	b, err := reader.Read(intake.JSONLines, []byte(strings.Repeat("x\n", 1000)))
	require.NoError(t, err)
	assert.Len(t, b.Faults, 100, "not a thousand sentences")
	assert.Equal(t, 1000, b.Lines)
}

// Whatever is sent: no panic, and each line is a reading that makes sense or a fault.
func FuzzReadings(f *testing.F) {
	for _, seed := range []string{`{"at": "2026-11-26T18:04:05Z", "stove": 1, "place": "top", "value": 231.5, "unit": "C"}`,
		"at,stove,place,value,unit\n2026-11-26T18:04:05Z,1,top,231.5,C\n", "temperature,stove=1,place=top value=231.5 1795716245000000000",
		"at,stove\n\"", "t,stove=1 value=\"x\"", "[{}]", "\x00", "t value=1i 99999999999999999999"} {
		f.Add([]byte(seed))
	}
	f.Fuzz(func(t *testing.T, text []byte) {
		for _, form := range []intake.Form{intake.JSONLines, intake.CSV, intake.LineProtocol, intake.FormOf("", text)} {
			b, err := reader.Read(form, text)
			if err != nil {
				continue
			}
			if len(b.Readings)+len(b.Faults) > b.Lines || b.Lines > bytes.Count(text, []byte("\n"))+2 {
				t.Fatalf("%d readings and %d faults of %d lines", len(b.Readings), len(b.Faults), b.Lines)
			}
			for _, r := range b.Readings {
				if r.Value < -100 || r.Value > 1300 || r.At.After(now.Add(3*time.Minute)) || r.Stove == 0 {
					t.Fatalf("kept %+v", r)
				}
			}
		}
	})
}
