package main

import (
	"context"
	"fmt"
	"path/filepath"
	"regexp"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/demo"
	"smolder/internal/pgserver"
	"smolder/internal/store"
)

// A demo that is cut off while it loads is loaded whole the next time; several
// processes that bring one database to the newest version at once do so once;
// and the server's owner gives a forgotten password anew.
func TestADatabaseOfItsOwn(t *testing.T) {
	ctx := t.Context()
	pg, err := pgserver.Start(ctx, pgserver.Options{Dir: filepath.Join(t.TempDir(), "pg"), Volatile: true})
	require.NoError(t, err)
	t.Cleanup(func() { _ = pg.Stop() })

	// Cut off: what is half loaded never has the demo's name.
	cut, cancel := context.WithCancel(ctx)
	require.NoError(t, pg.Create(ctx, demoLoading, ""))
	st, err := store.Open(ctx, pg.URL(demoLoading))
	require.NoError(t, err)
	_, err = st.Migrate(ctx)
	require.NoError(t, err)
	require.NoError(t, st.Close())
	cancel()
	_, err = demoStore(cut, pg, false)
	require.Error(t, err)
	there, err := pg.Has(ctx, demoDatabase)
	require.NoError(t, err)
	assert.False(t, there)
	whole, err := demoStore(ctx, pg, false)
	require.NoError(t, err)
	user, err := whole.UserByName(ctx, demo.User)
	require.NoError(t, err)
	burns, err := whole.Household(user.Household).Stoves(ctx)
	require.NoError(t, err)
	assert.Len(t, burns, len(demo.Stoves()))

	out, err := ask("password " + demo.User + " --database " + pg.URL(demoDatabase))
	require.NoError(t, err)
	assert.Regexp(t, regexp.MustCompile(demo.User+` signs in with [a-z0-9]{16} now`), out)
	after, err := whole.UserByName(ctx, demo.User)
	require.NoError(t, err)
	assert.NotEqual(t, user.Password, after.Password)
	_, err = ask("password nobody-here --database " + pg.URL(demoDatabase))
	require.ErrorAs(t, err, new(usageError))
	require.NoError(t, whole.Close())

	require.NoError(t, pg.Create(ctx, "fresh", ""))
	var wg sync.WaitGroup
	errs := make([]error, 4)
	for i := range errs {
		wg.Go(func() {
			st, err := store.Open(ctx, pg.URL("fresh"))
			if err != nil {
				errs[i] = err
				return
			}
			defer st.Close()
			if _, err = st.Migrate(ctx); err != nil {
				errs[i] = fmt.Errorf("process %d: %w", i, err)
			}
		})
	}
	wg.Wait()
	for _, err := range errs {
		assert.NoError(t, err)
	}
}
