package till

import (
	"context"
	"crypto/rand"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"chrysagon/core/money"
	"chrysagon/gateway/tillclient"
	"chrysagon/store"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Ledger is the till's own book of cards and charges.
type Ledger struct {
	Store  *store.Store
	Clock  func() time.Time
	Origin string // of the till
	Shop   string // of the shop; buyers are sent back nowhere else
}

var (
	errCard  = errors.New("this card token is not known or was used before")
	errReuse = errors.New("this idempotency key was used for another charge")
)

func id(prefix string) string { return prefix + "_" + strings.ToLower(rand.Text()) }

// Tokenize takes a card number, forgets it, and returns a token for one charge.
func (l *Ledger) Tokenize(ctx context.Context, m Manner, lastFour string) (string, error) {
	token := id("card")
	_, err := l.Store.Pool.Exec(ctx, `INSERT INTO till.cards (token, last_four, manner, kept, created_at) VALUES ($1, $2, $3, false, $4)`,
		token, lastFour, string(m), l.Clock())
	if err != nil {
		return "", fmt.Errorf("keep a card's token: %w", err)
	}
	return token, nil
}

// Request asks the till to charge.
type Request struct {
	AmountMinor int64  `json:"amount_minor"`
	Currency    string `json:"currency"`
	Token       string `json:"token"`
	Reference   string `json:"reference"`
	ReturnURL   string `json:"return_url"`
	Way         string `json:"way"` // account: the buyer pays on the till's page; else by the card of the token
}

func (r Request) fingerprint() string {
	return fmt.Sprintf("%d %s %s", r.AmountMinor, r.Currency, r.Reference)
}

func (r Request) fault(shop string) string {
	if _, err := money.Digits(r.Currency); err != nil {
		return err.Error()
	}
	switch {
	case r.AmountMinor <= 0 || r.AmountMinor > money.Limit:
		return "the amount must be above zero"
	case r.Way != "" && r.Way != account && r.Way != "card":
		return "this till knows no such way to pay"
	case r.Way == account && r.ReturnURL == "":
		return "a buyer who pays on the till's page needs an address to return to"
	case r.ReturnURL != "" && !strings.HasPrefix(r.ReturnURL, shop+"/"):
		return "the return address is not the shop's"
	}
	return ""
}

// charge is one row of the ledger.
type charge struct {
	ID, Key, Fingerprint, State, Currency, Reference, LastFour, Message, KeptToken, ReturnURL string
	AmountMinor                                                                               int64
	CreatedAt                                                                                 time.Time
}

// Amount writes the charge's amount.
func (c charge) Amount() string { return money.Of(c.AmountMinor, c.Currency).String() }

const columns = `id, key, fingerprint, state, currency, reference, last_four, message, kept_token, return_url, amount_minor, created_at`

func (l *Ledger) find(ctx context.Context, where, value string) (charge, error) {
	rows, err := l.Store.Pool.Query(ctx, `SELECT `+columns+` FROM till.charges WHERE `+where+` = $1`, value)
	if err != nil {
		return charge{}, fmt.Errorf("read a charge: %w", err)
	}
	return pgx.CollectExactlyOneRow(rows, pgx.RowToStructByPos[charge])
}

func (l *Ledger) message(c charge) tillclient.Message {
	m := tillclient.Message{Key: c.Key, ID: c.ID, State: c.State, Message: c.Message, KeptToken: c.KeptToken}
	if c.State == "confirming" {
		m.ConfirmURL = l.Origin + "/confirm/" + c.ID
	}
	return m
}

// Charge charges a card under a key, once: the same key gives the same answer.
// The card's manner is returned beside it, for the server to behave by.
func (l *Ledger) Charge(ctx context.Context, key string, r Request) (charge, Manner, error) {
	if known, err := l.find(ctx, "key", key); err == nil {
		if known.State != "cancelled" && known.Fingerprint != r.fingerprint() {
			return charge{}, "", errReuse
		}
		return known, "", nil
	}
	var manner Manner
	var made charge
	err := pgx.BeginFunc(ctx, l.Store.Pool, func(tx pgx.Tx) error {
		var lastFour string
		var kept, used bool
		if r.Way == account {
			made = charge{
				ID: id("charge"), Key: key, Fingerprint: r.fingerprint(), State: "confirming", AmountMinor: r.AmountMinor, Currency: r.Currency,
				Reference: r.Reference, ReturnURL: r.ReturnURL, CreatedAt: l.Clock(),
			}
			b := &pgx.Batch{}
			insert(b, made)
			return tx.SendBatch(ctx, b).Close()
		}
		err := tx.QueryRow(ctx, `SELECT last_four, manner, kept, used FROM till.cards WHERE token = $1 FOR UPDATE`, r.Token).Scan(&lastFour, &manner, &kept, &used)
		if errors.Is(err, pgx.ErrNoRows) || (used && !kept) {
			return errCard
		}
		if err != nil {
			return err
		}
		c := charge{
			ID: id("charge"), Key: key, Fingerprint: r.fingerprint(), AmountMinor: r.AmountMinor, Currency: r.Currency,
			Reference: r.Reference, LastFour: lastFour, ReturnURL: r.ReturnURL, CreatedAt: l.Clock(),
		}
		c.State, c.Message = verdict(manner, kept)
		b := &pgx.Batch{}
		if c.State != "refused" && !kept {
			c.KeptToken = id("kept")
			b.Queue(`UPDATE till.cards SET used = true WHERE token = $1`, r.Token)
			b.Queue(`INSERT INTO till.cards (token, last_four, manner, kept, created_at) VALUES ($1, $2, $3, true, $4)`, c.KeptToken, lastFour, string(manner), c.CreatedAt)
		}
		insert(b, c)
		if c.State != "confirming" {
			l.tell(b, c)
		}
		made = c
		return tx.SendBatch(ctx, b).Close()
	})
	// The same key may have been quicker on another connection: it has then
	// used the card, or stands in the ledger. Its answer is this one's too.
	var taken *pgconn.PgError
	if errors.Is(err, errCard) || (errors.As(err, &taken) && taken.Code == "23505") {
		if known, again := l.find(ctx, "key", key); again == nil {
			return known, manner, nil
		}
	}
	return made, manner, err
}

// account is the way to pay in which no card is typed: the buyer says yes on the till's
// own page.
const account = "account"

func insert(b *pgx.Batch, c charge) {
	b.Queue(`INSERT INTO till.charges (`+columns+`) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12)`,
		c.ID, c.Key, c.Fingerprint, c.State, c.Currency, c.Reference, c.LastFour, c.Message, c.KeptToken, c.ReturnURL, c.AmountMinor, c.CreatedAt)
}

// verdict is what a card's manner makes of a charge.
func verdict(m Manner, kept bool) (state, message string) {
	switch {
	case m == Declines, m == DeclinesKept && kept:
		return "refused", "The card's bank declined the payment. Nothing was charged. Try another card, or ask your bank."
	case m == LacksFunds:
		return "refused", "The card has insufficient funds for this payment. Nothing was charged. Try another card."
	case m == Confirms && !kept:
		return "confirming", ""
	}
	return "charged", ""
}

// Conclude tells what a key came to. One that came to nothing is closed: it
// will never be charged.
func (l *Ledger) Conclude(ctx context.Context, key string) (charge, error) {
	_, err := l.Store.Pool.Exec(ctx, `INSERT INTO till.charges (`+columns+`)
		VALUES ($1, $2, '', 'cancelled', 'XXX', 'closed before it was charged', '', '', '', '', 0, $3)
		ON CONFLICT (key) DO UPDATE SET state = 'cancelled', message = 'The payment was not confirmed, so nothing was charged.' WHERE charges.state = 'confirming'`, id("charge"), key, l.Clock())
	if err != nil {
		return charge{}, fmt.Errorf("conclude a charge: %w", err)
	}
	return l.find(ctx, "key", key)
}

// Confirm takes the buyer's yes or no to a charge that awaits it.
func (l *Ledger) Confirm(ctx context.Context, chargeID string, yes bool) (charge, error) {
	state, message := "charged", ""
	if !yes {
		state, message = "refused", "You did not confirm the payment. Nothing was charged."
	}
	err := pgx.BeginFunc(ctx, l.Store.Pool, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `UPDATE till.charges SET state = $1, message = $2 WHERE id = $3 AND state = 'confirming'`, state, message, chargeID)
		if err != nil || tag.RowsAffected() == 0 {
			return err
		}
		rows, err := tx.Query(ctx, `SELECT `+columns+` FROM till.charges WHERE id = $1`, chargeID)
		if err != nil {
			return err
		}
		c, err := pgx.CollectExactlyOneRow(rows, pgx.RowToStructByPos[charge])
		if err != nil {
			return err
		}
		b := &pgx.Batch{}
		l.tell(b, c)
		return tx.SendBatch(ctx, b).Close()
	})
	if err != nil {
		return charge{}, fmt.Errorf("confirm a charge: %w", err)
	}
	return l.find(ctx, "id", chargeID)
}

// tell puts a webhook about a charge into the outbox.
func (l *Ledger) tell(b *pgx.Batch, c charge) {
	body, err := json.Marshal(map[string]any{"type": "charge." + c.State, "timestamp": c.CreatedAt, "data": l.message(c)})
	if err != nil {
		return
	}
	b.Queue(`INSERT INTO till.outbox (id, body, next_at) VALUES ($1, $2, $3)`, id("msg"), string(body), c.CreatedAt)
}

func (l *Ledger) newest(ctx context.Context) ([]charge, error) {
	rows, err := l.Store.Pool.Query(ctx, `SELECT `+columns+` FROM till.charges ORDER BY created_at DESC LIMIT 50`)
	if err != nil {
		return nil, fmt.Errorf("read the ledger: %w", err)
	}
	return pgx.CollectRows(rows, pgx.RowToStructByPos[charge])
}
