package desk

import (
	"bufio"
	"fmt"
	"time"

	"chrysagon/app/news"

	"github.com/gofiber/fiber/v3"
)

// changes streams to the browser what the database tells of, as server-sent
// events (HTML standard, section 9.2).
func (place *Place) changes(c fiber.Ctx) error {
	c.Set("Content-Type", "text/event-stream")
	c.Set("X-Accel-Buffering", "no")
	news := place.News.Subscribe()
	return c.SendStreamWriter(func(w *bufio.Writer) {
		defer news.Close()
		beat := time.NewTicker(15 * time.Second)
		defer beat.Stop()
		_, _ = fmt.Fprint(w, "retry: 2000\n\n")
		if place.Begun != "" {
			_, _ = fmt.Fprintf(w, "event: begun\ndata: %s\n\n", place.Begun)
		}
		for {
			if w.Flush() != nil {
				return
			}
			select {
			case _, open := <-news.Ready():
				if !open {
					return
				}
				for _, n := range news.Take() {
					writeNews(w, n)
				}
			case <-beat.C:
				_, _ = fmt.Fprint(w, ": still here\n\n")
			}
		}
	})
}

// writeNews writes an event (WHATWG HTML, server-sent events): of a page its ID
// and revision, of anything else that there was one.
func writeNews(w *bufio.Writer, n news.News) {
	if id, isPage := n.Topic.Page(); isPage {
		_, _ = fmt.Fprintf(w, "event: page\ndata: %s %s\n\n", id, n.What)
		return
	}
	_, _ = fmt.Fprintf(w, "event: %s\ndata: 1\n\n", n.Topic)
}
