// Package table reads and writes small tables as CSV (RFC 4180) whose first
// line names the columns.
package table

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
)

// Write writes a header and rows.
func Write(to io.Writer, header []string, rows [][]string) error {
	w := csv.NewWriter(to)
	w.UseCRLF = true
	return w.WriteAll(append([][]string{header}, rows...))
}

// Read hands every row under the header on. A mark of UTF-8 at the beginning is
// passed over. Errors, those of each too, name the line.
func Read(text string, header []string, each func(row []string) error) error {
	r := csv.NewReader(strings.NewReader(strings.TrimPrefix(text, "\ufeff")))
	r.FieldsPerRecord, r.TrimLeadingSpace = len(header), true
	for first := true; ; first = false {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return fmt.Errorf("the table cannot be read: %w", err)
		}
		if first {
			if strings.Join(row, ",") != strings.Join(header, ",") {
				return fmt.Errorf("line 1 must be %s", strings.Join(header, ","))
			}
			continue
		}
		line, _ := r.FieldPos(0)
		if err := each(row); err != nil {
			return fmt.Errorf("line %d: %w", line, err)
		}
	}
}
