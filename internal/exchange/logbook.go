package exchange

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"slices"
	"strconv"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/units"
	"smolder/internal/form"
	"smolder/internal/lang"
)

// A logbook is many burns in one file: JSON with each burn as it stands in a file of its
// own, or CSV with a file for each table, zipped.

const (
	logbookName    = "smolder logbook"
	logbookVersion = 1
	// MostLogbook is how large a logbook may be that is read in whole, all or nothing, in
	// bytes; one that is larger is read in burn by burn ([StreamLogbook]).
	MostLogbook = 24 << 20
	// MostBurns is how many burns it may have.
	MostBurns = 5000
	// mostTogether is how many entries all of them may have: they are held in memory until
	// all are known to be right.
	mostTogether = 400_000
)

// A LogbookWriter writes burns as they come.
type LogbookWriter struct {
	w io.Writer
	n int
}

// NewLogbook begins a logbook as JSON.
func NewLogbook(w io.Writer) (*LogbookWriter, error) {
	_, err := fmt.Fprintf(w, `{"format":%q,"version":%d,"burns":[`, logbookName, logbookVersion)
	return &LogbookWriter{w: w}, err
}

// Add writes one burn.
func (l *LogbookWriter) Add(f File) error {
	separator := "\n"
	if l.n > 0 {
		separator = ",\n"
	}
	l.n++
	b, err := json.Marshal(f.form())
	if err != nil {
		return err
	}
	_, err = fmt.Fprintf(l.w, "%s%s", separator, b)
	return err
}

// Close ends the logbook.
func (l *LogbookWriter) Close() error {
	_, err := io.WriteString(l.w, "\n]}\n")
	return err
}

// IsLogbook tells whether a file that begins so is one.
func IsLogbook(head []byte) bool { return bytes.Contains(head, []byte(`"`+logbookName+`"`)) }

// ReadLogbook reads what a [LogbookWriter] wrote and checks all of it, at the given time. An
// error says which burn is wrong.
func ReadLogbook(r io.Reader, now time.Time) ([]File, error) {
	limited := &io.LimitedReader{R: r, N: MostLogbook + 1}
	var out []File
	together := 0
	err := StreamLogbook(limited, now, func(_ int, f File) error {
		if together += len(f.Burn.Entries); together > mostTogether {
			return lang.Errorf("%w: more than %d entries together; a logbook taken out by the year would do", ErrFormat, mostTogether)
		}
		if out = append(out, f); len(out) > MostBurns {
			return lang.Errorf("%w: more than %d burns; a logbook taken out by the year would do", ErrFormat, MostBurns)
		}
		return nil
	})
	switch {
	case limited.N <= 0:
		return nil, lang.Errorf("%w: it is larger than %d MB; a logbook taken out by the year would do", ErrFormat, MostLogbook>>20)
	case err != nil:
		return nil, err
	}
	return out, nil
}

// A Table is one file of a logbook as CSV.
type table struct {
	name string
	buf  bytes.Buffer
	out  *csv.Writer
}

func newTable(name string, columns ...string) *table {
	t := &table{name: name}
	t.out = csv.NewWriter(&t.buf)
	_ = t.out.Write(columns)
	return t
}

func (t *table) row(cells ...string) { _ = t.out.Write(guarded(cells)) }

// A TablesWriter writes a logbook as CSV, a file for each table, zipped. Readings stream as
// they come; the other tables are held until the end.
type TablesWriter struct {
	zip                                *zip.Writer
	readings                           *csv.Writer
	burns, loads, controls, marks, eye *table
}

// NewTables begins one.
func NewTables(w io.Writer) (*TablesWriter, error) {
	t := &TablesWriter{zip: zip.NewWriter(w),
		burns: newTable("burns.csv", "burn", "stove", "title", "started", "ended", "outdoor_c", "room_c", "coals_kg", "wood_kg", "planned"),
		loads: newTable("loads.csv", "burn", "time", "species", "moisture_pct", "pieces", "piece_kg", "piece_m", "direction", "lay",
			"kindling", "starter", "stack"),
		controls: newTable("controls.csv", "burn", "time", "control", "opening_pct", "typed"),
		marks:    newTable("marks.csv", "burn", "time", "kind", "value"),
		eye:      newTable("eye.csv", "burn", "glass", "coals", "smoke", "smell", "comfort", "meant")}
	f, err := t.zip.Create("readings.csv")
	if err != nil {
		return nil, err
	}
	t.readings = csv.NewWriter(f)
	return t, t.readings.Write([]string{"burn", "time", "place", "reading_c", "draft_pa", "reported"})
}

// Add writes one burn, under its number.
func (t *TablesWriter) Add(id int64, f File) error {
	number := func(v float64) string { return strconv.FormatFloat(v, 'g', 8, 64) }
	clock := func(at time.Time) string { return at.UTC().Format(time.RFC3339) }
	burnID, b := strconv.FormatInt(id, 10), f.Burn
	ended, outdoor, room := "", number(float64(b.Outdoor)), number(float64(b.Room))
	if !b.Ended.IsZero() {
		ended = clock(b.Ended)
	}
	if b.OutdoorUnknown {
		outdoor = ""
	}
	if b.RoomUnknown {
		room = ""
	}
	t.burns.row(burnID, b.Stove.Name, f.Title, clock(b.Started), ended, outdoor, room, number(float64(b.Coals)), number(float64(b.Used())),
		strconv.FormatBool(f.Plan != nil))
	for e := range b.All() {
		at := clock(e.At)
		switch e.Kind {
		case burn.Temperature:
			_ = t.readings.Write([]string{burnID, at, string(e.Place), number(float64(e.Reading)), "", strconv.FormatBool(e.Reported)}) // kept until Flush
		case burn.Draft:
			_ = t.readings.Write([]string{burnID, at, "draft", "", number(float64(e.Draft)), strconv.FormatBool(e.Reported)})
		case burn.Load, burn.Mineral:
			if l := e.Load; l != nil {
				t.loads.row(burnID, at, l.Species.Key, number(l.Moisture.Percent()), strconv.Itoa(l.Pieces), number(float64(l.PieceMass)), number(float64(l.PieceLength)),
					string(l.Direction), string(l.Lay), strconv.FormatBool(l.Kindling), string(l.StarterKind), l.StackName)
			}
		case burn.Control:
			t.controls.row(burnID, at, e.Control, number(100*e.Opening), e.Typed)
		case burn.CO:
			t.marks.row(burnID, at, string(e.Kind), number(e.PPM))
		case burn.Bed:
			t.marks.row(burnID, at, string(e.Kind), number(float64(e.Depth)))
		case burn.Door:
			t.marks.row(burnID, at, string(e.Kind), []string{"shut", "ajar", "open"}[e.Door])
		default:
			t.marks.row(burnID, at, string(e.Kind), e.Smoke+e.Note)
		}
	}
	if f.Eye != (burn.Eye{}) {
		t.eye.row(burnID, f.Eye.Glass, f.Eye.Coals, f.Eye.Smoke, f.Eye.Smell, f.Eye.Comfort, f.Eye.Meant)
	}
	t.readings.Flush()
	return t.readings.Error()
}

// Close writes the other tables and ends the file.
func (t *TablesWriter) Close() error {
	for _, table := range []*table{t.burns, t.loads, t.controls, t.marks, t.eye} {
		table.out.Flush()
		f, err := t.zip.Create(table.name)
		if err != nil {
			return err
		}
		if _, err := f.Write(table.buf.Bytes()); err != nil {
			return err
		}
	}
	return t.zip.Close()
}

// form is a file as it is written, struck entries left out.
func (f File) form() fileForm {
	f.Burn.Entries = f.Burn.Valid()
	reported := seriesOf(f.Burn)
	if reported != nil {
		f.Burn.Entries = slices.DeleteFunc(f.Burn.Entries, func(e burn.Entry) bool { return e.Reported })
	}
	out := fileForm{Format: formatName, Version: formatVersion, Title: f.Title, Burn: form.BurnOf(f.Burn), Reported: reported}
	if f.Plan != nil {
		p := form.PlanOf(*f.Plan)
		out.Plan = &p
	}
	if f.Eye != (burn.Eye{}) {
		e := form.EyeOf(f.Eye)
		out.Eye = &e
	}
	return out
}

// checkEye holds the owner's eye to what the page would have kept.
func (f *File) checkEye() error {
	if err := f.Eye.Check(); err != nil {
		return lang.Errorf("%w: its owner's eye: %w", ErrFormat, err)
	}
	if !units.Printable(f.Eye.Meant, false) {
		return lang.Errorf("%w: what was meant has signs in it that cannot be shown", ErrFormat)
	}
	return nil
}
