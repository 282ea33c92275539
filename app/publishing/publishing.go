// Package publishing checks drafts and brings them before visitors: editions, plans, addresses.
package publishing

import (
	"sync"

	"chrysagon/app/drafts"
	"chrysagon/app/factbook"
	"chrysagon/app/news"
	"chrysagon/render"
	"chrysagon/store"
)

// Publisher is the use cases of publishing.
type Publisher struct {
	Drafts *drafts.Reader
	Facts  *factbook.Reader
	News   *news.Hub
	Render *render.Renderer
	Store  *store.Store

	editions sync.Map // edition ID -> *Edition; editions never change
}
