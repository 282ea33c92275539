// Package factbook reads from the database what a set of names needs: goods, offers,
// prices, deadlines, pictures, pages, orders, as the values of core.
package factbook

import (
	"chrysagon/app/ports"
	"chrysagon/store"
	"log/slog"
)

// Reader reads facts.
type Reader struct {
	Log   *slog.Logger
	Ports *ports.Ports
	Store *store.Store
}
