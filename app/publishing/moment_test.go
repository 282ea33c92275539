package publishing_test

import (
	"context"
	"encoding/json"
	"fmt"
	"sync"
	"testing"

	"chrysagon/app/pages"
	"chrysagon/app/publishing"
	"chrysagon/core/refusal"
	"chrysagon/internal/testkit"
	"chrysagon/store"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// pages of that edition, all of which were checked.
var ctx = context.Background()

func TestAnEditionIsReadAtOneMoment(t *testing.T) {
	shop := testkit.Open(t)
	var wait sync.WaitGroup
	for i := range 12 {
		wait.Go(func() {
			_, _, err := shop.App.Pages.AddPage(ctx, pages.NewPage{CampaignID: season, Purpose: "upsell", Name: fmt.Sprintf("Another bag %d", i), Layout: "bare", Template: "one-click-upsell"})
			assert.NoError(t, err)
		})
		wait.Go(func() {
			_, err := shop.App.Publishing.Publish(ctx, season, "Marta")
			if err != nil {
				assert.ErrorIs(t, err, refusal.ErrInvalid)
			}
		})
	}
	wait.Wait()
	var rows []store.Edition
	require.NoError(t, shop.Store.DB.Find(&rows).Error)
	for _, row := range rows {
		var e publishing.Edition
		require.NoError(t, json.Unmarshal(row.Content, &e))
		for _, step := range e.Funnel.Steps {
			_, known := e.Page(step.PageID)
			assert.True(t, known, "edition %d has a step whose page it does not have", row.Number)
		}
	}
}
