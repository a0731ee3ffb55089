package languages_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/lang"
	"smolder/languages"
)

// No language lacks a message, and each is read as it is.
func TestLanguagesAreComplete(t *testing.T) {
	all, err := lang.Gather(languages.Files)
	require.NoError(t, err)
	require.NotEmpty(t, all.All())
	catalogue, err := lang.Catalogued()
	require.NoError(t, err)
	for _, l := range all.All() {
		assert.Empty(t, catalogue.Lacks(l), l.Name)
	}
}
