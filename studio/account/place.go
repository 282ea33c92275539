// Package account is a place of the studio: signing in and out, the password, the browsers that are signed in.
package account

import (
	"embed"

	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Place is this place with what it needs.
type Place struct {
	*frame.Frame

	Demo     bool
	Email    string // shown on the sign-in page of the demo
	Password string // likewise
}

// Part is what the studio joins.
func (p *Place) Part() frame.Part {
	return frame.Part{
		Views:    views,
		Open:     p.open,
		SignedIn: p.signedIn,
		Doings: []frame.Doing{
			frame.Do("Sign out", "sign out leave", "/sign-in", "sign-out"),
			frame.GoTo("Signing in: password, sessions", "password sessions sign in account browsers", "/account"),
		},
	}
}

func (p *Place) open(out fiber.Router) {
	out.Get("/sign-in", p.signInPage)
	out.Post("/sign-in", p.ownOrigin, p.signIn)
}

func (p *Place) signedIn(in fiber.Router) {
	in.Post("/sign-out", p.signOut)
	in.Get("/account", p.accountPlace)
	in.Post("/account/password", p.changePassword)
	in.Post("/account/end", p.endSession)
}
