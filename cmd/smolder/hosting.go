package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"time"

	"github.com/spf13/cobra"

	"smolder/internal/metrics"
	"smolder/internal/pgserver"
	"smolder/internal/store"
)

// envOr is what the environment says, or what goes where it says nothing.
func envOr(name, usual string) string { return cmp.Or(os.Getenv(name), usual) }

// envNumber is a number of the environment; 0 where it is none.
func envNumber(name string) int { return envNumberOr(name, 0) }

// envNumberOr is [envNumber], and another number where there is none.
func envNumberOr(name string, usual int) int {
	n, err := strconv.Atoi(os.Getenv(name))
	if err != nil || n < 0 {
		return usual
	}
	return n
}

// limitFlags add what one household may keep.
func limitFlags(cmd *cobra.Command) *store.Limits {
	l := &store.Limits{}
	cmd.Flags().IntVar(&l.Stacks, "limit-stacks", envNumber("SMOLDER_LIMIT_STACKS"), "stacks on a household's list at the most; 0: any number, as of all limits")
	cmd.Flags().IntVar(&l.Burns, "limit-burns", envNumber("SMOLDER_LIMIT_BURNS"), "burns that a household keeps at the most")
	cmd.Flags().Int64Var(&l.Bytes, "limit-bytes", int64(envNumber("SMOLDER_LIMIT_BYTES")),
		"bytes of pictures and of what is shared that a household keeps at the most")
	cmd.Flags().IntVar(&l.Readings, "limit-readings", envNumber("SMOLDER_LIMIT_READINGS"), "readings that a household's thermometers report in a day at the most")
	return l
}

// inviteCommand makes a code that lets one household in.
func inviteCommand() *cobra.Command {
	cmd := &cobra.Command{Use: "invite", Short: "Make a code that lets one household begin on this server (serve --sign-up invited)", Args: cobra.NoArgs}
	database := databaseFlag(cmd)
	days := cmd.Flags().Int("days", 14, "for which it holds")
	at := cmd.Flags().String("at", "", "address of the server, such as https://wood.example: then the whole link is printed")
	cmd.RunE = func(cmd *cobra.Command, _ []string) error {
		const most = 400
		if *days < 1 || *days > most {
			return usageError{fmt.Errorf("--days is %d: 1 to %d would do", *days, most)}
		}
		st, err := openStore(cmd.Context(), *database)
		if err != nil {
			return err
		}
		defer st.Close()
		now := time.Now()
		code, err := st.HouseCode(cmd.Context(), now, now.AddDate(0, 0, *days))
		if err != nil {
			return err
		}
		if *at != "" {
			code = *at + "/sign-up?code=" + code
		}
		_, err = fmt.Fprintln(cmd.OutOrStdout(), code)
		return err
	}
	return cmd
}

// backupCommand writes a copy of the database, once or on a schedule.
func backupCommand() *cobra.Command {
	cmd := &cobra.Command{Use: "backup", Short: "Write a consistent copy of the database into a folder, and look whether it can be read", Args: cobra.NoArgs}
	database := databaseFlag(cmd)
	folder := cmd.Flags().String("to", envOr("SMOLDER_BACKUPS", ""), "folder of the copies; SMOLDER_BACKUPS in the environment says the same")
	every := cmd.Flags().Duration("every", 0, "again and again, such as 24h; 0: once")
	keep := cmd.Flags().Int("keep", 14, "copies that are kept; the oldest go")
	managed := baseFlags(cmd)
	whole := cmd.Flags().Bool("whole", false, "with --server-data: everything, and not what has changed since the last")
	cmd.RunE = func(cmd *cobra.Command, _ []string) error {
		switch {
		case *folder == "":
			return usageError{errors.New("where to? --to FOLDER or SMOLDER_BACKUPS would do")}
		case *database == "" && *managed.data == "":
			return usageError{errors.New("no database: set DATABASE_URL or --database")}
		case *every != 0 && *every < time.Minute, *keep < 1:
			return usageError{errors.New("--every is a minute at the least, and --keep one")}
		}
		if *managed.data != "" {
			return onSchedule(cmd, *every, func() (string, time.Duration, error) {
				return baseBackup(cmd.Context(), managed.of(*folder, *keep), *whole)
			})
		}
		if err := os.MkdirAll(*folder, 0o700); err != nil {
			return err
		}
		return onSchedule(cmd, *every, func() (string, time.Duration, error) {
			made, took, err := backup(cmd.Context(), *database, *folder, *keep, time.Now())
			if err == nil {
				tellElsewhere(cmd.Context(), *database, cmd.ErrOrStderr())
			}
			return made, took, err
		})
	}
	return cmd
}

// onSchedule copies once, or again and again, and says what came of it and how long it took. One that
// fails is tried again at its next turn, unless it was asked for wrongly.
func onSchedule(cmd *cobra.Command, every time.Duration, once func() (string, time.Duration, error)) error {
	for {
		made, took, err := once()
		var wrong usageError
		switch {
		case err == nil:
			fmt.Fprintf(cmd.OutOrStdout(), "%s in %s\n", made, took.Round(time.Millisecond))
		case every == 0 || cmd.Context().Err() != nil || errors.As(err, &wrong):
			return err
		default:
			logger().Error("backup", "error", err)
		}
		if every == 0 {
			return nil
		}
		select {
		case <-cmd.Context().Done():
			return nil
		case <-time.After(every):
		}
	}
}

// copies are named by their moment, so that they lie in its order.
const copyName = "smolder-20060102T150405Z.dump"

// backup writes one copy, looks whether it can be read, and lets the oldest go. A copy that is being
// written has another name, so that one that was cut off is not taken for whole.
func backup(ctx context.Context, database, folder string, keep int, now time.Time) (file string, took time.Duration, err error) {
	began := time.Now()
	file = filepath.Join(folder, now.UTC().Format(copyName))
	making := file + ".part"
	defer func() { _ = os.Remove(making) }() // where it came to nothing
	if err := pgserver.Dump(ctx, database, making); err != nil {
		return "", 0, err
	}
	if err := pgserver.Holds(ctx, making); err != nil {
		return "", 0, err
	}
	if err := os.Chmod(making, 0o600); err != nil {
		return "", 0, err
	}
	if err := os.Rename(making, file); err != nil {
		return "", 0, err
	}
	old, err := filepath.Glob(filepath.Join(folder, "smolder-*.dump"))
	if err != nil {
		return "", 0, err
	}
	slices.Sort(old)
	for _, gone := range old[:max(0, len(old)-keep)] {
		if err := os.Remove(gone); err != nil {
			return "", 0, err
		}
	}
	return file, time.Since(began), nil
}

// restoreCommand reads a copy into an empty database.
func restoreCommand() *cobra.Command {
	cmd := &cobra.Command{Use: "restore FILE", Short: "Read a copy that backup wrote into an empty database, or a server's files as they were at a moment", Args: cobra.ExactArgs(1)}
	database := databaseFlag(cmd)
	managed := baseFlags(cmd)
	until := cmd.Flags().String("until", "", "with --server-data: the moment, such as 2026-11-30T18:05:00Z; empty: as late as the log goes")
	cmd.RunE = func(cmd *cobra.Command, args []string) error {
		if *managed.data != "" {
			return baseRestore(cmd, managed.of(args[0], 1), *until)
		}
		st, err := openStore(cmd.Context(), *database)
		if err != nil {
			return err
		}
		defer st.Close()
		households, err := restore(cmd.Context(), st, *database, args[0])
		if err != nil {
			return err
		}
		fmt.Fprintf(cmd.OutOrStdout(), "restored: %d households\n", households)
		return nil
	}
	return cmd
}

// restore reads a copy, all of it or nothing, and tells how many households are there then.
func restore(ctx context.Context, st *store.Store, database, file string) (households int, err error) {
	if n, err := st.Tables(ctx); err != nil || n > 0 {
		return 0, errors.Join(err, usageError{fmt.Errorf("there are %d tables in this database already: an empty one would do, and nothing was changed", n)})
	}
	// The roles that keep rows apart belong to the server and not to the copy; where they may not be
	// made, restoring says so.
	if err := st.MakeRoles(ctx); err != nil && !errors.Is(err, store.ErrRoles) {
		return 0, err
	}
	if err := pgserver.Restore(ctx, database, file); err != nil {
		return 0, err
	}
	if _, err := st.Migrate(ctx); err != nil { // of an older program
		return 0, err
	}
	return st.CountHouseholds(ctx)
}

// tellMetrics serves what is counted on an address of its own, so that it is not among the pages.
func tellMetrics(ctx context.Context, address string, m *metrics.Metrics) error {
	listener, err := net.Listen("tcp", address)
	if err != nil {
		return fmt.Errorf("listening on %s for metrics: %w; another address would do, or none", address, err)
	}
	mux := http.NewServeMux()
	mux.Handle("GET /metrics", m.Handler())
	server := newHTTPServer(mux)
	go func() {
		<-ctx.Done()
		_ = server.Close()
	}()
	go func() {
		if err := server.Serve(listener); err != nil && ctx.Err() == nil {
			logger().Error("metrics", "error", err)
		}
	}()
	return nil
}
