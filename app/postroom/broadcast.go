package postroom

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"chrysagon/app/audience"
	"chrysagon/app/followups"
	"chrysagon/app/mail"
	"chrysagon/core/refusal"
	"chrysagon/core/segment"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Broadcast is one letter to many at once, with what is told of it.
type Broadcast struct {
	store.Broadcast
	Letter, List, Segment string // by their names
	Live                  bool   // its letter is published
	Waits, Sent, Dropped  int
	Clicked, Orders       int
	Minor                 int64 // what those orders came to, less what went back
}

// The states of a broadcast.
const (
	Draft   = "draft"
	Planned = "planned"
	Going   = "going"
	Stopped = "stopped"
)

const noBroadcast = "There is no such broadcast."

const broadcastsSQL = `SELECT b.*, p.name AS letter, l.name AS list, coalesce(s.name, '') AS segment, live.id IS NOT NULL AS live,
		coalesce(t.waits, 0) AS waits, coalesce(t.sent, 0) AS sent, coalesce(t.dropped, 0) AS dropped, coalesce(t.clicked, 0) AS clicked, coalesce(o.orders, 0) AS orders, coalesce(o.minor, 0) AS minor
	FROM broadcasts b JOIN pages p ON p.id = b.letter_id JOIN lists l ON l.id = b.list_id LEFT JOIN segments s ON s.id = b.segment_id JOIN campaigns c ON c.id = b.campaign_id
	` + followups.Published + `
	LEFT JOIN LATERAL (SELECT count(*) FILTER (WHERE sent_at IS NULL AND dropped = '') AS waits, count(sent_at) AS sent, count(*) FILTER (WHERE dropped <> '') AS dropped, count(clicked_at) AS clicked
		FROM postings WHERE broadcast_id = b.id) t ON true
	LEFT JOIN LATERAL (SELECT count(*) AS orders, sum(r.total_minor - r.refunded_minor) AS minor FROM orders r JOIN postings q ON q.id = r.posting_id WHERE q.broadcast_id = b.id AND r.state = 'paid') o ON true
	WHERE b.campaign_id = ?`

// Broadcasts lists those of a campaign, the latest first.
func (r *Room) Broadcasts(ctx context.Context, campaignID string) ([]Broadcast, error) {
	var out []Broadcast
	if err := r.Store.On(ctx).Raw(broadcastsSQL+" ORDER BY b.created_at DESC, b.id", campaignID).Scan(&out).Error; err != nil {
		return nil, fmt.Errorf("read the broadcasts: %w", err)
	}
	return out, nil
}

// OneBroadcast reads one of a campaign.
func (r *Room) OneBroadcast(ctx context.Context, campaignID, id string) (Broadcast, error) {
	var out []Broadcast
	if err := r.Store.On(ctx).Raw(broadcastsSQL+" AND b.id = ?", campaignID, id).Scan(&out).Error; err != nil {
		return Broadcast{}, fmt.Errorf("read a broadcast: %w", err)
	}
	if len(out) == 0 {
		return Broadcast{}, refusal.Of(refusal.ErrNotFound, noBroadcast)
	}
	return out[0], nil
}

// SaveBroadcast keeps one that has not gone yet; a new one where it has no ID.
func (r *Room) SaveBroadcast(ctx context.Context, b store.Broadcast) (string, error) {
	if b.Pace < 1 || b.Pace > 100 {
		return "", refusal.Of(refusal.ErrInvalid, "Send from 1 to 100 letters a second.")
	}
	letters, err := r.Followups.Letters(ctx, b.CampaignID)
	if err != nil {
		return "", err
	}
	if _, known := letters[b.LetterID]; !known {
		return "", refusal.Of(refusal.ErrInvalid, "Choose the letter.")
	}
	if _, err := r.Audience.List(ctx, b.ListID); err != nil {
		return "", refusal.Of(refusal.ErrInvalid, "Choose the list of those who agreed to such letters.")
	}
	b.Rule = store.JSON("{}")
	if b.SegmentID != nil {
		kept, err := store.One[store.Segment](r.Store.On(ctx).Where("id = ?", *b.SegmentID), "These people are gone; choose others.")
		if err != nil {
			return "", err
		}
		b.Rule = kept.Rule
	}
	if b.ID == "" {
		b.ID, b.State, b.CreatedAt = store.NewID(), Draft, r.Store.Now()
		return b.ID, r.Store.On(ctx).Create(&b).Error
	}
	done := r.Store.On(ctx).Model(&store.Broadcast{}).Where("id = ? AND campaign_id = ? AND state = ?", b.ID, b.CampaignID, Draft).
		Select("letter_id", "list_id", "segment_id", "rule", "at", "pace").Updates(&b)
	if done.Error == nil && done.RowsAffected == 0 {
		return "", refusal.Of(refusal.ErrConflict, "It has been sent off; stop it, or make another.")
	}
	return b.ID, done.Error
}

// picked is the rule of a broadcast: who is on its list, and whom its sentence picks.
func picked(b store.Broadcast) (segment.Rule, error) {
	var r segment.Rule
	if err := json.Unmarshal(b.Rule, &r); err != nil {
		return r, fmt.Errorf("read whom a broadcast is for: %w", err)
	}
	r.All = append([]segment.Clause{{Did: segment.OnList, Of: b.ListID}}, r.All...)
	return r, nil
}

// Reach is whom a broadcast would reach now: how many, and the first of them.
func (r *Room) Reach(ctx context.Context, b store.Broadcast, most int) (int, []audience.Person, error) {
	rule, err := picked(b)
	if err != nil {
		return 0, nil, err
	}
	people, count, err := r.Audience.People(ctx, "", rule)
	if err == nil && count > audience.CountedTo {
		count, err = r.Audience.Count(ctx, "", rule)
	}
	return count, people[:min(most, len(people))], err
}

// Takes is how long so many letters take at a pace.
func Takes(count, pace int) time.Duration {
	return time.Duration(count) * time.Second / time.Duration(max(pace, 1))
}

// SendOff lets a broadcast go: at its moment, or now where that is past. Its letter must be
// published: what cannot be sent would be promised.
func (r *Room) SendOff(ctx context.Context, campaignID, id string) error {
	b, err := r.OneBroadcast(ctx, campaignID, id)
	if err != nil {
		return err
	}
	if !b.Live {
		return refusal.Of(refusal.ErrConflict, "“%s” is not published yet. Publish the season with it first.", b.Letter)
	}
	now := r.Store.Now()
	return r.Store.In(ctx, func(tx *gorm.DB) error {
		done := tx.Exec("UPDATE broadcasts SET state = 'planned', at = greatest(coalesce(at, ?::timestamptz), ?::timestamptz) WHERE id = ? AND state = 'draft'", now, now, id)
		if done.Error != nil || done.RowsAffected == 0 {
			return done.Error // pressed twice
		}
		return r.Queue.Put(tx, mail.SendPost{})
	})
}

// open begins the broadcasts whose moment has come: it writes down one letter for each who
// is picked then, one after another at its pace.
func (r *Room) open(ctx context.Context) error {
	return r.Store.In(ctx, func(tx *gorm.DB) error {
		var due []store.Broadcast
		if err := tx.Raw("SELECT * FROM broadcasts WHERE state = 'planned' AND at <= ? ORDER BY at, id FOR UPDATE SKIP LOCKED", r.Store.Now()).Scan(&due).Error; err != nil {
			return fmt.Errorf("look for broadcasts that are due: %w", err)
		}
		for _, b := range due {
			rule, err := picked(b)
			if err != nil {
				return err
			}
			where, args, err := r.Audience.Picks(tx, rule)
			if err != nil {
				return err
			}
			values := append([]any{b.ListID, b.LetterID, b.ID, b.At, b.Pace}, args...)
			err = tx.Exec(`INSERT INTO postings (id, contact_id, kind, list_id, letter_id, broadcast_id, due_at)
				SELECT substr(md5(random()::text || c.id || clock_timestamp()::text), 1, 26), c.id, 'letter', ?, ?, ?, ?::timestamptz + (row_number() OVER (ORDER BY c.first_at, c.id) - 1) * interval '1 second' / ?
				FROM contacts c WHERE `+where+" ON CONFLICT DO NOTHING", values...).Error
			if err != nil {
				return fmt.Errorf("write down whom a broadcast goes to: %w", err)
			}
			if err := tx.Exec("UPDATE broadcasts SET state = 'going' WHERE id = ?", b.ID).Error; err != nil {
				return err
			}
		}
		return nil
	})
}

// Stop holds a broadcast: nothing more of it goes but what is on its way.
func (r *Room) Stop(ctx context.Context, campaignID, id string) error {
	return r.Store.In(ctx, func(tx *gorm.DB) error {
		done := tx.Exec("UPDATE broadcasts SET state = CASE state WHEN 'planned' THEN 'draft' ELSE 'stopped' END WHERE id = ? AND campaign_id = ? AND state IN ('planned', 'going')", id, campaignID)
		if done.Error != nil || done.RowsAffected == 0 {
			return done.Error
		}
		return tx.Exec("UPDATE postings SET due_at = 'infinity' WHERE broadcast_id = ? AND sent_at IS NULL AND dropped = ''", id).Error
	})
}

// GoOn takes a broadcast up again where it was stopped, at its pace.
func (r *Room) GoOn(ctx context.Context, campaignID, id string) error {
	now := r.Store.Now()
	return r.Store.In(ctx, func(tx *gorm.DB) error {
		done := tx.Exec("UPDATE broadcasts SET state = 'going' WHERE id = ? AND campaign_id = ? AND state = 'stopped'", id, campaignID)
		if done.Error != nil || done.RowsAffected == 0 {
			return done.Error
		}
		err := tx.Exec(`UPDATE postings p SET due_at = ?::timestamptz + (w.n - 1) * interval '1 second' / b.pace
			FROM broadcasts b, (SELECT id, row_number() OVER (ORDER BY contact_id) AS n FROM postings WHERE broadcast_id = ? AND sent_at IS NULL AND dropped = '') w
			WHERE b.id = ? AND p.id = w.id`, now, id, id).Error
		if err != nil {
			return err
		}
		return r.Queue.Put(tx, mail.SendPost{})
	})
}

// RemoveBroadcast lets one go that has not been sent off.
func (r *Room) RemoveBroadcast(ctx context.Context, campaignID, id string) error {
	done := r.Store.On(ctx).Where("campaign_id = ? AND state = ?", campaignID, Draft).Delete(&store.Broadcast{ID: id})
	if done.Error == nil && done.RowsAffected == 0 {
		return refusal.Of(refusal.ErrConflict, "It has been sent off, so it stays for what came of it.")
	}
	return done.Error
}
