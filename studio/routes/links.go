package routes

import (
	"fmt"
	"strings"

	"chrysagon/app/routes"
	"chrysagon/studio/frame"

	"github.com/boombuler/barcode/qr"
	"github.com/gofiber/fiber/v3"
)

func (p *Place) addLink(c fiber.Ctx) error {
	in := routes.NewLink{
		CampaignID: frame.AtHand(c), Name: frame.Typed(c, "name"), Source: frame.Typed(c, "source_name"), Medium: frame.Typed(c, "medium"), Campaign: frame.Typed(c, "campaign"),
	}
	switch kind, id, _ := strings.Cut(frame.Typed(c, "to"), ":"); kind {
	case "step":
		in.StepID = id
	case "fork":
		in.RouteID = id
	}
	link, err := p.Routes.AddLink(c, in)
	if err != nil {
		return err
	}
	return p.redraw(c, look(c), "The link is "+p.Origins.Shop+routes.LinkPath(link.Slug)+".")
}

func (p *Place) dropLink(c fiber.Ctx) error {
	if err := p.Routes.DropLink(c, frame.AtHand(c), c.Params("id")); err != nil {
		return err
	}
	return p.redraw(c, look(c), "The link is gone; its address leads nowhere now.")
}

// qr is a link as a QR code (ISO/IEC 18004), drawn as SVG.
func (p *Place) qr(c fiber.Ctx) error {
	l, err := p.Routes.Link(c, frame.AtHand(c), c.Params("id"))
	if err != nil {
		return err
	}
	svg, err := qrSVG(p.Origins.Shop + routes.LinkPath(l.Slug))
	if err != nil {
		return err
	}
	c.Set("Content-Type", "image/svg+xml")
	c.Set("Content-Disposition", fmt.Sprintf(`inline; filename="%s.svg"`, l.Slug))
	return c.SendString(svg)
}

// qrSVG draws a text as a QR code, with the four modules of quiet ground around it
// that the standard asks for.
func qrSVG(text string) (string, error) {
	code, err := qr.Encode(text, qr.M, qr.Auto)
	if err != nil {
		return "", fmt.Errorf("make a QR code: %w", err)
	}
	size := code.Bounds().Dx()
	var path strings.Builder
	for y := range size {
		for x := range size {
			if r, _, _, _ := code.At(x, y).RGBA(); r == 0 {
				fmt.Fprintf(&path, "M%d %dh1v1h-1z", x+4, y+4)
			}
		}
	}
	return fmt.Sprintf(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d %d" shape-rendering="crispEdges" role="img" aria-label="QR code of %s"><path fill="#fff" d="M0 0h%dv%dH0z"/><path d="%s"/></svg>`,
		size+8, size+8, text, size+8, size+8, path.String()), nil
}
