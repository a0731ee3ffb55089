package lang_test

import (
	"encoding/json"
	"os"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Words that somebody who learned English at school stumbles over, or that are ours and nobody
// else's: none of them is said.
var notPlain = regexp.MustCompile(`(?i)\b(foretold|foretells?|reckoned|otherwise|taught|surer|believed|belief|score|degree-hours|kelvin-hours|worlds|of ten draws|keeps its limits|nobody has said how)\b`)

func TestPlainWords(t *testing.T) {
	text, err := os.ReadFile("catalogue.json")
	require.NoError(t, err)
	var catalogue struct {
		Messages map[string]any `json:"messages"`
	}
	require.NoError(t, json.Unmarshal(text, &catalogue))
	require.Greater(t, len(catalogue.Messages), 3000)
	for m := range catalogue.Messages {
		assert.False(t, notPlain.MatchString(m), "%q", m)
	}
}
