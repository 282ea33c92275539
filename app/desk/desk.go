// Package desk is writing a page: commands, undo and redo, history, looks, copy, two people at once.
package desk

import (
	"chrysagon/app/drafts"
	"chrysagon/render"
	"chrysagon/store"
)

// Desk is the use cases of writing.
type Desk struct {
	Drafts *drafts.Reader
	Render *render.Renderer
	Store  *store.Store
}
