package fork_test

import (
	"fmt"
	"strconv"
	"testing"

	"chrysagon/core/fork"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// 100,000 visitors over shares of 10, 5 and 1. The bound is the upper 0.1 per cent
// point of chi-square with two degrees of freedom, 13.816 (NIST/SEMATECH e-Handbook of
// Statistical Methods, 1.3.6.7.4).
func TestVisitorsComeByTheShares(t *testing.T) {
	list := []fork.Share{{To: "first gust", Share: 10}, {To: "ask the wind", Share: 5}, {To: "letter", Share: 1}}
	const visitors = 100_000
	for _, name := range []string{"bridges", "offers", "one more"} {
		got := map[string]int{}
		for i := range visitors {
			to, ok := fork.Pick(name, "visitor-"+strconv.Itoa(i), "", list)
			require.True(t, ok)
			got[to]++
		}
		chi := 0.0
		for _, s := range list {
			want := float64(visitors) * float64(s.Share) / 16
			off := float64(got[s.To]) - want
			chi += off * off / want
		}
		assert.Less(t, chi, 13.816, "%s: %v", name, got)
	}
}

// Two forks divide the same visitors without regard to each other: of those who go
// one way in one fork, both ways of the other get their share.
func TestForksAreIndependent(t *testing.T) {
	even := []fork.Share{{To: "a", Share: 1}, {To: "b", Share: 1}}
	both := map[string]int{}
	for i := range 40_000 {
		one, _ := fork.Pick("one", strconv.Itoa(i), "", even)
		other, _ := fork.Pick("other", strconv.Itoa(i), "", even)
		both[one+other]++
	}
	for _, way := range []string{"aa", "ab", "ba", "bb"} {
		assert.InDelta(t, 10_000, both[way], 400, way) // over four standard errors, √(40000·¼·¾) = 87
	}
}

// Who was assigned stays, whatever the shares become; who was not, is assigned by
// what holds now; and of those never assigned only the visitors of a target that is
// gone go elsewhere.
func TestWhoWasAssignedStays(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 6).Draw(t, "targets")
		var list []fork.Share
		for i := range n {
			list = append(list, fork.Share{To: fmt.Sprint("step-", i), Share: rapid.IntRange(0, 20).Draw(t, "share")})
		}
		visitor := rapid.String().Draw(t, "visitor")
		to, ok := fork.Pick("f", visitor, "", list)
		if fork.Check(list) != nil {
			assert.False(t, ok)
			return
		}
		require.True(t, ok)
		again, _ := fork.Pick("f", visitor, "", list)
		assert.Equal(t, to, again)

		changed := append([]fork.Share{}, list...)
		for i := range changed {
			changed[i].Share = rapid.IntRange(0, 20).Draw(t, "share then")
		}
		stays, _ := fork.Pick("f", visitor, to, changed)
		assert.Equal(t, to, stays)

		gone := rapid.IntRange(0, n-1).Draw(t, "gone")
		rest := append(append([]fork.Share{}, list[:gone]...), list[gone+1:]...)
		if anew, ok := fork.Pick("f", visitor, to, rest); ok && list[gone].To != to {
			assert.Equal(t, to, anew)
		}
		if anew, ok := fork.Pick("f", visitor, "", rest); ok && list[gone].To != to {
			assert.Equal(t, to, anew, "also without a memory")
		}
	})
}

func TestSharesAreChecked(t *testing.T) {
	require.NoError(t, fork.Check([]fork.Share{{To: "a", Share: 10}, {To: "b"}}))
	for says, list := range map[string][]fork.Share{
		"all shares are 0": {{To: "a"}}, "named twice": {{To: "a", Share: 1}, {To: "a", Share: 1}}, "must be from 0": {{To: "a", Share: -1}}, "[1].to": {{To: "a", Share: 1}, {Share: 1}},
		"at most 50": make([]fork.Share, 51),
	} {
		assert.ErrorContains(t, fork.Check(list), says)
	}
}

func ExamplePick() {
	bridges := []fork.Share{{To: "The first gust", Share: 10}, {To: "Ask the wind", Share: 5}}
	to, _ := fork.Pick("bridges", "visitor-1", "", bridges)
	fmt.Println(to)
	bridges[0].Share = 0 // from now on nobody new goes there
	to, _ = fork.Pick("bridges", "visitor-1", to, bridges)
	fmt.Println(to)
	// Output:
	// The first gust
	// The first gust
}
