package studio

import (
	"errors"
	"strings"

	"chrysagon/app/desk"
	"chrysagon/app/drafts"
	"chrysagon/app/pages"
	"chrysagon/core/manuscript"
	"chrysagon/core/pack"
	"chrysagon/core/purpose"
	"chrysagon/core/refusal"
	"chrysagon/pieces/all"
	"chrysagon/render"
	"chrysagon/store"

	"github.com/gofiber/fiber/v3"
)

// templateCard is a template among those a page can begin from.
type templateCard struct {
	Name, Title, What, Purpose, Layout string
	Kept                               bool
}

// templatesFor lists the templates that answer a search: the store's own first.
func (s *Studio) templatesFor(c fiber.Ctx, find, part, season string) ([]templateCard, error) {
	kept, err := s.App.Pages.Templates(c)
	if err != nil {
		return nil, err
	}
	var cards []templateCard
	for _, t := range kept {
		card := all.Template{Title: t.Name, What: "kept " + t.KeptAt.Format("2 January 2006"), Purpose: t.Purpose}
		if card.Finds(find, part, season) {
			cards = append(cards, templateCard{"kept:" + t.ID, t.Name, card.What, t.Purpose, t.Layout, true})
		}
	}
	for _, t := range all.Templates() {
		if t.Finds(find, part, season) {
			cards = append(cards, templateCard{t.Name, t.Title, t.What, t.Purpose, t.Layout, false})
		}
	}
	return cards, nil
}

// newPagePlace is where a page begins: its purpose, name and frame, and the
// templates, each as a real proof.
func (s *Studio) newPagePlace(c fiber.Ctx) error {
	return s.newPageForm(c, pages.NewPage{Purpose: strings.Clone(c.Query("purpose")), Layout: "bare"}, nil)
}

func (s *Studio) newPageForm(c fiber.Ctx, in pages.NewPage, faults map[string]string) error {
	cards, err := s.templatesFor(c, "", in.Purpose, "")
	if err != nil {
		return err
	}
	return s.place(c, "new-page", "Pages", map[string]any{
		"Title": "A new page", "Form": in, "Faults": faults, "Cards": cards, "Purposes": purpose.All, "Layouts": pages.Layouts, "Seasons": all.Seasons,
	})
}

// findTemplates narrows the templates while somebody types.
func (s *Studio) findTemplates(c fiber.Ctx) error {
	cards, err := s.templatesFor(c, c.Query("find"), c.Query("purpose"), c.Query("season"))
	if err != nil {
		return err
	}
	return s.render(c, fiber.StatusOK, "template-cards", map[string]any{"Cards": cards, "Form": pages.NewPage{Template: strings.Clone(c.Query("template"))}})
}

func (s *Studio) addPage(c fiber.Ctx) error {
	in := pages.NewPage{
		CampaignID: atHand(c), Purpose: typed(c, "purpose"), Name: typed(c, "name"), Address: strings.ToLower(typed(c, "address")), Layout: typed(c, "layout"), Template: typed(c, "template"),
	}
	if in.Purpose == "" {
		in.Purpose = "plain"
		if t, ok := all.TemplateOf(in.Template); ok {
			in.Purpose = t.Purpose
		}
	}
	d, faults, err := s.App.Pages.AddPage(c, in)
	var refusal refusal.Refusal
	if errors.As(err, &refusal) {
		return s.newPageForm(c, in, map[string]string{"purpose": refusal.Say})
	}
	if err != nil {
		return err
	}
	if len(faults) > 0 {
		return s.newPageForm(c, in, faults)
	}
	return seeOther(c, "/pages/"+d.ID)
}

// templateProof draws a template in the store's own house style, with its own
// goods.
func (s *Studio) templateProof(c fiber.Ctx) error {
	name := strings.Clone(c.Params("template"))
	tree, err := s.App.Pages.Example(c, atHand(c), name)
	if err != nil {
		return err
	}
	layout, part := "bare", ""
	if t, ok := all.TemplateOf(name); ok {
		layout, part = t.Layout, t.Purpose
	}
	d := drafts.Draft{Page: store.Page{CampaignID: atHand(c), Purpose: part, Layout: layout, Address: "example", Title: name}, Tree: tree}
	drawn, err := s.draw(c, d, s.App.Store.Now())
	if err != nil {
		return err
	}
	return s.sendProof(c, drawn.input)
}

func (s *Studio) sendProof(c fiber.Ctx, in render.Input) error {
	page, err := s.App.Render.Page(in)
	if err != nil {
		return err
	}
	c.Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; img-src 'self'; media-src 'self'; font-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'self'")
	return c.Type("html", "utf-8").Send(page.HTML)
}

func (s *Studio) copyPage(c fiber.Ctx) error {
	d, err := s.App.Pages.CopyPage(c, c.Params("id"))
	if err != nil {
		return err
	}
	return leadTo(c, "/pages/"+d.ID)
}

func (s *Studio) keepTemplate(c fiber.Ctx) error {
	t, err := s.App.Pages.KeepTemplate(c, c.Params("id"))
	if err != nil {
		return err
	}
	return s.render(c, fiber.StatusOK, "said", map[string]any{"Say": "Kept as the template “" + t.Name + "”. New pages can begin from it."})
}

// dressPage changes what a page is for and its frame.
func (s *Studio) dressPage(c fiber.Ctx) error {
	if err := s.App.Pages.Dress(c, c.Params("id"), typed(c, "purpose"), typed(c, "layout")); err != nil {
		return err
	}
	return loadAgain(c)
}

// retakePage gives a page another template's bands.
func (s *Studio) retakePage(c fiber.Ctx) error {
	if _, err := s.App.Pages.Retake(c, who(c).User.ID, c.Params("id"), typed(c, "template")); err != nil {
		return err
	}
	return loadAgain(c)
}

func (s *Studio) exportLeads(c fiber.Ctx) error {
	c.Set("Content-Disposition", `attachment; filename="leads.csv"`)
	c.Type("csv", "utf-8")
	return s.App.People.ExportLeads(c, c.Response().BodyWriter())
}

// missing says which beats of its purpose a page does not serve yet.
func missing(d drafts.Draft) string {
	var names []string
	for _, b := range purpose.Of(d.Purpose).Missing(d.Tree) {
		names = append(names, string(b))
	}
	return strings.Join(names, ", ")
}

// newPiece makes a piece of a kind, its choices at their defaults.
func (s *Studio) newPiece(name string) (*manuscript.Piece, error) {
	kind, ok := s.App.Render.Registry.Kind(name)
	if !ok {
		return nil, fiber.ErrBadRequest
	}
	piece := all.Piece(kind.Kind, store.NewID)
	return &piece, nil
}

// proportion writes column widths as the sheet names them.
func proportion(widths []int) string {
	names := map[int]string{1: "one column", 2: "two columns", 3: "three columns", 4: "four columns"}
	parts := make([]string, len(widths))
	same := true
	for i, w := range widths {
		parts[i] = whole(w)
		same = same && w == widths[0]
	}
	if same {
		return names[len(widths)]
	}
	return names[len(widths)] + ", " + strings.Join(parts, " to ")
}

// findWords shows where words stand on the pages, and what would become of them.
// within is where the form of words looks for them.
func within(c fiber.Ctx) desk.Within {
	switch page := typed(c, "page"); page {
	case "everywhere":
		return desk.Within{}
	case "":
		return desk.Within{CampaignID: atHand(c)}
	default:
		return desk.Within{PageID: page}
	}
}

func (s *Studio) findWords(c fiber.Ctx) error {
	find, with := typed(c, "find"), typed(c, "with")
	found, err := s.App.Desk.FindWords(c, within(c), find, with)
	if err != nil {
		return err
	}
	return s.render(c, fiber.StatusOK, "words-found", map[string]any{"Found": found, "Find": find, "With": with, "Done": false})
}

func (s *Studio) replaceWords(c fiber.Ctx) error {
	find, with := typed(c, "find"), typed(c, "with")
	found, err := s.App.Desk.ReplaceWords(c, who(c).User.ID, within(c), find, with)
	if err != nil {
		return err
	}
	return s.render(c, fiber.StatusOK, "words-found", map[string]any{"Found": found, "Find": find, "With": with, "Done": true})
}

// setAside takes a page out of its campaign; bringBack lets it go out again.
func (s *Studio) setAside(c fiber.Ctx) error {
	if err := s.App.Pages.SetAside(c, strings.Clone(c.Params("id")), typed(c, "successor")); err != nil {
		return err
	}
	return leadTo(c, "/pages")
}

func (s *Studio) bringBack(c fiber.Ctx) error {
	if err := s.App.Pages.BringBack(c, strings.Clone(c.Params("id"))); err != nil {
		return err
	}
	return loadAgain(c)
}

// packPage hands a page out as a package.
func (s *Studio) packPage(c fiber.Ctx) error {
	p, raw, err := s.App.Pages.Pack(c, c.Params("id"))
	if err != nil {
		return err
	}
	return sendFile(c, p.Page.Address+".zip", "application/zip", raw)
}

// takePackage makes a page of a package.
func (s *Studio) takePackage(c fiber.Ctx) error {
	header, err := c.FormFile("package")
	if err != nil {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "Choose the zip file of a page package first."}
	}
	raw, err := readPart(header, pack.MaxFile)
	if err != nil {
		return err
	}
	d, notes, err := s.App.Pages.TakePackage(c, atHand(c), raw)
	if err != nil {
		return err
	}
	if len(notes) == 0 {
		return leadTo(c, "/pages/"+d.ID)
	}
	return s.fragment(c, "package-notes", map[string]any{"Page": d, "Notes": notes})
}
