package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"errors"
	"slices"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jmoiron/sqlx"
)

// SignUps are who may make a household on a server where somebody lives already.
type SignUps string

// Who may.
const (
	Closed  SignUps = "closed"  // nobody
	Invited SignUps = "invited" // who has a code of the host's
	OpenTo  SignUps = "open"    // everybody
)

// Known tells whether it is one of them.
func (s SignUps) Known() bool { return slices.Contains([]SignUps{Closed, Invited, OpenTo}, s) }

// ErrClosed says that no household is taken in: there are as many as the host takes.
var ErrClosed = errors.New("no more households are taken in")

// HouseCode makes a code that lets one household in, until it ends; it is kept nowhere.
func (s *Store) HouseCode(ctx context.Context, now, ends time.Time) (string, error) {
	text := rand.Text()[:16]
	code := strings.Join([]string{text[:4], text[4:8], text[8:12], text[12:]}, "-")
	_, err := s.db.ExecContext(ctx, `
		INSERT INTO house_codes (hash, made_at, ends_at)
		VALUES ($1, $2, $3)`, hashOfToken(plainCode(code)), now, ends)
	return code, err
}

// SignUp makes a household as the host allows it, with at most so many on the server (0: any
// number). A code that lets nobody in is [ErrMissing], a full server or a closed one [ErrClosed], an
// owner's name that is in use [ErrTaken]; then nothing is made, and the code still holds.
func (s *Store) SignUp(ctx context.Context, may SignUps, code string, most int, now time.Time, p Profile, first Space,
	owner, passwordHash string) (household, user int64, err error) {
	err = s.db.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		if may != Invited && may != OpenTo {
			return ErrClosed
		}
		if most > 0 {
			if _, err := tx.ExecContext(ctx, `SELECT pg_advisory_xact_lock(hashtext('smolder-setup'))`); err != nil {
				return err
			}
			var n int
			if err := tx.GetContext(ctx, &n, `SELECT count(*) FROM households`); err != nil {
				return err
			}
			if n >= most {
				return ErrClosed
			}
		}
		if may == Invited {
			gone, err := tx.ExecContext(ctx, `DELETE FROM house_codes WHERE hash = $1 AND ends_at > $2`, hashOfToken(plainCode(code)), now)
			if err := touched(gone, err); err != nil {
				return err
			}
		}
		var err error
		household, user, err = create(ctx, tx, p, first, owner, passwordHash)
		return err
	})
	return household, user, err
}

// LeaveCode makes what stands in the archive of a household that leaves; an earlier one holds no
// more.
func (h Household) LeaveCode(ctx context.Context) (string, error) {
	code := rand.Text()[:8]
	_, err := h.db.ExecContext(ctx, `
		UPDATE households
		SET leave_hash = $2
		WHERE id = $1`, h.id, hashOfToken(plainCode(code)))
	return code, err
}

// Leave deletes the household with all that it has, for who has the code of its newest archive;
// another code is [ErrMissing], and then nothing is deleted.
func (h Household) Leave(ctx context.Context, code string) error {
	return h.db.changing(ctx, longImport, func(ctx context.Context, tx *sqlx.Tx) error {
		var there int64
		err := tx.GetContext(ctx, &there, `
			SELECT id
			FROM households
			WHERE id = $1 AND leave_hash = $2
			FOR UPDATE`, h.id, hashOfToken(plainCode(code)))
		if errors.Is(err, sql.ErrNoRows) {
			return ErrMissing
		}
		if err != nil {
			return err
		}
		// What thermometers reported hangs on nothing, so that its parts can be let go of whole. Of
		// years it is more than a statement usually may take.
		if _, err := tx.ExecContext(ctx, `SET LOCAL statement_timeout = 0`); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `DELETE FROM reported WHERE household_id = $1`, h.id); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `DELETE FROM households WHERE id = $1`, h.id)
		return err
	})
}

// secret are the tables of which nothing is taken out, and columns that never are: what lets
// somebody in.
var (
	secretTables  = []string{"sessions", "tokens", "invitations"}
	secretColumns = []string{"password", "hash", "leave_hash", "token_hash", "secret", "p256dh", "auth", "jpeg"}
)

// EachRow goes through everything that is kept of the household, table by table, as JSON; pictures
// are left out, and what lets somebody in.
func (h Household) EachRow(ctx context.Context, each func(table string, row []byte) error) error {
	h = h.past()
	tables, err := h.tables(ctx)
	if err != nil {
		return err
	}
	for _, table := range tables {
		if slices.Contains(secretTables, table) {
			continue
		}
		column := "household_id"
		if table == "households" {
			column = "id"
		}
		query := `SELECT (to_jsonb(t) - $2::text[])::text FROM ` + pgx.Identifier{table}.Sanitize() + ` t WHERE ` + column + ` = $1`
		err := h.db.bounded(ctx, longImport, func(ctx context.Context, tx *sqlx.Tx) error {
			rows, err := tx.QueryContext(ctx, query, h.id, secretColumns)
			if err != nil {
				return err
			}
			defer rows.Close()
			for rows.Next() {
				var row []byte
				if err := rows.Scan(&row); err != nil {
					return err
				}
				if err := each(table, row); err != nil {
					return err
				}
			}
			return rows.Err()
		})
		if err != nil {
			return err
		}
	}
	return nil
}

// tables are all that keep something by household, parts of them left out.
func (h Household) tables(ctx context.Context) ([]string, error) {
	var out []string
	err := h.db.SelectContext(ctx, &out, `
		SELECT c.relname
		FROM pg_class c
		JOIN pg_namespace n ON n.oid = c.relnamespace
		WHERE n.nspname = current_schema() AND c.relkind IN ('r', 'p') AND NOT c.relispartition
		  AND (c.relname = 'households' OR EXISTS (SELECT 1 FROM pg_attribute a WHERE a.attrelid = c.oid AND a.attname = 'household_id' AND NOT a.attisdropped))
		ORDER BY c.relname`)
	return out, err
}

// EachPicture goes through the household's pictures, with the burn that each is of.
func (h Household) EachPicture(ctx context.Context, each func(burn, id int64, jpeg []byte) error) error {
	h = h.past()
	var ids []struct {
		Burn int64 `db:"burn_id"`
		ID   int64 `db:"id"`
	}
	if err := h.db.SelectContext(ctx, &ids, `
		SELECT burn_id, id
		FROM photos
		WHERE household_id = $1
		ORDER BY id`, h.id); err != nil {
		return err
	}
	for _, one := range ids {
		var jpeg []byte
		if err := h.db.GetContext(ctx, &jpeg, `SELECT jpeg FROM photos WHERE household_id = $1 AND id = $2`, h.id, one.ID); err != nil {
			return err
		}
		if err := each(one.Burn, one.ID, jpeg); err != nil {
			return err
		}
	}
	return nil
}

// Tables is how many tables there are in the database: a copy is restored into an empty one.
func (s *Store) Tables(ctx context.Context) (n int, err error) {
	err = s.db.GetContext(ctx, &n, `
		SELECT count(*)
		FROM pg_class c
		JOIN pg_namespace n ON n.oid = c.relnamespace
		WHERE n.nspname = current_schema() AND c.relkind IN ('r', 'p')`)
	return n, err
}

// CountHouseholds is how many live here.
func (s *Store) CountHouseholds(ctx context.Context) (n int, err error) {
	err = s.db.GetContext(ctx, &n, `SELECT count(*) FROM households`)
	return n, err
}
