// Package people is who left their name: forms, appointments, buyers.
package people

import (
	"log/slog"

	"chrysagon/app/audience"
	"chrysagon/app/mail"
	"chrysagon/app/news"
	"chrysagon/app/ports"
	"chrysagon/app/queue"
	"chrysagon/core/manuscript"
	"chrysagon/core/origin"
	"chrysagon/store"
)

// People is the use cases of people.
type People struct {
	Audience *audience.Audience
	Log      *slog.Logger
	Mail     *mail.Sender
	Maker    *mail.Maker
	News     *news.Hub
	Origins  *origin.Origins
	Ports    *ports.Ports
	Queue    queue.Queue
	Store    *store.Store
	Schema   manuscript.Schema // of the pieces that ask
}
