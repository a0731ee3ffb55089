// Package lang is the language in which Smolder speaks: messages, the files that hold
// them in other languages, and the figures and dates as a language writes them.
//
// The words of a sentence stand where they are read, in English: in Go as constants of
// the type [Message], in a template as its text. `make words` gathers both into one
// catalogue, catalogue.json, from which whoever translates begins. A language is one
// file of the same messages (see [Read]); nothing in the code names it.
//
// A message is a whole sentence wherever that can be, since other languages put their
// words into another order.
package lang

import (
	"fmt"
	"strings"

	"smolder/internal/core/units"
)

// A Message is a text in English as somebody reads it, and the key of its translations.
// It may be a format of [fmt]. What stands behind a "¦" tells two messages of the same
// English words apart ("open¦of a door") and is not shown.
type Message string

// English is a message as it is in the language that it is written in.
func (m Message) English() string {
	text, _, _ := strings.Cut(string(m), "¦")
	return text
}

// A Locale is how somebody reads: in a language, and in a system of units. Its methods
// print quantities with the decimal sign of the language. The zero language is English.
type Locale struct {
	units.System
	lang *Language
}

// In returns the locale of a language and a system of units; nil is English.
func In(l *Language, s units.System) Locale { return Locale{s, l} }

// Mid is a name, or what begins with one, in the middle of a sentence: in English its capital is
// taken off. In other languages it stays as it is: nouns may have one.
func (l Locale) Mid(text string) string {
	if l.lang != nil {
		return text
	}
	return units.LowerFirst(text)
}

// English returns the locale of a system of units in English.
func English(s units.System) Locale { return Locale{System: s} }

// Language tells in which language the locale is; nil is English.
func (l Locale) Language() *Language { return l.lang }

// Tag is the BCP 47 tag of the language: "en".
func (l Locale) Tag() string {
	if l.lang == nil {
		return "en"
	}
	return l.lang.tag.String()
}

// T says a message as it is: signs of percent in it are signs of percent.
func (l Locale) T(m Message) string {
	if l.lang == nil {
		return m.English()
	}
	return l.lang.text(m)
}

// F fills a message that is a format. A translation that wants the arguments in another
// order numbers them, "%[2]s".
//
// An argument that is a message is said in the language too.
func (l Locale) F(m Message, args ...any) string {
	for i, a := range args {
		if inner, ok := a.(Message); ok {
			args[i] = l.T(inner)
		}
	}
	if l.lang == nil {
		return fmt.Sprintf(m.English(), args...)
	}
	return l.lang.printer.Sprintf(string(m), args...)
}

// N says a message about n things, one for a single thing and many for any other number;
// languages that have more plurals than two have all of theirs. The first argument of
// both formats is n.
func (l Locale) N(n int, one, many Message, args ...any) string {
	args = append([]any{n}, args...)
	if l.lang == nil {
		if n == 1 {
			return filled(one.English(), args)
		}
		return filled(many.English(), args)
	}
	return l.lang.printer.Sprintf(pluralKey(many), args...)
}

// filled fills a format that need not name its first argument: "a burn".
func filled(format string, args []any) string {
	if !strings.Contains(format, "%d") && !strings.Contains(format, "%[1]d") {
		args = args[1:]
	}
	return fmt.Sprintf(format, args...)
}

// All says several messages.
func (l Locale) All(messages ...Message) []string {
	out := make([]string, len(messages))
	for i, m := range messages {
		out[i] = l.T(m)
	}
	return out
}

// And joins things into a list of a sentence: "a, b and c".
func (l Locale) And(things []string) string { return l.joined(things, " and ") }

// Or joins things of which one is meant: "a, b or c".
func (l Locale) Or(things []string) string { return l.joined(things, " or ") }

func (l Locale) joined(things []string, last Message) string {
	if len(things) < 2 {
		return strings.Join(things, "")
	}
	n := len(things) - 1
	return strings.Join(things[:n], l.T(", ")) + l.T(last) + things[n]
}

// The two systems of units in English.
var (
	Metric   = English(units.Metric)
	Imperial = English(units.Imperial)
)
