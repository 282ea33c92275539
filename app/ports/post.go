package ports

import (
	"context"
	"crypto"
	"strings"
)

// Post is the outside service that carries mail.
type Post interface {
	// Send hands a letter over. An error that is [Refused] is for good.
	Send(ctx context.Context, l Letter) error
}

// Letter is one message.
type Letter struct {
	ID       string // becomes the Message-ID, the same at every try
	FromName string
	From     string
	To       string
	ReplyTo  string // who is answered; empty: the sender
	Return   string // where servers return what they cannot deliver; empty: to the sender
	Stamp    *Stamp // nil: it is not signed
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

// Stamp is by what a domain says that a letter is its own: a signature after RFC 6376, whose
// public key stands in the domain's DNS.
type Stamp struct {
	Domain, Selector string
	Key              crypto.Signer
}

// Refused is said by a mail server that takes a letter at no other try. What is not refused
// in this way may be tried again.
type Refused struct {
	Address bool   // it is the address that does not exist or takes nothing, not this one letter
	Status  string // such as 550 5.1.1 (RFC 5321, RFC 3463)
	Says    string // the server's words
}

// Error is what the server says.
func (r *Refused) Error() string {
	return "the mail server refused it: " + strings.TrimSpace(r.Status+" "+r.Says)
}

// Names asks the names of the internet, as mail servers do that look a sender up.
type Names interface {
	// TXT are the texts that stand under a name; none where there is no such name.
	TXT(ctx context.Context, name string) ([]string, error)
}
