package routes

import (
	"fmt"

	"chrysagon/app/routes"
	"chrysagon/core/chart"
	"chrysagon/core/followup"
	"chrysagon/core/words"
)

// postView is a follow-up at the corner of the step with which it begins, and the lines along
// which its letters lead on.
type postView struct {
	routes.Post
	X, Y  int
	Lines []string // paths
	Says  string
}

const postWide, postHigh = 30, 21

// did are what somebody did at a step with whom a follow-up begins.
var did = map[followup.Happening]string{
	followup.Joined: "joins a list here", followup.Submitted: "sends the form here", followup.Bought: "buys here", followup.Declined: "declines here",
	followup.Unfinished: "leaves the checkout here unfinished", followup.Booked: "books here",
}

// says is a follow-up as a sentence of its step.
func saysOf(p routes.Post) string {
	says := fmt.Sprintf("Who %s is sent “%s”, %s", did[p.What], p.Name, words.Count(p.Letters, "letter"))
	if !p.Begins {
		return says + "; nobody begins it yet."
	}
	return fmt.Sprintf("%s: %d sent, %d clicked, %s, %s.", says, p.Sent, p.Clicked, words.Count(int(p.Orders), "order"), p.Revenue)
}

// posts puts the follow-ups on the map, below one another at the corner of their step.
func (d *drawn) posts(m routes.Map, c chart.Chart) {
	at := map[string]int{}
	for _, p := range m.Posts {
		from, there := c.Place(p.From)
		if !there {
			continue
		}
		v := postView{Post: p, X: from.X - postWide/2, Y: from.Y + stepHigh - postHigh - at[p.From]*(postHigh+4), Says: saysOf(p)}
		at[p.From]++
		for _, id := range p.To {
			to, there := c.Place(id)
			if !there {
				continue
			}
			x1, y1, x2, y2 := v.X+postWide/2, v.Y+postHigh, to.X+8, to.Y+stepHigh
			low := max(y1, y2) + 58
			v.Lines = append(v.Lines, fmt.Sprintf("M%d %dC%d %d %d %d %d %d", x1, y1, x1+40, low, x2-90, low, x2, y2))
		}
		d.Posts = append(d.Posts, v)
	}
}
