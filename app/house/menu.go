package house

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"unicode/utf8"

	"chrysagon/app/factbook"
	"chrysagon/core/facts"
	"chrysagon/core/refusal"
	"chrysagon/core/target"
	"chrysagon/store"
)

// MostLinks is how many links a menu or a footer can have.
const MostLinks = 12

// Menus are the links of the store's header and footer, by hand.
func (k *Keeper) Menus(ctx context.Context) (menu, foot []facts.Link, err error) {
	shop, err := k.Store.Shop(ctx)
	return factbook.LinksOf(shop.Menu), factbook.LinksOf(shop.Foot), err
}

// inMenus are the kinds of target that stand on every page: nothing of them asks what the
// page sells.
var inMenus = map[target.Kind]bool{target.Page: true, target.Home: true, target.Outside: true, target.Phone: true, target.Mail: true}

// SetMenus changes them, on every page at once.
func (k *Keeper) SetMenus(ctx context.Context, menu, foot []facts.Link) error {
	var raw [2]store.JSON
	for i, list := range [][]facts.Link{menu, foot} {
		if len(list) > MostLinks {
			return refusal.Of(refusal.ErrInvalid, "At most %d links fit into a menu.", MostLinks)
		}
		for _, l := range list {
			if n := utf8.RuneCountInString(strings.TrimSpace(l.Text)); n == 0 || n > 60 {
				return refusal.Of(refusal.ErrInvalid, "Give the link to %s words of its own, at most 60 characters.", l.Target)
			}
			if to, err := target.Parse(l.Target); err != nil || !inMenus[to.Kind] {
				return refusal.Of(refusal.ErrInvalid, "“%s” leads nowhere yet: choose a page, or write an address like https://example.org.", l.Text)
			}
		}
		written, err := json.Marshal(append([]facts.Link{}, list...))
		if err != nil {
			return fmt.Errorf("write a menu: %w", err)
		}
		raw[i] = written
	}
	err := k.Store.On(ctx).Exec("UPDATE store SET menu = ?, foot = ?", raw[0], raw[1]).Error
	k.News.FactsChanged()
	return err
}
