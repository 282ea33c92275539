package orders

import (
	"context"
	"fmt"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/core/order"
	"chrysagon/core/refusal"
	"chrysagon/pieces"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Confirm says that the money of an awaited order came. What was collected is handed over
// with it.
func (office *Office) Confirm(ctx context.Context, by, id string) error {
	if err := office.Selling.Confirm(ctx, id); err != nil {
		return err
	}
	if err := office.noted(office.Store.On(ctx), by, id, "The money came."); err != nil {
		return err
	}
	way, err := factbook.PaidBy(office.Store.On(ctx), id)
	if err != nil || way != order.OnCollection {
		return err
	}
	_, err = office.MoveOrders(ctx, by, []string{id}, order.Finish)
	return err
}

// GiveUp ends an awaited order: its goods can be sold again.
func (office *Office) GiveUp(ctx context.Context, by, id string) error {
	return office.Selling.GiveUp(ctx, id, fmt.Sprintf("Given up by %s.", by))
}

// noted writes into an order's life what somebody did with it.
func (office *Office) noted(db *gorm.DB, by, id, text string) error {
	return db.Create(&store.OrderNote{ID: store.NewID(), OrderID: id, Kind: "move", At: office.Store.Now(), By: by, Text: text}).Error
}

// Ways are by what else than a card the store is paid.
type Ways struct {
	TransferTo   string // the account, as a buyer reads it; "": no transfers
	TransferDays int
	CollectAt    string // where and when goods are fetched; "": nowhere
	CollectDays  int
}

// SetWays keeps them.
func (office *Office) SetWays(ctx context.Context, w Ways) error {
	w.TransferTo, w.CollectAt = strings.Join(pieces.Lines(w.TransferTo), "\n"), strings.Join(pieces.Lines(w.CollectAt), "\n")
	for _, text := range []string{w.TransferTo, w.CollectAt} {
		if len([]rune(text)) > 600 {
			return refusal.Of(refusal.ErrInvalid, "Write at most 600 characters: the account, or where and when goods are fetched.")
		}
	}
	for _, days := range []int{w.TransferDays, w.CollectDays} {
		if days < 1 || days > order.MostHeldDays {
			return refusal.Of(refusal.ErrInvalid, "Goods are held for 1 to %d days.", order.MostHeldDays)
		}
	}
	return office.Store.On(ctx).Model(&store.Shop{}).Where("id = 1").Updates(map[string]any{
		"transfer_to": w.TransferTo, "transfer_days": w.TransferDays, "collect_at": w.CollectAt, "collect_days": w.CollectDays,
	}).Error
}
