// Package tillclient calls the till over HTTP.
package tillclient

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/url"

	"chrysagon/app/ports"
	"chrysagon/core/order"
	"chrysagon/gateway/loopback"

	webhooks "github.com/standard-webhooks/standard-webhooks/libraries/go"
)

// Client is the till as the program sees it.
type Client struct {
	Origin string // of the till, such as http://till.localhost:8080
	Key    string // proves to the till that the shop is calling
	HTTP   *http.Client
	Secret string // by which the till signs what it tells by itself
}

// Message is a charge as the till's API and its webhooks write it.
type Message struct {
	Key        string `json:"key"`
	ID         string `json:"id"`
	State      string `json:"state"`
	Message    string `json:"message"`
	KeptToken  string `json:"kept_token"`
	ConfirmURL string `json:"confirm_url"`
}

// Answer reads the till's words as the program's.
func (m Message) Answer() (ports.ChargeAnswer, error) {
	state := order.PaymentState(m.State)
	if !state.Final() && state != order.Confirming {
		return ports.ChargeAnswer{}, fmt.Errorf("the till speaks of a charge that is %q", m.State)
	}
	return ports.ChargeAnswer{
		Key: m.Key, TillID: m.ID, State: state, Message: m.Message, KeptToken: m.KeptToken, ConfirmURL: m.ConfirmURL,
	}, nil
}

// Charge asks for money.
func (c *Client) Charge(ctx context.Context, r ports.ChargeRequest) (ports.ChargeAnswer, error) {
	return c.post(ctx, "/api/charges", r.Key, map[string]any{
		"amount_minor": r.Amount.Minor, "currency": r.Amount.Currency, "token": r.Token,
		"reference": r.Reference, "return_url": r.ReturnURL, "way": string(r.Way),
	})
}

// Ways are those that the till can: a card typed in its field, and its own page.
func (*Client) Ways() []order.Way { return []order.Way{order.ByCard, order.ByAccount} }

// Conclude tells what a key came to, and closes it when it came to nothing.
func (c *Client) Conclude(ctx context.Context, key string) (ports.ChargeAnswer, error) {
	return c.post(ctx, "/api/charges/"+url.PathEscape(key)+"/conclude", key, map[string]any{})
}

// RefundMessage is a refund as the till's API writes it.
type RefundMessage struct {
	Key     string `json:"key"`
	ID      string `json:"id"`
	State   string `json:"state"`
	Message string `json:"message"`
}

// Refund gives money back.
func (c *Client) Refund(ctx context.Context, r ports.RefundRequest) (ports.RefundAnswer, error) {
	var m RefundMessage
	err := c.call(ctx, "/api/refunds", r.Key, map[string]any{"charge_key": r.ChargeKey, "amount_minor": r.Amount.Minor}, &m)
	var refused answered
	if errors.As(err, &refused) && refused.status == http.StatusNotFound {
		return ports.RefundAnswer{State: order.RefundRefused, Message: "The till knows no such payment."}, nil
	}
	if err != nil {
		return ports.RefundAnswer{}, err
	}
	state := order.RefundState(m.State)
	if !state.Final() {
		return ports.RefundAnswer{}, fmt.Errorf("the till speaks of a refund that is %q", m.State)
	}
	return ports.RefundAnswer{State: state, Message: m.Message}, nil
}

func (c *Client) post(ctx context.Context, path, key string, body any) (ports.ChargeAnswer, error) {
	var m Message
	if err := c.call(ctx, path, key, body, &m); err != nil {
		return ports.ChargeAnswer{}, err
	}
	return m.Answer()
}

// answered is an answer of the till that is no yes.
type answered struct {
	status int
	said   string
}

func (a answered) Error() string {
	return fmt.Sprintf("the till answered %d: %.200s", a.status, a.said)
}

func (c *Client) call(ctx context.Context, path, key string, body, into any) error {
	status, said, err := loopback.Service{Name: "the till", Origin: c.Origin, Key: c.Key, HTTP: c.HTTP, Most: 1 << 16}.Call(ctx, http.MethodPost, path, key, body)
	if err != nil {
		return err
	}
	if status != http.StatusOK {
		return answered{status, string(said)}
	}
	if err := json.Unmarshal(said, into); err != nil {
		return fmt.Errorf("read the till's answer: %w", err)
	}
	return nil
}

// Told reads a webhook, once its signature is verified.
func (c *Client) Told(head http.Header, body []byte) (ports.ChargeAnswer, error) {
	verifier, err := webhooks.NewWebhook(c.Secret)
	if err != nil {
		return ports.ChargeAnswer{}, fmt.Errorf("the secret of the till's webhooks: %w", err)
	}
	if err := verifier.Verify(body, head); err != nil {
		return ports.ChargeAnswer{}, ports.ErrForged
	}
	var hook struct {
		Type string  `json:"type"`
		Data Message `json:"data"`
	}
	if err := json.Unmarshal(body, &hook); err != nil {
		return ports.ChargeAnswer{}, fmt.Errorf("the message is not the JSON of a webhook: %w", err)
	}
	return hook.Data.Answer()
}
