package store

import (
	"context"
	"fmt"
	"strings"

	"github.com/jmoiron/sqlx"
	"golang.org/x/text/cases"
	"golang.org/x/text/unicode/norm"
)

// NameKey is what two names are compared by: composed the same way whatever the
// keyboard, without regard to capitals or to blanks around and between words.
// "Åse", "ÅSE" and an A with a ring typed as two characters are one.
func NameKey(name string) string {
	composed := norm.NFKC.String(strings.Join(strings.Fields(name), " "))
	return norm.NFKC.String(cases.Fold().String(composed))
}

// fillNameKeys gives rows from before the keys theirs. Two names that differed
// only in what the key leaves out stay two: the later one's key is numbered.
func (s *Store) fillNameKeys(ctx context.Context) error {
	return s.db.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		for _, table := range []string{"users", "stoves", "stacks", "spaces"} {
			var rows []struct {
				ID        int64  `db:"id"`
				Household int64  `db:"household_id"`
				Name      string `db:"name"`
			}
			if err := tx.SelectContext(ctx, &rows, `SELECT id, household_id, name FROM `+table+` WHERE name_key IS NULL ORDER BY id FOR UPDATE`); err != nil {
				return err
			}
			for _, r := range rows {
				for _, key := range []string{NameKey(r.Name), fmt.Sprintf("%s #%d", NameKey(r.Name), r.ID)} {
					if _, err := tx.ExecContext(ctx, `SAVEPOINT one`); err != nil {
						return err
					}
					_, err := tx.ExecContext(ctx, `UPDATE `+table+` SET name_key = $2 WHERE household_id = $3 AND id = $1`, r.ID, key, r.Household)
					if err == nil {
						_, err = tx.ExecContext(ctx, `RELEASE SAVEPOINT one`)
						if err != nil {
							return err
						}
						break
					}
					if !violates(err, table+"_name") {
						return err
					}
					if _, err := tx.ExecContext(ctx, `ROLLBACK TO SAVEPOINT one`); err != nil {
						return err
					}
				}
			}
		}
		return nil
	})
}
