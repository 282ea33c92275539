// Package smtp sends mail by SMTP, and takes what mail servers return.
package smtp

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"net"
	"net/textproto"
	"regexp"
	"strconv"
	"strings"
	"time"
	"unicode"

	"chrysagon/app/ports"
	"chrysagon/core/words"

	"github.com/wneessen/go-mail"
	wire "github.com/wneessen/go-mail/smtp"
)

// Server is a mail server that takes what the program sends.
type Server struct {
	Address  string // host:port; empty: there is none
	User     string // empty: it takes mail without
	Password string
	TLS      bool   // from the first byte; else STARTTLS, which only a server on loopback may do without
	Name     string // of the host that sends, in greetings and Message-IDs; empty: localhost
}

// Sender sends to one mail server, over a few connections that it keeps open.
type Sender struct {
	client *mail.Client
	name   string
	idle   chan *wire.Client
}

// How many connections are kept open between letters, and how long a server may take for
// one step.
const (
	mostIdle = 4
	patience = 10 * time.Second
)

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
	options := []mail.Option{mail.WithPort(n), mail.WithTimeout(patience), mail.WithHELO(s.Name)}
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
	return &Sender{client, s.Name, make(chan *wire.Client, mostIdle)}, nil
}

// Send sends one letter.
func (s *Sender) Send(ctx context.Context, l ports.Letter) error {
	raw, err := s.write(l)
	if err != nil {
		return err
	}
	c, err := s.connect(ctx)
	if err != nil {
		return fmt.Errorf("reach the mail server: %w", err)
	}
	from := l.Return
	if from == "" {
		from = l.From
	}
	if err := hand(c, from, l.To, raw); err != nil {
		_ = c.Close() // how far it came is not known
		return err
	}
	select {
	case s.idle <- c:
	default:
		_ = c.Quit()
	}
	return nil
}

// connect is a connection that was left open, if it still is, or a new one.
func (s *Sender) connect(ctx context.Context) (*wire.Client, error) {
	for {
		select {
		case c := <-s.idle:
			if c.UpdateDeadline(patience) == nil && c.Reset() == nil {
				return c, nil
			}
			_ = c.Close()
		default:
			return s.client.DialToSMTPClientWithContext(ctx)
		}
	}
}

// hand hands a letter over. Only the address itself being refused says something of the
// address: a server may refuse a letter, or its sender, and still take another.
func hand(c *wire.Client, from, to string, raw []byte) error {
	if err := c.Mail("<" + from + ">"); err != nil {
		return told(err, false)
	}
	if err := c.Rcpt("<" + to + ">"); err != nil {
		return told(err, true)
	}
	w, err := c.Data()
	if err != nil {
		return told(err, false)
	}
	if _, err := w.Write(raw); err != nil {
		_ = w.Close()
		return fmt.Errorf("send by SMTP: %w", err)
	}
	return told(w.Close(), false)
}

// Words by which a server says that an address does not exist or is shut (RFC 3463, 3.2 and
// 3.3; RFC 5321, 4.2.3).
var noAddress = regexp.MustCompile(`^5\.(1\.[1236]|2\.1)\b`)

// told is what a server's answer means.
func told(err error, address bool) error {
	var answer *textproto.Error
	if err == nil || !errors.As(err, &answer) || answer.Code < 500 {
		if err != nil {
			return fmt.Errorf("send by SMTP: %w", err)
		}
		return nil
	}
	says := words.Tidy(answer.Msg)
	enhanced := len(says) > 1 && says[0] == '5' && says[1] == '.'
	gone := noAddress.MatchString(says) || (!enhanced && (answer.Code == 550 || answer.Code == 551 || answer.Code == 553))
	return &ports.Refused{Address: address && gone, Status: strconv.Itoa(answer.Code), Says: says}
}

// line is a text that fits on one line of a head, whatever was typed: no break in it can
// begin another field.
func line(text string) string {
	return strings.Join(strings.FieldsFunc(text, func(r rune) bool { return unicode.IsSpace(r) || unicode.IsControl(r) }), " ")
}

// write writes a letter as it goes over the wire, signed where it is to be.
func (s *Sender) write(l ports.Letter) ([]byte, error) {
	m := mail.NewMsg()
	if err := m.FromFormat(line(l.FromName), l.From); err != nil {
		return nil, fmt.Errorf("the sender's address: %w", err)
	}
	if err := m.To(l.To); err != nil {
		return nil, &ports.Refused{Address: true, Says: "this is no address"}
	}
	if l.ReplyTo != "" {
		if err := m.ReplyTo(l.ReplyTo); err != nil {
			return nil, fmt.Errorf("the address to answer to: %w", err)
		}
	}
	if l.Unsubscribe != "" {
		m.SetGenHeader("List-Unsubscribe", "<"+l.Unsubscribe+">")
		m.SetGenHeader("List-Unsubscribe-Post", "List-Unsubscribe=One-Click")
	}
	m.Subject(line(l.Subject))
	m.SetMessageIDWithValue(l.ID + "@" + s.name)
	m.SetDate()
	m.SetBodyString(mail.TypeTextPlain, l.Text)
	if l.HTML != "" {
		m.AddAlternativeString(mail.TypeTextHTML, l.HTML)
	}
	for _, f := range l.Files {
		if err := m.AttachReader(f.Name, bytes.NewReader(f.Content), mail.WithFileContentType(mail.ContentType(f.Type))); err != nil {
			return nil, fmt.Errorf("attach %s: %w", f.Name, err)
		}
	}
	var raw bytes.Buffer
	if _, err := m.WriteTo(&raw); err != nil {
		return nil, fmt.Errorf("write a letter: %w", err)
	}
	return stamped(raw.Bytes(), l.Stamp)
}
