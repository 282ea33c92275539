package store

import (
	"encoding/json"
	"fmt"
	"strings"

	"gorm.io/gorm"
)

// Part is one list among those that are read together.
type Part struct {
	SQL  string // a SELECT; columns of bytes are encoded as base64 by it
	Args []any  // for each ? in it
	Into any    // pointer to a slice of structs, by the names of the columns without underscores
}

// Together reads several lists by one statement, so that what belongs together is of one
// moment, and is asked for once.
func Together(db *gorm.DB, parts ...Part) error {
	if len(parts) == 0 {
		return nil
	}
	var lists []string
	var args []any
	for _, p := range parts {
		lists = append(lists, "(SELECT coalesce(jsonb_agg(to_jsonb(x)), '[]') FROM ("+p.SQL+") x)")
		args = append(args, p.Args...)
	}
	var raw string
	if err := db.Raw("SELECT jsonb_build_array("+strings.Join(lists, ", ")+")::text", args...).Scan(&raw).Error; err != nil {
		return err
	}
	var read []json.RawMessage
	if err := json.Unmarshal(named([]byte(raw)), &read); err != nil {
		return fmt.Errorf("read lists: %w", err)
	}
	for i, p := range parts {
		if err := json.Unmarshal(read[i], p.Into); err != nil {
			return fmt.Errorf("read a list: %w", err)
		}
	}
	return nil
}

// named takes the underscores out of the names of columns, in place, so that they are those
// of fields, as far as encoding/json minds. The text is an array of arrays of rows; what is
// inside a value stays as it is. PostgreSQL writes it, so it is sound.
func named(text []byte) []byte {
	const rows = 3 // how deep the members of a row stand
	out, depth, name := text[:0], 0, false
	for i := 0; i < len(text); i++ {
		switch c := text[i]; c {
		case '[', '{':
			depth++
			name = c == '{' && depth == rows
		case ']', '}':
			depth--
		case ',':
			name = depth == rows
		case '"':
			end := i + 1
			for ; text[end] != '"'; end++ {
				if text[end] == '\\' {
					end++
				}
			}
			for at := i; at <= end; at++ {
				if !name || text[at] != '_' {
					out = append(out, text[at])
				}
			}
			i, name = end, false
			continue
		}
		out = append(out, text[i])
	}
	return out
}
