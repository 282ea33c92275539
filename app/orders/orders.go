// Package orders is what the owner does with orders: finding, packing, sending, giving back.
package orders

import (
	"log/slog"

	"chrysagon/app/factbook"
	"chrysagon/app/mail"
	"chrysagon/app/ordermail"
	"chrysagon/app/ports"
	"chrysagon/app/queue"
	"chrysagon/app/selling"
	"chrysagon/core/origin"
	"chrysagon/store"
)

// Office is the use cases of the owner's orders.
type Office struct {
	Facts     *factbook.Reader
	Log       *slog.Logger
	Mail      *mail.Sender
	OrderMail *ordermail.Writer
	Origins   *origin.Origins
	Ports     *ports.Ports
	Queue     queue.Queue
	Selling   *selling.Counter
	Store     *store.Store
}
