package publishing

import (
	"context"
	"errors"
	"fmt"
	"time"

	"chrysagon/core/publish"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Planned is something that will happen to a campaign, or could not.
type Planned struct {
	ID        string
	At        time.Time
	Number    int    // of the edition that goes live; 0: the pages are taken down
	Successor string // name of the page to which they lead then
	Refused   string
}

// PlanEdition makes an edition of the draft as it is now, to be live from one
// moment until another. successorID is the page to which its addresses lead
// once it is taken down; "" leads nowhere.
func (publisher *Publisher) PlanEdition(ctx context.Context, campaignID, by string, p publish.Plan, successorID string) (int, error) {
	before, err := publisher.LiveOf(ctx, campaignID)
	if err != nil {
		return 0, err
	}
	if why := p.Fault(publisher.Store.Now(), before != nil); why != "" {
		return 0, refusal.Of(refusal.ErrInvalid, "%s", why)
	}
	number := 0
	err = publisher.compile(ctx, campaignID, by, p.From, func(tx *gorm.DB, row store.Edition, pages []EditionPage) error {
		number = row.Number
		var err error
		if p.From.IsZero() {
			err = goLive(tx, campaignID, row.ID, pages, row.PublishedAt)
		} else {
			err = tx.Create(&store.Planned{ID: store.NewID(), CampaignID: campaignID, At: p.From, EditionID: &row.ID, PlannedBy: by}).Error
		}
		if err != nil || p.Until.IsZero() {
			return err
		}
		end := store.Planned{ID: store.NewID(), CampaignID: campaignID, At: p.Until, PlannedBy: by}
		switch {
		case p.Back:
			end.EditionID = &before.ID
		case successorID != "":
			end.SuccessorID = &successorID
		}
		return tx.Create(&end).Error
	})
	return number, err
}

// Withdraw takes a campaign's pages down now. Their addresses lead to the
// successor from then on, where one is named.
func (publisher *Publisher) Withdraw(ctx context.Context, campaignID, successorID string) error {
	err := publisher.Store.In(ctx, func(tx *gorm.DB) error {
		if successorID != "" {
			p, err := store.One[store.Page](tx.Where("id = ?", successorID), "There is no such page to lead to.")
			if err != nil {
				return err
			}
			if p.CampaignID == campaignID {
				return refusal.Of(refusal.ErrInvalid, "“%s” is taken down too. Choose a page of another campaign to lead to.", p.Name)
			}
		}
		return takeDown(tx, campaignID, successorID, publisher.Store.Now())
	})
	publisher.News.FactsChanged()
	return err
}

func takeDown(tx *gorm.DB, campaignID, successorID string, at time.Time) error {
	if err := tx.Exec("UPDATE campaigns SET live_edition_id = NULL WHERE id = ?", campaignID).Error; err != nil {
		return err
	}
	if successorID != "" {
		var former []store.FormerAddress
		err := tx.Raw("SELECT address, ? AS page_id, ?::timestamptz AS left_at FROM live_pages WHERE campaign_id = ?", successorID, at, campaignID).Scan(&former).Error
		if err != nil {
			return fmt.Errorf("look for what is live: %w", err)
		}
		if err := leadFrom(tx, former...); err != nil {
			return err
		}
	}
	return tx.Scopes(store.OfCampaign(campaignID)).Delete(&store.LivePage{}).Error
}

// Unplan forgets something that was planned and has not happened.
func (publisher *Publisher) Unplan(ctx context.Context, campaignID, id string) error {
	return publisher.Store.On(ctx).Scopes(store.OfCampaign(campaignID)).Where("id = ? AND (done_at IS NULL OR refused <> '')", id).Delete(&store.Planned{}).Error
}

// Planned lists what will happen to a campaign and what could not, the next first.
func (publisher *Publisher) Planned(ctx context.Context, campaignID string) ([]Planned, error) {
	var list []Planned
	return list, store.Together(publisher.Store.On(ctx), plannedOf(campaignID, &list))
}

func plannedOf(campaignID string, into *[]Planned) store.Part {
	return store.Part{SQL: `SELECT w.id, w.at, coalesce(e.number, 0) AS number, coalesce(p.name, '') AS successor, w.refused
		FROM planned w LEFT JOIN editions e ON e.id = w.edition_id LEFT JOIN pages p ON p.id = w.successor_id
		WHERE w.campaign_id = ? AND (w.done_at IS NULL OR w.refused <> '') ORDER BY w.at`, Args: []any{campaignID}, Into: into}
}

// nextPlanned is the next moment at which anything that was planned happens;
// zero when nothing is.
func (publisher *Publisher) nextPlanned(ctx context.Context) (time.Time, error) {
	var next []time.Time
	err := publisher.Store.On(ctx).Raw("SELECT at FROM planned WHERE done_at IS NULL ORDER BY at LIMIT 1").Scan(&next).Error
	if err != nil || len(next) == 0 {
		return time.Time{}, err
	}
	return next[0].UTC(), nil
}

// Due carries out what was planned for a moment that has come. Whoever asks
// for a page first does so, so that it happens in that very second and needs
// no clock of its own. next is the moment of what is planned after that; zero
// when nothing is. Pages are kept for visitors no longer than until then.
func (publisher *Publisher) Due(ctx context.Context) (next time.Time, err error) {
	next, err = publisher.nextPlanned(ctx)
	for ; err == nil && !next.IsZero() && !next.After(publisher.Store.Now()); next, err = publisher.nextPlanned(ctx) {
		if err := publisher.carryOut(ctx); err != nil {
			return next, err
		}
	}
	return next, err
}

// carryOut does the one thing that has been due for longest.
func (publisher *Publisher) carryOut(ctx context.Context) error {
	var row store.Planned
	err := publisher.Store.In(ctx, func(tx *gorm.DB) error {
		row = store.Planned{}
		if err := tx.Raw("SELECT * FROM planned WHERE done_at IS NULL AND at <= ? ORDER BY at, id LIMIT 1 FOR UPDATE", publisher.Store.Now()).Scan(&row).Error; err != nil || row.ID == "" {
			return err
		}
		if err := publisher.happen(ctx, tx, row); err != nil {
			return err
		}
		return tx.Model(&store.Planned{}).Where("id = ?", row.ID).Update("done_at", publisher.Store.Now()).Error
	})
	var refusal refusal.Refusal
	if errors.As(err, &refusal) { // an address that another campaign has taken meanwhile
		err = publisher.Store.On(ctx).Model(&store.Planned{}).Where("id = ?", row.ID).Updates(map[string]any{"done_at": publisher.Store.Now(), "refused": refusal.Say}).Error
	}
	publisher.News.FactsChanged()
	return err
}

func (publisher *Publisher) happen(ctx context.Context, tx *gorm.DB, row store.Planned) error {
	if row.EditionID == nil {
		successor := ""
		if row.SuccessorID != nil {
			successor = *row.SuccessorID
		}
		return takeDown(tx, row.CampaignID, successor, row.At)
	}
	e, err := publisher.Edition(ctx, *row.EditionID)
	if err != nil {
		return err
	}
	return goLive(tx, row.CampaignID, e.ID, e.Pages, row.At)
}

// OpenOn makes a page the one on which the shop opens; "" leaves it to the
// campaign that went live last.
func (publisher *Publisher) OpenOn(ctx context.Context, pageID string) error {
	var id *string
	if pageID != "" {
		id = &pageID
		if _, err := store.One[store.Page](publisher.Store.On(ctx).Scopes(store.Shown).Where("id = ?", pageID), "There is no such page."); err != nil {
			return err
		}
	}
	err := publisher.Store.On(ctx).Exec("UPDATE store SET home_page_id = ?", id).Error
	publisher.News.FactsChanged()
	return err
}
