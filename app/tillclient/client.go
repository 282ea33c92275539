// Package tillclient calls the till over HTTP.
package tillclient

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"

	"chrysagon/app"
	"chrysagon/app/loopback"
	"chrysagon/core/order"
)

// Client is the till as the program sees it.
type Client struct {
	Origin string // of the till, such as http://till.localhost:8080
	Key    string // proves to the till that the shop is calling
	HTTP   *http.Client
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
func (m Message) Answer() (app.ChargeAnswer, error) {
	state := order.PaymentState(m.State)
	if !state.Final() && state != order.Confirming {
		return app.ChargeAnswer{}, fmt.Errorf("the till speaks of a charge that is %q", m.State)
	}
	return app.ChargeAnswer{
		Key: m.Key, TillID: m.ID, State: state, Message: m.Message, KeptToken: m.KeptToken, ConfirmURL: m.ConfirmURL,
	}, nil
}

// Charge asks for money.
func (c *Client) Charge(ctx context.Context, r app.ChargeRequest) (app.ChargeAnswer, error) {
	return c.post(ctx, "/api/charges", r.Key, map[string]any{
		"amount_minor": r.Amount.Minor, "currency": r.Amount.Currency, "token": r.Token,
		"reference": r.Reference, "return_url": r.ReturnURL,
	})
}

// Conclude tells what a key came to, and closes it when it came to nothing.
func (c *Client) Conclude(ctx context.Context, key string) (app.ChargeAnswer, error) {
	return c.post(ctx, "/api/charges/"+url.PathEscape(key)+"/conclude", key, map[string]any{})
}

func (c *Client) post(ctx context.Context, path, key string, body any) (app.ChargeAnswer, error) {
	status, said, err := loopback.Service{Name: "the till", Origin: c.Origin, Key: c.Key, HTTP: c.HTTP, Most: 1 << 16}.Call(ctx, http.MethodPost, path, key, body)
	if err != nil {
		return app.ChargeAnswer{}, err
	}
	if status != http.StatusOK {
		return app.ChargeAnswer{}, fmt.Errorf("the till answered %d: %.200s", status, said)
	}
	var m Message
	if err := json.Unmarshal(said, &m); err != nil {
		return app.ChargeAnswer{}, fmt.Errorf("read the till's answer: %w", err)
	}
	return m.Answer()
}

// ParseHook reads a webhook's body, once its signature has been verified.
func ParseHook(body []byte) (app.ChargeAnswer, error) {
	var hook struct {
		Type string  `json:"type"`
		Data Message `json:"data"`
	}
	if err := json.Unmarshal(body, &hook); err != nil {
		return app.ChargeAnswer{}, fmt.Errorf("the message is not the JSON of a webhook: %w", err)
	}
	return hook.Data.Answer()
}
