package repricing_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"testing"
	"time"

	"chrysagon/app/assortment"
	"chrysagon/app/factbook"
	"chrysagon/app/offers"
	"chrysagon/core/manuscript"
	"chrysagon/internal/testkit"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

// walk changes prices in every way there is, at random but the same each time.
type walk struct {
	*testing.T
	shop    *testkit.Shop
	dice    *rand.Rand
	goods   []string
	batches []string
	offers  []offers.OfferInput
	ends    string // a deadline that is moved about
}

func (w *walk) one() string { return w.goods[w.dice.IntN(len(w.goods))] }

func (w *walk) some() []string {
	out := []string{w.one()}
	for _, id := range w.goods {
		if id != out[0] && w.dice.IntN(5) == 0 {
			out = append(out, id)
		}
	}
	return out
}

// when is a local moment within ten days of now.
func (w *walk) when() string {
	return w.shop.Clock.Now().Add(time.Duration(w.dice.IntN(20*24*60)-10*24*60) * time.Minute).Format("2006-01-02T15:04")
}

func (w *walk) typeAPrice() string {
	id := w.one()
	price := fmt.Sprintf("%d.%02d", w.dice.IntN(120), w.dice.IntN(100))
	fault, err := w.shop.App.Goods.EditGoods(ctx, "marta", id, "price", price)
	require.NoError(w, err)
	require.Empty(w, fault)
	return "price of " + id + " typed: " + price
}

func (w *walk) changeMany() string {
	change := assortment.PriceChange{Percent: decimal.NewFromInt(int64(w.dice.IntN(80) - 40))}
	if w.dice.IntN(2) == 0 {
		change = assortment.PriceChange{Amount: int64(w.dice.IntN(2000) - 1000)}
	}
	ids := w.some()
	b, err := w.shop.App.Goods.ChangePrices(ctx, "marta", ids, change)
	require.NoError(w, err)
	w.batches = append(w.batches, b.ID)
	return fmt.Sprintf("%+v on %v", change, ids)
}

func (w *walk) undo() string {
	if len(w.batches) == 0 {
		return "nothing to undo"
	}
	last := w.batches[len(w.batches)-1]
	w.batches = w.batches[:len(w.batches)-1]
	said, err := w.shop.App.Goods.UndoBatch(ctx, last)
	require.NoError(w, err)
	return "undone: " + said
}

func (w *walk) makeAnOffer() string {
	in := offers.OfferInput{Name: fmt.Sprintf("Offer %d", len(w.offers)), Covers: "goods", Goods: w.some(), Class: []string{"", "", "frost"}[w.dice.IntN(3)]}
	switch w.dice.IntN(4) {
	case 0:
		in.Kind, in.Members = "percent_off", map[string]string{"percent": fmt.Sprint(1 + w.dice.IntN(60))}
	case 1:
		in.Kind, in.Members = "amount_off", map[string]string{"amount": fmt.Sprintf("%d.50", 1+w.dice.IntN(20))}
	case 2:
		in.Kind, in.Members = "set_price", map[string]string{"amount": fmt.Sprintf("%d.00", 1+w.dice.IntN(40))}
	case 3:
		in.Kind, in.Members = "percent_off", map[string]string{"percent": fmt.Sprint(1 + w.dice.IntN(30))}
		in.Covers, in.ShelfID, in.Goods = "shelf", "stood-long", nil
	}
	switch w.dice.IntN(3) {
	case 0:
		in.Starts = w.when()
	case 1:
		in.DeadlineID = w.ends
	}
	id, faults, err := w.shop.App.Offers.SaveOffer(ctx, in)
	require.NoError(w, err)
	if len(faults) > 0 {
		return fmt.Sprintf("refused: %v", faults)
	}
	in.ID = id
	w.offers = append(w.offers, in)
	return fmt.Sprintf("made %+v", in)
}

func (w *walk) changeAnOffer() string {
	if len(w.offers) == 0 {
		return "no offer yet"
	}
	in := &w.offers[w.dice.IntN(len(w.offers))]
	if in.Kind == "percent_off" {
		in.Members = map[string]string{"percent": fmt.Sprint(1 + w.dice.IntN(90))}
	}
	if in.Covers == "goods" {
		in.Goods = w.some()
	}
	_, faults, err := w.shop.App.Offers.SaveOffer(ctx, *in)
	require.NoError(w, err)
	return fmt.Sprintf("changed %s, faults %v", in.Name, faults)
}

func (w *walk) endAnOffer() string {
	if len(w.offers) == 0 {
		return "no offer yet"
	}
	in := w.offers[w.dice.IntN(len(w.offers))]
	require.NoError(w, w.shop.App.Offers.EndOffer(ctx, in.ID))
	return "ended " + in.Name
}

func (w *walk) moveTheDeadline() string {
	at := w.when()
	_, faults, err := w.shop.App.Offers.SaveDeadline(ctx, offers.DeadlineInput{ID: w.ends, Name: "Wandering", Kind: "fixed", At: at})
	require.NoError(w, err)
	require.Empty(w, faults)
	return "deadline moved to " + at
}

func (w *walk) bringIn() string {
	id := w.one()
	var sku string
	require.NoError(w, w.shop.Store.DB.Raw("SELECT sku FROM variants WHERE id = ?", id).Scan(&sku).Error)
	price := fmt.Sprintf("%d.90", w.dice.IntN(90))
	kept, err := w.shop.App.Goods.KeepImport(ctx, "marta", "goods.csv", []byte("sku,price\n"+sku+","+price+"\n"))
	require.NoError(w, err)
	d, err := w.shop.App.Goods.DryRun(ctx, kept, nil)
	require.NoError(w, err)
	require.Zero(w, d.Faulty, "%+v", d)
	_, err = w.shop.App.Goods.Import(ctx, "marta", d.ID, nil)
	require.NoError(w, err)
	return "import: " + sku + " at " + price
}

func (w *walk) wait() string {
	by := time.Duration(1+w.dice.IntN(3*24*60)) * time.Minute
	w.shop.Clock.Advance(by)
	require.NoError(w, w.shop.App.Prices.KeepLedger(ctx))
	return "waited " + by.String()
}

// Whatever the way in, after every change the price everybody is asked is the
// one the offers at hand compute, and the ledger's last entry says it; entries
// stand in order, none repeats the one before, none lies ahead.
func TestThePriceLedgerHoldsEveryChange(t *testing.T) {
	w := &walk{T: t, shop: testkit.Open(t), dice: rand.New(rand.NewPCG(27, 11))}
	require.NoError(t, w.shop.Store.DB.Raw("SELECT id FROM variants ORDER BY id").Scan(&w.goods).Error)
	var faults map[string]string
	var err error
	w.ends, faults, err = w.shop.App.Offers.SaveDeadline(ctx, offers.DeadlineInput{Name: "Wandering", Kind: "fixed", At: w.when()})
	require.NoError(t, err)
	require.Empty(t, faults)
	ways := []func() string{w.typeAPrice, w.changeMany, w.undo, w.makeAnOffer, w.changeAnOffer, w.endAnOffer, w.moveTheDeadline, w.bringIn, w.wait, w.wait}
	for step := range 120 {
		w.shop.Clock.Advance(time.Second)
		did := ways[w.dice.IntN(len(ways))]()
		w.holds(fmt.Sprintf("step %d: %s", step, did))
	}
}

func (w *walk) holds(after string) {
	w.Helper()
	f, err := w.shop.App.Facts.FactsFor(ctx, manuscript.Names{Products: w.goods}, factbook.Buyer{})
	require.NoError(w, err, after)
	var rows []struct {
		ID                  string
		Now, Price, Was, Of int64
		Repeats, Ahead      int64
	}
	require.NoError(w, w.shop.Store.DB.Raw(`SELECT v.id, v.now_minor AS now, v.price_minor AS price, l.price_minor AS was, l.list_minor AS of,
			(SELECT count(*) FROM (SELECT price_minor = lag(price_minor) OVER o AND list_minor = lag(list_minor) OVER o AS again
				FROM price_ledger p WHERE p.variant_id = v.id WINDOW o AS (ORDER BY since)) x WHERE again) AS repeats,
			(SELECT count(*) FROM price_ledger p WHERE p.variant_id = v.id AND p.since > ?) AS ahead
		FROM variants v JOIN LATERAL (SELECT * FROM price_ledger p WHERE p.variant_id = v.id ORDER BY since DESC LIMIT 1) l ON true`,
		w.shop.Clock.Now()).Scan(&rows).Error)
	require.Len(w, rows, len(w.goods), after)
	for _, r := range rows {
		price, err := f.PublicPrice(f.Products[r.ID], w.shop.Clock.Now())
		require.NoError(w, err, after)
		require.Equal(w, price, r.Now, "%s: %s is asked for what the offers compute", after, r.ID)
		require.Equal(w, [2]int64{r.Now, r.Price}, [2]int64{r.Was, r.Of}, "%s: %s as the ledger's last entry has it", after, r.ID)
		require.Zero(w, r.Repeats, "%s: %s has an entry twice", after, r.ID)
		require.Zero(w, r.Ahead, "%s: %s has an entry in the future", after, r.ID)
	}
}
