package studio

import (
	"bufio"
	"fmt"
	"strings"
	"time"

	"chrysagon/app/news"
	"chrysagon/app/results"
	"chrysagon/core/money"

	"github.com/gofiber/fiber/v3"
)

func (s *Studio) publishPanel(c fiber.Ctx) error { return s.panel(c, "") }

func (s *Studio) panel(c fiber.Ctx, said string) error {
	state, err := s.App.Publishing.State(c, atHand(c))
	if err != nil {
		return err
	}
	shop, err := s.App.Store.Shop(c)
	if err != nil {
		return err
	}
	pages, err := s.App.Publishing.LivePages(c)
	if err != nil {
		return err
	}
	home := ""
	if shop.HomePageID != nil {
		home = *shop.HomePageID
	}
	address := ""
	if state.Live != nil {
		address = state.Live.Entrance()
	}
	values := map[string]any{
		"Title": "Publish", "State": state, "Said": said, "Shop": s.App.Origins.Shop, "Address": address, "Zone": shop.Zone, "Pages": pages, "Home": home,
	}
	if c.Get("HX-Request") == "" && c.Method() == fiber.MethodGet { // opened by its address
		return s.place(c, "publish-page", "Publish", values)
	}
	return s.render(c, fiber.StatusOK, "publish-panel", values)
}

func (s *Studio) publish(c fiber.Ctx) error {
	number, err := s.App.Publishing.Publish(c, atHand(c), who(c).User.Name)
	if err != nil {
		return err
	}
	c.Set("HX-Trigger", "edition")
	return s.panel(c, fmt.Sprintf("Edition %d is live.", number))
}

func (s *Studio) putBack(c fiber.Ctx) error {
	number, err := s.App.Publishing.PutBack(c, atHand(c), strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	c.Set("HX-Trigger", "edition")
	return s.panel(c, fmt.Sprintf("Edition %d is live again. Your draft stays as it is.", number))
}

// span is how far the results look back.
func (s *Studio) span(c fiber.Ctx) (days int, since time.Time) {
	days = 30
	for _, n := range []int{1, 7, 30, 90} {
		if c.Query("days") == fmt.Sprint(n) {
			days = n
		}
	}
	return days, s.App.Store.Now().AddDate(0, 0, -days)
}

func (s *Studio) resultsValues(c fiber.Ctx) (map[string]any, error) {
	days, since := s.span(c)
	r, err := s.App.Results.Results(c, atHand(c), since)
	if err != nil {
		return nil, err
	}
	shop, err := s.App.Store.Shop(c)
	if err != nil {
		return nil, err
	}
	return map[string]any{
		"Title": "Results", "Results": r, "Days": days, "Spans": []int{1, 7, 30, 90}, "Staircase": staircase(r), "Wide": stairsWide(len(staircase(r))), "Chart": daily(r), "Zone": shop.Zone,
		"Conversion": percent(r.Orders, r.Visitors), "Take": percent(r.Taken, r.Offered), "PerVisitor": perVisitor(r),
	}, nil
}

func perVisitor(r results.Results) money.Money {
	m := money.Of(0, r.Revenue.Currency)
	if r.Visitors > 0 {
		m.Minor = (2*r.Revenue.Minor + r.Visitors) / (2 * r.Visitors)
	}
	return m
}

func (s *Studio) results(c fiber.Ctx) error {
	values, err := s.resultsValues(c)
	if err != nil {
		return err
	}
	return s.place(c, "results", "Results", values)
}

func (s *Studio) resultsBody(c fiber.Ctx) error {
	values, err := s.resultsValues(c)
	if err != nil {
		return err
	}
	return s.render(c, fiber.StatusOK, "results-body", values)
}

// changes streams to the browser what the database tells of, as server-sent
// events (HTML standard, section 9.2).
func (s *Studio) changes(c fiber.Ctx) error {
	c.Set("Content-Type", "text/event-stream")
	c.Set("X-Accel-Buffering", "no")
	news := s.App.News.Subscribe()
	return c.SendStreamWriter(func(w *bufio.Writer) {
		defer news.Close()
		beat := time.NewTicker(15 * time.Second)
		defer beat.Stop()
		_, _ = fmt.Fprint(w, "retry: 2000\n\n")
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
