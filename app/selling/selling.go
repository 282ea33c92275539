// Package selling takes orders: the checkout, payment, settling, reserving, offers after
// paying, the buyer's own page.
package selling

import (
	"log/slog"

	"chrysagon/app/factbook"
	"chrysagon/app/ordermail"
	"chrysagon/app/ports"
	"chrysagon/app/publishing"
	"chrysagon/app/walks"
	"chrysagon/core/origin"
	"chrysagon/render"
	"chrysagon/store"
)

// Counter is the use cases of buying.
type Counter struct {
	Facts      *factbook.Reader
	Guide      *walks.Guide
	Log        *slog.Logger
	OrderMail  *ordermail.Writer
	Origins    *origin.Origins
	Ports      *ports.Ports
	Publishing *publishing.Publisher
	Render     *render.Renderer
	Store      *store.Store
}
