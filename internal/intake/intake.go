// Package intake reads what thermometers and draft gauges report by themselves, in
// three open forms: JSON with a reading a line, CSV with a header, and line protocol.
//
//	{"at": "2026-11-26T18:04:05Z", "stove": 1, "place": "connector-probe", "value": 231.5, "unit": "C"}
//
//	at,stove,place,value,unit
//	2026-11-26T18:04:05Z,1,connector-probe,231.5,C
//
//	temperature,stove=1,place=connector-probe value=231.5 1764180245000000000
//
// A batch is never refused for one line: good lines are readings, bad ones a [Fault]
// with the number of its line and a sentence that says what would do. Only a batch that
// is too long is refused whole ([ErrMany]), before anything of it is kept.
package intake

import (
	"bytes"
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
	"time"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/store"
)

// A Form is how readings are written.
type Form string

// The forms.
const (
	JSONLines    Form = "application/x-ndjson"
	CSV          Form = "text/csv"
	LineProtocol Form = "text/plain"
)

// FormOf is the form that a content type names, or that the text begins like.
func FormOf(contentType string, text []byte) Form {
	kind, _, _ := strings.Cut(strings.ToLower(contentType), ";")
	switch strings.TrimSpace(kind) {
	case "text/csv":
		return CSV
	case "application/x-ndjson", "application/jsonl", "application/json":
		return JSONLines
	}
	text = bytes.TrimLeft(text, " \t\r\n\ufeff")
	switch {
	case len(text) > 0 && (text[0] == '{' || text[0] == '['):
		return JSONLines
	case bytes.HasPrefix(bytes.ToLower(text), []byte("at,")):
		return CSV
	}
	return LineProtocol
}

// A Stove is one that readings may be of.
type Stove struct {
	ID     int64
	Name   string
	Places []stove.Place // of its gauges
}

// A Reader reads batches of one household.
type Reader struct {
	Stoves []Stove
	Only   int64 // the only stove whose readings are taken; 0: all
	Now    time.Time
}

// A Fault is what is wrong with one line.
type Fault struct {
	Line   int    `json:"line"` // from 1
	Detail string `json:"detail"`
}

// A Batch is what was read.
type Batch struct {
	Readings []store.Reported
	Lines    int
	Faults   []Fault
}

// MostLines is how many lines one batch has.
const MostLines = 20_000

// ErrMany says that a batch has more.
var ErrMany = fmt.Errorf("a batch has up to %d lines; send the rest in the next", MostLines)

const (
	mostFaults  = 100 // that are told one by one
	longestLine = 4096
	// ahead is how far a device's clock may run before this one, and behind how old a
	// reading may be.
	ahead  = 2 * time.Minute
	behind = 400 * 24 * time.Hour
	// What gauges show: see what an entry may be.
	leastReading, mostReading = -60.0, 1300.0 // °C
	leastDraft, mostDraft     = -100.0, 500.0 // Pa
)

// row is one reading as it is written.
type row struct{ at, stove, place, value, unit string }

// Read reads a batch. Faults beyond a hundred are only counted.
func (r Reader) Read(form Form, text []byte) (Batch, error) {
	if n := bytes.Count(text, []byte("\n")); n > MostLines+1 {
		return Batch{}, ErrMany
	}
	b := Batch{}
	take := func(line int, w row, err error) error {
		if b.Lines++; b.Lines > MostLines {
			return ErrMany
		}
		var reading store.Reported
		if err == nil {
			reading, err = r.reading(w)
		}
		if err != nil {
			if len(b.Faults) < mostFaults {
				b.Faults = append(b.Faults, Fault{line, err.Error()})
			}
			return nil
		}
		b.Readings = append(b.Readings, reading)
		return nil
	}
	var err error
	switch form {
	case CSV:
		err = readCSV(text, take)
	case LineProtocol:
		err = readLineProtocol(text, take)
	default:
		err = readJSON(text, take)
	}
	return b, err
}

// reading makes a reading of what is written, or says what is wrong.
func (r Reader) reading(w row) (store.Reported, error) {
	out := store.Reported{At: r.Now.UTC()}
	st, err := r.stove(w.stove)
	if err != nil {
		return out, err
	}
	out.Stove = st.ID
	if w.at != "" {
		at, err := time.Parse(time.RFC3339, w.at)
		if err != nil {
			return out, fmt.Errorf("%q is not a time; 2026-11-26T18:04:05Z would do, or nothing for now", short(w.at))
		}
		out.At = at.UTC().Truncate(time.Millisecond)
	}
	switch {
	case out.At.After(r.Now.Add(ahead)):
		return out, fmt.Errorf("it is of %s ahead; set the device's clock, or leave \"at\" out", units.Duration(out.At.Sub(r.Now).Round(time.Minute)))
	case out.At.Before(r.Now.Add(-behind)):
		return out, errors.New("it is older than a year; readings of the last year would do")
	}
	if out.Place, err = place(st, w.place); err != nil {
		return out, err
	}
	out.Value, err = value(out.Place, w.value, w.unit)
	return out, err
}

func short(text string) string {
	if r := []rune(text); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return text
}

// stove finds the stove by its number or its name.
func (r Reader) stove(text string) (Stove, error) {
	id, _ := strconv.ParseInt(text, 10, 64)
	for _, st := range r.Stoves {
		if st.ID != id && !strings.EqualFold(st.Name, text) {
			continue
		}
		if r.Only != 0 && st.ID != r.Only {
			return Stove{}, fmt.Errorf("this token is for another stove than %q", short(text))
		}
		return st, nil
	}
	if text == "" && r.Only != 0 {
		return r.stove(strconv.FormatInt(r.Only, 10))
	}
	return Stove{}, fmt.Errorf("there is no stove %q; its number or its name would do", short(text))
}

func place(st Stove, text string) (string, error) {
	p := stove.Place(strings.ToLower(text))
	switch {
	case p == store.DraftPlace, p == stove.RoomAir, p == stove.OutdoorAir:
		return string(p), nil
	case !p.Known():
		return "", fmt.Errorf("%q is no place of a gauge; connector-probe, connector-surface, top, catalyst, firebox, room, outdoors or draft would do", short(text))
	}
	for _, has := range st.Places {
		if has == p {
			return string(p), nil
		}
	}
	return "", fmt.Errorf("%s has no gauge at %q; add it on its page first", st.Name, text)
}

// value reads a number in its unit, °C or Pa where none is said.
func value(place, text, unit string) (float64, error) {
	v, err := strconv.ParseFloat(text, 64)
	if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
		return 0, fmt.Errorf("%q is not a number; 231.5 would do", short(text))
	}
	least, most, name := leastReading, mostReading, "°C"
	switch u := strings.ToLower(strings.TrimPrefix(unit, "°")); {
	case place == store.DraftPlace && (u == "" || u == "pa"):
		least, most, name = leastDraft, mostDraft, "Pa"
	case place == store.DraftPlace && (u == "inwc" || u == "inh2o"):
		v, least, most, name = v*249.089, leastDraft, mostDraft, "Pa"
	case place == store.DraftPlace:
		return 0, fmt.Errorf("%q is no unit of a draft; Pa or inwc would do", short(unit))
	case u == "" || u == "c":
	case u == "f":
		v = (v - 32) / 1.8
	case u == "k":
		v -= 273.15
	default:
		return 0, fmt.Errorf("%q is no unit of a temperature; C, F or K would do", short(unit))
	}
	if v < least || v > most {
		return 0, fmt.Errorf("%s is beyond what any gauge there shows; %.0f to %.0f %s would do", units.Number(v, 1), least, most, name)
	}
	return v, nil
}
