package storetest

import (
	"context"
	"sync"

	"github.com/jackc/pgx/v5"
)

// A Counter counts the statements that a store sends, and remembers them.
type Counter struct {
	mu  sync.Mutex
	all []string
}

// TraceQueryStart is called before each statement.
func (c *Counter) TraceQueryStart(ctx context.Context, _ *pgx.Conn, d pgx.TraceQueryStartData) context.Context {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.all = append(c.all, d.SQL)
	return ctx
}

// TraceQueryEnd is called after each statement.
func (*Counter) TraceQueryEnd(context.Context, *pgx.Conn, pgx.TraceQueryEndData) {}

// Since forgets what was counted and returns it.
func (c *Counter) Since() []string {
	c.mu.Lock()
	defer c.mu.Unlock()
	all := c.all
	c.all = nil
	return all
}
