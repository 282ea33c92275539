package till

import (
	"context"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
	webhooks "github.com/standard-webhooks/standard-webhooks/libraries/go"
)

// Hooks delivers the till's webhooks, signed after the Standard Webhooks
// specification, until the shop has taken them.
type Hooks struct {
	Ledger *Ledger
	URL    string
	Secret string // whsec_…
	HTTP   *http.Client
}

const mostTries = 12

// Run delivers what is due at every tick until the context ends.
func (h *Hooks) Run(ctx context.Context, tick <-chan time.Time) {
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick:
			_, _ = h.Deliver(ctx) // what could not be delivered stays in the outbox
		}
	}
}

// Deliver sends what is due and returns how many the shop took.
func (h *Hooks) Deliver(ctx context.Context) (int, error) {
	now := h.Ledger.Clock()
	rows, err := h.Ledger.Store.Pool.Query(ctx, `UPDATE till.outbox SET tries = tries + 1,
		next_at = $1 + make_interval(secs => 5 * 2 ^ tries), done = tries + 1 >= $2
		WHERE id IN (SELECT id FROM till.outbox WHERE NOT done AND next_at <= $1 ORDER BY next_at LIMIT 50 FOR UPDATE SKIP LOCKED)
		RETURNING id, body`, now, mostTries)
	if err != nil {
		return 0, fmt.Errorf("read the outbox: %w", err)
	}
	type hook struct{ ID, Body string }
	due, err := pgx.CollectRows(rows, pgx.RowToStructByPos[hook])
	if err != nil {
		return 0, fmt.Errorf("read the outbox: %w", err)
	}
	var taken []string
	for _, d := range due {
		if h.post(ctx, d.ID, d.Body, now) == nil {
			taken = append(taken, d.ID)
		}
	}
	if len(taken) > 0 {
		_, err = h.Ledger.Store.Pool.Exec(ctx, `UPDATE till.outbox SET done = true WHERE id = ANY($1)`, taken)
	}
	return len(taken), err
}

func (h *Hooks) post(ctx context.Context, id, body string, now time.Time) error {
	signer, err := webhooks.NewWebhook(h.Secret)
	if err != nil {
		return fmt.Errorf("prepare the signature: %w", err)
	}
	signature, err := signer.Sign(id, now, []byte(body))
	if err != nil {
		return fmt.Errorf("sign a webhook: %w", err)
	}
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, h.URL, strings.NewReader(body))
	if err != nil {
		return fmt.Errorf("write a webhook: %w", err)
	}
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set(webhooks.HeaderWebhookID, id)
	req.Header.Set(webhooks.HeaderWebhookTimestamp, fmt.Sprint(now.Unix()))
	req.Header.Set(webhooks.HeaderWebhookSignature, signature)
	resp, err := h.HTTP.Do(req)
	if err != nil {
		return fmt.Errorf("deliver a webhook: %w", err)
	}
	_ = resp.Body.Close()
	if resp.StatusCode/100 != 2 {
		return fmt.Errorf("the shop answered a webhook with %s", resp.Status)
	}
	return nil
}
