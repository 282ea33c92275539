package smtp

import (
	"context"
	"fmt"
	"io"
	"net"
	"strings"
	"time"

	"github.com/emersion/go-smtp"
)

// Returns takes what mail servers return, by SMTP.
type Returns struct {
	Domain string // whose mail it takes; others' it turns away, so that it carries nothing on
	// Known tells whether the program has made an address, by what stands before its @.
	Known func(ctx context.Context, local string) (bool, error)
	// Take reads what came to one.
	Take func(ctx context.Context, local string, raw []byte) error
}

// The longest mail that is taken back: a server returns a letter's head or all of it.
const mostReturned = 1 << 20

// Serve takes mail until the context ends.
func (r *Returns) Serve(ctx context.Context, l net.Listener) error {
	s := smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return &returning{Returns: r, ctx: ctx}, nil }))
	s.Domain, s.MaxMessageBytes, s.MaxRecipients = r.Domain, mostReturned, 1
	s.ReadTimeout, s.WriteTimeout = 30*time.Second, 30*time.Second
	go func() { <-ctx.Done(); _ = s.Close() }()
	if err := s.Serve(l); err != nil && ctx.Err() == nil {
		return fmt.Errorf("take what mail servers return: %w", err)
	}
	return nil
}

type returning struct {
	*Returns
	ctx   context.Context //nolint:containedctx // an SMTP session is handed no context of its own
	local string
}

// Mail takes any sender: reports have none (RFC 3464, section 2).
func (s *returning) Mail(string, *smtp.MailOptions) error { return nil }

var (
	nobody = &smtp.SMTPError{Code: 550, EnhancedCode: smtp.EnhancedCode{5, 1, 1}, Message: "there is no such address here"}
	later  = &smtp.SMTPError{Code: 451, EnhancedCode: smtp.EnhancedCode{4, 3, 0}, Message: "this cannot be kept now"}
)

// Rcpt takes only addresses that the program has made.
func (s *returning) Rcpt(to string, _ *smtp.RcptOptions) error {
	local, domain, _ := strings.Cut(to, "@")
	if !strings.EqualFold(domain, s.Domain) {
		return nobody
	}
	switch known, err := s.Known(s.ctx, local); {
	case err != nil:
		return later
	case !known:
		return nobody
	}
	s.local = local
	return nil
}

// Data reads what came.
func (s *returning) Data(r io.Reader) error {
	raw, err := io.ReadAll(r)
	if err != nil {
		return fmt.Errorf("read what a mail server returned: %w", err)
	}
	if s.Take(s.ctx, s.local, raw) != nil {
		return later // it comes again
	}
	return nil
}

// Reset forgets the mail begun.
func (s *returning) Reset() { s.local = "" }

// Logout ends the session.
func (s *returning) Logout() error { return nil }
