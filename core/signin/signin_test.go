package signin_test

import (
	"strings"
	"testing"
	"time"

	"chrysagon/core/signin"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestWaitsGrowAndEnd(t *testing.T) {
	for failures, want := range []time.Duration{0, 0, 0, 0, 0, 2 * time.Second, 4 * time.Second, 8 * time.Second, 16 * time.Second} {
		assert.Equal(t, want, signin.Wait(failures), failures)
	}
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(0, 1_000_000).Draw(t, "failures")
		assert.LessOrEqual(t, signin.Wait(n), signin.Wait(n+1))
		assert.LessOrEqual(t, signin.Wait(n), signin.Longest)
		now := time.Unix(rapid.Int64Range(1, 1<<31).Draw(t, "now"), 0)
		assert.Zero(t, signin.Left(n, now.Add(-signin.Longest), now))
		assert.Equal(t, signin.Wait(n), signin.Left(n, now, now))
	})
}

// NIST SP 800-63B, 5.2.2, allows no more than 100 failures in a row; with these
// waits an account takes fewer than 110 in its first day, and 96 in each after.
func TestADayOfGuessing(t *testing.T) {
	tries, spent := 0, time.Duration(0)
	for spent < 24*time.Hour {
		spent += signin.Wait(tries)
		tries++
	}
	assert.Less(t, tries, 110)
}

func TestPasswords(t *testing.T) {
	for _, bad := range []string{"", "kite", "password1234", "qwertyuiop123", "123456789012", "aaaaaaaaaaaaaaaa", "gustwell2026", strings.Repeat("long kite ", 40), "\xff\xff\xff\xff\xff\xff\xff\xff\xff\xff\xff\xff"} {
		assert.NotEmpty(t, signin.Fault(bad, "Gustwell Kiteworks", "owner@gustwell.example"), bad)
	}
	for _, good := range []string{"lantern-kite-demo", "four words over dunes", "ветер над дюнами осенью", "zK4!vq8Lw02p"} {
		assert.Empty(t, signin.Fault(good, "Gustwell Kiteworks"), good)
	}
}

func TestWaitsAreTold(t *testing.T) {
	assert.Equal(t, "Too many tries. Wait 2 seconds, then try again.", signin.Say(2*time.Second))
	assert.Equal(t, "Too many tries. Wait 15 minutes, then try again.", signin.Say(14*time.Minute+30*time.Second))
}
