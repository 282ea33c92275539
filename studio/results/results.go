package results

import (
	"fmt"
	"time"

	"chrysagon/app/results"
	"chrysagon/core/money"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// span is how far the results look back.
func (p *Place) span(c fiber.Ctx) (days int, since time.Time) {
	days = 30
	for _, n := range []int{1, 7, 30, 90} {
		if c.Query("days") == fmt.Sprint(n) {
			days = n
		}
	}
	return days, p.Store.Now().AddDate(0, 0, -days)
}

func (p *Place) resultsValues(c fiber.Ctx) (map[string]any, error) {
	days, since := p.span(c)
	r, err := p.Results.Results(c, frame.AtHand(c), since)
	if err != nil {
		return nil, err
	}
	shop, err := p.Store.Shop(c)
	if err != nil {
		return nil, err
	}
	return map[string]any{
		"Title": "Results", "Results": r, "Days": days, "Spans": []int{1, 7, 30, 90}, "Staircase": staircase(r), "Wide": stairsWide(len(staircase(r))), "Least": stairsWide(len(staircase(r))) * 3 / 4, "Chart": daily(r), "Said": said(r), "Zone": shop.Zone,
		"Conversion": frame.Percent(r.Orders, r.Visitors), "Take": frame.Percent(r.Taken, r.Offered), "PerVisitor": perVisitor(r), "Opens": shop.CountOpens,
	}, nil
}

func perVisitor(r results.Results) money.Money {
	m := money.Of(0, r.Revenue.Currency)
	if r.Visitors > 0 {
		m.Minor = (2*r.Revenue.Minor + r.Visitors) / (2 * r.Visitors)
	}
	return m
}

func (p *Place) results(c fiber.Ctx) error {
	values, err := p.resultsValues(c)
	if err != nil {
		return err
	}
	return p.Show(c, "results", "Results", values)
}

func (p *Place) resultsBody(c fiber.Ctx) error {
	values, err := p.resultsValues(c)
	if err != nil {
		return err
	}
	return p.Send(c, fiber.StatusOK, "results-body", values)
}
