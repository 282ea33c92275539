// Package postroom writes and sends letters: each once to each person, by follow-ups and to
// all at once, and notes who came by them.
package postroom

import (
	"log/slog"

	"chrysagon/app/audience"
	"chrysagon/app/drafts"
	"chrysagon/app/factbook"
	"chrysagon/app/followups"
	"chrysagon/app/mail"
	"chrysagon/app/ports"
	"chrysagon/app/publishing"
	"chrysagon/app/queue"
	"chrysagon/app/returns"
	"chrysagon/core/origin"
	"chrysagon/render"
	"chrysagon/store"
)

// Room is where letters are written and sent.
type Room struct {
	Store      *store.Store
	Audience   *audience.Audience
	Followups  *followups.Keeper
	Drafts     *drafts.Reader
	Facts      *factbook.Reader
	Publishing *publishing.Publisher
	Render     *render.Renderer
	Mail       *mail.Sender
	Maker      *mail.Maker
	Returns    *returns.Keeper
	Ports      *ports.Ports
	Queue      queue.Queue
	Origins    *origin.Origins
	Log        *slog.Logger
}
