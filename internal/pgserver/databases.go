package pgserver

import (
	"context"
	"database/sql"
	"strings"

	_ "github.com/jackc/pgx/v5/stdlib" // the driver that asks whether it is up
)

// Create makes a database, from a template unless it is empty; an existing
// one is left as it is.
func (s *Server) Create(ctx context.Context, name, template string) error {
	db, err := sql.Open("pgx", s.URL("postgres"))
	if err != nil {
		return err
	}
	defer db.Close()
	return Create(ctx, db, name, template)
}

// Create is [Server.Create] over an open connection.
func Create(ctx context.Context, db *sql.DB, name, template string) error {
	var there bool
	if err := db.QueryRowContext(ctx, `SELECT EXISTS (SELECT 1 FROM pg_database WHERE datname = $1)`, name).Scan(&there); err != nil {
		return err
	}
	if there {
		return nil
	}
	q := `CREATE DATABASE "` + strings.ReplaceAll(name, `"`, ``) + `"`
	if template != "" {
		q += ` TEMPLATE "` + strings.ReplaceAll(template, `"`, ``) + `"`
	}
	_, err := db.ExecContext(ctx, q)
	return err
}

// Rename gives a database another name.
func (s *Server) Rename(ctx context.Context, from, to string) error {
	db, err := sql.Open("pgx", s.URL("postgres"))
	if err != nil {
		return err
	}
	defer db.Close()
	quote := func(name string) string { return `"` + strings.ReplaceAll(name, `"`, ``) + `"` }
	_, err = db.ExecContext(ctx, `ALTER DATABASE `+quote(from)+` RENAME TO `+quote(to))
	return err
}

// Has tells whether there is a database of a name.
func (s *Server) Has(ctx context.Context, name string) (bool, error) {
	db, err := sql.Open("pgx", s.URL("postgres"))
	if err != nil {
		return false, err
	}
	defer db.Close()
	var there bool
	err = db.QueryRowContext(ctx, `SELECT EXISTS (SELECT 1 FROM pg_database WHERE datname = $1)`, name).Scan(&there)
	return there, err
}

// Drop removes a database; one that is not there is fine.
func (s *Server) Drop(ctx context.Context, name string) error {
	db, err := sql.Open("pgx", s.URL("postgres"))
	if err != nil {
		return err
	}
	defer db.Close()
	_, err = db.ExecContext(ctx, `DROP DATABASE IF EXISTS "`+strings.ReplaceAll(name, `"`, ``)+`" WITH (FORCE)`)
	return err
}
