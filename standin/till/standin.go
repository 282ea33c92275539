package till

import (
	"context"
	"crypto/rand"
	"encoding/base64"
	"time"

	"chrysagon/gateway/loopback"
	"chrysagon/gateway/tillclient"
	"chrysagon/standin"
)

// StandIn is the till in the list of stand-ins.
var StandIn = standin.StandIn{Name: "till", Says: "takes test cards only; its ledger is open to anybody", Tables: migrations, Begin: begin}

// Till is one that is run.
type Till struct {
	Ledger *Ledger
	Hooks  *Hooks
}

func begin(b standin.Beside) (standin.Part, error) {
	key, secret := rand.Text(), "whsec_"+base64.StdEncoding.EncodeToString([]byte(rand.Text()+rand.Text()))
	b.Origins.Till = b.Origin
	b.Ports.Payments = &tillclient.Client{Origin: b.Origin, Key: key, Secret: secret, HTTP: loopback.Client(b.Patience)}
	ledger := &Ledger{Store: b.Store, Clock: b.Store.Clock, Origin: b.Origin, Shop: b.Origins.Shop}
	hooks := &Hooks{Ledger: ledger, URL: b.Hooks + "till", Secret: secret, HTTP: b.Calls(10 * time.Second)}
	pages := &Server{Ledger: ledger, Assets: b.Assets, Key: key, Hang: b.Hang, Forms: b.Forms}
	return standin.Part{
		Handle: pages.App().Handler(), Most: 64 << 10, Inside: &Till{Ledger: ledger, Hooks: hooks},
		Run: func(ctx context.Context) error {
			hooks.Run(ctx, b.Tick(500*time.Millisecond))
			return nil
		},
	}, nil
}
