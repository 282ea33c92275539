package ports

import (
	"context"
)

// Post is the outside service that carries mail.
type Post interface {
	Send(ctx context.Context, l Letter) error
}

// Letter is one message.
type Letter struct {
	ID       string // becomes the Message-ID, the same at every try
	FromName string
	From     string
	To       string
	ReplyTo  string // who is answered; empty: the sender
	Subject  string
	Text     string
	HTML     string
	Files    []File
	// Unsubscribe is the address at which one press, or a POST by a mail program, ends such
	// letters (RFC 2369, RFC 8058); empty: it is about an order.
	Unsubscribe string
}

// File goes with a letter.
type File struct {
	Name, Type string
	Content    []byte
}
