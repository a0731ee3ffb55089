package exchange

import (
	"encoding/csv"
	"encoding/json"
	"io"
	"math"
	"strconv"
	"strings"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/form"
	"smolder/internal/lang"
)

// header names the columns of the CSV form. The first rows are of kind "about"
// and say in key and value what held before the match; then one row an entry.
var header = []string{"time", "kind", "key", "value", "opening_pct", "reading_c", "draft_pa", "species", "moisture_pct",
	"pieces", "piece_kg", "piece_m", "direction", "lay", "kindling", "starter_j", "starter", "unraked", "stack", "typed", "id"}

const (
	colTime = iota
	colKind
	colKey
	colValue
	colOpening
	colReading
	colDraft
	colSpecies
	colMoisture
	colPieces
	colPieceMass
	colPieceLength
	colDirection
	colLay
	colKindling
	colStarter
	colStarterKind
	colUnraked
	colStack
	colTyped
	colID
)

func number(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// WriteCSV writes a burn as a table. The plan is not in it; JSON has it.
func WriteCSV(w io.Writer, f File) error {
	out := csv.NewWriter(w)
	_ = out.Write(header) // errors are kept until Flush
	about, err := aboutRows(f)
	if err != nil {
		return err
	}
	for _, kv := range about {
		row := make([]string, len(header))
		row[colKind], row[colKey], row[colValue] = "about", kv[0], kv[1]
		_ = out.Write(guarded(row))
	}
	for _, e := range f.Burn.Valid() {
		_ = out.Write(guarded(entryRow(e)))
	}
	out.Flush()
	return out.Error()
}

// guarded keeps a spreadsheet from taking any cell that is text for a formula.
func guarded(row []string) []string {
	for i, cell := range row {
		if _, err := strconv.ParseFloat(cell, 64); err == nil {
			continue // a number is a number, also below zero
		}
		row[i] = guard(cell)
	}
	return row
}

const formulaSigns = "=+-@\t\r\n'"

// guard puts an apostrophe before text that would be taken for a formula, and
// before one that begins with an apostrophe, so that taking it off is no guess.
func guard(s string) string {
	if s != "" && strings.ContainsRune(formulaSigns, rune(s[0])) {
		return "'" + s
	}
	return s
}

func unguard(s string) string {
	if len(s) > 1 && s[0] == '\'' && strings.ContainsRune(formulaSigns, rune(s[1])) {
		return s[1:]
	}
	return s
}

func aboutRows(f File) ([][2]string, error) {
	stoveText, err := json.Marshal(form.StoveOf(f.Burn.Stove))
	if err != nil {
		return nil, err
	}
	houseText, err := json.Marshal(form.HouseOf(f.Burn.House))
	if err != nil {
		return nil, err
	}
	b := f.Burn
	rows := [][2]string{{"format", formatName}, {"version", strconv.Itoa(formatVersion)}, {"title", f.Title},
		{"started", b.Started.UTC().Format(time.RFC3339Nano)}, {"outdoor_c", number(float64(b.Outdoor))},
		{"room_c", number(float64(b.Room))}, {"warmth_c", number(float64(b.Warmth))}, {"coals_kg", number(float64(b.Coals))},
		{"wanted_from_c", number(b.Wanted[0])}, {"wanted_to_c", number(b.Wanted[1])},
		{"stove", string(stoveText)}, {"house", string(houseText)}}
	if len(b.Weather) > 0 {
		text, err := json.Marshal(listOf(b.Weather, form.WeatherOf))
		if err != nil {
			return nil, err
		}
		rows = append(rows, [2]string{"weather", string(text)})
	}
	if len(b.Beside) > 0 {
		text, err := json.Marshal(listOf(b.Beside, form.BesideOf))
		if err != nil {
			return nil, err
		}
		rows = append(rows, [2]string{"beside", string(text)})
	}
	for _, kv := range []struct {
		key string
		on  bool
	}{{"window_open", b.Window}, {"room_unknown", b.RoomUnknown}, {"outdoor_unknown", b.OutdoorUnknown}} {
		if kv.on {
			rows = append(rows, [2]string{kv.key, "true"})
		}
	}
	if b.Wind != 0 {
		rows = append(rows, [2]string{"wind_m_s", number(b.Wind)})
	}
	if !b.Ended.IsZero() {
		rows = append(rows, [2]string{"ended", b.Ended.UTC().Format(time.RFC3339Nano)})
	}
	return rows, nil
}

func entryRow(e burn.Entry) []string {
	row := make([]string, len(header))
	row[colTime], row[colKind], row[colID] = e.At.UTC().Format(time.RFC3339Nano), string(e.Kind), e.ID
	row[colTyped] = e.Typed
	switch e.Kind {
	case burn.Control:
		row[colKey], row[colOpening] = e.Control, number(e.Opening*100)
	case burn.Temperature:
		row[colKey], row[colReading] = string(e.Place), number(float64(e.Reading))
	case burn.Draft:
		row[colDraft] = number(float64(e.Draft))
	case burn.CO:
		row[colValue] = number(e.PPM)
	case burn.Bed:
		row[colValue] = number(float64(e.Depth))
	case burn.Door:
		row[colValue] = doorWords[e.Door]
	case burn.Smoke:
		row[colValue] = e.Smoke
	case burn.Note:
		row[colValue] = e.Note
	case burn.Load, burn.Mineral:
		if l := e.Load; l != nil {
			row[colSpecies], row[colMoisture] = l.Species.Key, number(l.Moisture.Percent())
			row[colPieces], row[colPieceMass], row[colPieceLength] = strconv.Itoa(l.Pieces), number(float64(l.PieceMass)), number(float64(l.PieceLength))
			row[colDirection], row[colLay] = string(l.Direction), string(l.Lay)
			row[colStarterKind], row[colUnraked] = string(l.StarterKind), strconv.FormatBool(l.Unraked)
			row[colKindling], row[colStarter], row[colStack] = strconv.FormatBool(l.Kindling), number(float64(l.Starter)), l.StackName
		}
	}
	return row
}

var doorWords = map[fire.Door]string{fire.Shut: "shut", fire.Ajar: "ajar", fire.Open: "open"}

// ReadCSV reads what WriteCSV wrote and checks it, at the given time.
func ReadCSV(r io.Reader, now time.Time) (File, error) {
	limited := &io.LimitedReader{R: r, N: mostBytes}
	in := csv.NewReader(limited)
	in.FieldsPerRecord = len(header)
	bad := func(err error) error {
		if limited.N <= 0 {
			return tooLarge()
		}
		return lang.Errorf("%w: %w", ErrFormat, err)
	}
	first, err := in.Read()
	if err == io.EOF {
		return File{}, lang.Errorf("%w: the file is empty", ErrFormat)
	}
	if err != nil {
		return File{}, bad(err)
	}
	if strings.TrimPrefix(strings.Join(first, ","), "\ufeff") != strings.Join(header, ",") {
		return File{}, lang.Errorf("%w: its first line is not %q", ErrFormat, strings.Join(header, ","))
	}
	f := File{Format: formatName, Version: formatVersion}
	for {
		row, err := in.Read()
		if err == io.EOF {
			if limited.N <= 0 {
				return File{}, tooLarge()
			}
			f.upgrade()
			return f, f.check(now)
		}
		if err != nil {
			return File{}, bad(err)
		}
		line, _ := in.FieldPos(0)
		for i := range row {
			row[i] = unguard(row[i])
		}
		p := rowParser{row: row}
		if row[colKind] == "about" {
			p.about(&f)
		} else {
			f.Burn.Entries = append(f.Burn.Entries, p.entry())
		}
		if p.err != nil {
			return File{}, lang.Errorf("%w: line %d: %w", ErrFormat, line, p.err)
		}
		if len(f.Burn.Entries) > mostEntries {
			return File{}, lang.Errorf("%w: more than %d entries", ErrFormat, mostEntries)
		}
	}
}

// rowParser reads the cells of one row and keeps the first error.
type rowParser struct {
	row []string
	err error
}

func (p *rowParser) fail(col int, what string) {
	if p.err == nil {
		p.err = lang.Errorf("%q in column %s is not %s", shortened(p.row[col]), header[col], what)
	}
}

func (p *rowParser) number(col int) float64 {
	v, err := strconv.ParseFloat(p.row[col], 64)
	if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
		p.fail(col, "a number")
		return 0
	}
	return v
}

func (p *rowParser) time(col int) time.Time {
	t, err := time.Parse(time.RFC3339Nano, p.row[col])
	if err != nil {
		p.fail(col, "a time such as 2026-01-14T18:10:00Z")
	}
	return t
}

// about reads a row about the burn as a whole; what is not known here is passed over.
func (p *rowParser) about(f *File) {
	if read, known := aboutReaders[p.row[colKey]]; known {
		read(p, f)
	}
}

// aboutReaders read the rows about a burn as a whole, by their key.
var aboutReaders = map[string]func(p *rowParser, f *File){
	"format": func(p *rowParser, _ *File) {
		if p.row[colValue] != formatName {
			p.fail(colValue, formatName)
		}
	},
	"version": func(p *rowParser, f *File) {
		v, err := strconv.Atoi(p.row[colValue])
		if f.Version = v; err != nil || v != formatVersion && v != oldVersion {
			p.fail(colValue, "a version that is known here")
		}
	},
	"title":           func(p *rowParser, f *File) { f.Title = p.row[colValue] },
	"started":         func(p *rowParser, f *File) { f.Burn.Started = p.time(colValue) },
	"ended":           func(p *rowParser, f *File) { f.Burn.Ended = p.time(colValue) },
	"outdoor_c":       func(p *rowParser, f *File) { f.Burn.Outdoor = units.Celsius(p.number(colValue)) },
	"room_c":          func(p *rowParser, f *File) { f.Burn.Room = units.Celsius(p.number(colValue)) },
	"warmth_c":        func(p *rowParser, f *File) { f.Burn.Warmth = units.Celsius(p.number(colValue)) },
	"coals_kg":        func(p *rowParser, f *File) { f.Burn.Coals = units.Kilogram(p.number(colValue)) },
	"wanted_from_c":   func(p *rowParser, f *File) { f.Burn.Wanted[0] = p.number(colValue) },
	"wanted_to_c":     func(p *rowParser, f *File) { f.Burn.Wanted[1] = p.number(colValue) },
	"wind_m_s":        func(p *rowParser, f *File) { f.Burn.Wind = p.number(colValue) },
	"window_open":     func(p *rowParser, f *File) { f.Burn.Window = p.row[colValue] == "true" },
	"room_unknown":    func(p *rowParser, f *File) { f.Burn.RoomUnknown = p.row[colValue] == "true" },
	"outdoor_unknown": func(p *rowParser, f *File) { f.Burn.OutdoorUnknown = p.row[colValue] == "true" },
	"stove": func(p *rowParser, f *File) {
		var ok bool
		if f.Burn.Stove, ok = fromJSON[form.Stove](p.row[colValue]); !ok {
			p.fail(colValue, "a stove in JSON")
		}
	},
	"house": func(p *rowParser, f *File) {
		var ok bool
		if f.Burn.House, ok = fromJSON[form.House](p.row[colValue]); !ok {
			p.fail(colValue, "a house in JSON")
		}
	},
	"weather": func(p *rowParser, f *File) {
		var ok bool
		if f.Burn.Weather, ok = listFromJSON[form.Weather](p.row[colValue]); !ok {
			p.fail(colValue, "hours of weather in JSON")
		}
	},
	"beside": func(p *rowParser, f *File) {
		var ok bool
		if f.Burn.Beside, ok = listFromJSON[form.Beside](p.row[colValue]); !ok {
			p.fail(colValue, "heat of another stove in JSON")
		}
	},
}

func (p *rowParser) entry() burn.Entry {
	e := burn.Entry{ID: p.row[colID], At: p.time(colTime), Kind: burn.Kind(p.row[colKind]), Typed: p.row[colTyped]}
	switch e.Kind {
	case burn.Control:
		e.Control, e.Opening = p.row[colKey], p.number(colOpening)/100
	case burn.Temperature:
		e.Place, e.Reading = stove.Place(p.row[colKey]), units.Celsius(p.number(colReading))
	case burn.Draft:
		e.Draft = units.Pascal(p.number(colDraft))
	case burn.CO:
		e.PPM = p.number(colValue)
	case burn.Bed:
		e.Depth = units.Metre(p.number(colValue))
	case burn.Door:
		e.Door = -1
		for d, word := range doorWords {
			if word == p.row[colValue] {
				e.Door = d
			}
		}
		if e.Door < 0 {
			p.fail(colValue, "shut, ajar or open")
		}
	case burn.Smoke:
		e.Smoke = p.row[colValue]
	case burn.Note:
		e.Note = p.row[colValue]
	case burn.Load, burn.Mineral:
		e.Load = p.load()
	}
	return e
}

func (p *rowParser) load() *fire.Load {
	species, err := wood.SpeciesByKey(p.row[colSpecies])
	if err != nil {
		p.fail(colSpecies, "a known wood")
	}
	pieces, err := strconv.Atoi(p.row[colPieces])
	if err != nil {
		p.fail(colPieces, "a whole number")
	}
	return &fire.Load{Species: species, Moisture: units.Fraction(p.number(colMoisture) / 100), Pieces: pieces,
		PieceMass: units.Kilogram(p.number(colPieceMass)), PieceLength: units.Metre(p.number(colPieceLength)),
		Direction: stove.Direction(p.row[colDirection]), Lay: fire.Lay(p.row[colLay]), Kindling: p.row[colKindling] == "true",
		Starter: units.Joule(p.number(colStarter)), StarterKind: fire.Starter(p.row[colStarterKind]), Unraked: p.row[colUnraked] == "true",
		StackName: p.row[colStack]}
}

// fromJSON reads one thing in its written form.
func fromJSON[F interface{ Core() C }, C any](text string) (C, bool) {
	var f F
	err := json.Unmarshal([]byte(text), &f)
	return f.Core(), err == nil
}

// listFromJSON reads a list of them.
func listFromJSON[F interface{ Core() C }, C any](text string) ([]C, bool) {
	var list []F
	err := json.Unmarshal([]byte(text), &list)
	return listOf(list, F.Core), err == nil
}

func listOf[A, B any](list []A, turn func(A) B) []B {
	out := make([]B, len(list))
	for i, v := range list {
		out[i] = turn(v)
	}
	return out
}
