// Package pictures takes, cuts, describes, replaces and gives out pictures, films and files.
package pictures

import (
	"chrysagon/app/drafts"
	"chrysagon/app/news"
	"chrysagon/render"
	"chrysagon/store"
)

// Library is the use cases of pictures.
type Library struct {
	Drafts *drafts.Reader
	News   *news.Hub
	Render *render.Renderer
	Store  *store.Store
}
