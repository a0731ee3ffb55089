package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Each main view has one picture, and the README shows the way to it.
func TestEveryPictureIsThereAndLinked(t *testing.T) {
	readme, err := os.ReadFile("../../../README.md")
	require.NoError(t, err)
	listed := map[string]bool{}
	for _, s := range list() {
		name := s.name + ".png"
		assert.False(t, listed[name], "%s is in the list twice", name)
		listed[name] = true
		assert.Contains(t, string(readme), "docs/screenshots/"+name)
		info, err := os.Stat(filepath.Join("../../../docs/screenshots", name))
		if assert.NoError(t, err) {
			assert.Greater(t, info.Size(), int64(5000), "%s is hardly a picture", name)
		}
		assert.Equal(t, strings.HasSuffix(s.name, "-phone"), s.width == 390, "%s says which size it is", name)
	}
	assert.Less(t, len(listed), 20)
	files, err := filepath.Glob("../../../docs/screenshots/*")
	require.NoError(t, err)
	for _, f := range files {
		assert.True(t, listed[filepath.Base(f)], "%s is of no view", f)
	}
}
