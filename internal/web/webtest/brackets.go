package webtest

import (
	"net/http"
	"net/url"
	"os"
	"slices"
	"strings"
	"sync"

	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"smolder/internal/lang/langtest"
)

// typed are the words that somebody of the household has typed, the longest first: names and
// notes, which are in no language of ours.
func (s *Site) typed() []string {
	t := s.T
	t.Helper()
	var out []string
	rows, err := s.Store.DB().QueryContext(t.Context(), `
		SELECT DISTINCT v FROM (
			SELECT name AS v FROM households UNION SELECT name FROM users UNION SELECT name FROM contacts
			UNION SELECT jsonb_path_query(to_jsonb(x), 'strict $.**.name') #>> '{}' FROM stoves x
			UNION SELECT jsonb_path_query(to_jsonb(x), 'strict $.**.room') #>> '{}' FROM stoves x
			UNION SELECT jsonb_path_query(to_jsonb(x), 'strict $.**.notches[*]') #>> '{}' FROM stoves x
			UNION SELECT jsonb_path_query(to_jsonb(x), 'strict $.**.name') #>> '{}' FROM spaces x
			UNION SELECT jsonb_path_query(to_jsonb(x), 'strict $.**.name') #>> '{}' FROM stacks x
			UNION SELECT jsonb_path_query(to_jsonb(x), 'strict $.**.note') #>> '{}' FROM entries x
			UNION SELECT jsonb_path_query(to_jsonb(x), 'strict $.**.note') #>> '{}' FROM upkeep x
			UNION SELECT title FROM burns UNION SELECT split_part(name, ',', 1) FROM stacks
			UNION SELECT jsonb_path_query(to_jsonb(x), 'strict $.**.typed') #>> '{}' FROM stack_counts x) AS every
		WHERE length(v) > 1`)
	require.NoError(t, err)
	for rows.Next() {
		var v string
		require.NoError(t, rows.Scan(&v))
		out = append(out, v)
	}
	require.NoError(t, rows.Err())
	out = append(out, "English", "Etc/UTC", "docs/formats.md")
	return out
}

// read are the attributes that somebody reads or hears.
var read = []string{"title", "aria-label", "placeholder", "alt"}

// shownIn are the texts of a page that somebody reads: between the tags and in attributes.
func (s *Site) shownIn(page string) []string {
	t := s.T
	t.Helper()
	root, err := html.Parse(strings.NewReader(page))
	require.NoError(t, err)
	var out []string
	for n := range root.Descendants() {
		switch {
		case n.Type == html.TextNode && n.Parent.Data != "script" && n.Parent.Data != "style" && !licence(n):
			if text := strings.TrimSpace(n.Data); text != "" {
				out = append(out, text)
			}
		case n.Type == html.ElementNode:
			for _, a := range n.Attr {
				if slices.Contains(read, a.Key) && a.Val != "" {
					out = append(out, a.Val)
				}
			}
		}
	}
	return out
}

// Unsaid returns the texts of a page in which a word stands outside of brackets that nobody
// has typed, in the household or in what was just sent.
func (s *Site) Unsaid(page string, sent ...string) []string {
	s.T.Helper()
	var out []string
	known := append(s.typed(), sent...)
	slices.SortFunc(known, func(a, b string) int { return len(b) - len(a) })
	for _, text := range s.shownIn(page) {
		rest := text
		for _, name := range known {
			for _, form := range []string{name, lowerFirst(name), upperFirst(name)} {
				rest = strings.ReplaceAll(rest, form, " ")
			}
		}
		if words := langtest.Outside(rest); len(words) > 0 {
			out = append(out, text)
		}
	}
	return out
}

func lowerFirst(s string) string { return strings.ToLower(s[:1]) + s[1:] }
func upperFirst(s string) string { return strings.ToUpper(s[:1]) + s[1:] }

// licence tells whether a text is one of somebody else's, which is shown as it was given.
func licence(n *html.Node) bool {
	for p := n.Parent; p != nil; p = p.Parent {
		if p.Data == "pre" {
			return true
		}
		for _, a := range p.Attr {
			if a.Key == "translate" && a.Val == "no" {
				return true
			}
		}
	}
	return false
}

// bracketsTo is the file into which the pages of all tests are reported that have a word
// outside of brackets, asked once more in that language; see make brackets.
var bracketsTo = os.Getenv("SMOLDER_BRACKETS")

var bracketing sync.Mutex

// bracket asks for a page, or sends what was refused, once more in the language of brackets.
func (s *Site) bracket(r *http.Request, form url.Values, got Answer) {
	kind := got.Header.Get("Content-Type")
	if bracketsTo == "" || s.languages == nil || got.Status >= 300 && got.Status < 400 || s.accepts != "" || !strings.HasPrefix(kind, "text/html") && !strings.HasPrefix(kind, "text/calendar") ||
		r.Method == http.MethodPost && got.Status < http.StatusBadRequest {
		return
	}
	again, err := http.NewRequest(r.Method, r.URL.String(), strings.NewReader(form.Encode()))
	require.NoError(s.T, err)
	again.Header = r.Header.Clone()
	again.Header.Set("Accept-Language", langtest.Tag)
	var sent []string
	for _, values := range form {
		sent = append(sent, values...)
	}
	for _, values := range r.URL.Query() {
		sent = append(sent, values...)
	}
	sent = slices.DeleteFunc(sent, func(v string) bool { return len(v) < 2 })
	answer := s.ask(again)
	page := answer.Body
	if !strings.HasPrefix(kind, "text/html") {
		page = "<p>" + strings.Join(readInCalendar(page), "</p><p>") + "</p>"
	}
	bracketing.Lock()
	defer bracketing.Unlock()
	f, err := os.OpenFile(bracketsTo, os.O_APPEND|os.O_CREATE|os.O_WRONLY, 0o644)
	require.NoError(s.T, err)
	defer f.Close()
	for _, text := range s.Unsaid(page, sent...) {
		_, err := f.WriteString(r.Method + " " + r.URL.Path + "\t" + strings.Join(strings.Fields(text), " ") + "\n")
		require.NoError(s.T, err)
	}
}

// readInCalendar are the texts of a calendar (RFC 5545) that somebody reads.
func readInCalendar(file string) []string {
	var out []string
	for line := range strings.Lines(strings.ReplaceAll(strings.ReplaceAll(file, "\r\n ", ""), "\r\n", "\n")) {
		name, value, _ := strings.Cut(strings.TrimSpace(line), ":")
		name, _, _ = strings.Cut(name, ";")
		if slices.Contains([]string{"SUMMARY", "DESCRIPTION", "NAME", "X-WR-CALNAME", "LOCATION"}, name) {
			out = append(out, html.EscapeString(strings.NewReplacer(`\n`, " ", `\,`, ",", `\;`, ";").Replace(value)))
		}
	}
	return out
}
