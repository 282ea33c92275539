// Package relayclient carries news to other programs over HTTP, signed after the Standard
// Webhooks specification.
package relayclient

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/netip"
	"strings"
	"syscall"
	"time"

	"chrysagon/app/ports"

	webhooks "github.com/standard-webhooks/standard-webhooks/libraries/go"
)

// Client is [ports.Relays].
type Client struct {
	http *http.Client
}

// How much of an answer is read, and how long one may take.
const (
	mostAnswer = 2 << 10
	patience   = 10 * time.Second
)

var errInside = errors.New("this address lies inside of the machine or its network, where nothing is told")

// New makes a client that reaches programs outside: no address of this machine or a network
// of its own, so that an address that was typed opens nothing that is shut to others. Hosts
// that are named are stand-ins on this machine.
func New(standins ...string) *Client {
	outside := &net.Dialer{Timeout: 5 * time.Second, Control: func(_, address string, _ syscall.RawConn) error {
		at, err := netip.ParseAddrPort(address)
		if err != nil || !public(at.Addr()) {
			return errInside
		}
		return nil
	}}
	inside := &net.Dialer{Timeout: 2 * time.Second}
	return &Client{&http.Client{
		Timeout:       patience,
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
		Transport: &http.Transport{
			MaxIdleConnsPerHost: 4, IdleConnTimeout: 30 * time.Second, TLSHandshakeTimeout: 5 * time.Second,
			DialContext: func(ctx context.Context, network, address string) (net.Conn, error) {
				host, port, err := net.SplitHostPort(address)
				if err != nil {
					return nil, err
				}
				for _, s := range standins {
					if strings.EqualFold(host, s) {
						return inside.DialContext(ctx, network, net.JoinHostPort("127.0.0.1", port))
					}
				}
				return outside.DialContext(ctx, network, address)
			},
		},
	}}
}

// public tells whether an address is one of the internet: none of those kept for machines,
// links and networks of one's own (RFC 6890, RFC 6598).
func public(a netip.Addr) bool {
	a = a.Unmap()
	shared := netip.MustParsePrefix("100.64.0.0/10")
	return a.IsGlobalUnicast() && !a.IsPrivate() && !a.IsLoopback() && !a.IsLinkLocalUnicast() && !shared.Contains(a)
}

// Tell sends one message.
func (c *Client) Tell(ctx context.Context, t ports.Dispatch) (ports.Answered, error) {
	signer, err := webhooks.NewWebhook(t.Secret)
	if err != nil {
		return ports.Answered{}, fmt.Errorf("prepare the signature: %w", err)
	}
	signature, err := signer.Sign(t.ID, t.At, t.Body)
	if err != nil {
		return ports.Answered{}, fmt.Errorf("sign a message: %w", err)
	}
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, t.URL, strings.NewReader(string(t.Body)))
	if err != nil {
		return ports.Answered{}, fmt.Errorf("write a message: %w", err)
	}
	req.Header.Set("Content-Type", t.Kind)
	req.Header.Set("User-Agent", "Chrysagon")
	req.Header.Set(webhooks.HeaderWebhookID, t.ID)
	req.Header.Set(webhooks.HeaderWebhookTimestamp, fmt.Sprint(t.At.Unix()))
	req.Header.Set(webhooks.HeaderWebhookSignature, signature)
	resp, err := c.http.Do(req)
	if err != nil {
		return ports.Answered{}, fmt.Errorf("reach the other program: %w", err)
	}
	defer func() { _ = resp.Body.Close() }()
	said, err := io.ReadAll(io.LimitReader(resp.Body, mostAnswer))
	if err != nil {
		said = nil // the status says enough
	}
	return ports.Answered{Status: resp.StatusCode, Says: strings.ToValidUTF8(string(said), "")}, nil
}
