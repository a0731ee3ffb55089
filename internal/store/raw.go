package store

import (
	"context"
	"errors"
	"fmt"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/jmoiron/sqlx"
)

// A copyTx is a transaction that can also copy many rows at once, which only the driver below
// can.
type copyTx struct {
	*sqlx.Tx
	conn *sqlx.Conn // the one that the transaction runs on
}

// withinRaw runs f in a transaction, with one limit of time for all of it.
func (h Household) withinRaw(ctx context.Context, f func(context.Context, copyTx) error) error {
	ctx, cancel := context.WithTimeout(ctx, longQuery)
	defer cancel()
	tx, over, err := h.beginRaw(ctx)
	if err != nil {
		return err
	}
	defer over()
	if err := f(ctx, tx); err != nil {
		return err
	}
	return tx.Commit()
}

// beginRaw begins a transaction; over lets go of it, after its Commit or without one.
func (h Household) beginRaw(ctx context.Context) (tx copyTx, over func(), err error) {
	conn, err := h.db.Connx(ctx)
	if err != nil {
		return copyTx{}, nil, err
	}
	begun, err := conn.BeginTxx(ctx, nil)
	if err != nil {
		return copyTx{}, nil, errors.Join(err, conn.Close())
	}
	return copyTx{begun, conn}, func() {
		_ = begun.Rollback() // after Commit it does nothing
		_ = conn.Close()
	}, nil
}

// copy copies rows into a table, all or none: after an error the transaction goes on without
// them.
func (t copyTx) copy(ctx context.Context, table string, columns []string, rows int, row func(int) []any) error {
	if _, err := t.ExecContext(ctx, `SAVEPOINT copied`); err != nil {
		return err
	}
	err := t.conn.Raw(func(driver any) error {
		std, ok := driver.(*stdlib.Conn)
		if !ok {
			return fmt.Errorf("copying: the driver is a %T", driver)
		}
		_, err := std.Conn().CopyFrom(ctx, pgx.Identifier{table}, columns, pgx.CopyFromSlice(rows, func(i int) ([]any, error) { return row(i), nil }))
		return err
	})
	if err != nil {
		_, undo := t.ExecContext(ctx, `ROLLBACK TO SAVEPOINT copied`)
		return errors.Join(err, undo)
	}
	_, err = t.ExecContext(ctx, `RELEASE SAVEPOINT copied`)
	return err
}
