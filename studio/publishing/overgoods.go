package publishing

import (
	"errors"
	"strings"
	"sync"

	"chrysagon/app/publishing"
	"chrysagon/core/refusal"

	"github.com/gofiber/fiber/v3"
)

// overGoods are the launch checks over all goods that go on or have ended, by their page.
// They are looked at while they last and kept nowhere else.
type overGoods struct {
	mu    sync.Mutex
	under map[string]*overview
}

// overview is one of them, as the panel shows it.
type overview struct {
	Page      string
	At, Total int
	Done      bool
	Over      publishing.OverGoods
	Failed    string
}

// checkGoods begins the launch check over all goods of a page, or tells how far the one is
// that goes on.
func (place *Place) checkGoods(c fiber.Ctx) error {
	page := strings.Clone(c.Params("page"))
	if _, err := place.Drafts.Draft(c, page); err != nil {
		return err
	}
	return place.Send(c, fiber.StatusOK, "over-goods", map[string]any{"Over": place.goodsChecked(page, c.Query("on") != "")})
}

// goodsChecked is how far the check of a page is. One that has ended begins anew, unless
// it is asked how the last one went on.
func (place *Place) goodsChecked(page string, on bool) overview {
	o := &place.goods
	o.mu.Lock()
	defer o.mu.Unlock()
	if now := o.under[page]; now != nil && (on || !now.Done) {
		return *now
	}
	if o.under == nil {
		o.under = map[string]*overview{}
	}
	begun := &overview{Page: page, Total: 1}
	o.under[page] = begun
	place.Background.Do(func() {
		failed := "The check over all goods could not be carried out. Open this panel again."
		var over publishing.OverGoods
		defer func() { // also when it panics: who waits is told
			o.mu.Lock()
			defer o.mu.Unlock()
			begun.Over, begun.Done, begun.Failed = over, true, failed
		}()
		var err error
		over, err = place.Publishing.CheckGoods(place.Background.Life(), page, func(done, total int) {
			o.mu.Lock()
			defer o.mu.Unlock()
			begun.At, begun.Total = done, total
		})
		var refused refusal.Refusal
		switch {
		case err == nil:
			failed = ""
		case errors.As(err, &refused):
			failed = refused.Say
		default:
			place.Log.Error("the check over all goods failed", "error", err)
		}
	})
	return *begun
}
