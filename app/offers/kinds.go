package offers

import (
	"context"
	"fmt"

	"chrysagon/core/offer"
	"chrysagon/store"
)

// NoteKinds writes down which kinds of offer there are and what each always has: the
// database holds offers to it. A kind that is gone stays as long as an offer is of it.
func (offers *Offers) NoteKinds(ctx context.Context) error {
	var names, percents, amounts []string
	for _, k := range offer.Kinds() {
		names = append(names, string(k))
		_, percent := k.Needs("percent")
		_, amount := k.Needs("amount")
		percents, amounts = append(percents, fmt.Sprint(percent)), append(amounts, fmt.Sprint(amount))
	}
	err := offers.Store.On(ctx).Exec(`WITH now AS (SELECT kind, percent::boolean, amount::boolean FROM unnest(?::text[], ?::text[], ?::text[]) AS n(kind, percent, amount)),
			gone AS (DELETE FROM offer_kinds k WHERE kind NOT IN (SELECT kind FROM now) AND NOT EXISTS (SELECT FROM offers o WHERE o.kind = k.kind))
		INSERT INTO offer_kinds SELECT kind, percent, amount FROM now
		ON CONFLICT (kind) DO UPDATE SET percent = EXCLUDED.percent, amount = EXCLUDED.amount
			WHERE (offer_kinds.percent, offer_kinds.amount) <> (EXCLUDED.percent, EXCLUDED.amount)`,
		store.TextArray(names), store.TextArray(percents), store.TextArray(amounts)).Error
	if err != nil {
		return fmt.Errorf("note the kinds of offer: %w", err)
	}
	return nil
}
