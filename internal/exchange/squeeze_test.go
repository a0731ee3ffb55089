package exchange

import (
	"bytes"
	"encoding/json"
	"io"
	"strings"
	"testing"
	"testing/iotest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Of blanks between tokens one of each run is left, of those in texts all; the JSON is the
// same.
func TestSqueezed(t *testing.T) {
	for _, text := range []string{`{"a":   "b  c",` + "\n\t\r " + ` "d\"  e\\": [ 1 ,  2 ]}`, strings.Repeat(" ", 1<<20) + "[]", `"` + strings.Repeat(" ", 5000) + `"`, ""} {
		for _, r := range []io.Reader{strings.NewReader(text), iotest.OneByteReader(strings.NewReader(text)), iotest.DataErrReader(strings.NewReader(text))} {
			got, err := io.ReadAll(newSqueezed(r))
			require.NoError(t, err)
			assert.LessOrEqual(t, len(got), 6000)
			if text == "" {
				continue
			}
			var a, b bytes.Buffer
			require.NoError(t, json.Compact(&a, []byte(text)))
			require.NoError(t, json.Compact(&b, got))
			assert.Equal(t, a.String(), b.String())
		}
	}
}
