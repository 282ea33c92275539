package till

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"chrysagon/core/money"
	"chrysagon/gateway/tillclient"
	"chrysagon/internal/wire"

	"github.com/gofiber/fiber/v3"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
)

// RefundRequest asks the till to give money back.
type RefundRequest struct {
	ChargeKey   string `json:"charge_key"` // of the charge it is taken from
	AmountMinor int64  `json:"amount_minor"`
}

// refund is one row of the ledger's other side.
type refund struct {
	ID, Key, ChargeKey, State, Message string
	AmountMinor                        int64
	CreatedAt                          time.Time
}

const refundColumns = `r.id, r.key, c.key, r.state, r.message, r.amount_minor, r.created_at`

func (l *Ledger) findRefund(ctx context.Context, key string) (refund, error) {
	rows, err := l.Store.Pool.Query(ctx, `SELECT `+refundColumns+` FROM till.refunds r JOIN till.charges c ON c.id = r.charge_id WHERE r.key = $1`, key)
	if err != nil {
		return refund{}, fmt.Errorf("read a refund: %w", err)
	}
	return pgx.CollectExactlyOneRow(rows, pgx.RowToStructByPos[refund])
}

// newestRefunds are the refunds of the ledger, the newest first.
func (l *Ledger) newestRefunds(ctx context.Context) ([]refundRow, error) {
	rows, err := l.Store.Pool.Query(ctx, `SELECT r.created_at, c.reference, r.state, r.message, r.amount_minor, c.currency
		FROM till.refunds r JOIN till.charges c ON c.id = r.charge_id ORDER BY r.created_at DESC LIMIT 50`)
	if err != nil {
		return nil, fmt.Errorf("read the refunds: %w", err)
	}
	return pgx.CollectRows(rows, pgx.RowToStructByPos[refundRow])
}

// refundRow is a refund as the ledger shows it.
type refundRow struct {
	CreatedAt                 time.Time
	Reference, State, Message string
	AmountMinor               int64
	Currency                  string
}

// Amount writes what went back.
func (r refundRow) Amount() string { return money.Of(r.AmountMinor, r.Currency).String() }

// Refund gives back part of a charge under a key, once: the same key gives the same
// answer. No more goes back than was charged.
func (l *Ledger) Refund(ctx context.Context, key string, r RefundRequest) (refund, error) {
	known := func() (refund, error) {
		found, err := l.findRefund(ctx, key)
		if err == nil && (found.AmountMinor != r.AmountMinor || found.ChargeKey != r.ChargeKey) {
			return refund{}, errReuse
		}
		return found, err
	}
	if found, err := known(); !errors.Is(err, pgx.ErrNoRows) {
		return found, err
	}
	made := refund{ID: id("refund"), Key: key, ChargeKey: r.ChargeKey, AmountMinor: r.AmountMinor, State: "refunded", CreatedAt: l.Clock()}
	err := pgx.BeginFunc(ctx, l.Store.Pool, func(tx pgx.Tx) error {
		var charge, state string
		var amount, back int64
		err := tx.QueryRow(ctx, `SELECT id, state, amount_minor FROM till.charges WHERE key = $1 FOR UPDATE`, r.ChargeKey).Scan(&charge, &state, &amount)
		if errors.Is(err, pgx.ErrNoRows) {
			return errNoCharge
		}
		if err != nil {
			return err
		}
		if err := tx.QueryRow(ctx, `SELECT coalesce(sum(amount_minor), 0) FROM till.refunds WHERE charge_id = $1 AND state = 'refunded'`, charge).Scan(&back); err != nil {
			return err
		}
		switch {
		case state != "charged":
			made.State, made.Message = "refused", "This payment was not charged, so nothing can be given back."
		case back+r.AmountMinor > amount:
			made.State, made.Message = "refused", "No more can be given back than was charged."
		}
		_, err = tx.Exec(ctx, `INSERT INTO till.refunds (id, key, charge_id, amount_minor, state, message, created_at) VALUES ($1, $2, $3, $4, $5, $6, $7)`,
			made.ID, made.Key, charge, made.AmountMinor, made.State, made.Message, made.CreatedAt)
		return err
	})
	var taken *pgconn.PgError
	if errors.As(err, &taken) && taken.Code == "23505" { // the same key was quicker on another connection
		return known()
	}
	return made, err
}

var errNoCharge = errors.New("there is no charge under this key")

func (s *Server) refund(c fiber.Ctx) error {
	var r RefundRequest
	if err := c.Bind().JSON(&r); err != nil {
		return wire.Problem(c, fiber.StatusBadRequest, "The body is not the JSON of a refund.")
	}
	key := c.Get("Idempotency-Key")
	if key == "" || len(key) > 100 {
		return wire.Problem(c, fiber.StatusBadRequest, "An Idempotency-Key of 1 to 100 characters is needed.")
	}
	if r.AmountMinor <= 0 {
		return wire.Problem(c, fiber.StatusUnprocessableEntity, "The amount must be above zero.")
	}
	r.ChargeKey = strings.Clone(r.ChargeKey)
	made, err := s.Ledger.Refund(c, strings.Clone(key), r)
	switch {
	case errors.Is(err, errReuse):
		return wire.Problem(c, fiber.StatusConflict, err.Error())
	case errors.Is(err, errNoCharge):
		return wire.Problem(c, fiber.StatusNotFound, err.Error())
	case err != nil:
		return err
	}
	return c.JSON(tillclient.RefundMessage{Key: made.Key, ID: made.ID, State: made.State, Message: made.Message})
}
