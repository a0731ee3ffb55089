package main

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Each kind of fault, at its place and nowhere else.
func TestMutantsOf(t *testing.T) {
	const source = "package a\n\nimport \"fmt\"\n\nfunc f(x int) (string, bool) {\n\tif x < 3 {\n\t\treturn fmt.Sprint(\"a\" + \"b\"), true\n\t}\n\treturn \"\", float64(x)*2.0 > 1\n}\n"
	mutants, err := mutantsOf("a.go", []byte(source))
	require.NoError(t, err)
	var was, is []string
	for _, m := range mutants {
		was, is = append(was, m.was), append(is, m.is)
		assert.NotEqual(t, source, string(m.in([]byte(source))))
		assert.Len(t, m.in([]byte(source)), len(source)-len(m.was)+len(m.is))
	}
	assert.ElementsMatch(t, []string{"x < 3", "<", "true", ">", "*", "2.0"}, was)
	assert.ElementsMatch(t, []string{"!(x < 3)", "<=", "false", ">=", "/", "3"}, is)
	_, err = mutantsOf("b.go", []byte("no source"))
	assert.Error(t, err)
}
