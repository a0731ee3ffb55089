package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"time"

	"github.com/spf13/cobra"

	"smolder/internal/demo"
	"smolder/internal/pgserver"
	"smolder/internal/probe"
	"smolder/internal/store"
	"smolder/internal/weather"
	"smolder/internal/web"
	"smolder/internal/web/home"
)

// demoCommand brings its own PostgreSQL, loads Tarn Mill and serves it.
func demoCommand() *cobra.Command {
	cmd := &cobra.Command{Use: "demo", Short: "Serve the demo household on a PostgreSQL of its own", Args: cobra.NoArgs}
	address := addressFlag(cmd)
	dir := cmd.Flags().String("dir", ".smolder", "folder for the demo's data")
	fresh := cmd.Flags().Bool("fresh", false, "start over")
	tongues := languagesFlag(cmd)
	quiet := cmd.Flags().Bool("no-fire", false, "without a fire that burns, and without the simulated thermometers")
	cmd.RunE = func(cmd *cobra.Command, _ []string) (err error) {
		ctx := cmd.Context()
		languages, err := languagesIn(*tongues)
		if err != nil {
			return err
		}
		pg, err := pgserver.Start(ctx, pgserver.Options{Dir: filepath.Join(*dir, "postgres")})
		if err != nil {
			return err
		}
		defer func() { err = errors.Join(err, pg.Stop()) }()
		st, err := demoStore(ctx, pg, *fresh)
		if err != nil {
			return err
		}
		defer st.Close()
		err = serve(ctx, *address, web.Options{Store: st, Log: logger(), Demo: &web.Demo{User: demo.User, Password: demo.Password},
			Weather: weather.Island{}, LocalWeather: true, Languages: languages}, cmd.OutOrStdout(), func(at string) {
			if !*quiet {
				if err := thermometers(ctx, st, at); err != nil && ctx.Err() == nil {
					logger().Warn("the demo's thermometers", "error", err)
				}
			}
		})
		if ctx.Err() != nil {
			fmt.Fprintln(cmd.OutOrStdout(), "Stopped. The data is kept; make demo FRESH=1 starts over.")
		}
		return err
	}
	return cmd
}

// thermometers lets a fire burn in the demo, and the simulated thermometers report of it
// as a process of their own, until the context ends.
func thermometers(ctx context.Context, st *store.Store, server string) error {
	const household, seed, name = 1, demo.ThermometerSeed, "simulated thermometers"
	stove, err := demo.Running(ctx, st, household, probe.Hidden(seed), time.Now())
	if err != nil {
		return err
	}
	home := st.Household(household)
	old, err := home.Tokens(ctx)
	if err != nil {
		return err
	}
	for _, t := range old {
		if t.Name == name { // of the demo's last run
			if err := home.RevokeToken(ctx, t.ID, time.Now()); err != nil {
				return err
			}
		}
	}
	token, err := home.MakeToken(ctx, name, stove, []string{store.ScopeReadings, store.ScopeRead})
	if err != nil {
		return err
	}
	self, err := os.Executable()
	if err != nil {
		return err
	}
	child := exec.CommandContext(ctx, self, "probe", "--server", server, //nolint:gosec // itself
		"--stove", fmt.Sprint(stove), "--seed", fmt.Sprint(seed), "--speed", "600")
	child.Env = append(os.Environ(), "SMOLDER_TOKEN="+token)
	child.Stderr = os.Stderr
	return child.Run()
}

const (
	demoDatabase = "smolder_demo"
	demoLoading  = "smolder_demo_loading"
)

// demoStore opens the demo's database. The household is loaded into a database
// of another name that gets this one when it is whole, so that an interruption
// leaves nothing half loaded.
func demoStore(ctx context.Context, pg *pgserver.Server, fresh bool) (*store.Store, error) {
	if fresh {
		if err := pg.Drop(ctx, demoDatabase); err != nil {
			return nil, err
		}
	}
	there, err := pg.Has(ctx, demoDatabase)
	if err != nil {
		return nil, err
	}
	if !there {
		if err := loadDemo(ctx, pg); err != nil {
			return nil, err
		}
	}
	st, err := store.OpenPatiently(ctx, pg.URL(demoDatabase), store.Recovers, nil)
	if err != nil {
		return nil, err
	}
	if _, err := st.Migrate(ctx); err != nil {
		return nil, errors.Join(err, st.Close())
	}
	return st, nil
}

// loadDemo loads the household under another name, over what an interrupted
// loading has left, and then gives it its own.
func loadDemo(ctx context.Context, pg *pgserver.Server) error {
	if err := pg.Drop(ctx, demoLoading); err != nil {
		return err
	}
	if err := pg.Create(ctx, demoLoading, ""); err != nil {
		return err
	}
	st, err := store.Open(ctx, pg.URL(demoLoading))
	if err != nil {
		return err
	}
	_, err = st.Migrate(ctx)
	if err == nil {
		_, err = demo.Load(ctx, st, home.HashPassword(demo.Password), time.Now())
	}
	if err := errors.Join(err, st.Close()); err != nil {
		return err
	}
	return pg.Rename(ctx, demoLoading, demoDatabase)
}

// withPostgresCommand runs a command with a PostgreSQL that lasts as long as it
// does: `smolder with-postgres -- go test ./...`.
func withPostgresCommand() *cobra.Command {
	return &cobra.Command{
		Use: "with-postgres -- COMMAND [ARGUMENTS]", Short: "Run a command with a private, throw-away PostgreSQL",
		Long: "Starts a PostgreSQL on loopback in a folder of its own, sets SMOLDER_TEST_DATABASE to its URL, runs the\ncommand, and removes everything again. The tests use it so that one server serves the whole run.",
		Args: cobra.MinimumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) (err error) {
			dir, err := os.MkdirTemp("", "smolder-test-")
			if err != nil {
				return err
			}
			defer os.RemoveAll(dir)
			if err := os.Chmod(dir, 0o755); err != nil { //nolint:gosec // PostgreSQL's user walks through it
				return err
			}
			pg, err := pgserver.Start(cmd.Context(), pgserver.Options{Dir: dir, Volatile: true})
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, pg.Stop()) }()
			child := exec.CommandContext(cmd.Context(), args[0], args[1:]...) //nolint:gosec // that is its purpose
			child.Env = append(os.Environ(), "SMOLDER_TEST_DATABASE="+pg.URL("postgres"))
			child.Stdin, child.Stdout, child.Stderr = os.Stdin, os.Stdout, os.Stderr
			return child.Run()
		},
	}
}
