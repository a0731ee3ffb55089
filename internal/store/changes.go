package store

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/jmoiron/sqlx"
)

// Changes go through the database, so that every process of the server hears of them:
// each is told within the transaction that makes it, and is heard of when that is
// kept, and not at all when it is not.

// A Change is something that pages show and that is not as it was.
type Change struct {
	Household int64   `json:"h"`
	Burn      int64   `json:"b,omitempty"` // 0: none in particular
	Stove     int64   `json:"s,omitempty"`
	Readings  []Point `json:"r,omitempty"` // the newest, where thermometers reported

	Heard time.Time `json:"-"` // when it was heard of here, by the process's own clock
}

// A Point is one reading of a change.
type Point struct {
	Place string  `json:"p"`
	At    int64   `json:"t"` // milliseconds since 1970
	Value float64 `json:"v"`
}

const (
	channel     = "smolder_changes"
	mostPayload = 7900 // bytes, of the 8000 that PostgreSQL carries
	mostPoints  = 60
)

// payload is a change as it is told; readings that do not fit are left out, and whoever
// hears of it looks.
func (c Change) payload() (string, error) {
	if len(c.Readings) > mostPoints {
		c.Readings = nil
	}
	text, err := json.Marshal(c)
	if err == nil && len(text) > mostPayload {
		c.Readings = nil
		text, err = json.Marshal(c)
	}
	return string(text), err
}

// notify tells of a change when the transaction is kept.
func (h Household) notify(ctx context.Context, tx *sqlx.Tx, c Change) error {
	c.Household = h.id
	text, err := c.payload()
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `SELECT pg_notify($1, $2)`, channel, text)
	return err
}

// Listen hears of changes until the context ends, or the database does not answer any
// more: then it returns an error, and what was told meanwhile is lost, so that whoever
// listens looks at everything again. ready is called once it listens.
func (s *Store) Listen(ctx context.Context, ready func(), heard func(Change)) error {
	if s.direct != "" {
		conn, err := pgx.Connect(ctx, s.direct)
		if err != nil {
			return err
		}
		defer conn.Close(context.WithoutCancel(ctx)) //nolint:errcheck // it is over
		return listen(ctx, conn, ready, heard)
	}
	conn, err := s.db.Connx(ctx)
	if err != nil {
		return err
	}
	defer conn.Close()
	return conn.Raw(func(driver any) error {
		std, ok := driver.(*stdlib.Conn)
		if !ok {
			return fmt.Errorf("listening: the driver is a %T", driver)
		}
		return listen(ctx, std.Conn(), ready, heard)
	})
}

func listen(ctx context.Context, conn *pgx.Conn, ready func(), heard func(Change)) error {
	if _, err := conn.Exec(ctx, `LISTEN `+channel); err != nil {
		return err
	}
	defer func() {
		over, cancel := context.WithTimeout(context.WithoutCancel(ctx), time.Second)
		defer cancel()
		_, _ = conn.Exec(over, `UNLISTEN *`) // a connection that is gone listens no more
	}()
	ready()
	for {
		n, err := conn.WaitForNotification(ctx)
		if err != nil {
			return err
		}
		var c Change
		if json.NewDecoder(strings.NewReader(n.Payload)).Decode(&c) == nil {
			heard(c)
		}
	}
}
