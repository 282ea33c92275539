// Package ordermail writes and sends the mails of an order.
package ordermail

import (
	"chrysagon/app/factbook"
	"chrysagon/app/mail"
	"chrysagon/app/ports"
	"chrysagon/app/queue"
	"chrysagon/app/returns"
	"chrysagon/core/origin"
	"chrysagon/store"
)

// Writer writes them.
type Writer struct {
	Facts   *factbook.Reader
	Mail    *mail.Sender
	Origins *origin.Origins
	Ports   *ports.Ports
	Queue   queue.Queue
	Returns *returns.Keeper
	Store   *store.Store
}
