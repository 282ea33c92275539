// Package mail sends letters, signed as the store's own, and writes those whose words are the program's own.
package mail

import (
	"context"
	"errors"
	"html/template"
	"sync/atomic"

	"chrysagon/app/ports"
	"chrysagon/store"
)

// Sender sends them, if there is a mail server.
type Sender struct {
	Store *store.Store
	Ports *ports.Ports
	last  atomic.Value // the key that was opened last
}

// SendPost is the job that sends the letters that are due.
type SendPost struct{}

// Kind names the job in the queue.
func (SendPost) Kind() string { return "send_post" }

// ToStore is a letter to the store itself, to be answered to whom it is about.
func ToStore(shop store.Shop, id, subject, text, answer string) ports.Letter {
	return ports.Letter{
		ID: id, FromName: shop.Name, From: shop.ContactEmail, To: shop.ContactEmail,
		Subject: subject, Text: text, HTML: PlainHTML(text), ReplyTo: answer,
	}
}

// errNoMail keeps a mail in the queue until a mail server is set.
var errNoMail = errors.New("no mail server is set")

// Send hands a letter to the mail server, where there is one.
func (s *Sender) Send(ctx context.Context, l ports.Letter) error {
	if s.Ports.Post == nil {
		return errNoMail
	}
	l, err := s.signed(ctx, l)
	if err != nil {
		return err
	}
	return s.Ports.Post.Send(ctx, l)
}

// PlainHTML is a plain text as the HTML part of a letter.
func PlainHTML(text string) string {
	return `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Message</title></head><body style="margin:0;padding:24px;color:#17332e;font:16px/1.5 Georgia,serif;white-space:pre-wrap">` + template.HTMLEscapeString(text) + "</body></html>"
}
