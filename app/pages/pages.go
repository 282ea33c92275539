// Package pages makes pages: from templates, copies and packages; sets them aside and brings them back.
package pages

import (
	"chrysagon/app/desk"
	"chrysagon/app/drafts"
	"chrysagon/app/factbook"
	"chrysagon/app/news"
	"chrysagon/app/pictures"
	"chrysagon/render"
	"chrysagon/store"
)

// Pages is the use cases of pages as wholes.
type Pages struct {
	Desk     *desk.Desk
	Drafts   *drafts.Reader
	Facts    *factbook.Reader
	News     *news.Hub
	Pictures *pictures.Library
	Render   *render.Renderer
	Store    *store.Store
}
