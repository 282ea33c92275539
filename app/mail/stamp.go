package mail

import (
	"context"
	"crypto"
	"crypto/rand"
	"crypto/rsa"
	"crypto/x509"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"

	"chrysagon/app/ports"
	"chrysagon/core/mailing"
	"chrysagon/core/refusal"
	"chrysagon/store"
)

// keyBits is how long a key is: what RFC 8301 (section 3.2) asks signers to use.
const keyBits = 2048

// signed gives a letter what makes it the store's: a signature, where a key was made, and
// the address to which servers return it.
func (s *Sender) signed(ctx context.Context, l ports.Letter) (ports.Letter, error) {
	row, err := store.One[struct {
		SealKey []byte
		store.MailKey
	}](s.Store.On(ctx).Raw("SELECT s.seal_key, k.* FROM store s LEFT JOIN mail_keys k ON k.domain = ?", domainOf(l.From)), store.NoShop)
	if err != nil {
		return l, err
	}
	if s.Ports.Returns != "" {
		l.Return = mailing.Back(row.SealKey, l.ID) + "@" + s.Ports.Returns
	}
	if row.Domain == "" {
		return l, nil // no key was made
	}
	key, err := s.opened(row.MailKey)
	l.Stamp = &ports.Stamp{Domain: row.Domain, Selector: row.Selector, Key: key}
	return l, err
}

// domainOf is the domain of an address, in small letters; empty: it has none.
func domainOf(address string) string {
	_, domain, _ := strings.Cut(strings.ToLower(address), "@")
	return domain
}

// key is that of a domain; nil: none was made.
func (s *Sender) key(ctx context.Context, domain string) (*store.MailKey, error) {
	row, err := store.One[store.MailKey](s.Store.On(ctx).Where("domain = ?", domain), "No key was made for this domain.")
	if errors.Is(err, refusal.ErrNotFound) {
		return nil, nil //nolint:nilnil // none was made
	}
	return &row, err
}

// opened is a kept key, ready to sign; the last is remembered.
func (s *Sender) opened(row store.MailKey) (crypto.Signer, error) {
	if was, ok := s.last.Load().(opened); ok && was.domain == row.Domain && was.selector == row.Selector {
		return was.key, nil
	}
	any, err := x509.ParsePKCS8PrivateKey(row.Private)
	if err != nil {
		return nil, fmt.Errorf("read the key of %s: %w", row.Domain, err)
	}
	key, ok := any.(crypto.Signer)
	if !ok {
		return nil, fmt.Errorf("the key of %s signs nothing", row.Domain)
	}
	s.last.Store(opened{row.Domain, row.Selector, key})
	return key, nil
}

type opened struct {
	domain, selector string
	key              crypto.Signer
}

// Record is a text that is to stand in the DNS of the domain that sends.
type Record struct {
	Name  string // under which it stands
	Text  string
	Found []string // what stands there now
	Asked bool     // and was looked up
}

// Holds tells whether what is to stand there does.
func (r Record) Holds() bool {
	for _, f := range r.Found {
		if strings.Join(strings.Fields(f), "") == strings.Join(strings.Fields(r.Text), "") {
			return true
		}
	}
	return false
}

// Standing is what mail servers can know of the domain that sends.
type Standing struct {
	Domain string // of the store's address; empty: it has none
	Key    Record // of the signature (RFC 6376); no text: no key was made
	SPF    Record // who may send for the domain (RFC 7208); what stands there, for only the mail server's keeper knows its text
	DMARC  Record // what is done with what is not signed (RFC 7489)
}

// Standing reads it, and asks the DNS where told to.
func (s *Sender) Standing(ctx context.Context, ask bool) (Standing, error) {
	shop, err := s.Store.Shop(ctx)
	if err != nil {
		return Standing{}, err
	}
	domain := domainOf(shop.ContactEmail)
	out := Standing{Domain: domain, SPF: Record{Name: domain}, DMARC: Record{Name: "_dmarc." + domain, Text: "v=DMARC1; p=none; rua=mailto:" + shop.ContactEmail}}
	row, err := s.key(ctx, domain)
	if err != nil {
		return out, err
	}
	if row != nil {
		key, err := s.opened(*row)
		if err != nil {
			return out, err
		}
		public, err := x509.MarshalPKIXPublicKey(key.Public())
		if err != nil {
			return out, fmt.Errorf("write the key of %s: %w", domain, err)
		}
		out.Key = Record{Name: row.Selector + "._domainkey." + domain, Text: "v=DKIM1; k=rsa; p=" + base64.StdEncoding.EncodeToString(public)}
	}
	if !ask || s.Ports.Names == nil || domain == "" {
		return out, nil
	}
	for _, r := range []*Record{&out.Key, &out.SPF, &out.DMARC} {
		if r.Name == "" {
			continue
		}
		if r.Found, err = s.Ports.Names.TXT(ctx, r.Name); err != nil {
			return out, refusal.Of(refusal.ErrConflict, "The DNS could not be asked. Try again in a minute.")
		}
		r.Asked = true
	}
	out.SPF.Found = beginning(out.SPF.Found, "v=spf1")
	out.DMARC.Found = beginning(out.DMARC.Found, "v=DMARC1")
	return out, nil
}

// beginning keeps those of some texts that begin so: a domain's own name has many.
func beginning(texts []string, with string) []string {
	var out []string
	for _, t := range texts {
		if len(t) >= len(with) && strings.EqualFold(t[:len(with)], with) {
			out = append(out, t)
		}
	}
	return out
}

// MakeKey makes the key by which the store's letters are signed, unless there is one.
func (s *Sender) MakeKey(ctx context.Context) error {
	shop, err := s.Store.Shop(ctx)
	if err != nil {
		return err
	}
	domain := domainOf(shop.ContactEmail)
	if domain == "" {
		return refusal.Of(refusal.ErrConflict, "Write the store's own address first, under House style.")
	}
	key, err := rsa.GenerateKey(rand.Reader, keyBits)
	if err != nil {
		return fmt.Errorf("make a key: %w", err)
	}
	raw, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		return fmt.Errorf("keep a key: %w", err)
	}
	err = s.Store.On(ctx).Exec("INSERT INTO mail_keys (domain, selector, private, made_at) VALUES (?, ?, ?, ?) ON CONFLICT DO NOTHING",
		domain, "shop"+s.Store.Now().UTC().Format("200601"), raw, s.Store.Now()).Error
	if err != nil {
		return fmt.Errorf("keep a key: %w", err)
	}
	return nil
}
