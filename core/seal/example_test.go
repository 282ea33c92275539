package seal_test

import (
	"fmt"
	"time"

	"chrysagon/core/offer"
	"chrysagon/core/seal"
)

// A visitor is shown €51.00. Ten minutes later the owner asks €68.00; five minutes after
// that the visitor pays, within the store's quarter of an hour.
func Example() {
	cart := []offer.Item{{ProductID: "ember", Quantity: 1, Via: offer.Page}}
	at := seal.At("edition 7", "sales", "")
	token := seal.Write(key, shown(5100, 0), at, noon, cart)

	saw, ours := seal.Read(key, token)
	f := shown(6800, 0)
	f.Store.Grace = 15 * time.Minute
	now, _ := f.Quote(cart, noon.Add(15*time.Minute))
	answer, _, _ := saw.Honoured(seal.Return{Facts: f, Cart: cart, Now: now, At: at, ByHand: noon.Add(10 * time.Minute)})
	fmt.Println(ours, answer.Verdict, answer.Quote.Total)
	// Output: true charge_seen €51.00
}
