package letterbox

import (
	"context"
	"fmt"
	"net"
	"time"

	"chrysagon/gateway/smtp"
	"chrysagon/standin"
)

// StandIn is the letterbox in the list of stand-ins.
var StandIn = standin.StandIn{Name: "letterbox", Says: "keeps every mail, open to anybody", Tables: migrations, Begin: begin}

func begin(b standin.Beside) (standin.Part, error) {
	box := &Box{Store: b.Store, Clock: b.Store.Clock, Assets: b.Assets, Returns: b.Returns}
	post, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return standin.Part{}, fmt.Errorf("find a port for the letterbox: %w", err)
	}
	b.Origins.Letterbox = b.Origin
	tick := b.Tick(time.Second)
	if b.Ports.Post == nil { // a mail server that is named goes first
		if b.Ports.Post, err = smtp.New(smtp.Server{Address: post.Addr().String()}); err != nil {
			return standin.Part{}, err
		}
		b.Ports.Carrier = "the letterbox, a stand-in at " + b.Origin
	}
	return standin.Part{
		Handle: box.App().Handler(), Most: 16 << 10, Close: post.Close,
		Run: func(ctx context.Context) error {
			go box.reporting(ctx, tick)
			return box.Serve(ctx, post)
		},
		Inside: box,
	}, nil
}
