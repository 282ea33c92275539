package main

import (
	"bytes"
	"encoding/json"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func run(t *testing.T, name, in string) (string, error) {
	t.Helper()
	r := root()
	var out bytes.Buffer
	r.SetArgs([]string{name})
	r.SetIn(strings.NewReader(in))
	r.SetOut(&out)
	err := r.Execute()
	return out.String(), err
}

var example = regexp.MustCompile(`(?s)<<'END'\n(.*)\n  END`)

// The example that --help shows must work as it stands.
func TestTheExamplesInHelpWork(t *testing.T) {
	for name, want := range map[string]string{"quote": `"minor": 5100`, "deadline": `"written": "Friday 27 November 2026, 23:59"`} {
		cmd, _, err := root().Find([]string{name})
		require.NoError(t, err)
		found := example.FindStringSubmatch(cmd.Long)
		require.Len(t, found, 2, "%s --help shows an example", name)
		out, err := run(t, name, found[1])
		require.NoError(t, err)
		assert.Contains(t, out, want)
		assert.True(t, json.Valid([]byte(out)))
	}
}

func TestBadInputEndsWithTwoAndItsPlace(t *testing.T) {
	for _, c := range []struct{ command, in, place string }{
		{"quote", ``, "standard input: it is empty"},
		{"quote", `{`, "standard input"},
		{"quote", `{"currency":"EUR","surprise":1}`, "surprise"},
		{"quote", `{"currency":5}`, "currency: a number cannot stand here"},
		{"quote", `{"currency":"EUR","moment":"2026-11-23T12:00:00Z","cart":[{"product_id":"x","quantity":1}]}`, "cart[0].product_id"},
		{"quote", `{} {}`, "something follows"},
		{"deadline", `{"local":"2026-11-27T23:59","zone":"Lisbon","moment":"2026-11-23T12:00:00Z"}`, "not a time zone"},
		{"deadline", `{"local":"tomorrow","zone":"UTC","moment":"2026-11-23T12:00:00Z"}`, "not a date and time"},
		{"deadline", `{"local":"2026-11-27T23:59","zone":"UTC"}`, "moment: missing"},
	} {
		_, err := run(t, c.command, c.in)
		require.ErrorContains(t, err, c.place)
		assert.Equal(t, 2, exitCode(err))
	}
}
