package media_test

import (
	"testing"

	"chrysagon/internal/media"

	"github.com/stretchr/testify/assert"
)

// The first rows are the examples of RFC 9110, 14.1.2, for a representation of
// 10,000 bytes.
func TestRanges(t *testing.T) {
	for header, want := range map[string][3]any{
		"bytes=0-499":                 {0, 499, true},
		"bytes=500-999":               {500, 999, true},
		"bytes=-500":                  {9500, 9999, true},
		"bytes=9500-":                 {9500, 9999, true},
		"bytes=0-0,-1":                {0, 9999, true}, // several: the whole
		"":                            {0, 9999, true},
		"bytes=10000-":                {0, 0, false},
		"bytes=-0":                    {0, 0, false},
		"bytes=-20000":                {0, 9999, true},
		"bytes=9990-20000":            {9990, 9999, true},
		"bytes=9-3":                   {0, 9999, true},
		"bytes=x-y":                   {0, 9999, true},
		"lines=1-2":                   {0, 9999, true},
		"bytes=99999999999999999999-": {0, 9999, true},
	} {
		from, to, ok := media.Range(header, 10_000)
		assert.Equal(t, want, [3]any{from, to, ok}, header)
	}
}
