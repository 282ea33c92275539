// Package lamps is the stand-in for a page outside: a neighbour's page that reports to the shop by one line, and leads back.
package lamps

import (
	"embed"
	"html/template"

	"chrysagon/standin"

	"github.com/gofiber/fiber/v3"
)

//go:embed views/*.html
var views embed.FS

// Host is the page's host under a registrable domain of its own, for browsers that are
// told where it is (RFC 6761 keeps .example from being anybody's).
const Host = "harbour-lamps.example"

// StandIn is the page outside in the list of stand-ins.
var StandIn = standin.StandIn{Name: "lamps", Says: "a neighbour’s page, to which a route can lead", Hosts: []string{Host}, Begin: begin}

// style is the neighbour's own.
const style = "body{margin:0;background:#14222b;color:#f3ead8;font:1.1rem/1.6 Georgia,serif}main{max-width:34rem;margin:12vh auto;padding:0 1.2rem}a{color:#ffcf70}.mark{font-size:.9rem;color:#c3ccd2}"

type page struct {
	shop  string
	shown *template.Template
}

func begin(b standin.Beside) (standin.Part, error) {
	p := page{shop: b.Origins.Shop, shown: template.Must(template.New("").ParseFS(views, "views/*.html"))}
	f := fiber.New()
	f.Get("/", p.show)
	f.Get("/style.css", func(c fiber.Ctx) error { return c.Type("css").SendString(style) })
	return standin.Part{Handle: f.Handler(), Most: 4 << 10}, nil
}

// show is the page. Its one line in the head is for the step of that ID.
func (p page) show(c fiber.Ctx) error {
	step := c.Query("step", "harbour-lamps")
	c.Set("Content-Security-Policy", "default-src 'none'; style-src 'self'; script-src "+p.shop+"; connect-src "+p.shop+"; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
	c.Set("Referrer-Policy", "strict-origin-when-cross-origin")
	c.Set("Content-Type", "text/html; charset=utf-8")
	return p.shown.ExecuteTemplate(c.Response().BodyWriter(), "lamps", map[string]any{"Shop": p.shop, "Step": step})
}
