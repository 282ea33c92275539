package account

import (
	"errors"
	"strings"

	"chrysagon/app/account"
	"chrysagon/core/refusal"
	"chrysagon/core/signin"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

const knownCookie = "known"

// ownOrigin guards the sign-in form, before there is a session.
func (p *Place) ownOrigin(c fiber.Ctx) error {
	if o := c.Get("Origin"); o != "" && o != p.Origins.Studio {
		return p.signInAgain(c, fiber.StatusForbidden, "This form came from another site and was refused. Sign in here.")
	}
	return c.Next()
}

func (p *Place) signInPage(c fiber.Ctx) error { return p.signInAgain(c, fiber.StatusOK, "") }

func (p *Place) signInAgain(c fiber.Ctx, status int, notice string) error {
	values := map[string]any{"Title": "Sign in", "Notice": notice, "Demo": p.Demo, "Email": p.Email, "Password": p.Password, "Typed": frame.Typed(c, "email")}
	return p.Send(c, status, "sign-in", values)
}

func (p *Place) signIn(c fiber.Ctx) error {
	opened, err := p.Accounts.SignIn(c, account.Credentials{
		Email: frame.Typed(c, "email"), Password: strings.Clone(c.FormValue("password")), Address: c.IP(),
		Known: strings.Clone(c.Cookies(knownCookie)), Agent: strings.Clone(c.Get("User-Agent")),
	})
	var refused refusal.Refusal
	if errors.As(err, &refused) {
		status := frame.StatusOf(refused)
		if errors.Is(refused.Kind, refusal.ErrRefused) {
			status = fiber.StatusUnauthorized
		}
		return p.signInAgain(c, status, refused.Say)
	}
	if err != nil {
		return err
	}
	p.Keep(c, frame.SessionCookie, opened.Token, int(signin.SessionFor.Seconds()))
	p.Keep(c, knownCookie, opened.Known, int(signin.KnownFor.Seconds()))
	return frame.SeeOther(c, "/pages")
}

func (p *Place) signOut(c fiber.Ctx) error {
	if err := p.Accounts.SignOut(c, c.Cookies(frame.SessionCookie)); err != nil {
		return err
	}
	p.Keep(c, frame.SessionCookie, "", -1)
	return frame.SeeOther(c, "/sign-in")
}

// accountPlace shows where somebody is signed in, and changes their password.
func (p *Place) accountPlace(c fiber.Ctx) error {
	list, err := p.Accounts.Sessions(c, frame.Who(c))
	if err != nil {
		return err
	}
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	return p.Show(c, "account", "", map[string]any{"Title": "Signing in", "Sessions": list, "Zone": shop.Zone})
}

func (p *Place) changePassword(c fiber.Ctx) error {
	faults, err := p.Accounts.ChangePassword(c, frame.Who(c), strings.Clone(c.FormValue("now")), strings.Clone(c.FormValue("next")))
	if err != nil {
		return err
	}
	return p.Fragment(c, "password-form", map[string]any{"Faults": faults, "Kept": len(faults) == 0, "Email": frame.Who(c).User.Email})
}

// endSession ends one session, or all others.
func (p *Place) endSession(c fiber.Ctx) error {
	if err := p.Accounts.EndSession(c, frame.Who(c), frame.Typed(c, "id")); err != nil {
		return err
	}
	return frame.LeadTo(c, "/account")
}
