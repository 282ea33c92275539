// Package smtp sends mail by SMTP.
package smtp

import (
	"bytes"
	"context"
	"fmt"
	"net"
	"strconv"
	"time"

	"chrysagon/app/ports"

	"github.com/wneessen/go-mail"
)

// Server is a mail server that takes what the program sends.
type Server struct {
	Address  string // host:port; empty: there is none
	User     string // empty: it takes mail without
	Password string
	TLS      bool   // from the first byte; else STARTTLS, which only a server on loopback may do without
	Name     string // of the host that sends, in greetings and Message-IDs; empty: localhost
}

// Sender sends to one mail server.
type Sender struct {
	client *mail.Client
	name   string
}

// New makes a sender.
func New(s Server) (*Sender, error) {
	host, port, err := net.SplitHostPort(s.Address)
	if err != nil {
		return nil, fmt.Errorf("the mail server's address %q: %w", s.Address, err)
	}
	n, err := strconv.Atoi(port)
	if err != nil {
		return nil, fmt.Errorf("the mail server's port %q: %w", port, err)
	}
	if s.Name == "" {
		s.Name = "localhost"
	}
	policy := mail.TLSMandatory
	if ip := net.ParseIP(host); host == "localhost" || (ip != nil && ip.IsLoopback()) {
		policy = mail.TLSOpportunistic
	}
	options := []mail.Option{mail.WithPort(n), mail.WithTimeout(10 * time.Second), mail.WithHELO(s.Name)}
	if s.TLS {
		options = append(options, mail.WithSSL())
	} else {
		options = append(options, mail.WithTLSPolicy(policy))
	}
	if s.User != "" {
		options = append(options, mail.WithSMTPAuth(mail.SMTPAuthAutoDiscover), mail.WithUsername(s.User), mail.WithPassword(s.Password))
	}
	client, err := mail.NewClient(host, options...)
	if err != nil {
		return nil, fmt.Errorf("prepare the mail: %w", err)
	}
	return &Sender{client, s.Name}, nil
}

// Send sends one letter.
func (s *Sender) Send(ctx context.Context, l ports.Letter) error {
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
	if l.Unsubscribe != "" {
		m.SetGenHeader("List-Unsubscribe", "<"+l.Unsubscribe+">")
		m.SetGenHeader("List-Unsubscribe-Post", "List-Unsubscribe=One-Click")
	}
	m.Subject(l.Subject)
	m.SetMessageIDWithValue(l.ID + "@" + s.name)
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
