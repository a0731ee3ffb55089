package lang

import (
	"bytes"
	_ "embed"
	"encoding/json"
	"regexp"
	"slices"
)

// A Catalogue is every message of the program, and where it stands.
type Catalogue struct {
	Messages map[Message][]string `json:"messages"`
	Plurals  map[Message]Plural   `json:"plurals"`
	Layouts  map[Message][]string `json:"layouts"` // of dates, as [Locale.Date] takes them
	Script   []Message            `json:"script"`  // of Messages those that the page's script says
}

// A Plural is a message about a number of things, by its form for many.
type Plural struct {
	One Message  `json:"one"`
	In  []string `json:"in"`
}

//go:embed catalogue.json
var catalogueFile []byte

// Catalogued returns the catalogue as it was when the program was built.
func Catalogued() (Catalogue, error) {
	var c Catalogue
	return c, json.Unmarshal(catalogueFile, &c)
}

// JSON is the catalogue as it is kept: sorted, a message a line.
func (c Catalogue) JSON() ([]byte, error) {
	whole, err := encoded(c)
	if err != nil {
		return nil, err
	}
	// A list of places stands behind its message.
	return placesApart.ReplaceAllFunc(whole, func(list []byte) []byte { return spaces.ReplaceAll(list, nil) }), nil
}

// placesApart is a list of places, a line each.
var placesApart = regexp.MustCompile(`\[\s+"[a-z]+/[^\]]*\]`)

func encoded(v any) ([]byte, error) {
	var out bytes.Buffer
	e := json.NewEncoder(&out)
	e.SetEscapeHTML(false)
	e.SetIndent("", " ")
	err := e.Encode(v)
	return out.Bytes(), err
}

// Lacks returns the messages that a language has no translation of, sorted.
func (c Catalogue) Lacks(l *Language) []Message {
	var out []Message
	for m := range c.Messages {
		if _, has := l.messages[m]; !has {
			out = append(out, m)
		}
	}
	for m := range c.Layouts {
		if _, has := l.layouts[m]; !has {
			out = append(out, m)
		}
	}
	for m := range c.Plurals {
		if !l.plurals[m] {
			out = append(out, m)
		}
	}
	slices.Sort(out)
	return out
}

// Fills tells how many arguments a format fills in.
func Fills(format string) int {
	most, next := 0, 0
	for _, v := range verbs.FindAllStringSubmatch(format, -1) {
		if v[1] != "" { // "[2]"
			next = int(v[1][1] - '1')
		}
		next++
		most = max(most, next)
	}
	return most
}
