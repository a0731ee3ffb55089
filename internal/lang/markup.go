package lang

import (
	"fmt"
	"html"
	"io"
	"regexp"
	"strconv"
	"strings"

	parse "golang.org/x/net/html"
)

// A template of html/template is a text in English with actions in it. Its messages are
// found in the text itself, so that whoever reads a template reads sentences: what stands
// within one paragraph, cell, button or label is one message, with a numbered brace for
// each action and each tag inside it,
//
//	<p>Lit {{.When}} by <b>{{.Who}}</b>.</p>   Lit {1} by {2}{3}{4}.
//
// and so are the attributes that are read out or shown. A language gets a template of its
// own, parsed when the server starts, in which the translations stand.

// Markup returns the source of a template in a language: every message as translate
// returns it. What translate does not know (its second result) stays as it is.
func Markup(source string, translate func(Message) (string, bool)) (string, error) {
	m := &markup{translate: translate}
	if err := m.read(source); err != nil {
		return "", err
	}
	return m.out.String(), nil
}

// MarkupMessages returns the messages of a template in the order in which they stand.
func MarkupMessages(source string) ([]Message, error) {
	var found []Message
	_, err := Markup(source, func(m Message) (string, bool) {
		found = append(found, m)
		return "", false
	})
	return found, err
}

// Markup returns a template's source in the language.
func (l *Language) Markup(source string) (string, error) {
	if l == nil {
		return source, nil
	}
	return Markup(source, func(m Message) (string, bool) {
		text, has := l.messages[m]
		return text, has
	})
}

// firstAction is the first of the private characters that stand for actions while a
// template is read as HTML.
const firstAction = 0xF0000

// action finds the actions of a template.
var action = regexp.MustCompile("(?s)\\{\\{(?:[^\"`}]|\"(?:[^\"\\\\]|\\\\.)*\"|`[^`]*`|\\}[^}])*\\}\\}")

// shown are the attributes that somebody reads or hears.
var shown = regexp.MustCompile(`(\s(?:title|placeholder|aria-label|alt|data-works|data-what|data-find)=")([^"]*)(")`)

// inline are the tags that stand within a sentence.
var inline = map[string]bool{"a": true, "abbr": true, "b": true, "br": true, "code": true, "dfn": true, "em": true, "i": true,
	"kbd": true, "mark": true, "q": true, "small": true, "span": true, "strong": true, "sub": true, "sup": true, "time": true,
	"tspan": true}

type markup struct {
	translate func(Message) (string, bool)
	actions   []string
	out       strings.Builder
	run       []piece
}

// A piece is a part of a run of text: words, an action or a tag.
type piece struct {
	raw  string
	kind pieceKind
	name string // of a tag
}

type pieceKind int

const (
	words pieceKind = iota
	act
	openTag
	closeTag
)

// read goes through a template, writing as it goes.
func (m *markup) read(source string) error {
	hidden := action.ReplaceAllStringFunc(source, func(a string) string {
		m.actions = append(m.actions, a)
		return string(rune(firstAction + len(m.actions) - 1))
	})
	z := parse.NewTokenizer(strings.NewReader(hidden))
	unread := ""
	for {
		switch kind := z.Next(); kind {
		case parse.ErrorToken:
			if err := z.Err(); err != io.EOF {
				return err
			}
			m.end()
			return nil
		case parse.TextToken:
			if unread != "" {
				m.out.WriteString(m.shown(string(z.Raw())))
				continue
			}
			m.text(string(z.Raw()))
		case parse.StartTagToken, parse.SelfClosingTagToken, parse.EndTagToken:
			raw := string(z.Raw())
			bytes, _ := z.TagName()
			name := string(bytes)
			if kind == parse.StartTagToken && (name == "script" || name == "style") {
				unread = name
			} else if kind == parse.EndTagToken && name == unread {
				unread = ""
			}
			m.tag(name, raw, kind == parse.EndTagToken)
		default:
			m.end()
			m.out.WriteString(m.shown(string(z.Raw())))
		}
	}
}

// tag takes a tag: one within a sentence belongs to the run, any other ends it.
func (m *markup) tag(name, raw string, closes bool) {
	raw = shown.ReplaceAllStringFunc(raw, func(attribute string) string {
		p := shown.FindStringSubmatch(attribute)
		inner := &markup{translate: m.translate, actions: m.actions}
		inner.text(p[2])
		inner.end()
		return p[1] + inner.out.String() + p[3]
	})
	raw = m.shown(raw)
	if !inline[name] {
		m.end()
		m.out.WriteString(raw)
		return
	}
	kind := openTag
	if closes {
		kind = closeTag
	}
	m.run = append(m.run, piece{raw, kind, name})
}

// text takes a text, in which characters stand for actions.
func (m *markup) text(text string) {
	from := 0
	for i, r := range text {
		if n := int(r) - firstAction; n >= 0 && n < len(m.actions) {
			if i > from {
				m.run = append(m.run, piece{raw: text[from:i]})
			}
			m.run = append(m.run, piece{raw: m.actions[n], kind: act})
			from = i + len(string(r))
		}
	}
	if from < len(text) {
		m.run = append(m.run, piece{raw: text[from:]})
	}
}

// shown puts the actions back.
func (m *markup) shown(text string) string {
	var out strings.Builder
	for _, r := range text {
		if n := int(r) - firstAction; n >= 0 && n < len(m.actions) {
			out.WriteString(m.actions[n])
		} else {
			out.WriteRune(r)
		}
	}
	return out.String()
}

// end ends a run.
func (m *markup) end() {
	run := m.run
	m.run = nil
	m.say(run)
}

// keyword is the first word of an action.
var keyword = regexp.MustCompile(`^\{\{-?\s*(\w+)`)

// opens and closes tell what an action does to the blocks of a template; breaks is one that
// does not stand within a sentence.
func (p piece) opens() bool  { w := p.keyword(); return w == "if" || w == "with" || w == "range" }
func (p piece) closes() bool { return p.keyword() == "end" }
func (p piece) breaks() bool {
	w := p.keyword()
	return w == "define" || w == "template" || w == "block" || strings.HasPrefix(p.raw, "{{/*") || strings.HasPrefix(p.raw, "{{$") && strings.Contains(p.raw, ":=")
}

func (p piece) keyword() string {
	if p.kind != act {
		return ""
	}
	if w := keyword.FindStringSubmatch(p.raw); w != nil {
		return w[1]
	}
	return ""
}

// say writes a run: in its parts where a block of the template, or a tag, goes beyond it.
func (m *markup) say(run []piece) {
	partner := pairs(run)
	from := 0
	for i, p := range run {
		if _, paired := partner[i]; p.breaks() || !paired && (p.opens() || p.closes() || p.keyword() == "else" || p.kind == openTag && p.name != "br" || p.kind == closeTag) {
			m.whole(run[from:i])
			m.out.WriteString(p.raw)
			from = i + 1
		}
	}
	m.whole(run[from:])
}

// pairs gives for every piece that opens or closes something within the run its partner; an
// else goes with the block that it is of.
func pairs(run []piece) map[int]int {
	partner := map[int]int{}
	var blocks []int // what is open
	elses := map[int][]int{}
	for i, p := range run {
		switch {
		case p.opens(), p.kind == openTag && p.name != "br":
			blocks = append(blocks, i)
		case p.keyword() == "else":
			if n := len(blocks); n > 0 {
				elses[blocks[n-1]] = append(elses[blocks[n-1]], i)
			}
		case p.closes(), p.kind == closeTag:
			n := len(blocks)
			if n == 0 {
				continue
			}
			if o := run[blocks[n-1]]; p.closes() != o.opens() || p.kind == closeTag && p.name != o.name {
				blocks = nil // they cross: none of them is whole
				continue
			}
			partner[i], partner[blocks[n-1]] = blocks[n-1], i
			for _, e := range elses[blocks[n-1]] {
				partner[e] = blocks[n-1]
			}
			blocks = blocks[:n-1]
		}
	}
	return partner
}

// whole writes a run in which all that opens closes.
func (m *markup) whole(run []piece) {
	before, inner, after := trimmed(run)
	for _, p := range before {
		m.out.WriteString(p.raw)
	}
	switch {
	case len(inner) == 0:
	case !wordsOutside(inner):
		m.apart(inner)
	default:
		m.message(inner)
	}
	for _, p := range after {
		m.out.WriteString(p.raw)
	}
}

// apart writes a run that is blocks or tags with no word between them: each on its own.
func (m *markup) apart(run []piece) {
	partner := pairs(run)
	for i := 0; i < len(run); i++ {
		p := run[i]
		to, paired := partner[i]
		m.out.WriteString(p.raw)
		if !paired || to <= i {
			continue
		}
		from := i + 1
		for j := i + 1; j <= to; j++ { // up to each else, and the end
			if e, ok := partner[j]; j == to || ok && e == i && run[j].keyword() == "else" {
				m.whole(run[from:j])
				m.out.WriteString(run[j].raw)
				from = j + 1
			}
		}
		i = to
	}
}

// wordsOutside tells whether a run has words that stand in none of its blocks and tags.
func wordsOutside(run []piece) bool {
	partner := pairs(run)
	for i := 0; i < len(run); i++ {
		if to, paired := partner[i]; paired && to > i {
			i = to
			continue
		}
		if run[i].kind == words && wordy(run[i].raw) {
			return true
		}
	}
	return false
}

// trimmed cuts off what stands around a message: blank text, and what is no word at its ends.
func trimmed(run []piece) (before, inner, after []piece) {
	inner = run
	blank := func(p piece) bool { return p.kind == words && strings.TrimSpace(p.raw) == "" }
	for len(inner) > 0 && blank(inner[0]) {
		before, inner = append(before, inner[0]), inner[1:]
	}
	for len(inner) > 0 && blank(inner[len(inner)-1]) {
		after, inner = append([]piece{inner[len(inner)-1]}, after...), inner[:len(inner)-1]
	}
	return before, inner, after
}

// wordy tells whether a text has a word of two letters or more, entities aside: a single one
// is a key.
func wordy(text string) bool { return twoLetters.MatchString(html.UnescapeString(text)) }

var twoLetters = regexp.MustCompile(`\p{L}{2}`)

var spaces = regexp.MustCompile(`\s+`)

// message writes one message: its key has braces for what is not words.
func (m *markup) message(run []piece) {
	var key strings.Builder
	var parts []string
	for _, p := range run {
		if p.kind == words {
			key.WriteString(spaces.ReplaceAllString(p.raw, " "))
			continue
		}
		parts = append(parts, p.raw)
		fmt.Fprintf(&key, "{%d}", len(parts))
	}
	whole := key.String()
	inner := strings.TrimSpace(whole)
	text, known := m.translate(Message(inner))
	if !known {
		for _, p := range run {
			m.out.WriteString(p.raw)
		}
		return
	}
	lead, trail := whole[:strings.Index(whole, inner)], whole[strings.Index(whole, inner)+len(inner):]
	m.out.WriteString(lead + brace.ReplaceAllStringFunc(text, func(b string) string {
		if n, err := strconv.Atoi(b[1 : len(b)-1]); err == nil && n >= 1 && n <= len(parts) {
			return parts[n-1]
		}
		return b
	}) + trail)
}

// brace is a place in a message of a template.
var brace = regexp.MustCompile(`\{\d+\}`)
