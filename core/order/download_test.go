package order_test

import (
	"testing"
	"time"

	"chrysagon/core/order"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestADownloadIsCountedAndEnds(t *testing.T) {
	end := time.Date(2026, 12, 28, 0, 0, 0, 0, time.UTC)
	d := order.Download{Taken: 4, Most: 5, Until: end}
	assert.Empty(t, d.Over(end.Add(-time.Second)))
	assert.Equal(t, "Its time is over", d.Over(end))
	d.Taken++
	assert.Contains(t, d.Over(end.Add(-time.Hour)), "taken 5 times")
	assert.Zero(t, d.Left())
}

// A sign is of one download, one round and one store, and of nothing else.
func TestASignIsOfOneThing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		draw := func(name string) (order.Download, []byte) {
			id := rapid.StringMatching(`[a-z0-9-]{1,4}`)
			return order.Download{OrderID: id.Draw(t, name+" order"), VariantID: id.Draw(t, name+" goods"), Round: rapid.IntRange(1, 3).Draw(t, name+" round")}, []byte(rapid.StringMatching(`[a-c]{1,2}`).Draw(t, name+" key"))
		}
		a, key := draw("a")
		b, other := draw("b")
		if same := a == b && string(key) == string(other); b.Signed(other, a.Sign(key)) != same {
			t.Fatalf("%v by %q and %v by %q", a, key, b, other)
		}
		if a.Signed(key, "") || a.Signed(key, a.Sign(key)[1:]) {
			t.Fatal("half a sign passes")
		}
	})
}
