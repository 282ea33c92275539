package selling

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"time"

	rules "chrysagon/core/checkout"
	"chrysagon/pieces/checkout"
	"chrysagon/store"

	"gorm.io/gorm"
)

// UnfinishedFor is for how long what was typed in a checkout is kept for whoever comes
// back to it.
const UnfinishedFor = 30 * 24 * time.Hour

// Turned is what became of a press on Next or Back in a checkout of several parts.
type Turned struct {
	Part   int               // that stands now
	Errors map[string]string // what must be mended before it goes on
	Notice string
	Kept   bool // what was typed is kept for this browser
}

// Turn goes to the next part of a checkout, or back, and keeps what was typed so far for
// the browser that typed it. Going on, what the parts so far ask must stand; going back
// loses nothing.
func (counter *Counter) Turn(ctx context.Context, in PayInput, back bool) (Turned, error) {
	c, err := counter.Checkout(ctx, in)
	if err != nil {
		return Turned{}, err
	}
	if c.Sale.Closed != "" {
		return Turned{Part: 1, Notice: c.Sale.Closed}, nil
	}
	q, err := c.Price(counter.Store.Now())
	if err != nil {
		return Turned{}, err
	}
	values, faults := c.Faults(q, in.Values)
	parts := c.parts(values)
	asked := func(p rules.Part) bool { // and not only once something travels
		return p.Last() || slices.ContainsFunc(p.Fields, func(f rules.Field) bool { return !f.Parcel || c.Sends(q) })
	}
	at := rules.PartAt(in.Values["part"], len(parts))
	t := Turned{Part: at}
	if back {
		for t.Part = max(at-1, 1); t.Part > 1 && !asked(parts[t.Part-1]); t.Part-- {
		}
	} else {
		for _, p := range parts[:at] {
			if t.Errors = p.Faults(faults); len(t.Errors) > 0 {
				t.Part = p.Number
				return t, nil
			}
		}
		for t.Part = min(at+1, len(parts)); !asked(parts[t.Part-1]); t.Part++ {
		}
	}
	if values["email"] == "" || rules.EmailFault(values["email"]) != "" || in.Visitor == "" {
		return t, nil // nobody to keep it for
	}
	maps.Copy(values, chosenIn(in.Values))
	t.Kept = true
	return t, counter.keep(ctx, in, c, values, t.Part)
}

// chosenIn is what of a form says what is bought.
func chosenIn(values map[string]string) map[string]string {
	out := map[string]string{}
	for name, v := range values {
		if v != "" && len(name)+len(v) <= 200 && len(out) < 500 && (checkout.Chooses(name) || name == "code" || name == "link") {
			out[name] = v
		}
	}
	return out
}

func (counter *Counter) keep(ctx context.Context, in PayInput, c Checkout, values map[string]string, part int) error {
	typed, err := json.Marshal(values)
	if err != nil {
		return fmt.Errorf("write what was typed: %w", err)
	}
	now := counter.Store.Now()
	err = counter.Store.In(ctx, func(tx *gorm.DB) error {
		if err := agree(tx, in, c, values, now, now.Add(UnfinishedAfter)); err != nil {
			return err
		}
		return tx.Exec(`INSERT INTO unfinished (visitor, page_id, step_id, campaign_id, email, name, consent, typed, part, begun_at, at)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT (visitor, page_id) DO UPDATE SET step_id = excluded.step_id, campaign_id = excluded.campaign_id,
			email = excluded.email, name = excluded.name, consent = excluded.consent, typed = excluded.typed, part = excluded.part, at = excluded.at`,
			in.Visitor, in.Live.Page.ID, in.Live.Step.ID, in.Live.Edition.CampaignID, values["email"], values["name"], values["consent"], typed, part, now, now).Error
	})
	if err != nil {
		return fmt.Errorf("keep an unfinished checkout: %w", err)
	}
	return nil
}

// Unfinished is what a browser typed in the checkout of a page and has not paid for, as
// its form has it; nil: nothing.
func (counter *Counter) Unfinished(ctx context.Context, visitor, pageID string) (map[string]string, error) {
	var row store.Unfinished
	err := counter.Store.On(ctx).Raw("SELECT * FROM unfinished WHERE visitor = ? AND page_id = ? AND at > ?",
		visitor, pageID, counter.Store.Now().Add(-UnfinishedFor)).Scan(&row).Error
	if err != nil || row.Visitor == "" {
		return nil, err
	}
	values := map[string]string{}
	if err := json.Unmarshal(row.Typed, &values); err != nil {
		return nil, fmt.Errorf("read what was typed: %w", err)
	}
	values["part"] = strconv.Itoa(row.Part)
	return values, nil
}

// finished forgets the unfinished checkout of an order that is paid for.
func finished(tx *gorm.DB, o store.Order) error {
	err := tx.Exec("DELETE FROM unfinished WHERE visitor = ? AND (step_id = ? OR page_id = (SELECT page_id FROM steps WHERE id = ?))", o.Visitor, o.StepID, o.StepID).Error
	if err != nil {
		return fmt.Errorf("forget an unfinished checkout: %w", err)
	}
	return nil
}

// ForgetUnfinished drops what nobody came back to.
func (counter *Counter) ForgetUnfinished(ctx context.Context) error {
	return counter.Store.On(ctx).Exec("DELETE FROM unfinished WHERE at <= ?", counter.Store.Now().Add(-UnfinishedFor)).Error
}
