package store_test

import (
	"encoding"
	"encoding/json"
	"fmt"
	"os"
	"reflect"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/learn"
	"smolder/internal/core/review"
)

// shape writes down how a type is written as JSON: what is kept in that shape by one version
// can be read by another only if it is the same.
func shape(t reflect.Type, depth string, seen map[reflect.Type]bool) string {
	for t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	own := reflect.PointerTo(t)
	switch {
	case own.Implements(reflect.TypeFor[json.Marshaler]()), own.Implements(reflect.TypeFor[encoding.TextMarshaler]()):
		return t.String()
	case seen[t] && t.Kind() == reflect.Struct:
		return t.String()
	}
	seen[t] = true
	switch t.Kind() {
	case reflect.Struct:
		var out strings.Builder
		out.WriteString("{\n")
		for f := range t.Fields() {
			name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
			if !f.IsExported() || name == "-" {
				continue
			}
			if name == "" {
				name = f.Name
			}
			out.WriteString(depth + " " + name + " " + shape(f.Type, depth+" ", seen) + "\n")
		}
		return out.String() + depth + "}"
	case reflect.Slice, reflect.Array:
		return "[]" + shape(t.Elem(), depth, seen)
	case reflect.Map:
		return "map[" + t.Key().Kind().String() + "]" + shape(t.Elem(), depth, seen)
	}
	return t.Kind().String()
}

// TestWhatIsDerivedIsMadeAnewWhenItsShapeChanges holds the shapes in which reviews and
// lessons are kept against their versions: who changes one without the other would read what
// an older program has kept as something else. Then raise review.Version or learn.Version,
// and run this with SMOLDER_SHAPES=1.
func TestWhatIsDerivedIsMadeAnewWhenItsShapeChanges(t *testing.T) {
	const golden = "testdata/derived.golden"
	now := fmt.Sprintf("review %d %s\nknown %d %s\n", review.Version, shape(reflect.TypeFor[review.Review](), "", map[reflect.Type]bool{}),
		learn.Version, shape(reflect.TypeFor[learn.Known](), "", map[reflect.Type]bool{}))
	if os.Getenv("SMOLDER_SHAPES") != "" {
		require.NoError(t, os.WriteFile(golden, []byte(now), 0o600))
	}
	kept, err := os.ReadFile(golden)
	require.NoError(t, err)
	assert.Equal(t, string(kept), now, "the shape has changed: its version must too")
}
