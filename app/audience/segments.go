package audience

import (
	"context"
	"encoding/json"
	"fmt"

	"chrysagon/app/followups"
	"chrysagon/core/money"
	"chrysagon/core/refusal"
	"chrysagon/core/segment"
	"chrysagon/core/words"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Segment is people picked by a sentence.
type Segment struct {
	ID, Name, Says string
	Rule           segment.Rule
	Count          int
}

// Choosable is what the conditions of a sentence choose from, by what they look at.
type Choosable map[segment.Deed][]struct{ ID, Name string }

// chosenFrom is how many of a kind can be chosen from.
const chosenFrom = 200

// Choosable lists it.
func (a *Audience) Choosable(ctx context.Context) (Choosable, error) {
	out := Choosable{}
	for _, list := range []struct {
		of  []segment.Deed
		sql string
	}{
		{[]segment.Deed{segment.OnList}, "SELECT id, name FROM lists ORDER BY name LIMIT ?"},
		{[]segment.Deed{segment.Bought}, "SELECT v.id, " + store.GoodsName + " AS name " + store.GoodsFrom + " ORDER BY 2, 1 LIMIT ?"},
		{[]segment.Deed{segment.Clicked, segment.Sent}, "SELECT id, name FROM pages WHERE purpose = 'letter' ORDER BY name LIMIT ?"},
		{[]segment.Deed{segment.CameBy}, "SELECT DISTINCT source AS id, source AS name FROM members WHERE source <> '' ORDER BY 1 LIMIT ?"},
	} {
		var rows []struct{ ID, Name string }
		if err := a.Store.On(ctx).Raw(list.sql, chosenFrom).Scan(&rows).Error; err != nil {
			return nil, fmt.Errorf("read what a sentence chooses from: %w", err)
		}
		for _, did := range list.of {
			out[did] = rows
		}
	}
	return out, nil
}

// Name is what something is called that a condition names.
func (c Choosable) Name(did segment.Deed, id string) string {
	for _, one := range c[did] {
		if one.ID == id {
			return one.Name
		}
	}
	return "something that is gone"
}

// Say writes a rule as a sentence.
func (c Choosable) Say(r segment.Rule, currency string) string {
	return r.Say(c.Name, func(minor int64) string { return money.Of(minor, currency).String() })
}

// Picks is the condition of a rule on contacts c.
func (a *Audience) Picks(db *gorm.DB, r segment.Rule) (string, []any, error) {
	at, err := followups.ShopZone(db)
	if err != nil {
		return "", nil, err
	}
	sql, args := store.BuildSegment(r, a.Store.Now(), followups.Zone(at))
	return sql, args, nil
}

// Segments lists those that are kept, by name, each with how many it picks now.
func (a *Audience) Segments(ctx context.Context) ([]Segment, error) {
	var rows []store.Segment
	db := a.Store.On(ctx)
	if err := db.Order("name").Find(&rows).Error; err != nil {
		return nil, fmt.Errorf("read the segments: %w", err)
	}
	if len(rows) == 0 {
		return nil, nil
	}
	names, err := a.Choosable(ctx)
	if err != nil {
		return nil, err
	}
	shop, err := a.Store.Shop(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]Segment, len(rows))
	for i, r := range rows {
		out[i] = Segment{ID: r.ID, Name: r.Name}
		if err := json.Unmarshal(r.Rule, &out[i].Rule); err != nil {
			return nil, fmt.Errorf("read the segment %q: %w", r.Name, err)
		}
		out[i].Says = names.Say(out[i].Rule, shop.Currency)
		where, args := store.BuildSegment(out[i].Rule, a.Store.Now(), followups.Zone(shop.Zone))
		if err := db.Raw("SELECT count(*) FROM (SELECT FROM contacts c WHERE "+where+" LIMIT ?) found", append(args, CountedTo+1)...).Scan(&out[i].Count).Error; err != nil {
			return nil, fmt.Errorf("count a segment: %w", err)
		}
	}
	return out, nil
}

// SaveSegment keeps a sentence under a name; one of that name is written anew.
func (a *Audience) SaveSegment(ctx context.Context, name string, r segment.Rule) (string, error) {
	if name = words.Tidy(name); name == "" || len([]rune(name)) > 80 {
		return "", refusal.Of(refusal.ErrInvalid, "Give these people a name of at most 80 characters.")
	}
	for _, fault := range r.Faults() {
		return "", refusal.Of(refusal.ErrInvalid, "%s", fault)
	}
	raw, err := json.Marshal(r)
	if err != nil {
		return "", fmt.Errorf("write a segment: %w", err)
	}
	var id string
	err = a.Store.On(ctx).Raw("INSERT INTO segments (id, name, rule, created_at) VALUES (?, ?, ?, ?) ON CONFLICT (name) DO UPDATE SET rule = EXCLUDED.rule RETURNING id", store.NewID(), name, string(raw), a.Store.Now()).Scan(&id).Error
	if err != nil {
		return "", fmt.Errorf("keep a segment: %w", err)
	}
	return id, nil
}

// RemoveSegment lets a sentence go; nobody it picks is touched.
func (a *Audience) RemoveSegment(ctx context.Context, id string) error {
	return a.Store.On(ctx).Delete(&store.Segment{}, "id = ?", id).Error
}
