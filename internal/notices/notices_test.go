package notices_test

import (
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/notices"
)

// Every module that the program is built from has its notice, in its version; and
// nothing else has one.
func TestEveryModuleHasItsNotice(t *testing.T) {
	out, err := exec.Command("go", "list", "-deps", "-f", "{{with .Module}}{{if not .Main}}{{.Path}} {{.Version}}{{end}}{{end}}",
		"smolder/cmd/smolder").Output()
	require.NoError(t, err)
	wanted := map[string]bool{"Go and its standard library": true}
	for _, line := range strings.Split(strings.TrimSpace(string(out)), "\n") {
		if line != "" {
			wanted[line] = true
		}
	}
	scripts := 0
	for _, n := range notices.All() {
		assert.Greater(t, len(n.Text), 200, "%s has a text", n.Name)
		assert.NotEqual(t, "its own licence", n.Licence, n.Name)
		if strings.HasPrefix(n.Name, "@") || strings.HasPrefix(n.Name, "tailwind") {
			scripts++
			continue
		}
		assert.True(t, wanted[n.Name], "%s is not in the program: run make notices", n.Name)
		delete(wanted, n.Name)
	}
	assert.Empty(t, wanted, "run make notices")
	assert.Equal(t, 5, scripts, "two fonts, the script of the pages and what it stands on, the styles")
	assert.Contains(t, notices.Version(), "Go 1.")
}
