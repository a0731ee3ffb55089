package api_test

import (
	"encoding/json"
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"testing"

	"github.com/gin-gonic/gin"
	"github.com/pb33f/libopenapi"
	validator "github.com/pb33f/libopenapi-validator"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/web/api"
	"smolder/internal/web/kit"
)

// The document is valid, and it and the routes say the same.
func TestTheDocumentAndTheRoutes(t *testing.T) {
	engine, ok := api.New(&kit.Site{}).(*gin.Engine)
	require.True(t, ok)
	answer := httptest.NewRecorder()
	engine.ServeHTTP(answer, httptest.NewRequest(http.MethodGet, api.Prefix+"/openapi.json", nil))
	require.Equal(t, http.StatusOK, answer.Code)
	text := answer.Body.Bytes()
	doc, err := libopenapi.NewDocument(text)
	require.NoError(t, err)
	v, errs := validator.NewValidator(doc)
	require.Empty(t, errs)
	valid, wrong := v.ValidateDocument()
	assert.True(t, valid, "%v", wrong)
	var parsed struct {
		Paths map[string]map[string]any `json:"paths"`
	}
	require.NoError(t, json.Unmarshal(text, &parsed))
	said := map[string]bool{}
	for path, operations := range parsed.Paths {
		for method := range operations {
			said[strings.ToUpper(method)+" "+api.Prefix+path] = true
		}
	}
	served := map[string]bool{}
	for _, r := range engine.Routes() {
		served[r.Method+" "+regexp.MustCompile(`:(\w+)`).ReplaceAllString(r.Path, "{$1}")] = true
	}
	assert.Equal(t, served, said)
}
