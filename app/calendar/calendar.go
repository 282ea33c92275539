// Package calendar is the season: campaigns, their days and goods, and doing one again.
package calendar

import (
	"chrysagon/app/news"
	"chrysagon/app/repricing"
	"chrysagon/render"
	"chrysagon/store"
)

// Calendar is the use cases of the season.
type Calendar struct {
	News   *news.Hub
	Prices *repricing.Keeper
	Render *render.Renderer
	Store  *store.Store
}
