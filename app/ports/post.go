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
}

// File goes with a letter.
type File struct {
	Name, Type string
	Content    []byte
}
