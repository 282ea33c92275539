package letterbox

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/emersion/go-smtp"
	"github.com/jackc/pgx/v5"
)

// report is what a mailbox sends back of a letter.
type report struct {
	action, status, says string // RFC 3464
	complains            bool   // RFC 5965
}

// write writes it as a mail, after the examples of both RFCs.
func (r report) write(to, receiver string, letter []byte, at time.Time) []byte {
	head, _, _ := bytes.Cut(letter, []byte("\r\n\r\n"))
	var out strings.Builder
	kind, subject, says := "delivery-status", "What became of your letter", "Your letter could not be delivered as it should. The details follow."
	if r.complains {
		kind, subject, says = "feedback-report", "A reader complained", "This is a report of an unwanted letter."
	}
	fmt.Fprintf(&out, "From: Letterbox <postmaster@letterbox.localhost>\r\nTo: <%s>\r\nSubject: %s\r\nDate: %s\r\nMIME-Version: 1.0\r\nContent-Type: multipart/report; report-type=%s; boundary=\"part\"\r\n\r\n", to, subject, at.Format(time.RFC1123Z), kind)
	fmt.Fprintf(&out, "--part\r\nContent-Type: text/plain; charset=utf-8\r\n\r\n%s\r\n\r\n--part\r\nContent-Type: message/%s\r\n\r\n", says, kind)
	if r.complains {
		fmt.Fprintf(&out, "Feedback-Type: abuse\r\nUser-Agent: Letterbox/1\r\nVersion: 1\r\nOriginal-Mail-From: <%s>\r\nArrival-Date: %s\r\n\r\n", to, at.Format(time.RFC1123Z))
	} else {
		fmt.Fprintf(&out, "Reporting-MTA: dns; letterbox.localhost\r\n\r\nFinal-Recipient: rfc822; %s\r\nAction: %s\r\nStatus: %s\r\nDiagnostic-Code: %s\r\n\r\n", receiver, r.action, r.status, r.says)
	}
	fmt.Fprintf(&out, "--part\r\nContent-Type: text/rfc822-headers\r\n\r\n%s\r\n\r\n--part--\r\n", head)
	return []byte(out.String())
}

// owe keeps a report to be sent back.
func (b *Box) owe(ctx context.Context, r report, to, receiver string, letter []byte) error {
	if b.Returns == "" || (r == report{}) {
		return nil
	}
	_, err := b.Store.Pool.Exec(ctx, "INSERT INTO letterbox.reports (receiver, raw) VALUES ($1, $2)", to, r.write(to, receiver, letter, b.Clock()))
	return err
}

// Report sends back what is owed; what is not taken now is kept.
func (b *Box) Report(ctx context.Context) error {
	rows, err := b.Store.Pool.Query(ctx, "SELECT id, receiver, raw FROM letterbox.reports ORDER BY id LIMIT 100")
	if err != nil {
		return err
	}
	owed, err := pgx.CollectRows(rows, pgx.RowToStructByPos[struct {
		ID       int64
		Receiver string
		Raw      []byte
	}])
	if err != nil {
		return err
	}
	for _, o := range owed {
		err := b.bring(o.Receiver, o.Raw)
		var no *smtp.SMTPError
		if errors.As(err, &no) && no.Code < 500 {
			continue
		}
		if err != nil && no == nil {
			return fmt.Errorf("send back a report: %w", err)
		}
		if _, err := b.Store.Pool.Exec(ctx, "DELETE FROM letterbox.reports WHERE id = $1", o.ID); err != nil {
			return err
		}
	}
	return nil
}

// bring hands one report over; those have no sender (RFC 3464, section 2).
func (b *Box) bring(to string, raw []byte) error {
	c, err := smtp.Dial(b.Returns)
	if err != nil {
		return err
	}
	defer func() { _ = c.Close() }()
	if err := c.SendMail("", []string{to}, bytes.NewReader(raw)); err != nil {
		return err
	}
	return c.Quit()
}

// reporting does so at every tick, until the context ends.
func (b *Box) reporting(ctx context.Context, tick <-chan time.Time) {
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick:
			_ = b.Report(ctx) // what is kept goes at the next tick
		}
	}
}
