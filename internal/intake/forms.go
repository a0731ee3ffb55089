package intake

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/influxdata/line-protocol/v2/lineprotocol"
)

// The three forms, each read line by line into a [row].

type taker func(line int, w row, err error) error

// jsonRow is a reading in JSON: numbers may stand as such or as text.
type jsonRow struct {
	At    string          `json:"at"`
	Stove json.RawMessage `json:"stove"`
	Place string          `json:"place"`
	Value json.RawMessage `json:"value"`
	Unit  string          `json:"unit"`
}

func readJSON(text []byte, take taker) error {
	lines := bufio.NewScanner(bytes.NewReader(text))
	lines.Buffer(make([]byte, 0, 4096), len(text)+1)
	for n := 1; lines.Scan(); n++ {
		line := bytes.TrimSpace(lines.Bytes())
		if len(line) == 0 {
			continue
		}
		w, err := jsonLine(line)
		if err := take(n, w, err); err != nil {
			return err
		}
	}
	return lines.Err()
}

func jsonLine(line []byte) (row, error) {
	if len(line) > longestLine {
		return row{}, errors.New("the line is longer than any reading; one JSON object a line would do")
	}
	if w, ok := plainLine(line); ok {
		return w, nil
	}
	var j jsonRow
	if err := json.Unmarshal(line, &j); err != nil {
		return row{}, errors.New(`this is not a JSON object of a reading; ` +
			`{"at": "2026-11-26T18:04:05Z", "stove": 1, "place": "top", "value": 215, "unit": "C"} would do`)
	}
	return row{j.At, strings.Trim(string(j.Stove), `"`), j.Place, strings.Trim(string(j.Value), `"`), j.Unit}, nil
}

// plainLine reads a line as devices write it: one flat object of the known fields, texts
// without escapes and plain numbers. Anything else is left to the JSON of the standard
// library, which is five times slower.
func plainLine(line []byte) (w row, ok bool) {
	i := 0
	space := func() {
		for i < len(line) && (line[i] == ' ' || line[i] == '\t') {
			i++
		}
	}
	text := func() (string, bool) {
		if i >= len(line) || line[i] != '"' {
			return "", false
		}
		begin := i + 1
		for i = begin; i < len(line) && line[i] != '"'; i++ {
			if c := line[i]; c < ' ' || c >= utf8.RuneSelf || c == '\\' {
				return "", false
			}
		}
		if i >= len(line) {
			return "", false
		}
		i++
		return string(line[begin : i-1]), true
	}
	number := func() (string, bool) {
		begin := i
		for i < len(line) && (line[i] >= '0' && line[i] <= '9' || line[i] == '.' || line[i] == '-') {
			i++
		}
		if i == begin || i-begin > 1 && line[begin] == '0' && line[begin+1] != '.' {
			return "", false
		}
		return string(line[begin:i]), true
	}
	if space(); i >= len(line) || line[i] != '{' {
		return row{}, false
	}
	for i++; ; i++ {
		space()
		key, ok := text()
		if !ok {
			return row{}, false
		}
		if space(); i >= len(line) || line[i] != ':' {
			return row{}, false
		}
		i++
		space()
		value, ok := text()
		if !ok {
			if value, ok = number(); !ok || key != "stove" && key != "value" {
				return row{}, false
			}
		}
		switch key {
		case "at":
			w.at = value
		case "stove":
			w.stove = value
		case "place":
			w.place = value
		case "value":
			w.value = value
		case "unit":
			w.unit = value
		default:
			return row{}, false
		}
		if space(); i < len(line) && line[i] == ',' {
			continue
		}
		if i >= len(line) || line[i] != '}' {
			return row{}, false
		}
		i++
		space()
		return w, i == len(line)
	}
}

func readCSV(text []byte, take taker) error {
	lines := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(text, []byte("\ufeff"))))
	lines.FieldsPerRecord, lines.ReuseRecord = -1, true
	head, err := lines.Read()
	if err != nil {
		return take(1, row{}, errors.New("there is no header; at,stove,place,value,unit would do"))
	}
	column := map[string]int{}
	for i, name := range head {
		column[strings.ToLower(strings.TrimSpace(name))] = i
	}
	for _, needed := range []string{"stove", "place", "value"} {
		if _, there := column[needed]; !there {
			return take(1, row{}, fmt.Errorf("the header has no column %q; at,stove,place,value,unit would do", needed))
		}
	}
	for {
		cells, err := lines.Read()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			n := 1
			var parse *csv.ParseError
			if errors.As(err, &parse) {
				n = parse.StartLine
			}
			if err := take(n, row{}, errors.New("this line is not CSV: its quotes do not match")); err != nil {
				return err
			}
			continue
		}
		n, _ := lines.FieldPos(0)
		cell := func(name string) string {
			if i, there := column[name]; there && i < len(cells) {
				return strings.TrimSpace(cells[i])
			}
			return ""
		}
		if err := take(n, row{cell("at"), cell("stove"), cell("place"), cell("value"), cell("unit")}, nil); err != nil {
			return err
		}
	}
}

func readLineProtocol(text []byte, take taker) error {
	for n, line := range bytes.Split(text, []byte("\n")) {
		line = bytes.TrimSpace(line)
		if len(line) == 0 || line[0] == '#' {
			continue
		}
		w, err := protocolLine(line)
		if err := take(n+1, w, err); err != nil {
			return err
		}
	}
	return nil
}

var errProtocol = errors.New("this is not line protocol; temperature,stove=1,place=top value=215 1764180245000000000 would do")

func protocolLine(line []byte) (row, error) {
	if len(line) > longestLine {
		return row{}, errProtocol
	}
	d := lineprotocol.NewDecoderWithBytes(line)
	if !d.Next() {
		return row{}, errProtocol
	}
	if _, err := d.Measurement(); err != nil {
		return row{}, errProtocol
	}
	var w row
	for {
		key, value, err := d.NextTag()
		if err != nil {
			return row{}, errProtocol
		}
		if key == nil {
			break
		}
		switch string(key) {
		case "stove":
			w.stove = string(value)
		case "place":
			w.place = string(value)
		case "unit":
			w.unit = string(value)
		}
	}
	for {
		key, value, err := d.NextField()
		if err != nil {
			return row{}, errProtocol
		}
		if key == nil {
			break
		}
		if string(key) == "value" {
			w.value = fmt.Sprint(value.Interface())
		}
	}
	at, err := d.Time(lineprotocol.Nanosecond, time.Time{})
	if err != nil {
		return row{}, errProtocol
	}
	if !at.IsZero() {
		w.at = at.UTC().Format(time.RFC3339Nano)
	}
	return w, nil
}
