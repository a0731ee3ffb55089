package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"errors"
	"time"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/units"
)

// A Role is what somebody of a household may do.
type Role string

// The roles. An owner may do everything; a member what belongs to fires, wood and upkeep; who
// looks on changes nothing but what is their own.
const (
	Owner  Role = "owner"
	Member Role = "member"
	Looks  Role = "looks"
)

// Roles are all of them, the one that may most first.
var Roles = []Role{Owner, Member, Looks}

// Own is how somebody reads; what is empty is as the household has it, and colours as the device.
type Own struct {
	Units    units.System `db:"units"`
	Language string       `db:"language"` // BCP 47 tag
	Colours  string       `db:"colours"`  // light, dark
}

// A User can sign in.
type User struct {
	ID        int64  `db:"id"`
	Household int64  `db:"household_id"`
	Name      string `db:"name"`
	Password  string `db:"password"` // encoded hash
	Role      Role   `db:"role"`
	Own
}

const selectUsers = `
	SELECT id, household_id, name, password, role, units, language, colours
	FROM users`

// UserByName finds who signs in, by the key of the name.
func (s *Store) UserByName(ctx context.Context, name string) (User, error) {
	var u User
	err := s.db.GetContext(ctx, &u, selectUsers+` WHERE name_key = $1`, NameKey(name))
	return u, orMissing(err)
}

// User returns who has a number; a removed user is [ErrMissing].
func (s *Store) User(ctx context.Context, id int64) (User, error) {
	var u User
	err := s.db.GetContext(ctx, &u, selectUsers+` WHERE id = $1`, id)
	return u, orMissing(err)
}

// SaveOwn changes how somebody reads.
func (s *Store) SaveOwn(ctx context.Context, user int64, o Own) error {
	return touched(s.db.ExecContext(ctx, `UPDATE users SET units = $2, language = $3, colours = $4 WHERE id = $1`, user, o.Units, o.Language, o.Colours))
}

// As is the household in the hands of somebody: their name stands by what they do.
func (h Household) As(name string) Household {
	h.by = name
	return h
}

// A Person is somebody of the household.
type Person struct {
	ID    int64               `db:"id"`
	Name  string              `db:"name"`
	Role  Role                `db:"role"`
	Since time.Time           `db:"created_at"`
	Seen  sql.Null[time.Time] `db:"seen_at"` // in a browser that is signed in; null: in none
}

// People are those of the household, owners first.
func (h Household) People(ctx context.Context) ([]Person, error) {
	var out []Person
	err := h.db.SelectContext(ctx, &out, `
		SELECT u.id, u.name, u.role, u.created_at, (SELECT max(s.seen_at) FROM sessions s WHERE s.user_id = u.id AND s.ended_at IS NULL) AS seen_at
		FROM users u
		WHERE u.household_id = $1
		ORDER BY array_position(ARRAY['owner', 'member', 'looks'], u.role), u.id`, h.id)
	return out, err
}

// ErrLastOwner says that a household would be left without an owner.
var ErrLastOwner = errors.New("the household would have no owner")

// people changes who is of the household, one change at a time, and sees to it that an owner stays.
func (h Household) people(ctx context.Context, f func(context.Context, *sqlx.Tx) error) error {
	return h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		var id int64
		if err := tx.GetContext(ctx, &id, `SELECT id FROM households WHERE id = $1 FOR UPDATE`, h.id); err != nil {
			return orMissing(err)
		}
		if err := f(ctx, tx); err != nil {
			return err
		}
		var owners int
		if err := tx.GetContext(ctx, &owners, `SELECT count(*) FROM users WHERE household_id = $1 AND role = 'owner'`, h.id); err != nil {
			return err
		}
		if owners == 0 {
			return ErrLastOwner
		}
		return nil
	})
}

// SetRole changes what somebody may do; [ErrLastOwner] where no owner would be left.
func (h Household) SetRole(ctx context.Context, user int64, r Role) error {
	return h.people(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		if r != Owner {
			if err := h.withdrawOf(ctx, tx, user); err != nil {
				return err
			}
		}
		return touched(tx.ExecContext(ctx, `UPDATE users SET role = $3 WHERE household_id = $1 AND id = $2`, h.id, user, r))
	})
}

// RemovePerson lets somebody go, with their sessions, calls and settings; what they did keeps
// their name. Where no owner would be left it is [ErrLastOwner].
func (h Household) RemovePerson(ctx context.Context, user int64) error {
	return h.people(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		if err := h.withdrawOf(ctx, tx, user); err != nil {
			return err
		}
		return touched(tx.ExecContext(ctx, `DELETE FROM users WHERE household_id = $1 AND id = $2`, h.id, user))
	})
}

// withdrawOf ends the invitations of somebody who is owner no more: nobody comes back by their own.
func (h Household) withdrawOf(ctx context.Context, tx *sqlx.Tx, user int64) error {
	_, err := tx.ExecContext(ctx, `
		DELETE FROM invitations
		WHERE household_id = $1 AND by_name = (SELECT name FROM users WHERE household_id = $1 AND id = $2)`, h.id, user)
	return err
}

// An Invitation is a link by which one more person comes in.
type Invitation struct {
	ID        int64     `db:"id"`
	Household int64     `db:"household_id"`
	Role      Role      `db:"role"`
	By        string    `db:"by_name"`
	Ends      time.Time `db:"ends_at"`
}

// How many of them a household may have at a time.
const (
	MostPeople      = 40
	MostInvitations = 20
)

// Invite makes an invitation, and returns what its link has in it: that is kept nowhere. More
// than there may be is [ErrMany].
func (h Household) Invite(ctx context.Context, r Role, now, ends time.Time) (token string, err error) {
	token = rand.Text()
	err = touched(h.db.ExecContext(ctx, `
		INSERT INTO invitations (household_id, role, hash, by_name, made_at, ends_at)
		SELECT $1, $2, $3, $4, $5, $6
		WHERE (SELECT count(*) FROM invitations WHERE household_id = $1 AND ends_at > $5) < $7
		  AND (SELECT count(*) FROM users WHERE household_id = $1) < $8`,
		h.id, r, hashOfToken(token), h.by, now, ends, MostInvitations, MostPeople))
	if isMissing(err) {
		return "", ErrMany
	}
	return token, err
}

// Invitations are those that still let somebody in, the one that ends first first.
func (h Household) Invitations(ctx context.Context, now time.Time) ([]Invitation, error) {
	var out []Invitation
	err := h.db.SelectContext(ctx, &out, `
		SELECT id, household_id, role, by_name, ends_at
		FROM invitations
		WHERE household_id = $1 AND ends_at > $2
		ORDER BY ends_at, id`, h.id, now)
	return out, err
}

// Withdraw ends an invitation; one that is not there is fine.
func (h Household) Withdraw(ctx context.Context, id int64) error {
	_, err := h.db.ExecContext(ctx, `DELETE FROM invitations WHERE household_id = $1 AND id = $2`, h.id, id)
	return err
}

// Invited is the invitation of a link; one that has ended, or was used, is [ErrMissing].
func (s *Store) Invited(ctx context.Context, token string, now time.Time) (Invitation, error) {
	var in Invitation
	err := s.db.GetContext(ctx, &in, selectInvited, hashOfToken(token), now)
	return in, orMissing(err)
}

const selectInvited = `
	SELECT id, household_id, role, by_name, ends_at
	FROM invitations
	WHERE hash = $1 AND ends_at > $2`

// Join makes a user by an invitation, which is used up by it; of several at once one succeeds.
// An invitation that is not there any more is [ErrMissing], a name in use [ErrTaken], one person
// more than there may be [ErrMany].
func (s *Store) Join(ctx context.Context, token, name, passwordHash string, now time.Time) (user int64, err error) {
	err = s.db.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		var in Invitation
		if err := tx.GetContext(ctx, &in, selectInvited+` FOR UPDATE`, hashOfToken(token), now); err != nil {
			return orMissing(err)
		}
		// One after the other, so that they are counted.
		var id int64
		if err := tx.GetContext(ctx, &id, `SELECT id FROM households WHERE id = $1 FOR UPDATE`, in.Household); err != nil {
			return orMissing(err)
		}
		if user, err = addUser(ctx, tx, in.Household, in.Role, name, passwordHash); err != nil {
			return err
		}
		var n int
		if err := tx.GetContext(ctx, &n, `SELECT count(*) FROM users WHERE household_id = $1`, in.Household); err != nil {
			return err
		}
		if n > MostPeople {
			return ErrMany
		}
		_, err := tx.ExecContext(ctx, `DELETE FROM invitations WHERE id = $1`, in.ID)
		return err
	})
	return user, err
}

func addUser(ctx context.Context, tx *sqlx.Tx, household int64, r Role, name, passwordHash string) (user int64, err error) {
	err = tx.GetContext(ctx, &user, `
		INSERT INTO users (household_id, name, name_key, password, role)
		VALUES ($1, $2, $3, $4, $5)
		RETURNING id`, household, name, NameKey(name), passwordHash, r)
	if violates(err, "users_name") {
		return 0, ErrTaken
	}
	return user, err
}
