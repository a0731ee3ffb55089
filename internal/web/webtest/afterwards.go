package webtest

import (
	"bufio"
	"compress/gzip"
	"crypto/sha256"
	"fmt"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// Unpacked is a logbook's text without the numbers of its household.
func Unpacked(t *testing.T, packed string) string {
	r, err := gzip.NewReader(strings.NewReader(packed))
	require.NoError(t, err)
	sum := sha256.New()
	lines := bufio.NewScanner(r)
	lines.Buffer(nil, 64<<20)
	n := 0
	for lines.Scan() {
		n++
		sum.Write(regexp.MustCompile(`,?"(stack_id|id)":\d+`).ReplaceAll(lines.Bytes(), nil))
	}
	require.NoError(t, lines.Err())
	return fmt.Sprintf("%d lines, %x", n, sum.Sum(nil))
}
