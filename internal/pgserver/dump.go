package pgserver

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"os/exec"
	"path/filepath"
	"strings"
)

// Dump writes a consistent copy of a database into a file, packed, while it is used: all of it as of
// one moment. The file is one that [Restore] reads.
func Dump(ctx context.Context, url, file string) error {
	return tool(ctx, "pg_dump", "--format=custom", "--no-owner", "--no-privileges", "--file="+file, "--dbname="+url)
}

// Restore reads a copy into an empty database, all of it or nothing.
func Restore(ctx context.Context, url, file string) error {
	return tool(ctx, "pg_restore", "--no-owner", "--no-privileges", "--exit-on-error", "--single-transaction", "--dbname="+url, file)
}

// Holds lists what a copy holds, so that one that is cut off or is none is found before it is needed.
func Holds(ctx context.Context, file string) error {
	return tool(ctx, "pg_restore", "--list", "--file=/dev/null", file)
}

// tool runs one of PostgreSQL's programs; an error says what it said, without the address of the
// database, which has a password in it.
func tool(ctx context.Context, name string, args ...string) error {
	bin, err := programs()
	if err != nil {
		return err
	}
	var said bytes.Buffer
	cmd := exec.CommandContext(ctx, filepath.Join(bin, name), args...)
	cmd.Stderr = &said
	if err := cmd.Run(); err != nil {
		text := strings.TrimSpace(said.String())
		for _, a := range args {
			if url, ok := strings.CutPrefix(a, "--dbname="); ok {
				text = strings.ReplaceAll(text, url, "the database")
			}
		}
		return errors.Join(ctx.Err(), fmt.Errorf("%s: %w: %s", name, err, text))
	}
	return nil
}
