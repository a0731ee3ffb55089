package internal_test

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// level orders the rooms of the house: a package imports only from levels
// below its own. Within the core, units lie at the bottom, the fire above wood,
// flue, stove and house, and decisions on top.
var level = map[string]int{
	"core/units": 0, "core/each": 0,
	"core/wood": 1, "core/flue": 2, "core/stove": 3, "core/house": 3,
	"core/fire": 4, "core/scenario": 7, "core/burn": 5, "core/season": 5, "core/lay": 5, "core/plan": 6,
	"planner": 10, "strip": 10, "store": 10, "exchange": 10, "pgserver": 10, "weather": 10, "browsertest": 10,
	"demo": 11, "web": 20, "storetest": 12, "tools": 30,
}

// roomOf returns the level's name of a package below internal.
func roomOf(dir string) string {
	for _, name := range []string{dir, path.Dir(dir), strings.SplitN(dir, "/", 2)[0]} {
		if _, ok := level[name]; ok {
			return name
		}
	}
	return ""
}

func TestArrowsPointOneWay(t *testing.T) {
	seen := 0
	err := filepath.WalkDir(".", func(file string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(file, ".go") || strings.HasSuffix(file, "_test.go") {
			return err
		}
		dir := filepath.ToSlash(filepath.Dir(file))
		room := roomOf(dir)
		require.NotEmpty(t, room, "%s: no level is given for this package", dir)
		parsed, err := parser.ParseFile(token.NewFileSet(), file, nil, parser.ImportsOnly)
		require.NoError(t, err)
		for _, i := range parsed.Imports {
			to := strings.Trim(i.Path.Value, `"`)
			inside, ours := strings.CutPrefix(to, "smolder/internal/")
			if ours {
				seen++
				assert.Less(t, level[roomOf(inside)], level[room], "%s imports %s", file, to)
			} else if strings.HasPrefix(dir, "core/") {
				standard := !strings.Contains(strings.SplitN(to, "/", 2)[0], ".")
				assert.True(t, standard || strings.HasPrefix(to, "gonum.org/v1/gonum/"), "%s imports %s: the core takes only itself, the standard library and gonum", file, to)
				assert.NotContains(t, []string{"net/http", "database/sql", "html/template", "os"}, to, "%s imports %s: no I/O in the core", file, to)
			}
		}
		return nil
	})
	require.NoError(t, err)
	assert.Greater(t, seen, 50, "the walk found the code")
}
