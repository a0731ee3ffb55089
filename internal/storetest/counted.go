package storetest

import (
	"context"
	"fmt"
	"strings"
	"sync"

	"github.com/jackc/pgx/v5"
)

// A Statement is one that was sent.
type Statement struct{ SQL, Args string }

// A Counter counts the statements that a store sends, and remembers them: those that ask for
// something or change it.
type Counter struct {
	mu  sync.Mutex
	all []Statement
}

// TraceQueryStart is called before each statement.
func (c *Counter) TraceQueryStart(ctx context.Context, _ *pgx.Conn, d pgx.TraceQueryStartData) context.Context {
	if control(d.SQL) {
		return ctx
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	c.all = append(c.all, Statement{strings.Join(strings.Fields(d.SQL), " "), fmt.Sprint(d.Args...)})
	return ctx
}

// control tells whether a statement only opens or ends a transaction, or says whose it is: that is
// said in each, and asks for nothing.
func control(sql string) bool {
	for _, begins := range []string{"begin", "commit", "rollback", "SET LOCAL"} {
		if strings.HasPrefix(sql, begins) {
			return true
		}
	}
	return false
}

// TraceQueryEnd is called after each statement.
func (*Counter) TraceQueryEnd(context.Context, *pgx.Conn, pgx.TraceQueryEndData) {}

// Since forgets what was counted and returns it.
func (c *Counter) Since() []Statement {
	c.mu.Lock()
	defer c.mu.Unlock()
	all := c.all
	c.all = nil
	return all
}
