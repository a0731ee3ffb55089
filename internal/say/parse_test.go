package say_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/lang"
	"smolder/internal/lang/langtest"
	"smolder/internal/say"
)

// unreadable are the texts that a file gives to errors of what cannot be read: what was
// wanted, what is wrong, what would do.
func unreadable(t *testing.T, file string) (texts []string) {
	t.Helper()
	f, err := parser.ParseFile(token.NewFileSet(), file, nil, 0)
	require.NoError(t, err)
	take := func(e ast.Expr) {
		if l, ok := e.(*ast.BasicLit); ok && l.Kind == token.STRING {
			text, err := strconv.Unquote(l.Value)
			require.NoError(t, err)
			texts = append(texts, text)
		}
	}
	ast.Inspect(f, func(n ast.Node) bool {
		switch n := n.(type) {
		case *ast.KeyValueExpr:
			if key, ok := n.Key.(*ast.Ident); ok {
				switch key.Name {
				case "What", "Reason", "Try", "Format", "name", "try":
					take(n.Value)
				}
			}
		case *ast.CallExpr:
			switch f := n.Fun.(type) {
			case *ast.Ident:
				if f.Name == "fail" || f.Name == "failing" || f.Name == "spanError" {
					for _, a := range n.Args {
						take(a)
					}
				}
			case *ast.CallExpr: // failing(…)("why")
				for _, a := range n.Args {
					take(a)
				}
			case *ast.SelectorExpr:
				if f.Sel.Name == "ParseNumber" && len(n.Args) > 1 {
					take(n.Args[1])
				}
				if f.Sel.Name == "Errorf" && strings.Contains(file, "stove/read") || f.Sel.Name == "New" && strings.Contains(file, "wood/amount") {
					take(n.Args[0])
				}
			}
		}
		return true
	})
	return texts
}

// TestEveryWayOfNotBeingReadIsSaid finds a text of an error of what cannot be read that no
// language can say.
func TestEveryWayOfNotBeingReadIsSaid(t *testing.T) {
	l, err := langtest.Language()
	require.NoError(t, err)
	loc := lang.In(l, units.Metric)
	seen := 0
	for _, pattern := range []string{"../core/units/*.go", "../core/when/*.go", "../core/stove/read.go", "../core/wood/amount.go", "../web/kit/reading.go"} {
		files, err := filepath.Glob(pattern)
		require.NoError(t, err)
		for _, file := range files {
			if strings.HasSuffix(file, "_test.go") {
				continue
			}
			for _, text := range unreadable(t, file) {
				if len(langtest.Outside(text)) == 0 {
					continue // figures and units alone
				}
				seen++
				assert.Empty(t, langtest.Outside(say.Own(text, loc)), "%s: %q", file, text)
			}
		}
	}
	assert.Greater(t, seen, 60, "they are found at all")
}

// quoted is what was typed, or a part of it, said back.
var quoted = regexp.MustCompile(`"[^"]*"`)

// TestWhyItCannotBeReadInALanguage types nonsense.
func TestWhyItCannotBeReadInALanguage(t *testing.T) {
	l, err := langtest.Language()
	require.NoError(t, err)
	loc := lang.In(l, units.Metric)
	for _, typed := range []string{"", "x", "7 zz", "1,500 kg", "-4 kg", "9e9 kg", "6 kg 3 oz"} {
		_, err := units.ParseMass(typed, units.Metric)
		require.Error(t, err, typed)
		text := say.Error(err, loc)
		assert.Empty(t, langtest.Outside(quoted.ReplaceAllString(text, "")), text)
		assert.Equal(t, err.Error(), say.Error(err, lang.Metric))
	}
	_, err = when.ParsePresence("25:10-26:00", time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC))
	assert.Contains(t, say.Error(err, lang.Metric), "25:10 is no time of the day")
	assert.Contains(t, say.Error(err, loc), "25:10[ is no time of the day]")
}
