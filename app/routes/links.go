package routes

import (
	"context"
	"fmt"
	"net/url"
	"strings"

	"chrysagon/app/pages"
	"chrysagon/core/publish"
	"chrysagon/core/refusal"
	"chrysagon/core/source"
	"chrysagon/core/words"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Link is a tracked link with what it leads to.
type Link struct {
	store.Link
	To       string // name of the step, or of the step whose fork it leads into
	Forks    bool
	Visitors int64 // different ones who pressed it
	Path     string
}

func (k *Keeper) links(ctx context.Context, campaignID string) ([]Link, error) {
	var list []Link
	err := k.Store.On(ctx).Raw(`SELECT l.*, coalesce(p.name, s.name, '') AS "to", l.route_id IS NOT NULL AS forks, (SELECT count(*) FROM link_clicks c WHERE c.link_id = l.id) AS visitors
		FROM links l LEFT JOIN routes r ON r.id = l.route_id JOIN steps s ON s.id = coalesce(l.step_id, r.from_step) LEFT JOIN pages p ON p.id = s.page_id
		WHERE l.campaign_id = ? ORDER BY l.created_at, l.name LIMIT 500`, campaignID).Scan(&list).Error
	if err != nil {
		return nil, fmt.Errorf("read the links: %w", err)
	}
	for i := range list {
		list[i].Path = LinkPath(list[i].Slug)
	}
	return list, nil
}

// Link reads one tracked link of a campaign.
func (k *Keeper) Link(ctx context.Context, campaignID, id string) (store.Link, error) {
	return store.One[store.Link](k.Store.On(ctx).Scopes(store.OfCampaign(campaignID)).Where("id = ?", id), "There is no such link.")
}

// LinkPath is where a tracked link is found in the shop.
func LinkPath(slug string) string { return "/to/" + slug }

// ClicksN and VisitorsN are for views, which count things.
func (l Link) ClicksN() int { return int(l.Clicks) }

// VisitorsN is how many different visitors pressed it.
func (l Link) VisitorsN() int { return int(l.Visitors) }

// NewLink is a link as it is asked for.
type NewLink struct {
	CampaignID, Name, Source, Medium, Campaign string
	StepID, RouteID                            string // one of them
}

// AddLink makes a tracked link by its name. What is not said is filled in: the source
// is the name, the campaign the campaign's.
func (k *Keeper) AddLink(ctx context.Context, in NewLink) (store.Link, error) {
	row := store.Link{
		ID: store.NewID(), CampaignID: in.CampaignID, Name: words.Cut(source.Clean(in.Name), 120), Source: source.Clean(in.Source), Medium: source.Clean(in.Medium),
		ByCampaign: source.Clean(in.Campaign), CreatedAt: k.Store.Now(),
	}
	if row.Name == "" {
		return row, refusal.Of(refusal.ErrInvalid, "Name the link by where it will stand, such as “Posters at the harbour”.")
	}
	if row.Source == "" {
		row.Source = source.Clean(row.Name)
	}
	err := k.Store.In(ctx, func(tx *gorm.DB) error {
		if row.ByCampaign == "" {
			if err := tx.Raw("SELECT name FROM campaigns WHERE id = ?", in.CampaignID).Scan(&row.ByCampaign).Error; err != nil {
				return err
			}
			row.ByCampaign = pages.Address(row.ByCampaign)
		}
		var there bool
		switch {
		case in.RouteID != "":
			row.RouteID = &in.RouteID
			err := tx.Raw("SELECT EXISTS (SELECT FROM routes r JOIN steps s ON s.id = r.from_step WHERE r.id = ? AND s.campaign_id = ?)", in.RouteID, in.CampaignID).Scan(&there).Error
			if err != nil {
				return err
			}
		default:
			row.StepID = &in.StepID
			// A page for who has paid is nobody's to be led to.
			err := tx.Raw("SELECT EXISTS (SELECT FROM steps WHERE id = ? AND campaign_id = ? AND kind NOT IN ('upsell', 'downsell', 'thank_you', 'end'))", in.StepID, in.CampaignID).Scan(&there).Error
			if err != nil {
				return err
			}
		}
		if !there {
			return refusal.Of(refusal.ErrInvalid, "Choose where the link leads: a step that anybody may see, or a fork.")
		}
		base := pages.Address(row.Name)
		if base == "" {
			base = "link"
		}
		for n := 1; n < 1000; n++ {
			row.Slug = base
			if n > 1 {
				row.Slug = fmt.Sprintf("%.*s-%d", publish.MaxAddress-5, base, n)
			}
			var taken bool
			if err := tx.Raw("SELECT EXISTS (SELECT FROM links WHERE slug = ?)", row.Slug).Scan(&taken).Error; err != nil {
				return err
			}
			if !taken {
				return tx.Create(&row).Error
			}
		}
		return refusal.Of(refusal.ErrConflict, "There are too many links of that name; name it otherwise.")
	})
	return row, err
}

// DropLink takes a link away; its address leads nowhere then.
func (k *Keeper) DropLink(ctx context.Context, campaignID, id string) error {
	return k.Store.On(ctx).Scopes(store.OfCampaign(campaignID)).Where("id = ?", id).Delete(&store.Link{}).Error
}

// Address is the whole address of a link.
func (l Link) Address(shop string) string { return shop + l.Path }

// Tagged is an address with a link's parameters.
func Tagged(address string, l store.Link) string {
	q := url.Values{}
	for name, value := range map[string]string{"utm_source": l.Source, "utm_medium": l.Medium, "utm_campaign": l.ByCampaign} {
		if value != "" {
			q.Set(name, value)
		}
	}
	if strings.Contains(address, "?") {
		return address + "&" + q.Encode()
	}
	return address + "?" + q.Encode()
}
