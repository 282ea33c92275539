// Package catalogue reads and writes goods as tables: CSV after RFC 4180, in
// any column order, with the separators, decimal marks and encodings that
// spreadsheets write.
package catalogue

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
	"unicode/utf8"

	"chrysagon/core/goods"

	"golang.org/x/text/encoding/charmap"
)

// MaxRows is how many rows one file may have.
const MaxRows = 500_000

// MaxColumns is how many columns one file may have.
const MaxColumns = 400

// Sheet is a file as it was recognised, before its columns have a meaning.
type Sheet struct {
	Header   []string
	Comma    rune
	Encoding string // UTF-8, UTF-8 with mark, or Windows-1252
	Decimal  byte   // ',' or '.', as its numbers are written
	// Attributes are those that columns may name. Set it before reading rows.
	Attributes []goods.Attribute
	next       func() ([]string, int, error)
}

var mark = []byte("\ufeff")

// Open recognises a file's encoding, separator and decimal mark.
func Open(raw []byte) (*Sheet, error) {
	if len(bytes.TrimSpace(raw)) == 0 {
		return nil, errors.New("the file is empty")
	}
	s := &Sheet{Encoding: "UTF-8"}
	switch {
	case bytes.HasPrefix(raw, mark):
		raw, s.Encoding = raw[len(mark):], "UTF-8 with mark"
	case bytes.IndexByte(raw[:min(len(raw), 4096)], 0) >= 0:
		return nil, errors.New("this is not a table of text: it has binary characters in it. Save it as CSV")
	case !utf8.Valid(raw):
		// Windows-1252 gives every byte a sign, so this cannot fail.
		decoded, err := charmap.Windows1252.NewDecoder().Bytes(raw)
		if err != nil {
			return nil, fmt.Errorf("the file's characters cannot be read: %w", err)
		}
		raw, s.Encoding = decoded, "Windows-1252"
	}
	s.Comma = separator(raw)
	if first, _, _ := bytes.Cut(raw, []byte("\n")); bytes.Count(first, []byte(string(s.Comma))) > 10*MaxColumns {
		return nil, tooWide(bytes.Count(first, []byte(string(s.Comma))) + 1)
	}
	r := csv.NewReader(bytes.NewReader(raw))
	r.Comma, r.FieldsPerRecord, r.ReuseRecord = s.Comma, -1, true
	header, err := r.Read()
	if err != nil {
		return nil, fmt.Errorf("the first line cannot be read: %w", err)
	}
	if len(header) > MaxColumns {
		return nil, tooWide(len(header))
	}
	for _, h := range header {
		s.Header = append(s.Header, strings.TrimSpace(strings.Clone(h)))
	}
	if len(s.Header) < 2 {
		return nil, errors.New("the first line has only one column. It must name the columns, separated by commas or semicolons")
	}
	s.Decimal = decimalMark(raw, s.Comma)
	s.next = func() ([]string, int, error) {
		row, err := r.Read()
		if err != nil || len(row) == 0 {
			return row, 0, err // a row that could not be read has no places to ask for
		}
		line, _ := r.FieldPos(0)
		return row, line, nil
	}
	return s, nil
}

func tooWide(columns int) error {
	return fmt.Errorf("the first line names %d columns, and at most %d fit. Take out those that do not describe goods, or check that each row stands on a line of its own", columns, MaxColumns)
}

// separator is the sign that parts most columns in the first line.
func separator(raw []byte) rune {
	first, _, _ := bytes.Cut(raw, []byte("\n"))
	best, most := ',', 0
	for _, c := range []rune{',', ';', '\t', '|'} {
		n, quoted := 0, false
		for _, r := range string(first) {
			if r == '"' {
				quoted = !quoted
			}
			if r == c && !quoted {
				n++
			}
		}
		if n > most {
			best, most = c, n
		}
	}
	return best
}

// decimalMark looks at how numbers with one or two digits at their end are
// written in the first part of the file.
func decimalMark(raw []byte, comma rune) byte {
	part := raw[:min(len(raw), 1<<18)]
	commas, points := 0, 0
	for i := 1; i+1 < len(part); i++ {
		if (part[i] != ',' && part[i] != '.') || !digit(part[i-1]) || !digit(part[i+1]) {
			continue
		}
		end := i + 1
		for end < len(part) && digit(part[end]) {
			end++
		}
		if n := end - i - 1; n > 2 || (end < len(part) && strings.IndexByte(".,-", part[end]) >= 0 && (rune(part[end]) != comma || quotedAt(part, end))) {
			continue
		}
		if part[i] == '.' {
			points++
		} else if comma != ',' || quotedAt(part, i) {
			commas++
		}
	}
	if commas > points {
		return ','
	}
	return '.'
}

// quotedAt tells whether a comma lies inside quotes on its line.
func quotedAt(raw []byte, at int) bool {
	start := bytes.LastIndexByte(raw[:at], '\n') + 1
	return bytes.Count(raw[start:at], []byte(`"`))%2 == 1
}

func digit(b byte) bool { return b >= '0' && b <= '9' }

// Fault is a line that cannot be taken, and why.
type Fault struct {
	Line   int    `json:"line"`
	Column string `json:"column,omitempty"`
	Value  string `json:"value,omitempty"`
	Reason string `json:"reason"`
}

// Lines reads every line after the first, as it stands. A line that cannot be read is handed
// to faulty; reading goes on. Too many rows are an error.
func (s *Sheet) Lines(take func(fields []string, line int), faulty func(Fault)) error {
	for count := 0; ; count++ {
		fields, line, err := s.next()
		switch {
		case errors.Is(err, io.EOF):
			return nil
		case count >= MaxRows:
			return fmt.Errorf("the file has more than %d rows. Cut it into several and import them one after the other", MaxRows)
		}
		var bad *csv.ParseError
		if errors.As(err, &bad) {
			faulty(Fault{Line: bad.StartLine, Reason: "the quotes in this line do not fit together"})
			continue
		}
		if err != nil {
			return fmt.Errorf("read the file: %w", err)
		}
		if !blank(fields) {
			take(fields, line)
		}
	}
}

// Rows reads every line after the first as goods. A line that cannot be taken is handed
// to faulty; reading goes on.
func (s *Sheet) Rows(m Mapping, currency string, take func(Row), faulty func(Fault)) error {
	reader, err := newReader(s, m, currency)
	if err != nil {
		return err
	}
	return s.Lines(func(fields []string, line int) {
		row, fault := reader.row(fields, line)
		if fault != nil {
			faulty(*fault)
			return
		}
		take(row)
	}, faulty)
}

func blank(fields []string) bool {
	for _, f := range fields {
		if strings.TrimSpace(f) != "" {
			return false
		}
	}
	return true
}
