package webtest

import (
	"encoding/json"
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/web/api"
)

// A program is one that asks with a token.
type Program struct {
	*Site
	Token string
	Doc   any // the OpenAPI document
}

func (s *Site) Program(scopes ...string) Program {
	s.T.Helper()
	token, err := s.Store.Household(1).MakeToken(s.T.Context(), "test", 0, scopes)
	require.NoError(s.T, err)
	return Program{Site: s, Token: token}
}

// Ask sends a request and holds the answer against the document.
func (p *Program) Ask(method, path, kind, body string) Answer {
	p.T.Helper()
	r, err := http.NewRequest(method, p.URL+api.Prefix+path, strings.NewReader(body))
	require.NoError(p.T, err)
	if p.Token != "" {
		r.Header.Set("Authorization", "Bearer "+p.Token)
	}
	if kind != "" {
		r.Header.Set("Content-Type", kind)
	}
	got := p.Do(r)
	p.Holds(method, path, got)
	return got
}

// Holds tells whether an answer is what the document says.
func (p *Program) Holds(method, path string, got Answer) {
	p.T.Helper()
	if p.Doc == nil {
		r, err := http.Get(p.URL + api.Prefix + "/openapi.json")
		require.NoError(p.T, err)
		defer r.Body.Close()
		p.Doc, err = jsonschema.UnmarshalJSON(r.Body)
		require.NoError(p.T, err)
	}
	path, _, _ = strings.Cut(path, "?")
	at := "openapi.json#/paths/" + strings.ReplaceAll(strings.ReplaceAll(number.ReplaceAllString(path, "/{id}$1"), "~", "~0"), "/", "~1") +
		"/" + strings.ToLower(method) + fmt.Sprintf("/responses/%d/content/application~1json/schema", got.Status)
	if got.Status >= 400 {
		at = "openapi.json#/components/responses/Refused/content/application~1problem+json/schema"
		assert.Equal(p.T, "application/problem+json; charset=utf-8", got.Header.Get("Content-Type"))
	}
	c := jsonschema.NewCompiler()
	c.DefaultDraft(jsonschema.Draft2020)
	require.NoError(p.T, c.AddResource("openapi.json", p.Doc))
	schema, err := c.Compile(at)
	require.NoError(p.T, err)
	value, err := jsonschema.UnmarshalJSON(strings.NewReader(got.Body))
	require.NoError(p.T, err, got.Body)
	assert.NoError(p.T, schema.Validate(value), "%s %s", method, path)
}

func (a Answer) JSON(t testing.TB) map[string]any {
	t.Helper()
	out := map[string]any{}
	require.NoError(t, json.Unmarshal([]byte(a.Body), &out), a.Body)
	return out
}

var number = regexp.MustCompile(`/\d+(/|$)`)
