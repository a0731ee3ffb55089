package store

import (
	"database/sql/driver"

	"github.com/jackc/pgx/v5/pgtype"
)

// textArray is a text[] of PostgreSQL.
type textArray []string

// Scan reads one.
func (a *textArray) Scan(src any) error {
	return pgtype.NewMap().SQLScanner((*[]string)(a)).Scan(src)
}

// Value writes one.
func (a textArray) Value() (driver.Value, error) {
	text, err := pgtype.NewMap().Encode(pgtype.TextArrayOID, pgtype.TextFormatCode, []string(a), nil)
	return string(text), err
}
