// Package audience is a place of the studio: people, lists, letters, and the lines on which letters follow one another.
package audience

import (
	"embed"
	"html/template"
	"strconv"

	"chrysagon/app/audience"
	"chrysagon/app/desk"
	"chrysagon/app/followups"
	"chrysagon/app/mail"
	"chrysagon/app/pages"
	"chrysagon/app/postroom"
	"chrysagon/app/returns"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame
	Audience  *audience.Audience
	Followups *followups.Keeper
	Postroom  *postroom.Room
	Desk      *desk.Desk
	Mail      *mail.Sender
	Returns   *returns.Keeper
	Pages     *pages.Pages
}

// Part is what the studio joins.
func (p *Place) Part() frame.Part {
	return frame.Part{
		Tab:      frame.Tab{At: 48, Name: "Audience", Path: "/audience"},
		Files:    []string{"/audience/lists/*/people"},
		Views:    views,
		Funcs:    template.FuncMap{"upto": upto},
		SignedIn: p.signedIn,
		Doings: []frame.Doing{
			frame.GoTo("Audience: follow-ups, lists, letters", "audience follow-up followup letters mail lists newsletter", "/audience"),
			frame.GoTo("People: who they are and what they agreed to", "people contacts emails subscribers consent erase", "/audience/people"),
			frame.GoTo("How letters go out: signature, what came back", "dkim spf dmarc dns signature bounces complaints deliverability mail server", "/audience/sending"),
			frame.GoTo("A new list", "new list subscribers newsletter opt-in", "/audience/lists/new"),
			frame.GoTo("People and their lists, as CSV", "people contacts export csv", "/audience/people.csv"),
		},
	}
}

// upto writes how many people there are, as far as they are counted at once.
func upto(n int) string {
	if n > audience.CountedTo {
		return "10,000+"
	}
	return strconv.Itoa(n)
}

func (p *Place) signedIn(in fiber.Router) {
	in.Get("/audience", p.place)
	in.Post("/audience/letters", p.newLetter)
	in.Post("/audience/letters/:id/trial", p.trial)
	in.Get("/audience/lists/new", p.listForm)
	in.Get("/audience/lists/:id", p.listForm)
	in.Post("/audience/lists", p.saveList)
	in.Post("/audience/lists/:id/remove", p.removeList)
	in.Post("/audience/lists/:id/people", p.bringIn)
	in.Get("/audience/people", p.people)
	in.Get("/audience/people.csv", p.export)
	in.Get("/audience/broadcasts/new", p.broadcast)
	in.Get("/audience/broadcasts/:id", p.broadcast)
	in.Post("/audience/broadcasts", p.saveBroadcast)
	in.Post("/audience/broadcasts/:id", p.moveBroadcast)
	in.Post("/audience/segments", p.saveSegment)
	in.Post("/audience/segments/:id/remove", p.removeSegment)
	in.Get("/audience/people/:id", p.person)
	in.Get("/audience/people/:id/all.json", p.exportOne)
	in.Post("/audience/people/:id/erase", p.erase)
	in.Post("/audience/people/:id/lift", p.lift)
	in.Post("/audience/people/:id/notes", p.note)
	in.Post("/audience/notes/:id", p.done)
	in.Get("/audience/sending", p.sending)
	in.Post("/audience/sending/key", p.makeKey)
	in.Post("/audience/sending/opens", p.countOpens)
	in.Post("/audience/followups", p.saveLine)
	in.Post("/audience/followups/:id/begins", p.begins)
	in.Post("/audience/followups/:id/remove", p.removeLine)
}
