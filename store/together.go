package store

import (
	"bytes"
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
	if err := json.Unmarshal([]byte(raw), &read); err != nil {
		return fmt.Errorf("read lists: %w", err)
	}
	for i, p := range parts {
		list, err := named(read[i])
		if err != nil {
			return err
		}
		if err := json.Unmarshal(list, p.Into); err != nil {
			return fmt.Errorf("read a list: %w", err)
		}
	}
	return nil
}

// named takes the underscores out of the names of columns, so that they are those of
// fields, as far as encoding/json minds.
func named(list json.RawMessage) ([]byte, error) {
	var rows []map[string]json.RawMessage
	if err := json.Unmarshal(list, &rows); err != nil {
		return nil, fmt.Errorf("read a list: %w", err)
	}
	var out bytes.Buffer
	out.WriteByte('[')
	for i, row := range rows {
		if i > 0 {
			out.WriteByte(',')
		}
		out.WriteByte('{')
		first := true
		for name, value := range row {
			if string(value) == "null" {
				continue // it stays at its zero value
			}
			if !first {
				out.WriteByte(',')
			}
			first = false
			out.WriteString(`"` + strings.ReplaceAll(name, "_", "") + `":`)
			out.Write(value)
		}
		out.WriteByte('}')
	}
	out.WriteByte(']')
	return out.Bytes(), nil
}
