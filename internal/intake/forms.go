package intake

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/influxdata/line-protocol/v2/lineprotocol"
	"github.com/tidwall/gjson"
)

// The three forms, each read line by line into a [row].

type taker func(line int, w row, err error) error

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

// jsonLine reads one object. Fields that are not of a reading are passed over; of one that is
// there twice the last counts, as everywhere in JSON.
func jsonLine(line []byte) (w row, err error) {
	if len(line) > longestLine {
		return row{}, errors.New("the line is longer than any reading; one JSON object a line would do")
	}
	object := gjson.ParseBytes(line)
	if !gjson.ValidBytes(line) || !object.IsObject() {
		return row{}, errNoReading
	}
	object.ForEach(func(key, value gjson.Result) bool {
		text, into, asNumber := value.String(), (*string)(nil), false
		switch key.Str {
		case "at":
			into = &w.at
		case "stove":
			into, asNumber = &w.stove, true
		case "place":
			into = &w.place
		case "value":
			into, asNumber = &w.value, true
		case "unit":
			into = &w.unit
		default:
			return true
		}
		switch value.Type {
		case gjson.Number:
			text = value.Raw // as it was written
			if !asNumber {
				err = errNoReading
			}
		case gjson.String, gjson.Null:
		default:
			err = errNoReading
		}
		*into = text
		return err == nil
	})
	return w, err
}

var errNoReading = errors.New(`this is not a JSON object of a reading; ` +
	`{"at": "2026-11-26T18:04:05Z", "stove": 1, "place": "top", "value": 215, "unit": "C"} would do`)

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
