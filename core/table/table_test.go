package table_test

import (
	"errors"
	"strings"
	"testing"

	"chrysagon/core/table"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// RFC 4180, section 2: lines end with CRLF, and fields that hold commas, quotes
// or line breaks are quoted, quotes doubled.
func TestWritesAsRFC4180Says(t *testing.T) {
	var out strings.Builder
	require.NoError(t, table.Write(&out, []string{"name", "why"}, [][]string{{"a,b", `so "called"`}}))
	assert.Equal(t, "name,why\r\n\"a,b\",\"so \"\"called\"\"\"\r\n", out.String())
}

func TestReadsWhatItWrote(t *testing.T) {
	rows := [][]string{{"a,b", "two\nlines"}, {"", `"`}}
	var out strings.Builder
	require.NoError(t, table.Write(&out, []string{"name", "why"}, rows))
	var back [][]string
	require.NoError(t, table.Read("\ufeff"+out.String(), []string{"name", "why"}, func(row []string) error {
		back = append(back, row)
		return nil
	}))
	assert.Equal(t, rows, back)
}

func TestFaultsNameTheirLine(t *testing.T) {
	refuse := func([]string) error { return errors.New("is refused") }
	header := []string{"name", "why"}
	require.EqualError(t, table.Read("name,why\n\"a\nb\",c\n", header, refuse), "line 2: is refused")
	require.EqualError(t, table.Read("why,name\n", header, refuse), "line 1 must be name,why")
	require.ErrorContains(t, table.Read("name,why\na\n", header, refuse), "the table cannot be read: record on line 2")
	require.NoError(t, table.Read("", header, refuse))
}
