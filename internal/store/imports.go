package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/jmoiron/sqlx"

	"smolder/internal/core/burn"
	"smolder/internal/core/plan"
	"smolder/internal/core/units"
	"smolder/internal/form"
)

// An Import is one burn that comes from a file.
type Import struct {
	Title string
	Burn  burn.Burn
	Plan  *plan.Plan
	Eye   burn.Eye
}

// An Imported is what became of those that came.
type Imported struct {
	New    int      // kept now
	Same   int      // that were here already
	Last   int64    // number of the last, whether new or not
	Stoves []string // that came with them
}

// longImport is for a whole logbook.
const longImport = 4 * time.Minute

// ImportBurns keeps burns that come from files, all of them or none: each in the stove of
// its name, which comes with it where it is not here; one that is here already is left as
// it is. tell hears after each how many are done. A burn that is not ended, of a stove that
// has one already, is [ErrBurning].
func (h Household) ImportBurns(ctx context.Context, list []Import, tell func(done int)) (Imported, error) {
	h.by = "" // who did it stands in the file
	if err := h.allows(ctx, OfBurns, int64(len(list))); err != nil {
		return Imported{}, err
	}
	if err := h.partsOf(ctx, list); err != nil {
		return Imported{}, err
	}
	var out Imported
	err := h.db.changing(ctx, longImport, func(ctx context.Context, tx *sqlx.Tx) error {
		stoves := map[string]int64{}
		for i, in := range list {
			if err := h.importOne(ctx, tx, in, stoves, &out); err != nil {
				return fmt.Errorf("burn %d: %w", i+1, err)
			}
			if tell != nil {
				tell(i + 1)
			}
		}
		return nil
	})
	if err != nil {
		return Imported{}, err
	}
	return out, nil
}

func (h Household) importOne(ctx context.Context, tx *sqlx.Tx, in Import, stoves map[string]int64, out *Imported) error {
	key := NameKey(in.Burn.Stove.Name)
	stove, known := stoves[key]
	if !known {
		err := orMissing(tx.GetContext(ctx, &stove, `
			SELECT id
			FROM stoves
			WHERE household_id = $1 AND name_key = $2 AND removed_at IS NULL`, h.id, key))
		if isMissing(err) {
			stove, err = h.importStove(ctx, tx, in.Burn)
			out.Stoves = append(out.Stoves, in.Burn.Stove.Name)
		}
		if err != nil {
			return err
		}
		stoves[key] = stove
	}
	same, err := h.sameBurn(ctx, tx, stove, in.Burn)
	if err != nil {
		return err
	}
	if same != 0 {
		out.Same, out.Last = out.Same+1, same
		return nil
	}
	b, reported := apart(foreign(in.Burn), stove)
	id, err := h.startBurn(ctx, tx, stove, in.Title, b, in.Plan)
	if err != nil {
		return err
	}
	if _, err := h.keepReported(ctx, tx, reported); err != nil {
		return err
	}
	if in.Eye != (burn.Eye{}) {
		text, err := encode(form.EyeOf(in.Eye))
		if err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `
			INSERT INTO eyes (household_id, burn_id, doc)
			VALUES ($1, $2, $3)`, h.id, id, text); err != nil {
			return err
		}
	}
	out.New, out.Last = out.New+1, id
	return nil
}

// apart takes what thermometers reported out of a burn that comes from a file: it has a
// table of its own.
func apart(b burn.Burn, stove int64) (burn.Burn, []Reported) {
	var reported []Reported
	kept := make([]burn.Entry, 0, len(b.Entries))
	for _, e := range b.Entries {
		switch {
		case !e.Reported:
			kept = append(kept, e)
		case e.Kind == burn.Draft:
			reported = append(reported, Reported{stove, DraftPlace, e.At, float64(e.Draft)})
		default:
			reported = append(reported, Reported{stove, string(e.Place), e.At, float64(e.Reading)})
		}
	}
	b.Entries = kept
	return b, reported
}

// partsOf makes room for what thermometers reported of burns, before their transaction begins.
func (h Household) partsOf(ctx context.Context, list []Import) error {
	var all []Reported
	for _, in := range list {
		_, reported := apart(in.Burn, 0)
		all = append(all, reported...)
	}
	if len(all) == 0 {
		return nil
	}
	return h.partsFor(ctx, all)
}

// foreign cuts the loads' ties to stacks of the household they came from.
func foreign(b burn.Burn) burn.Burn {
	for i, e := range b.Entries {
		if e.Load != nil {
			l := *e.Load
			l.StackID = 0
			b.Entries[i].Load = &l
		}
	}
	return b
}

// importStove makes the stove of a burn, in the space that it names or one of its own.
func (h Household) importStove(ctx context.Context, tx *sqlx.Tx, b burn.Burn) (int64, error) {
	name := "where " + b.Stove.Name + " stands"
	if b.Stove.Room != "" {
		name = b.Stove.Room
	}
	if r := []rune(name); len(r) > 60 {
		name = string(r[:60])
	}
	var space int64
	err := orMissing(tx.GetContext(ctx, &space, `
		SELECT id
		FROM spaces
		WHERE household_id = $1 AND name_key = $2 AND removed_at IS NULL`, h.id, NameKey(name)))
	if errors.Is(err, ErrMissing) {
		sp := Space{Name: name, House: b.House, Wanted: [2]units.Celsius{19, 21.5}}
		if b.Wanted[0] < b.Wanted[1] {
			sp.Wanted = [2]units.Celsius{units.Celsius(b.Wanted[0]), units.Celsius(b.Wanted[1])}
		}
		space, err = addSpace(ctx, tx, h.id, sp)
	}
	if err != nil {
		return 0, err
	}
	spec, err := encode(form.StoveOf(b.Stove))
	if err != nil {
		return 0, err
	}
	var id int64
	err = tx.GetContext(ctx, &id, `
		INSERT INTO stoves (household_id, space_id, name, name_key, spec)
		VALUES ($1, $2, $3, $4, $5)
		RETURNING id`, h.id, space, b.Stove.Name, NameKey(b.Stove.Name), spec)
	return id, err
}

// A Numbered is a burn's number with its start.
type Numbered struct {
	ID      int64     `db:"id"`
	Started time.Time `db:"started"`
}

// BurnNumbers are those of all burns that began between two moments, the oldest first.
func (h Household) BurnNumbers(ctx context.Context, from, to time.Time) ([]Numbered, error) {
	var out []Numbered
	err := h.db.SelectContext(ctx, &out, `
		SELECT id, started
		FROM burns
		WHERE household_id = $1 AND removed_at IS NULL AND started >= $2 AND started < $3
		ORDER BY started, id`, h.id, from, to)
	return out, err
}

// An Upload is a file that waits to be matched.
type Upload struct {
	Name string `db:"name"`
	Body []byte `db:"body"`
}

// mostUploads is how many files of one household wait at a time: the oldest makes room.
const mostUploads = 4

// KeepUpload keeps a file until its columns are matched, or for a day; it returns its
// number.
func (h Household) KeepUpload(ctx context.Context, name string, body []byte) (id int64, err error) {
	err = h.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, `
			DELETE FROM uploads
			WHERE household_id = $1 AND id NOT IN (SELECT id FROM uploads WHERE household_id = $1 ORDER BY id DESC LIMIT $2)`, h.id, mostUploads-1); err != nil {
			return err
		}
		return tx.GetContext(ctx, &id, `
			INSERT INTO uploads (household_id, name, body)
			VALUES ($1, $2, $3)
			RETURNING id`, h.id, name, body)
	})
	return id, err
}

// Upload is a file that waits.
func (h Household) Upload(ctx context.Context, id int64) (Upload, error) {
	var u Upload
	err := h.db.GetContext(ctx, &u, `
		SELECT name, body
		FROM uploads
		WHERE household_id = $1 AND id = $2`, h.id, id)
	return u, orMissing(err)
}

// DropUpload lets it go.
func (h Household) DropUpload(ctx context.Context, id int64) error {
	_, err := h.db.ExecContext(ctx, `
		DELETE FROM uploads
		WHERE household_id = $1 AND id = $2`, h.id, id)
	return err
}
