package exchange

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"errors"
	"io"
	"math"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// Readings from any logger's CSV: its columns are matched on a page, so that nobody has to
// change the file.

const (
	// MostColumns and MostRows are how large such a file may be.
	MostColumns = 64
	MostRows    = 400_000
	// mostBad is how many bad rows are told one by one.
	mostBad = 50
	// mostMonths is over how many months its readings may lie: the database has a part for
	// each.
	mostMonths = 60
)

// What a column may hold, besides the place of a gauge.
const (
	ColumnNone   = ""
	ColumnMoment = "moment" // day and time
	ColumnDay    = "day"
	ColumnClock  = "clock"
	ColumnDraft  = "draft"
)

// A Matching is how a logger's columns are read.
type Matching struct {
	Columns    []string // what each holds
	Fahrenheit bool
	InchWater  bool // of the draft; else Pa
	Zone       *time.Location
	DayFirst   bool      // 3/4/2026 is the third of April
	Until      time.Time // no reading is later; zero: it does not matter

	twice *repeated // while a file is read
}

// A Row is a reading from such a file.
type Row struct {
	Place string // of a gauge, or [ColumnDraft]
	At    time.Time
	Value float64 // °C, or Pa

	Second bool // it lies in the second of two hours that the zone's clocks repeat
}

// A BadRow is one that cannot be read, by its number in the file, the first being 1.
type BadRow struct {
	Number int
	Why    error
}

// A Columned is a file that was looked into.
type Columned struct {
	Separator rune
	Head      []string   // names of its columns, where its first row is names
	First     [][]string // its first rows
	Rows      int
}

// ErrColumns is the cause of a file that is no table.
var ErrColumns = lang.Errorf("this is not a table of readings")

// opened is a reader of a file's rows: of the separator that its first lines have most of.
func opened(file []byte) (*csv.Reader, rune, error) {
	file = bytes.TrimPrefix(file, []byte("\xef\xbb\xbf"))
	if len(file) == 0 {
		return nil, 0, lang.Errorf("%w: it is empty", ErrColumns)
	}
	if !utf8.Valid(file) {
		return nil, 0, lang.Errorf("%w: it is not text in UTF-8; saved as CSV in UTF-8 it would do", ErrColumns)
	}
	best, most := ',', 0
	lines := bufio.NewScanner(bytes.NewReader(file[:min(len(file), 4096)]))
	lines.Buffer(nil, 8192)
	var head string
	for i := 0; lines.Scan() && i < 3; i++ {
		head += lines.Text() + "\n"
	}
	for _, sep := range []rune{',', ';', '\t'} {
		if n := strings.Count(head, string(sep)); n > most {
			best, most = sep, n
		}
	}
	if most == 0 {
		return nil, 0, lang.Errorf("%w: it has one column; a moment and a reading in each row would do", ErrColumns)
	}
	r := csv.NewReader(bytes.NewReader(file))
	r.Comma, r.FieldsPerRecord, r.LazyQuotes, r.TrimLeadingSpace, r.ReuseRecord = best, -1, true, true, false
	return r, best, nil
}

// Look looks into a file: its columns, its first rows, how many there are.
func Look(file []byte) (Columned, error) {
	r, sep, err := opened(file)
	if err != nil {
		return Columned{}, err
	}
	out := Columned{Separator: sep}
	r.ReuseRecord = true
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return out, lang.Errorf("%w: row %d: %w", ErrColumns, out.Rows+1, err)
		}
		if out.Rows++; out.Rows > MostRows {
			return out, lang.Errorf("%w: more than %d rows; a file of fewer days would do", ErrColumns, MostRows)
		}
		if len(row) > MostColumns {
			return out, lang.Errorf("%w: more than %d columns; fewer would do", ErrColumns, MostColumns)
		}
		if len(out.First) < 8 {
			out.First = append(out.First, append([]string(nil), row...))
		}
	}
	if len(out.First) > 1 && named(out.First[0]) {
		out.Head, out.First = out.First[0], out.First[1:]
	}
	return out, nil
}

// named tells whether a row is names and no readings: no cell is a number or begins with
// one.
func named(row []string) bool {
	for _, cell := range row {
		if cell = strings.TrimSpace(cell); cell != "" && strings.ContainsAny(cell[:1], "0123456789-+.") {
			return false
		}
	}
	return true
}

// heads are the words by which a column is known, those that decide first: a door before a
// stove, a pipe before its gas.
var heads = func() []head {
	out := []head{{[]string{"timestamp", "datetime", "date time", "moment", "date/time"}, ColumnMoment}, {[]string{"date", "day"}, ColumnDay},
		{[]string{"time", "clock"}, ColumnClock}, {[]string{"draft", "draught", "pressure"}, ColumnDraft}}
	// Indoors and outdoors have a door in them.
	out = append(out, head{[]string{"indoor"}, string(stove.RoomAir)}, head{[]string{"outdoor"}, string(stove.OutdoorAir)})
	for _, r := range stove.PlaceRows {
		if r.Place != stove.Top { // whose words many a head has
			out = append(out, head{r.Heads, string(r.Place)})
		}
	}
	return append(out, head{stove.Top.Row().Heads, string(stove.Top)})
}()

type head struct {
	words []string
	is    string
}

// Guess is what the columns seem to hold, by their names.
func (c Columned) Guess() []string {
	n := 0
	for _, row := range append(c.First, c.Head) {
		n = max(n, len(row))
	}
	out := make([]string, n)
	used := map[string]bool{}
	for i := range out {
		name := ""
		if i < len(c.Head) {
			name = strings.ToLower(c.Head[i])
		}
		guess := ColumnNone
		for _, g := range heads {
			for _, w := range g.words {
				if guess == ColumnNone && strings.Contains(name, w) && !used[g.is] {
					guess = g.is
				}
			}
		}
		if name == "" && i == 0 {
			guess = ColumnMoment
		}
		used[guess] = guess != ColumnNone
		out[i] = guess
	}
	if used[ColumnClock] && !used[ColumnDay] && !used[ColumnMoment] { // "time" alone is a moment
		for i := range out {
			if out[i] == ColumnClock {
				out[i] = ColumnMoment
			}
		}
	}
	return out
}

// Read reads the readings of a file as its columns are matched; rows that cannot be read,
// or not all of them, are told by their numbers, the first some dozen with why. Of a row
// with one bad gauge the others are kept.
//
// An hour that the clocks of the zone repeat in autumn comes twice with the same times:
// which of the two a row is of is told by the order of the rows.
func (m Matching) Read(file []byte) (rows []Row, bad []BadRow, badRows int, err error) {
	for _, c := range m.Columns {
		if !knownColumn(c) {
			return nil, nil, 0, lang.Errorf("%w: a column is said to hold %q, which is nothing that is kept here", ErrColumns, shortened(c))
		}
	}
	if !m.whole() {
		return nil, nil, 0, lang.Errorf("%w: a column with the moment, or one with the day and one with the clock, and one with a reading are needed", ErrColumns)
	}
	r, _, err := opened(file)
	if err != nil {
		return nil, nil, 0, err
	}
	r.ReuseRecord = true
	months := map[int]bool{}
	m.twice = &repeated{}
	for n := 1; ; n++ {
		record, err := r.Read()
		if errors.Is(err, io.EOF) {
			return rows, bad, badRows, nil
		}
		if n > MostRows+1 {
			return nil, nil, 0, lang.Errorf("%w: more than %d rows; a file of fewer days would do", ErrColumns, MostRows)
		}
		if err == nil && n == 1 && named(record) {
			continue
		}
		var of []Row
		if err == nil {
			of, err = m.row(record)
		}
		if err != nil { // what else stands in the row is kept
			if badRows++; len(bad) < mostBad {
				bad = append(bad, BadRow{n, err})
			}
		}
		rows = append(rows, of...)
		if len(of) > 0 {
			months[of[0].At.Year()*12+int(of[0].At.Month())] = true
		}
		if len(months) > mostMonths {
			return nil, nil, 0, lang.Errorf("%w: its readings lie in more than %d months; a file of up to five years would do", ErrColumns, mostMonths)
		}
	}
}

// knownColumn tells whether a column may hold this.
func knownColumn(c string) bool {
	switch c {
	case ColumnNone, ColumnMoment, ColumnDay, ColumnClock, ColumnDraft:
		return true
	}
	return stove.Place(c).Known()
}

// repeated tells the two hours apart that a zone's clocks go through twice.
type repeated struct {
	last time.Time // of the row before
	down bool      // the newest row stands first
	n    int       // rows that lie in the second of the two, where the times alone say the first
}

// of is the moment of a row whose clock may mean one of two.
func (r *repeated) of(first, second time.Time) time.Time {
	at := first
	switch {
	case r == nil || first.Equal(second):
	case r.last.IsZero():
	case !r.down && first.Before(r.last):
		at = second
	case r.down && !second.After(r.last):
		at = second
	}
	if r != nil {
		if !r.last.IsZero() && !at.Equal(r.last) && first.Equal(second) {
			r.down = at.Before(r.last)
		}
		if r.last = at; at.After(first) {
			r.n++
		}
	}
	return at
}

// bothOf are the two moments that a clock of a zone may mean; mostly they are one.
func bothOf(t time.Time, zone *time.Location) (first, second time.Time) {
	wall := func(u time.Time) string { return u.In(zone).Format("2006-01-02T15:04:05") }
	first, second = t, t
	for _, by := range []time.Duration{30 * time.Minute, time.Hour, 2 * time.Hour} { // by which zones change their clocks
		if u := t.Add(by); wall(u) == wall(t) {
			second = u
		}
		if u := t.Add(-by); wall(u) == wall(t) {
			first = u
		}
	}
	return first, second
}

func (m Matching) whole() bool {
	has := map[string]bool{}
	value := false
	for _, c := range m.Columns {
		has[c] = true
		value = value || c == ColumnDraft || c != ColumnNone && c != ColumnMoment && c != ColumnDay && c != ColumnClock
	}
	return value && (has[ColumnMoment] || has[ColumnDay] && has[ColumnClock])
}

// row reads one row; a cell without a reading is left out.
func (m Matching) row(record []string) ([]Row, error) {
	day, clock, moment := "", "", ""
	for i, c := range m.Columns {
		if i >= len(record) {
			break
		}
		switch cell := strings.TrimSpace(record[i]); c {
		case ColumnDay:
			day = cell
		case ColumnClock:
			clock = cell
		case ColumnMoment:
			moment = cell
		}
	}
	if moment == "" {
		moment = strings.TrimSpace(day + " " + clock)
	}
	was := 0
	if m.twice != nil {
		was = m.twice.n
	}
	at, err := m.moment(moment)
	if err != nil {
		return nil, err
	}
	if !m.Until.IsZero() && at.After(m.Until) {
		return nil, lang.Errorf("%s lies ahead", shortened(moment))
	}
	var out []Row
	var wrong error
	for i, c := range m.Columns {
		if i >= len(record) || c == ColumnNone || c == ColumnMoment || c == ColumnDay || c == ColumnClock {
			continue
		}
		cell := strings.TrimSpace(record[i])
		if cell == "" || strings.EqualFold(cell, "nan") || cell == "--" {
			continue // nothing was read
		}
		v, err := strconv.ParseFloat(strings.ReplaceAll(strings.TrimRight(cell, " °CFcfPa"), ",", "."), 64)
		if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
			wrong = and(wrong, lang.Errorf("%q is no reading", shortened(cell)))
			continue
		}
		if v, err = m.value(c, v); err != nil {
			wrong = and(wrong, err)
			continue
		}
		out = append(out, Row{Place: c, At: at, Value: v, Second: m.twice != nil && m.twice.n > was})
	}
	if wrong != nil && len(out) > 0 {
		wrong = lang.Errorf("%w; its other readings are kept", wrong)
	}
	return out, wrong
}

// value is a reading in °C, or Pa, if it is one that a gauge may show.
func (m Matching) value(column string, v float64) (float64, error) {
	if column == ColumnDraft {
		if m.InchWater {
			v *= 249.089
		}
		if v < -100 || v > 200 {
			return 0, lang.Errorf("a draft of %.0f Pa is none", v)
		}
		return v, nil
	}
	if m.Fahrenheit {
		v = (v - 32) / 1.8
	}
	if v < -60 || v > 1500 {
		return 0, lang.Errorf("%.0f °C is no temperature of a stove", v)
	}
	return v, nil
}

// layouts are how loggers write a moment; those with a zone of their own go before.
var (
	zoned   = []string{time.RFC3339Nano, "2006-01-02 15:04:05Z07:00", "2006-01-02 15:04:05 -0700", "2006-01-02T15:04:05-0700"}
	unzoned = []string{"2006-01-02T15:04:05", "2006-01-02 15:04:05", "2006-01-02T15:04", "2006-01-02 15:04", "2006/01/02 15:04:05",
		"2006/01/02 15:04", "20060102 15:04:05"}
	dayFirst = []string{"2/1/2006 15:04:05", "2/1/2006 15:04", "2.1.2006 15:04:05", "2.1.2006 15:04", "2-1-2006 15:04:05", "2-1-2006 15:04",
		"2/1/2006 3:04:05 PM", "2/1/2006 3:04 PM", "2/1/06 15:04"}
	dayLast = []string{"1/2/2006 15:04:05", "1/2/2006 15:04", "1-2-2006 15:04:05", "1-2-2006 15:04", "1/2/2006 3:04:05 PM", "1/2/2006 3:04 PM", "1/2/06 15:04"}
)

func (m Matching) moment(text string) (time.Time, error) {
	if text == "" {
		return time.Time{}, lang.Errorf("it has no moment")
	}
	if n, err := strconv.ParseFloat(text, 64); err == nil && n > 1e8 && n < 1e14 { // seconds or milliseconds since 1970
		if n > 1e11 {
			n /= 1000
		}
		return inTime(time.UnixMilli(int64(n * 1000)).UTC())
	}
	for _, layout := range zoned {
		if t, err := time.Parse(layout, text); err == nil {
			return inTime(t.UTC())
		}
	}
	order := dayLast
	if m.DayFirst {
		order = dayFirst
	}
	zone := m.Zone
	if zone == nil {
		zone = time.UTC
	}
	for _, layout := range append(unzoned, order...) {
		if t, err := time.ParseInLocation(layout, strings.ToUpper(text), zone); err == nil {
			first, second := bothOf(t, zone)
			return inTime(m.twice.of(first, second).UTC())
		}
	}
	return time.Time{}, lang.Errorf("%q is no moment; such as 2026-01-14 18:05:00 would do", shortened(text))
}

func inTime(t time.Time) (time.Time, error) {
	if t.Year() < 1990 || t.Year() > 2100 {
		return t, lang.Errorf("%s is not of this time", t.Format(time.DateOnly))
	}
	return t, nil
}

// Printed is a reading in a system of units.
func (r Row) Printed(sys lang.Locale) string {
	if r.Place == ColumnDraft {
		return sys.Draft(units.Pascal(r.Value))
	}
	return sys.Temperature(units.Celsius(r.Value))
}

// and adds one fault to those of before.
func and(before, err error) error {
	if before == nil {
		return err
	}
	return lang.Errorf("%w, %w", before, err)
}
