package desk

import (
	"strings"

	"chrysagon/core/manuscript"
	"chrysagon/core/own"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// savePageOwn changes the code of one page; it goes out with the next edition.
func (place *Place) savePageOwn(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	return place.Snippets.SaveOwn(c, "/pages/"+id+"/own", "Kept. It goes out when you publish.", func(was, mine own.Code) (own.Code, error) {
		d, err := place.Desk.Edit(c, frame.Who(c).User.ID, id, manuscript.Command{Op: manuscript.SetPage, Field: manuscript.OwnCode, Value: mine, Was: was, Guard: true}, false)
		return d.Tree.Own, err
	})
}

// ranProof is a proof in which the owner's own code runs. Its policy gives it an
// origin of its own, so that nothing in it can reach the studio.
func (place *Place) ranProof(c fiber.Ctx) error {
	d, err := place.Proof.Asked(c)
	if err != nil {
		return err
	}
	d.Input.RunOwn = true
	page, err := place.Render.Page(d.Input)
	if err != nil {
		return err
	}
	scripts := strings.Join(append(page.Own.Hashes, page.Own.Origins...), " ")
	if scripts == "" {
		scripts = "'none'"
	}
	c.Set("Content-Security-Policy", "sandbox allow-scripts; default-src 'none'; style-src 'unsafe-inline'; script-src "+scripts+"; img-src "+place.Origins.Studio+" "+strings.Join(page.Own.Origins, " ")+"; font-src "+place.Origins.Studio+"; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
	return c.Type("html", "utf-8").Send(page.HTML)
}
