package ordermail

import (
	"context"
	"fmt"
	"strconv"

	"chrysagon/app/factbook"
	"chrysagon/app/ports"
	"chrysagon/app/publishing"
	"chrysagon/core/mailing"
	"chrysagon/core/order"
	"chrysagon/core/purpose"
	"chrysagon/core/words"
	"chrysagon/render"
	"chrysagon/store"

	"gorm.io/gorm"
)

// ownSQL finds the published letter that writes a kind of mail for an order: that of its own
// campaign, else the one that was published last. No letter: the plain words are sent.
const ownSQL = `SELECT p.id, e.id AS edition, page ->> 'title' AS title FROM pages p JOIN campaigns c ON c.id = p.campaign_id JOIN editions e ON e.id = c.live_edition_id,
		jsonb_array_elements(e.content -> 'pages') AS page
	WHERE p.purpose = ? AND p.by_mail AND p.aside_at IS NULL AND page ->> 'id' = p.id
	ORDER BY (c.id = (SELECT campaign_id FROM steps WHERE id = ?)) DESC NULLS LAST, e.published_at DESC, p.id LIMIT 1`

type own struct{ ID, Edition, Title string }

// own is the letter of a kind of mail for an order; of no ID where there is none.
func (w *Writer) own(db *gorm.DB, kind string, o store.Order) (own, error) {
	var found []own
	err := db.Raw(ownSQL, purpose.OfOrder(kind).Name, o.StepID).Scan(&found).Error
	if err != nil || len(found) == 0 {
		return own{}, err
	}
	return found[0], nil
}

// titled is the subject of a mail: that of the owner's letter, or the plain one.
func (w *Writer) titled(tx *gorm.DB, kind string, o store.Order, plain string) (string, error) {
	l, err := w.own(tx, kind, o)
	if err != nil || l.Title == "" {
		return plain, err
	}
	return words.Tidy(mailing.Fill(l.Title, person(o), nil)), nil
}

// person is what a letter can say of who ordered.
func person(o store.Order) map[string]string {
	return map[string]string{"name": o.Name, "order": called(o)}
}

// called is what an order is called in the owner's words: its number, or the reference of
// what waits for it.
func called(o store.Order) string {
	switch {
	case o.Number != nil:
		return strconv.FormatInt(*o.Number, 10)
	case o.Reference != nil:
		return order.Grouped(*o.Reference)
	}
	return ""
}

// written writes a mail in the owner's own words, with what is computed; false: there are none.
func (w *Writer) written(ctx context.Context, a about) (ports.Letter, bool, error) {
	l, err := w.own(w.Store.On(ctx), a.mail.Kind, a.order)
	if err != nil || l.ID == "" {
		return ports.Letter{}, false, err
	}
	e, err := w.Publishing.Edition(ctx, l.Edition)
	if err != nil {
		return ports.Letter{}, false, err
	}
	page, known := e.Page(l.ID)
	if !known {
		return ports.Letter{}, false, nil
	}
	drawn, err := w.draw(ctx, page, a)
	if err != nil {
		return ports.Letter{}, false, fmt.Errorf("write a mail of %s: %w", named(a.order), err)
	}
	out := a.envelope()
	out.Text, out.HTML = drawn.Text, drawn.HTML
	return out, true, nil
}

func (w *Writer) draw(ctx context.Context, page publishing.EditionPage, a about) (render.Letter, error) {
	f, err := w.Facts.FactsFor(ctx, w.Render.Registry.Schema().Names(page.Manuscript), factbook.Buyer{Email: a.order.Email})
	if err != nil {
		return render.Letter{}, err
	}
	said := *a.facts
	said.Told = a.told()
	f.Order = &said
	return w.Render.Letter(render.Input{Page: page.Manuscript, Title: page.Title, Description: page.Description, Facts: f, Moment: w.Store.Now(), Origin: a.shop}, a.addressed())
}
