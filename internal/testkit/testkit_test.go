package testkit_test

import (
	"testing"
	"time"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
)

// Each test has a database and a clock of its own.
func TestTestsDoNotMeet(t *testing.T) {
	one, other := testkit.Use(t), testkit.Use(t)
	one.Exec("DELETE FROM offers")
	one.Clock.Advance(time.Hour)
	assert.Zero(t, one.Number("SELECT count(*) FROM offers"))
	assert.Positive(t, other.Number("SELECT count(*) FROM offers"))
	assert.Equal(t, testkit.Start, other.Store.Now())
	assert.Equal(t, "a b c", testkit.Page{Body: " a\n  b\t c "}.Words())
}
