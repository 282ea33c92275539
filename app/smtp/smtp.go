// Package smtp sends mail by SMTP.
package smtp

import (
	"bytes"
	"context"
	"fmt"
	"net"
	"strconv"
	"time"

	"chrysagon/app"

	"github.com/wneessen/go-mail"
)

// Sender sends to one mail server.
type Sender struct{ client *mail.Client }

// New makes a sender to a server at host:port.
func New(address string) (*Sender, error) {
	host, port, err := net.SplitHostPort(address)
	if err != nil {
		return nil, fmt.Errorf("the mail server's address %q: %w", address, err)
	}
	n, err := strconv.Atoi(port)
	if err != nil {
		return nil, fmt.Errorf("the mail server's port %q: %w", port, err)
	}
	client, err := mail.NewClient(host, mail.WithPort(n), mail.WithTLSPolicy(mail.TLSOpportunistic), mail.WithTimeout(10*time.Second), mail.WithHELO("localhost"))
	if err != nil {
		return nil, fmt.Errorf("prepare the mail: %w", err)
	}
	return &Sender{client}, nil
}

// Send sends one letter.
func (s *Sender) Send(ctx context.Context, l app.Letter) error {
	m := mail.NewMsg()
	if err := m.FromFormat(l.FromName, l.From); err != nil {
		return fmt.Errorf("the sender's address: %w", err)
	}
	if err := m.To(l.To); err != nil {
		return fmt.Errorf("the buyer's address: %w", err)
	}
	if l.ReplyTo != "" {
		if err := m.ReplyTo(l.ReplyTo); err != nil {
			return fmt.Errorf("the address to answer to: %w", err)
		}
	}
	m.Subject(l.Subject)
	m.SetMessageIDWithValue(l.ID + "@chrysagon.localhost")
	m.SetDate()
	m.SetBodyString(mail.TypeTextPlain, l.Text)
	m.AddAlternativeString(mail.TypeTextHTML, l.HTML)
	for _, f := range l.Files {
		if err := m.AttachReader(f.Name, bytes.NewReader(f.Content), mail.WithFileContentType(mail.ContentType(f.Type))); err != nil {
			return fmt.Errorf("attach %s: %w", f.Name, err)
		}
	}
	if err := s.client.DialAndSendWithContext(ctx, m); err != nil {
		return fmt.Errorf("send by SMTP: %w", err)
	}
	return nil
}
