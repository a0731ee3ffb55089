package say

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/reason"
)

// codes are all the codes of the core, as its sources declare them, with how many
// quantities their comments list.
func codes(t *testing.T) map[reason.Code]int {
	t.Helper()
	out := map[reason.Code]int{}
	err := filepath.WalkDir(filepath.Join("..", "core"), func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		source, err := os.ReadFile(path)
		if err != nil {
			return err
		}
		file, err := parser.ParseFile(token.NewFileSet(), path, source, parser.ParseComments)
		if err != nil {
			return err
		}
		ast.Inspect(file, func(n ast.Node) bool {
			spec, ok := n.(*ast.ValueSpec)
			if !ok || len(spec.Values) != 1 {
				return true
			}
			lit, ok := spec.Values[0].(*ast.BasicLit)
			if !ok || lit.Kind != token.STRING || !isCode(spec.Type) {
				return true
			}
			text, _ := strconv.Unquote(lit.Value)
			n0 := 0
			if listed := strings.TrimSpace(spec.Comment.Text()); listed != "" {
				n0 = strings.Count(listed, ",") + 1
			}
			out[reason.Code(text)] = n0
			return true
		})
		return nil
	})
	require.NoError(t, err)
	return out
}

func isCode(e ast.Expr) bool {
	switch x := e.(type) {
	case *ast.Ident:
		return x.Name == "Code"
	case *ast.SelectorExpr:
		return x.Sel.Name == "Code"
	}
	return false
}

// Every code of the core has its sentence and every sentence its code; none has
// room for more quantities than its code comes with.
func TestEveryCodeHasItsSentence(t *testing.T) {
	all := codes(t)
	require.Greater(t, len(all), 100)
	said := map[reason.Code]string{}
	for code, text := range reasons {
		said[code] = text.English()
	}
	for code, text := range refusals {
		said[code] = text.Why.English()
	}
	for code, n := range all {
		text, there := said[code]
		if assert.True(t, there, "%s has no sentence", code) && !strings.Contains(text, "%[") {
			room := strings.Count(text, "%s") + strings.Count(text, "%q")
			assert.LessOrEqual(t, room, max(n, 1), "%s: %q", code, text)
		}
	}
	for code := range said {
		assert.Contains(t, all, code, "a sentence that nothing says")
	}
}
