package web_test

import (
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"smolder/internal/lang/langtest"
	"smolder/internal/web/webtest"
)

// typed are the words that somebody of the household has typed, the longest first: names and
// notes, which are in no language of ours.
func typed(t *testing.T, s *webtest.Site) []string {
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
			UNION SELECT title FROM burns) AS every
		WHERE length(v) > 1`)
	require.NoError(t, err)
	for rows.Next() {
		var v string
		require.NoError(t, rows.Scan(&v))
		out = append(out, v)
	}
	require.NoError(t, rows.Err())
	out = append(out, "English", "Etc/UTC", "docs/formats.md")
	slices.SortFunc(out, func(a, b string) int { return len(b) - len(a) })
	return out
}

// read are the attributes that somebody reads or hears.
var read = []string{"title", "aria-label", "placeholder", "alt"}

// shownIn are the texts of a page that somebody reads: between the tags and in attributes.
func shownIn(t *testing.T, page string) []string {
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

// unsaid returns the texts of a page in which a word stands outside of brackets that nobody
// has typed.
func unsaid(t *testing.T, page string, typed []string) []string {
	t.Helper()
	var out []string
	for _, text := range shownIn(t, page) {
		rest := text
		for _, name := range typed {
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

// TestEveryPageInBrackets asks every page in a language in which each word stands in
// brackets: a word without is one that no language can say.
func TestEveryPageInBrackets(t *testing.T) {
	s := webtest.InBrackets(t, true)
	s.SignIn()
	live, _ := s.Begun(webtest.ColdEvening)
	names := typed(t, s)
	left := map[string]string{}
	for _, path := range []string{"/", live + "/live", live, "/plan", "/plan/day", "/burns", "/burns/1", "/burns/compare", "/season", "/wood", "/wood/1",
		"/wood/winter", "/wood/next", "/wood/basket", "/wood/trip", "/wood/offer", "/stoves", "/stoves/1", "/stoves/1/known", "/stoves/1/edit",
		"/stoves/1/behaves", "/spaces/1", "/upkeep", "/household", "/about", "/burns/99999", "/co-alarm", "/chimney-fire", "/sign-in"} {
		got := s.Get(path)
		require.Less(t, got.Status, http.StatusInternalServerError, path)
		for _, text := range unsaid(t, got.Body, names) {
			if left[text] == "" {
				left[text] = path
			}
		}
	}
	var list []string
	for text, path := range left {
		list = append(list, path+": "+text)
	}
	slices.Sort(list)
	assert.Empty(t, strings.Join(list, "\n"))
}

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
