// Package factbook reads from the database what a set of names needs: goods, offers,
// prices, deadlines, pictures, pages, orders, as the values of core.
package factbook

import (
	"log/slog"

	"chrysagon/app/news"
	"chrysagon/app/ports"
	"chrysagon/store"
)

// Reader reads facts.
type Reader struct {
	Log   *slog.Logger
	Ports *ports.Ports
	Store *store.Store
	News  *news.Hub
	Kept  Kept
}
