package main

import (
	"context"
	"errors"
	"fmt"
	"path/filepath"
	"time"

	"github.com/spf13/cobra"

	"smolder/internal/pgserver"
)

// A server that somebody manages is backed up by its files and its log (pgbackrest), so that it comes
// back as it was at any moment; the private one, and one that is somewhere else, by a copy.

// baseFlag are where a server's files are, and how it is reached.
type baseFlag struct {
	data, socket, user *string
	port               *int
}

func baseFlags(cmd *cobra.Command) baseFlag {
	return baseFlag{
		data:   cmd.Flags().String("server-data", "", "files of a managed server on this machine (such as /var/lib/postgresql/15/main), run as their owner: base backups and log by pgbackrest"),
		socket: cmd.Flags().String("server-socket", "/var/run/postgresql", "with --server-data: folder of its socket"),
		port:   cmd.Flags().Int("server-port", 5432, "likewise: its port"),
		user:   cmd.Flags().String("server-user", "postgres", "likewise: a superuser; a password it wants stands in PGPASSFILE"),
	}
}

func (f baseFlag) of(repo string, keep int) pgserver.Base {
	if at, err := filepath.Abs(repo); err == nil {
		repo = at
	}
	return pgserver.Base{Repo: repo, Data: *f.data, Socket: *f.socket, Port: *f.port, User: *f.user, Keep: keep}
}

// baseBackup takes one, or says what the server's settings have to be before.
func baseBackup(ctx context.Context, b pgserver.Base, whole bool) (string, time.Duration, error) {
	settings, err := b.Prepare()
	if err != nil {
		return "", 0, err
	}
	began := time.Now()
	err = b.Backup(ctx, whole)
	if errors.Is(err, pgserver.ErrNoArchive) {
		text := "the server does not archive its log yet. Set, and start it anew:"
		for _, s := range settings {
			text += "\n  ALTER SYSTEM SET " + alter(s) + ";"
		}
		err = usageError{errors.New(text)}
	}
	return "base backup into " + b.Repo, time.Since(began), err
}

// alter is a setting as ALTER SYSTEM takes it.
func alter(setting string) string {
	for i, c := range setting {
		if c == '=' {
			return setting[:i] + " = '" + setting[i+1:] + "'"
		}
	}
	return setting
}

// baseRestore brings the files back into an empty folder.
func baseRestore(cmd *cobra.Command, b pgserver.Base, until string) error {
	var at time.Time
	if until != "" {
		var err error
		if at, err = time.Parse(time.RFC3339, until); err != nil {
			return usageError{fmt.Errorf("--until is %q: a moment such as 2026-11-30T18:05:00Z would do", until)}
		}
	}
	began := time.Now()
	if err := b.Restore(cmd.Context(), b.Data, at); err != nil {
		return err
	}
	_, err := fmt.Fprintf(cmd.OutOrStdout(), "restored into %s in %s: start the server there, it reads its log and goes on\n", b.Data, time.Since(began).Round(time.Millisecond))
	return err
}
