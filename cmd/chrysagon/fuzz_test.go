package main

import (
	"encoding/json"
	"testing"
)

// Whatever comes in, a command answers with JSON, or refuses with code 2 and a
// reason: it never panics, and never answers in part.
func fuzz(f *testing.F, name string) {
	f.Helper()
	for _, seed := range []string{whole[name], "", "{}", "null", `{"currency":"EUR"}{}`, "\xff"} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, in string) {
		out, err := quietly(name, in)
		switch {
		case err == nil && !json.Valid([]byte(out)):
			t.Fatalf("it answered %q", out)
		case err != nil && (codeOf(err) != 2 || out != "" || err.Error() == ""):
			t.Fatalf("it ended with %d, %q and %q", codeOf(err), err, out)
		}
	})
}

func FuzzQuote(f *testing.F)    { fuzz(f, "quote") }
func FuzzDeadline(f *testing.F) { fuzz(f, "deadline") }
func FuzzShelf(f *testing.F)    { fuzz(f, "shelf") }
func FuzzLedger(f *testing.F)   { fuzz(f, "ledger") }
func FuzzSeason(f *testing.F)   { fuzz(f, "season") }
func FuzzRoute(f *testing.F)    { fuzz(f, "route") }
func FuzzRehearse(f *testing.F) { fuzz(f, "rehearse") }
func FuzzFollowup(f *testing.F) { fuzz(f, "followup") }
