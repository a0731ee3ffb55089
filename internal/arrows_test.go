package internal_test

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// level orders the rooms of the house: a package imports only from levels
// below its own. Within the core, units and time lie at the bottom, the fire
// above wood, flue, stove and house, decisions on top; above the core the words,
// and then everything that shows, keeps or sends.
var level = map[string]int{
	"core/units": 0, "core/parallel": 0,
	"lang": 1, "lang/langtest": 2, "core/reason": 1, "core/when": 1, "core/wood": 1, "core/flue": 2, "core/drying": 2, "core/stove": 3, "core/house": 3,
	"core/fire": 4, "core/policy": 5, "core/lay": 5, "core/belief": 6, "core/season": 5, "core/upkeep": 5, "core/wish": 7, "core/plan": 8, "core/fixture": 8, "core/fixturetest": 9,
	"core/burn": 9, "core/behave": 9, "core/search": 10, "core/follow": 10, "core/learn": 10, "core/foreign": 10, "core/day": 11, "core/coach": 11, "core/review": 11, "core/ways": 12, "core/practice": 12, "core/trouble": 9,
	"say": 13, "form": 13, "planner": 14, "strip": 14, "store": 14, "exchange": 14, "exchange/scenario": 14, "pgserver": 14, "weather": 14,
	"trail": 13, "metrics": 14, "browsertest": 14, "script": 15, "notices": 14, "picture": 14,
	"live": 15, "intake": 15, "tell": 17, "probe": 15, "app/shed": 15, "app/due": 15, "app/winter": 16, "app/calls": 16, "app/reviewing": 16, "app/background": 17, "app/planning": 17, "demo": 17, "storetest": 17,
	"web/kit": 18, "web/home": 19, "web/plans": 19, "web/hearth": 19, "web/burns": 19, "web/wood": 19, "web/stoves": 19, "web/season": 19,
	"web/upkeep": 19, "web/trouble": 19, "web/practice": 19, "web/leaving": 19, "web/api": 19,
	"web/share": 20, "web": 21, "web/webtest": 22, "tools": 31,
}

// forTests are what only tests import besides.
var forTests = []string{"github.com/stretchr/testify/", "pgregory.net/rapid"}

// ofPages tells whether a directory holds pages: their tests ask them through the whole server.
func ofPages(dir string) bool { return dir == "web" || strings.HasPrefix(dir, "web/") }

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
		if err != nil || d.IsDir() || !strings.HasSuffix(file, ".go") {
			return err
		}
		test := strings.HasSuffix(file, "_test.go")
		dir := filepath.ToSlash(filepath.Dir(file))
		if dir == "." {
			return nil // this test
		}
		room := roomOf(dir)
		require.NotEmpty(t, room, "%s: no level is given for this package", dir)
		parsed, err := parser.ParseFile(token.NewFileSet(), file, nil, parser.ImportsOnly)
		require.NoError(t, err)
		for _, i := range parsed.Imports {
			to := strings.Trim(i.Path.Value, `"`)
			inside, ours := strings.CutPrefix(to, "smolder/internal/")
			if ours {
				seen++
				if test { // of the core only from the core; elsewhere from anywhere below the pages
					ok := strings.HasPrefix(inside, "core/") || !strings.HasPrefix(dir, "core/") && (level[roomOf(inside)] < level["web"] || inside == dir || ofPages(dir) && (inside == "web" || inside == "web/webtest"))
					assert.True(t, ok, "%s imports %s", file, to)
					continue
				}
				assert.Less(t, level[roomOf(inside)], level[room], "%s imports %s", file, to)
			} else if strings.HasPrefix(dir, "core/") {
				inCore(t, file, to, test || strings.HasSuffix(dir, "test"))
			}
		}
		return nil
	})
	require.NoError(t, err)
	assert.Greater(t, seen, 50, "the walk found the code")
}

// inCore holds an import of the core from outside this module: the core takes
// only the standard library and gonum, and does no I/O.
func inCore(t *testing.T, file, to string, test bool) {
	t.Helper()
	if test && slices.ContainsFunc(forTests, func(prefix string) bool { return strings.HasPrefix(to, prefix) }) {
		return
	}
	standard := !strings.Contains(strings.SplitN(to, "/", 2)[0], ".")
	assert.True(t, standard || strings.HasPrefix(to, "gonum.org/v1/gonum/"),
		"%s imports %s: the core takes only itself, the standard library and gonum", file, to)
	if !test {
		assert.NotContains(t, []string{"net/http", "database/sql", "html/template", "os", "time/tzdata"}, to, "%s imports %s: no I/O in the core", file, to)
	}
}
