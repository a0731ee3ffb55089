package store_test

import (
	"errors"
	"fmt"
	"testing"

	"github.com/jackc/pgx/v5/pgconn"
	"github.com/stretchr/testify/assert"

	"smolder/internal/store"
)

// What is of the moment is tried again; what is of the thing asked is not.
func TestPassing(t *testing.T) {
	for code, passing := range map[string]bool{
		"57014": true, // a question took longer than it may
		"55P03": true, // or waited too long for a lock
		"40P01": true, // or in a ring
		"40001": true, "25006": true, "57P01": true, "08001": true, "53100": true, "53300": true, "58030": true,
		"23505": false, "23514": false, "22003": false, "42P01": false, "42501": false, "": false,
	} {
		err := fmt.Errorf("keeping: %w", errors.Join(&pgconn.PgError{Code: code}))
		assert.Equal(t, passing, store.Passing(err), code)
	}
	assert.False(t, store.Passing(nil))
	assert.False(t, store.Passing(store.ErrMissing))
}
