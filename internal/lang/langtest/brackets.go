// Package langtest makes a language for tests in which every word stands in brackets, so
// that a word that does not is one that no language could say otherwise.
package langtest

import (
	"bytes"
	"encoding/json"
	"regexp"
	"strings"
	"unicode"

	"smolder/internal/lang"
)

// Tag is the language of brackets: it writes figures as German does.
const Tag = "de-x-brackets"

// File is the language of brackets as a file, every message of the catalogue in it.
func File(c lang.Catalogue) ([]byte, error) {
	messages, layouts := map[lang.Message]string{}, map[lang.Message]string{}
	for m := range c.Messages {
		messages[m] = Bracketed(m.English())
	}
	for m := range c.Layouts { // in which only the names of months and days are words
		layouts[m] = m.English()
	}
	plurals := map[lang.Message]map[string]string{}
	for m, p := range c.Plurals {
		plurals[m] = map[string]string{"one": Bracketed(p.One.English()), "other": Bracketed(m.English())}
	}
	return json.Marshal(map[string]any{"tag": Tag, "name": "[Brackets]", "messages": messages, "layouts": layouts, "plurals": plurals})
}

// Language is the language of brackets, of all messages of the program.
func Language() (*lang.Language, error) {
	c, err := lang.Catalogued()
	if err != nil {
		return nil, err
	}
	file, err := File(c)
	if err != nil {
		return nil, err
	}
	return lang.Read(bytes.NewReader(file))
}

// filled are the places of a message that are filled in: verbs of a format, parts of a
// template, what is for one system of units only, entities and addresses.
var filled = regexp.MustCompile(`%(?:\[\d+\])?[-+#0]*\d*(?:\.\d+)?[a-zA-Z]|%%|\{\d+\}|⟦|\||⟧|&[a-z]+;`)

// Bracketed puts brackets around each part of a message that has words.
func Bracketed(text string) string {
	var out strings.Builder
	at := 0
	part := func(p string) {
		if strings.ContainsFunc(p, unicode.IsLetter) {
			p = "[" + p + "]"
		}
		out.WriteString(p)
	}
	for _, f := range filled.FindAllStringIndex(text, -1) {
		part(text[at:f[0]])
		out.WriteString(text[f[0]:f[1]])
		at = f[1]
	}
	part(text[at:])
	return out.String()
}

// bracketed is a part in brackets, also one that was cut off; nothing in it is looked at.
var bracketed = regexp.MustCompile(`\[[^\[\]]*(?:\]|…)`)

// word is a word as somebody reads it: two letters or more.
var word = regexp.MustCompile(`\p{L}[\p{L}'’]+`)

// symbols are letters that stand for units and are the same in every language.
var symbols = map[string]bool{"kg": true, "min": true, "mm": true, "cm": true, "kW": true, "kWh": true, "MJ": true, "Pa": true, "mg": true,
	"ppm": true, "lb": true, "ft": true, "BTU": true, "wc": true, "mph": true, "CO": true, "UTC": true, "kB": true, "MB": true, "GB": true,
	"°C": true, "°F": true, "Smolder": true, "CSV": true, "JSON": true, "kBTU": true, "cfm": true, "in": true, "Esc": true, "x": true}

// Outside returns the words of a text that stand outside of brackets and are no symbols of
// units.
func Outside(text string) []string {
	var out []string
	for _, w := range word.FindAllString(bracketed.ReplaceAllString(text, " "), -1) {
		if !symbols[w] {
			out = append(out, w)
		}
	}
	return out
}
