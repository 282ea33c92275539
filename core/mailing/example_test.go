package mailing_test

import (
	"fmt"

	"chrysagon/core/mailing"
)

// Somebody joins a list that asks again by mail; the mail's button puts them on it.
func Example() {
	guide := mailing.List{Name: "The guide", Why: "You asked for the wind guide.", Confirmed: true, Tells: mailing.Never}
	asked := mailing.Stranger.After(mailing.Joined, guide)
	fmt.Println(asked, asked.After(mailing.Confirmed, guide), asked.After(mailing.Left, guide).After(mailing.Confirmed, guide))
	fmt.Println(mailing.Meant("ines@gmial.com"))
	// Output:
	// asked on off
	// ines@gmail.com
}
