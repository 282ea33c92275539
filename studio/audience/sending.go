package audience

import (
	"chrysagon/app/audience"
	"chrysagon/app/mail"
	"chrysagon/app/returns"
	"chrysagon/core/bounce"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// sending is how letters go out, and what mail servers say of them.
type sending struct {
	mail.Standing
	From, Carrier, Returns string
	Complaints             string // the address for them; empty: nothing is taken back
	Asked                  bool   // the DNS was
	Lately                 []cameBack
	Sent                   int // letters in 30 days
	Back                   share
	Complained             share
}

// share is a part of what was sent.
type share struct {
	Count   int
	Percent string
	Much    bool // so much that mailboxes begin to doubt the sender
}

// cameBack is what a mail server said of one letter, in words.
type cameBack struct {
	returns.Lately
	Says string
}

// From what share on mailboxes doubt a sender: letters that came back for good, and complaints,
// in thousandths (common practice, no source).
const (
	muchBack       = 20
	muchComplained = 1
)

func shareOf(n, of, much int) share {
	s := share{Count: n}
	if of > 0 {
		s.Percent, s.Much = frame.Percent(int64(n), int64(of)), n*1000 > of*much
	}
	return s
}

var kinds = map[bounce.Kind]string{
	bounce.ForGood: "does not exist or takes nothing; it gets no more letters", bounce.ForNow: "could not take it then; it is sent once more, some hours later",
	bounce.Late: "does not have it yet; the servers go on trying", bounce.Complaint: "called it unwanted, and gets no more letters",
}

// sending shows it; where asked, with what stands in the DNS.
func (p *Place) sending(c fiber.Ctx) error {
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	s := sending{From: shop.ContactEmail, Carrier: p.Postroom.Ports.Carrier, Returns: p.Postroom.Ports.Returns, Asked: c.Query("ask") != ""}
	if s.Returns != "" {
		s.Complaints = returns.Complaints + "@" + s.Returns
	}
	if s.Standing, err = p.Mail.Standing(c, s.Asked); err != nil {
		return err
	}
	lately, sums, err := p.Returns.Lately(c, 30)
	if err != nil {
		return err
	}
	for _, l := range lately {
		s.Lately = append(s.Lately, cameBack{l, kinds[bounce.Kind(l.Kind)]})
	}
	if s.Sent, err = p.Audience.SentSince(c, p.Store.Now().AddDate(0, 0, -30)); err != nil {
		return err
	}
	s.Back, s.Complained = shareOf(sums[bounce.ForGood], s.Sent, muchBack), shareOf(sums[bounce.Complaint], s.Sent, muchComplained)
	return p.Show(c, "sending", "Audience", map[string]any{"Title": "How letters go out", "S": s, "Zone": shop.Zone, "Opens": shop.CountOpens})
}

func (p *Place) makeKey(c fiber.Ctx) error {
	if err := p.Mail.MakeKey(c); err != nil {
		return err
	}
	return frame.SeeOther(c, "/audience/sending")
}

func (p *Place) countOpens(c fiber.Ctx) error {
	if err := p.Postroom.CountOpens(c, frame.Typed(c, "on") != ""); err != nil {
		return err
	}
	return frame.SeeOther(c, "/audience/sending")
}

// lift lets an address be written to again that letters came back from.
func (p *Place) lift(c fiber.Ctx) error {
	who, err := audience.ContactOf(p.Store.On(c), c.Params("id"))
	if err != nil {
		return err
	}
	if err := p.Returns.Lift(c, who.Email); err != nil {
		return err
	}
	return frame.SeeOther(c, "/audience/people/"+who.ID)
}
