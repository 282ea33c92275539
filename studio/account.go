package studio

import (
	"errors"
	"strings"

	"chrysagon/app/account"
	"chrysagon/core/refusal"
	"chrysagon/core/signin"

	"github.com/gofiber/fiber/v3"
)

const (
	sessionCookie = "session"
	knownCookie   = "known"
)

// ownOrigin guards the sign-in form, before there is a session.
func (s *Studio) ownOrigin(c fiber.Ctx) error {
	if o := c.Get("Origin"); o != "" && o != s.App.Origins.Studio {
		return s.signInAgain(c, fiber.StatusForbidden, "This form came from another site and was refused. Sign in here.")
	}
	return c.Next()
}

func (s *Studio) signInPage(c fiber.Ctx) error { return s.signInAgain(c, fiber.StatusOK, "") }

func (s *Studio) signInAgain(c fiber.Ctx, status int, notice string) error {
	values := map[string]any{"Title": "Sign in", "Notice": notice, "Demo": s.Demo, "Email": s.Email, "Password": s.Password, "Typed": typed(c, "email")}
	return s.render(c, status, "sign-in", values)
}

func (s *Studio) signIn(c fiber.Ctx) error {
	opened, err := s.App.Accounts.SignIn(c, account.Credentials{
		Email: typed(c, "email"), Password: strings.Clone(c.FormValue("password")), Address: c.IP(),
		Known: strings.Clone(c.Cookies(knownCookie)), Agent: strings.Clone(c.Get("User-Agent")),
	})
	var refused refusal.Refusal
	if errors.As(err, &refused) {
		status := statusOf(refused)
		if errors.Is(refused.Kind, refusal.ErrRefused) {
			status = fiber.StatusUnauthorized
		}
		return s.signInAgain(c, status, refused.Say)
	}
	if err != nil {
		return err
	}
	s.keep(c, sessionCookie, opened.Token, int(signin.SessionFor.Seconds()))
	s.keep(c, knownCookie, opened.Known, int(signin.KnownFor.Seconds()))
	return seeOther(c, "/pages")
}

// keep gives a browser a cookie that only this host is sent, and no script reads.
func (s *Studio) keep(c fiber.Ctx, name, value string, seconds int) {
	c.Cookie(&fiber.Cookie{
		Name: name, Value: value, Path: "/", HTTPOnly: true, SameSite: fiber.CookieSameSiteLaxMode,
		MaxAge: seconds, Secure: strings.HasPrefix(s.App.Origins.Studio, "https:"),
	})
}

func (s *Studio) signOut(c fiber.Ctx) error {
	if err := s.App.Accounts.SignOut(c, c.Cookies(sessionCookie)); err != nil {
		return err
	}
	s.keep(c, sessionCookie, "", -1)
	return seeOther(c, "/sign-in")
}

// accountPlace shows where somebody is signed in, and changes their password.
func (s *Studio) accountPlace(c fiber.Ctx) error {
	list, err := s.App.Accounts.Sessions(c, who(c))
	if err != nil {
		return err
	}
	shop, err := s.App.Store.Shop(c)
	if err != nil {
		return err
	}
	return s.place(c, "account", "", map[string]any{"Title": "Signing in", "Sessions": list, "Zone": shop.Zone})
}

func (s *Studio) changePassword(c fiber.Ctx) error {
	faults, err := s.App.Accounts.ChangePassword(c, who(c), strings.Clone(c.FormValue("now")), strings.Clone(c.FormValue("next")))
	if err != nil {
		return err
	}
	return s.fragment(c, "password-form", map[string]any{"Faults": faults, "Kept": len(faults) == 0, "Email": who(c).User.Email})
}

// endSession ends one session, or all others.
func (s *Studio) endSession(c fiber.Ctx) error {
	if err := s.App.Accounts.EndSession(c, who(c), typed(c, "id")); err != nil {
		return err
	}
	return leadTo(c, "/account")
}
