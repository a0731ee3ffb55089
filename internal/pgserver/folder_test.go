package pgserver

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A folder whose name can be guessed is used only if it is certainly ours.
func TestAFolderThatSomebodyElseMade(t *testing.T) {
	shared := t.TempDir()
	mine := filepath.Join(shared, "mine")
	for range 2 { // made, and found again
		got, err := ownFolder(mine)
		require.NoError(t, err)
		assert.Equal(t, mine, got)
	}
	link := filepath.Join(shared, "link")
	require.NoError(t, os.Symlink(mine, link))
	_, err := ownFolder(link)
	require.ErrorIs(t, err, ErrForeign, "a link leads elsewhere")
	open := filepath.Join(shared, "open")
	require.NoError(t, os.Mkdir(open, 0o755))
	require.NoError(t, os.Chmod(open, 0o777)) //nolint:gosec // that is what is refused
	_, err = ownFolder(open)
	require.ErrorIs(t, err, ErrForeign, "everybody can change it")
	if os.Geteuid() == 0 {
		theirs := filepath.Join(shared, "theirs")
		require.NoError(t, os.Mkdir(theirs, 0o755))
		require.NoError(t, os.Chown(theirs, 65534, 65534))
		_, err = ownFolder(theirs)
		require.ErrorIs(t, err, ErrForeign, "somebody else's")
	}
}
