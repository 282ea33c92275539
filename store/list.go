package store

import (
	"database/sql/driver"
	"fmt"

	"github.com/jackc/pgx/v5/pgtype"
)

// StringList is a text[] column.
type StringList []string

var texts = pgtype.NewMap()

// Scan reads PostgreSQL's own form of an array.
func (l *StringList) Scan(src any) error {
	var text string
	switch v := src.(type) {
	case nil:
		*l = nil
		return nil
	case string:
		text = v
	case []byte:
		text = string(v)
	default:
		return fmt.Errorf("a list of texts cannot be read from %T", src)
	}
	var list []string
	if err := texts.Scan(pgtype.TextArrayOID, pgtype.TextFormatCode, []byte(text), &list); err != nil {
		return fmt.Errorf("read a list of texts: %w", err)
	}
	*l = list
	return nil
}

// Value writes PostgreSQL's own form of an array; no list is an empty one.
func (l StringList) Value() (driver.Value, error) { return textArray(l), nil }
