package book

import (
	"crypto/rand"
	"time"

	"chrysagon/gateway/bookclient"
	"chrysagon/gateway/loopback"
	"chrysagon/standin"
)

// StandIn is the appointment book in the list of stand-ins.
var StandIn = standin.StandIn{Name: "book", Says: "a book of appointments", Tables: migrations, Begin: begin}

func begin(b standin.Beside) (standin.Part, error) {
	diary := &Book{Store: b.Store, Clock: b.Store.Clock, Assets: b.Assets, Key: rand.Text()}
	b.Origins.Book = b.Origin
	b.Ports.Book = &bookclient.Client{Origin: b.Origin, Key: diary.Key, HTTP: loopback.Client(2 * time.Second)}
	return standin.Part{Handle: diary.App().Handler(), Most: 16 << 10}, nil
}
