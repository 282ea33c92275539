package results_test

import (
	"context"
	"fmt"
	"testing"
	"time"

	"chrysagon/app/results"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

// A view that cannot be kept is lost alone.
func TestABadViewCostsNoOther(t *testing.T) {
	shop := testkit.Open(t)
	var edition string
	require.NoError(t, shop.Store.DB.Raw("SELECT live_edition_id FROM campaigns WHERE id = ?", "frost-lanterns").Scan(&edition).Error)
	var step string
	require.NoError(t, shop.Store.DB.Raw("SELECT id FROM steps WHERE page_id = 'night-flight'").Scan(&step).Error)
	before := shop.Number("SELECT count(*) FROM events")
	run, end := context.WithCancel(ctx)
	tick, done := make(chan time.Time), make(chan struct{})
	v := shop.App.Results.NewViews(tick)
	for i := range 100 {
		v.Note(results.Viewed{Visitor: fmt.Sprintf("visitor-%d", i), StepID: step, EditionID: edition})
		if i%30 == 0 {
			v.Note(results.Viewed{Visitor: fmt.Sprintf("bad\x00%d", i), StepID: step, EditionID: edition})
		}
	}
	go func() { defer close(done); v.Run(run) }()
	end()
	<-done
	assert.Equal(t, int64(100), shop.Number("SELECT count(*) FROM events")-before)
}
