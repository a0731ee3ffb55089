package exchange_test

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/demo"
	"smolder/internal/exchange"
)

var later = time.Date(2027, 1, 1, 0, 0, 0, 0, time.UTC)

func aLogbook(t *testing.T) (files []exchange.File, text []byte) {
	t.Helper()
	for i, b := range demo.Burns("Auntie", 3) {
		files = append(files, exchange.File{Title: fmt.Sprint("the ", i), Burn: b, Eye: burn.Eye{Glass: "hazed", Meant: "bread"}})
	}
	files[2].Eye = burn.Eye{}
	var out bytes.Buffer
	l, err := exchange.NewLogbook(&out)
	require.NoError(t, err)
	for _, f := range files {
		require.NoError(t, l.Add(f))
	}
	require.NoError(t, l.Close())
	return files, out.Bytes()
}

// What is taken out comes back as it was, and is what the published schema says.
func TestLogbook(t *testing.T) {
	want, text := aLogbook(t)
	assert.True(t, exchange.IsLogbook(text[:60]))
	got, err := exchange.ReadLogbook(bytes.NewReader(text), later)
	require.NoError(t, err)
	require.Len(t, got, len(want))
	for i := range want {
		assert.Equal(t, want[i].Title, got[i].Title)
		assert.Equal(t, want[i].Eye, got[i].Eye)
		assert.Equal(t, len(want[i].Burn.Entries), len(got[i].Burn.Entries))
		want[i].Burn.Entries, got[i].Burn.Entries = want[i].Burn.Valid(), got[i].Burn.Valid()
		assert.Equal(t, want[i].Burn, got[i].Burn)
	}

	schema, err := jsonschema.UnmarshalJSON(bytes.NewReader(exchange.Schema()))
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	c.AssertFormat()
	require.NoError(t, c.AddResource("logbook.json", schema))
	compiled, err := c.Compile("logbook.json")
	require.NoError(t, err)
	valid := func(text []byte) error {
		doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
		require.NoError(t, err)
		return compiled.Validate(doc)
	}
	require.NoError(t, valid(text))
	require.Error(t, valid(bytes.Replace(text, []byte(`"started":"`), []byte(`"started":"x`), 1)), "it can fail")
	require.Error(t, valid(bytes.Replace(text, []byte(`"room_c"`), []byte(`"rum_c"`), 1)))

	golden, err := os.ReadFile("../../docs/logbook.schema.json")
	require.NoError(t, err)
	assert.Equal(t, string(golden), string(exchange.Schema()), "docs/logbook.schema.json is of other forms: smolder schema prints it anew")
}

// Of a logbook that is wrong anywhere nothing is taken, and the burn is named.
func TestLogbooksThatAreRefused(t *testing.T) {
	_, text := aLogbook(t)
	second := bytes.LastIndex(text, []byte(`"title":"the 1"`))
	for name, c := range map[string]struct {
		text string
		says string
	}{
		"cut off":           {string(text[:len(text)/2]), "ends in the middle"},
		"of another format": {strings.Replace(string(text), "smolder logbook", "a logbook", 1), "would do"},
		"a bad burn":        {string(text[:second]) + strings.Replace(string(text[second:]), `"room_c":`, `"room_c":9e9,"x":`, 1), "burn 2"},
		"no list":           {`{"format":"smolder logbook","version":1,"burns":{}}`, "no list"},
		"of the future":     {strings.Replace(string(text), `"started":"20`, `"started":"29`, 1), "burn 1"},
		"nothing":           {"", "ends in the middle"},
		"no object":         {"[]", "no JSON object"},
	} {
		_, err := exchange.ReadLogbook(strings.NewReader(c.text), later)
		require.ErrorIs(t, err, exchange.ErrFormat, name)
		assert.Contains(t, err.Error(), c.says, name)
	}
	empty, err := exchange.ReadLogbook(strings.NewReader(`{"format":"smolder logbook","version":1,"burns":[]}`), later)
	require.NoError(t, err)
	assert.Empty(t, empty)
}

// As tables: a file a table, with as many rows as there are entries, and nothing that a
// spreadsheet takes for a formula.
func TestTables(t *testing.T) {
	files, _ := aLogbook(t)
	files[0].Title, files[0].Eye.Meant = "=1+1", "@home"
	var out bytes.Buffer
	w, err := exchange.NewTables(&out)
	require.NoError(t, err)
	entries := 0
	for i, f := range files {
		require.NoError(t, w.Add(int64(i+7), f))
		entries += len(f.Burn.Valid())
	}
	require.NoError(t, w.Close())
	z, err := zip.NewReader(bytes.NewReader(out.Bytes()), int64(out.Len()))
	require.NoError(t, err)
	rows := 0
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		all, err := csv.NewReader(r).ReadAll()
		require.NoError(t, err, f.Name)
		for _, row := range all {
			for _, cell := range row {
				assert.NotRegexp(t, `^[=@]`, cell, f.Name)
			}
		}
		if f.Name != "burns.csv" && f.Name != "eye.csv" {
			rows += len(all) - 1
		}
	}
	assert.Equal(t, entries, rows)
}

// A logger's columns are found by their names, and read in its units and zone.
func TestColumns(t *testing.T) {
	file := []byte("\xef\xbb\xbfTimestamp;Flue temp;Room;Draught;Battery\n14/01/2026 18:05:00;450,5;68;-0.05;3.1\n14/01/2026 18:06:00;460;;;3.1\nnonsense;1;2;3;4\n14/01/2026 18:07:00;9999;68;0.05;3.1\n")
	look, err := exchange.Look(file)
	require.NoError(t, err)
	assert.Equal(t, ';', look.Separator)
	assert.Equal(t, 5, look.Rows)
	assert.Equal(t, []string{exchange.ColumnMoment, "connector-probe", "room", exchange.ColumnDraft, ""}, look.Guess())
	zone, err := time.LoadLocation("Europe/Oslo")
	require.NoError(t, err)
	m := exchange.Matching{Columns: look.Guess(), Fahrenheit: true, InchWater: true, Zone: zone, DayFirst: true}
	rows, bad, badRows, err := m.Read(file)
	require.NoError(t, err)
	require.Len(t, rows, 6, "of a row with one bad gauge the others are kept")
	assert.Equal(t, time.Date(2026, 1, 14, 17, 5, 0, 0, time.UTC), rows[0].At)
	assert.InDelta(t, 232.5, rows[0].Value, 0.1)
	assert.InDelta(t, 20, rows[1].Value, 0.1)
	assert.InDelta(t, -12.5, rows[2].Value, 0.1)
	assert.Equal(t, 2, badRows)
	assert.Equal(t, 4, bad[0].Number)
	assert.Equal(t, 5, bad[1].Number)

	_, _, _, err = exchange.Matching{Columns: []string{exchange.ColumnMoment, ""}}.Read(file)
	require.ErrorIs(t, err, exchange.ErrColumns)
	for name, text := range map[string]string{"nothing": "", "no table": "hello\nworld\n", "not text": "\xff\xfe\x00a;b\n",
		"very many columns": strings.Repeat("1,", 200) + "\n1,2\n"} {
		_, err := exchange.Look([]byte(text))
		require.ErrorIs(t, err, exchange.ErrColumns, name)
	}
	ahead := exchange.Matching{Columns: []string{exchange.ColumnMoment, "room"}, Until: later}
	_, bad, badRows, err = ahead.Read([]byte("2031-01-01 10:00,20\n"))
	require.NoError(t, err)
	assert.Equal(t, 1, badRows)
	assert.Contains(t, bad[0].Why.Error(), "lies ahead")
	many := ""
	for m := range 80 {
		many += time.Date(2015, time.Month(m), 3, 0, 0, 0, 0, time.UTC).Format(time.RFC3339) + ",20\n"
	}
	_, _, _, err = ahead.Read([]byte(many))
	require.ErrorIs(t, err, exchange.ErrColumns)
	for text, want := range map[string]int64{"2026-01-14T18:05:00Z": 1768413900, "1768413900": 1768413900, "1768413900000": 1768413900,
		"2026-01-14 19:05":          1768413900,
		"2026-01-14T18:05:00+00:00": 1768413900} {
		rows, _, badRows, err := exchange.Matching{Columns: []string{exchange.ColumnMoment, "room"}, Zone: zone}.Read([]byte(text + ",20\n"))
		require.NoError(t, err)
		require.Zero(t, badRows, text)
		assert.Equal(t, want, rows[0].At.Unix(), text)
	}
}

// An hour that the clocks repeat is told by the order of the rows, the newest last or
// first; a column is only what it may be.
func TestTheHourThatComesTwice(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Oslo")
	require.NoError(t, err)
	m := exchange.Matching{Columns: []string{exchange.ColumnMoment, "room"}, Zone: zone}
	begin := time.Date(2025, 10, 25, 23, 30, 0, 0, time.UTC) // 01:30, and the clocks go back at 01:00 UTC
	var lines []string
	for i := range 20 {
		lines = append(lines, begin.Add(time.Duration(i)*10*time.Minute).In(zone).Format("2006-01-02 15:04:05")+",20")
	}
	for _, newestFirst := range []bool{false, true} {
		rows, _, bad, err := m.Read([]byte(strings.Join(lines, "\n")))
		require.NoError(t, err)
		require.Zero(t, bad)
		second := 0
		for i, r := range rows {
			at := i
			if newestFirst {
				at = len(rows) - 1 - i
			}
			assert.Equal(t, begin.Add(time.Duration(at)*10*time.Minute), r.At, "row %d, newest first: %v", i, newestFirst)
			if r.Second {
				second++
			}
		}
		assert.Equal(t, 6, second)
		slices.Reverse(lines)
	}
	for _, column := range []string{"a\tb", "nowhere", "draft "} {
		_, _, _, err := exchange.Matching{Columns: []string{exchange.ColumnMoment, "room", column}}.Read([]byte("2026-01-14 10:00,20,3\n"))
		require.ErrorIs(t, err, exchange.ErrColumns, column)
	}
}

// A schema is JSON and says of itself what it is.
func TestSchema(t *testing.T) {
	var doc map[string]any
	require.NoError(t, json.Unmarshal(exchange.Schema(), &doc))
	assert.Equal(t, "https://json-schema.org/draft/2020-12/schema", doc["$schema"])
}
