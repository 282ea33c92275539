package mail

import (
	"html/template"

	"chrysagon/app/factbook"
	"chrysagon/app/ports"
	"chrysagon/core/facts"
	"chrysagon/core/origin"
	"chrysagon/pieces"
	"chrysagon/render"
	"chrysagon/store"
)

// Maker writes mails whose words are the program's own, in the store's house style.
type Maker struct {
	Store   *store.Store
	Facts   *factbook.Reader
	Render  *render.Renderer
	Origins *origin.Origins
}

// Make writes one: a headline, and what it says beneath.
func (m *Maker) Make(base ports.Letter, shop store.Shop, to render.Addressed, headline string, says ...pieces.Block) (ports.Letter, error) {
	in := render.Input{Title: base.Subject, Facts: facts.Facts{Store: m.Facts.StoreFacts(shop)}, Moment: m.Store.Now(), Origin: m.Origins.Shop}
	l, err := m.Render.Made(in, to, append([]pieces.Block{{As: pieces.Headline, Text: headline}}, says...)...)
	base.HTML, base.Text = l.HTML, l.Text
	return base, err
}

// Says is a paragraph of one.
func Says(words string) pieces.Block {
	return pieces.Block{As: pieces.Copy, Copy: pieces.Paragraph(words)}
}

// Leads is a button of one, to a whole address of the shop's own.
func Leads(label, address string) pieces.Block {
	return pieces.Block{As: pieces.Press, Text: label, Href: template.URL(address)} //nolint:gosec // an address of the shop's own
}

// HandsOut is what hands out a file of the store.
func (m *Maker) HandsOut(file facts.File) []pieces.Block {
	return []pieces.Block{Says("Here is “" + file.Name + "”, as you asked:"), Leads("Take “"+file.Name+"”", m.Origins.Shop+file.Path)}
}
