package testkit

import (
	"context"
	"fmt"
	"os"
	"testing"
)

// Story runs a whole story on a program of its own, for Examples, which have no
// test to report to: what goes wrong ends the program that runs them.
func Story(tell func(ctx context.Context, shop *Shop)) {
	if os.Getenv("TEST_DATABASE_URL") == "" {
		panic("TEST_DATABASE_URL is not set: run “make test”, or “bin/chrysagon with-cluster -- go test ./…”")
	}
	teller := &teller{}
	defer teller.end()
	tell(context.Background(), Open(teller))
}

// teller is a test as far as the testkit needs one.
type teller struct {
	testing.TB // the rest, which is not called
	after      []func()
}

func (*teller) Helper()                           {}
func (*teller) Name() string                      { return "story" }
func (*teller) Context() context.Context          { return context.Background() }
func (*teller) Log(args ...any)                   { fmt.Fprintln(os.Stderr, args...) }
func (*teller) Logf(format string, args ...any)   { fmt.Fprintf(os.Stderr, format+"\n", args...) }
func (*teller) Fatal(args ...any)                 { panic(fmt.Sprint(args...)) }
func (*teller) Fatalf(format string, args ...any) { panic(fmt.Sprintf(format, args...)) }
func (*teller) Errorf(format string, args ...any) { panic(fmt.Sprintf(format, args...)) }
func (*teller) FailNow()                          { panic("the story cannot go on") }
func (t *teller) Cleanup(f func())                { t.after = append(t.after, f) }

func (t *teller) end() {
	for i := len(t.after) - 1; i >= 0; i-- {
		t.after[i]()
	}
}
