// Package ordermail writes and sends the mails of an order.
package ordermail

import (
	"chrysagon/app/factbook"
	"chrysagon/app/mail"
	"chrysagon/app/ports"
	"chrysagon/app/publishing"
	"chrysagon/app/queue"
	"chrysagon/app/returns"
	"chrysagon/core/origin"
	"chrysagon/render"
	"chrysagon/store"
)

// Writer writes them.
type Writer struct {
	Facts      *factbook.Reader
	Publishing *publishing.Publisher
	Render     *render.Renderer
	Mail       *mail.Sender
	Maker      *mail.Maker
	Origins    *origin.Origins
	Ports      *ports.Ports
	Queue      queue.Queue
	Returns    *returns.Keeper
	Store      *store.Store
}
