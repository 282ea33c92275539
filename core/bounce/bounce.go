// Package bounce reads what mail servers send back: that a letter could not be delivered
// (RFC 3464), that it is late, or that its reader complained of it (RFC 5965).
package bounce

import (
	"bytes"
	"errors"
	"io"
	"net/textproto"
	"regexp"
	"strings"

	"chrysagon/core/words"

	"github.com/emersion/go-message"
)

// Kind is what a mail server says of a letter.
type Kind string

// The kinds. A letter that comes back for good was refused by an address that does not
// exist or takes nothing (status 5, RFC 3463); one that comes back for now, by a mailbox that
// is full or a server that was away (status 4).
const (
	Nothing   Kind = ""          // no report: somebody wrote
	ForGood   Kind = "for_good"  // and will at every other try
	ForNow    Kind = "for_now"   // may arrive another time
	Late      Kind = "late"      // is still being tried
	Complaint Kind = "complaint" // the reader called it unwanted
)

// Report is what is read of one.
type Report struct {
	Kind      Kind
	Status    string // such as 5.1.1 (RFC 3463); empty with complaints
	Says      string // the other server's words, on one line, at most 300 bytes
	MessageID string // of the letter it is about, without the pointed brackets; empty: not told
}

// Most bytes of a part that are read.
const mostPart = 256 << 10

// errNoMail says that what came cannot be read as mail.
var errNoMail = errors.New("this cannot be read as a mail")

// Read reads a mail that came back. What is no report has the kind Nothing.
func Read(raw []byte) (Report, error) {
	m, err := message.Read(bytes.NewReader(raw))
	if err != nil && !message.IsUnknownCharset(err) {
		return Report{}, errNoMail
	}
	kind, params, err := m.Header.ContentType()
	parts := m.MultipartReader()
	if err != nil || !strings.EqualFold(kind, "multipart/report") || parts == nil {
		return Report{}, nil //nolint:nilerr // somebody wrote
	}
	var out Report
	for range 20 { // a report has three parts; more than a few are none
		part, err := parts.NextPart()
		if err != nil {
			break // its end, or where it is torn: what was read counts
		}
		out.take(part, strings.ToLower(params["report-type"]))
	}
	return out, nil //nolint:nilerr // the end of its parts
}

// take reads what one part of a report says.
func (r *Report) take(part *message.Entity, report string) {
	kind, _, _ := part.Header.ContentType()
	body, err := io.ReadAll(io.LimitReader(part.Body, mostPart))
	if err != nil {
		return
	}
	switch kind = strings.ToLower(kind); {
	case report == "delivery-status" && (kind == "message/delivery-status" || kind == "message/global-delivery-status"):
		r.delivery(groups(body))
	case report == "feedback-report" && kind == "message/feedback-report":
		r.feedback(groups(body))
	case kind == "message/rfc822" || kind == "text/rfc822-headers" || kind == "message/global" || kind == "message/global-headers":
		if about := groups(body); len(about) > 0 {
			r.MessageID = strings.Trim(strings.TrimSpace(about[0].Get("Message-Id")), "<>")
		}
	}
}

// groups are the fields of a part, group by group: one of the message, one of each receiver.
func groups(body []byte) []textproto.MIMEHeader {
	var out []textproto.MIMEHeader
	for block := range strings.SplitSeq(strings.ReplaceAll(string(body), "\r\n", "\n"), "\n\n") {
		fields, last := textproto.MIMEHeader{}, ""
		for line := range strings.SplitSeq(block, "\n") {
			if name, value, ok := strings.Cut(line, ":"); ok && !strings.ContainsAny(name, " \t") && name != "" {
				last = textproto.CanonicalMIMEHeaderKey(name)
				fields.Add(last, strings.TrimSpace(value))
			} else if last != "" && strings.TrimSpace(line) != "" { // folded: it goes on
				all := fields[last]
				all[len(all)-1] += " " + strings.TrimSpace(line)
			}
		}
		if len(fields) > 0 {
			out = append(out, fields)
		}
	}
	return out
}

var statusCode = regexp.MustCompile(`\b[245]\.\d{1,3}\.\d{1,3}\b`)

// delivery reads a report on delivery: what became of the letter for its receiver, which is
// the only one of each letter that this program sends.
func (r *Report) delivery(all []textproto.MIMEHeader) {
	for _, f := range all {
		action := strings.ToLower(strings.TrimSpace(f.Get("Action")))
		status := statusCode.FindString(f.Get("Status"))
		switch {
		case action == "delayed":
			r.Kind = Late
		case action == "failed" && strings.HasPrefix(status, "4"):
			r.Kind = ForNow
		case action == "failed":
			r.Kind = ForGood
		default:
			continue
		}
		r.Status = status
		said := f.Get("Diagnostic-Code")
		if _, words, ok := strings.Cut(said, ";"); ok {
			said = words
		}
		r.Says = short(said)
		return
	}
}

// feedback reads a complaint. Other feedback, such as that a letter is none of those that are
// unwanted, changes nothing.
func (r *Report) feedback(all []textproto.MIMEHeader) {
	for _, f := range all {
		switch kind := strings.ToLower(f.Get("Feedback-Type")); kind {
		case "abuse", "fraud", "virus", "other":
			r.Kind, r.Says = Complaint, short("reported as "+kind)
			return
		}
	}
}

// short is what a server says as words for a page.
func short(text string) string {
	text = words.Tidy(strings.ToValidUTF8(text, ""))
	if len(text) > 300 {
		text = strings.ToValidUTF8(text[:300], "") + " …"
	}
	return text
}
