package ports

import (
	"context"
	"time"
)

// Relays carries news to other programs.
type Relays interface {
	// Tell sends one message and answers with what came back; an error where nothing did.
	Tell(ctx context.Context, t Dispatch) (Answered, error)
}

// Dispatch is one message, signed after the Standard Webhooks specification.
type Dispatch struct {
	ID     string // the same at every try
	URL    string
	Secret string // whsec_ and the key in base64
	Kind   string // media type
	Body   []byte
	At     time.Time // of this try
}

// Answered is what came back.
type Answered struct {
	Status int    // of HTTP
	Says   string // the beginning of the body
}
