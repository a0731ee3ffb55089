package lang

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"path"
	"regexp"
	"slices"
	"strings"

	"golang.org/x/text/feature/plural"
	"golang.org/x/text/language"
	"golang.org/x/text/message"
	"golang.org/x/text/message/catalog"
)

// A Language is what one file of messages holds.
type Language struct {
	Name     string // as its speakers call it: "Deutsch"
	tag      language.Tag
	messages map[Message]string
	plurals  map[Message]bool
	layouts  map[Message]string
	printer  *message.Printer
	decimal  string
}

// Tag is the BCP 47 tag of the language.
func (l *Language) Tag() string { return l.tag.String() }

// A file is a language as it is kept: every message with its translation, and every
// plural with one for each category of the language's plurals (CLDR: zero, one, two, few,
// many, other).
type file struct {
	Tag      string                        `json:"tag"`
	Name     string                        `json:"name"`
	Messages map[Message]string            `json:"messages"`
	Layouts  map[Message]string            `json:"layouts,omitempty"` // of dates
	Plurals  map[Message]map[string]string `json:"plurals,omitempty"`
}

// mostOfALanguage is how many bytes a file of a language may have.
const mostOfALanguage = 8 << 20

// Read reads a language. A message that lacks is an error of [Language.Lacks], not of
// reading: it is shown in English.
func Read(r io.Reader) (*Language, error) {
	data, err := io.ReadAll(io.LimitReader(r, mostOfALanguage+1))
	if err != nil {
		return nil, err
	}
	if len(data) > mostOfALanguage {
		return nil, fmt.Errorf("a language has %d MB at the most", mostOfALanguage>>20)
	}
	var f file
	if err := json.Unmarshal(data, &f); err != nil {
		return nil, fmt.Errorf("a language is a JSON object of tag, name, messages and plurals: %w", err)
	}
	tag, err := language.Parse(f.Tag)
	if err != nil {
		return nil, fmt.Errorf("tag %q: %w", f.Tag, err)
	}
	if f.Name == "" {
		return nil, errors.New("the language has no name")
	}
	return build(tag, f)
}

func build(tag language.Tag, f file) (*Language, error) {
	l := &Language{Name: f.Name, tag: tag, messages: f.Messages, layouts: f.Layouts, plurals: map[Message]bool{}}
	all := catalog.NewBuilder(catalog.Fallback(tag))
	for m, text := range f.Messages {
		if text == "" { // not translated yet
			delete(f.Messages, m)
			continue
		}
		if err := sameParts(m.English(), text); err != nil {
			return nil, fmt.Errorf("%q: %w", m, err)
		}
		if err := all.SetString(tag, string(m), text); err != nil {
			return nil, fmt.Errorf("%q: %w", m, err)
		}
	}
	for m, forms := range f.Plurals {
		if forms["one"] == "" && forms["other"] == "" {
			continue
		}
		l.plurals[m] = true
		if forms["other"] == "" {
			return nil, fmt.Errorf("%q: a plural has at least the form \"other\"", m)
		}
		var cases []any
		for _, category := range []string{"zero", "one", "two", "few", "many", "other"} {
			if text := forms[category]; text != "" {
				cases = append(cases, category, text)
			}
		}
		if err := all.Set(tag, pluralKey(m), plural.Selectf(1, "%d", cases...)); err != nil {
			return nil, fmt.Errorf("%q: %w", m, err)
		}
	}
	l.printer = message.NewPrinter(tag, message.Catalog(all))
	l.decimal = strings.Trim(l.printer.Sprintf("%.1f", 1.5), "15")
	return l, nil
}

// pluralKey keeps the plural forms of a message apart from the message itself, which may
// also be said of no number.
func pluralKey(m Message) string { return "plural:" + string(m) }

func (l *Language) text(m Message) string {
	if text, has := l.messages[m]; has {
		return text
	}
	return m.English()
}

func (l *Language) layout(m Message) string {
	if text, has := l.layouts[m]; has {
		return text
	}
	return m.English()
}

// verbs are what a format fills in.
var verbs = regexp.MustCompile(`%(\[\d+\])?[-+#0]*\d*(\.\d+)?[a-zA-Z]`)

// sameParts refuses a translation that fills in other things than its message, or loses a
// part of a page, and one with an action of its own.
func sameParts(english, text string) error {
	if strings.Contains(text, "{{") || strings.Contains(text, "}}") {
		return errors.New("a translation has no actions of its own")
	}
	for _, parts := range []func(string) []string{verbsOf, bracesOf} {
		if a, b := parts(english), parts(text); !slices.Equal(a, b) {
			return fmt.Errorf("it fills in %v, and its translation %v", a, b)
		}
	}
	return nil
}

// verbsOf are the kinds of what a format fills in, sorted.
func verbsOf(format string) []string {
	found := verbs.FindAllString(format, -1)
	for i, v := range found {
		found[i] = v[len(v)-1:]
	}
	slices.Sort(found)
	return found
}

// bracesOf are the parts of a message of a page or of the script, sorted.
func bracesOf(text string) []string {
	found := brace.FindAllString(text, -1)
	slices.Sort(found)
	return found
}

// Languages are all that can be chosen, besides English.
type Languages struct {
	all     []*Language
	matcher language.Matcher
}

// Gather reads all languages of a directory, *.json, one file each.
func Gather(dir fs.FS) (*Languages, error) {
	names, err := fs.Glob(dir, "*.json")
	if err != nil {
		return nil, err
	}
	var all []*Language
	for _, name := range names {
		f, err := dir.Open(name)
		if err != nil {
			return nil, err
		}
		l, err := Read(f)
		_ = f.Close() // only read
		if err != nil {
			return nil, fmt.Errorf("%s: %w", path.Base(name), err)
		}
		all = append(all, l)
	}
	return Of(all...), nil
}

// Of returns languages to choose from.
func Of(all ...*Language) *Languages {
	tags := []language.Tag{language.English}
	for _, l := range all {
		tags = append(tags, l.tag)
	}
	return &Languages{all, language.NewMatcher(tags)}
}

// All are the languages besides English.
func (l *Languages) All() []*Language {
	if l == nil {
		return nil
	}
	return l.all
}

// Named returns the language of a tag, or nil, which is English.
func (l *Languages) Named(tag string) *Language {
	for _, known := range l.All() {
		if known.Tag() == tag {
			return known
		}
	}
	return nil
}

// Accepted returns the language that a browser asks for first, by its Accept-Language;
// nil is English.
func (l *Languages) Accepted(header string) *Language {
	if len(l.All()) == 0 || header == "" {
		return nil
	}
	wanted, _, err := language.ParseAcceptLanguage(header)
	if err != nil || len(wanted) == 0 {
		return nil
	}
	_, i, confidence := l.matcher.Match(wanted...)
	if i == 0 || confidence == language.No {
		return nil
	}
	return l.all[i-1]
}
