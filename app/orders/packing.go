package orders

import (
	"cmp"
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/core/address"
	"chrysagon/core/catalogue"
	"chrysagon/core/money"
	"chrysagon/store"
)

// Packet is one order as it is packed.
type Packet struct {
	OrderRow
	Where []string
	Lines []Packed
}

// Packed is one line of it.
type Packed struct {
	OrderID   string
	SKU, Name string
	Units     int
}

// Packing reads what goes into the parcel of each order, less what has gone back.
func (office *Office) Packing(ctx context.Context, rows []OrderRow) ([]Packet, error) {
	ids := make([]string, len(rows))
	for i, r := range rows {
		ids[i] = r.ID
	}
	var lines []Packed
	err := office.Store.On(ctx).Raw(`SELECT l.order_id, v.sku, l.name, l.quantity - coalesce(b.back, 0) AS units
		FROM order_lines l JOIN payments p ON p.id = l.payment_id AND p.state = 'charged' JOIN variants v ON v.id = l.variant_id
		JOIN products q ON q.id = v.product_id AND q.form = 'physical' LEFT JOIN LATERAL (`+factbook.UnitsBack+`) b ON true
		WHERE l.order_id = ANY(?::text[]) AND l.quantity > coalesce(b.back, 0) ORDER BY p.asked_at, l.position`, store.TextArray(ids)).Scan(&lines).Error
	if err != nil {
		return nil, fmt.Errorf("read what is packed: %w", err)
	}
	out := make([]Packet, len(rows))
	for i, r := range rows {
		out[i] = Packet{OrderRow: r, Where: factbook.Addressed(store.Order{Name: r.Name, Address: r.Address})}
	}
	for _, l := range lines {
		i := slices.Index(ids, l.OrderID)
		out[i].Lines = append(out[i].Lines, l)
	}
	return out, nil
}

// orderColumns are those of the CSV, see docs/formats/orders.md.
var orderColumns = []string{"number", "paid_at", "standing", "name", "email", "street", "postcode", "town", "country", "items", "units", "total", "refunded", "currency", "carrier", "parcel", "campaign", "extra", "region", "company", "phone"}

// ExportOrders writes orders as CSV (RFC 4180), the newest first.
func (office *Office) ExportOrders(ctx context.Context, q OrderQuery, to io.Writer) error {
	rows, err := office.Orders(ctx, q)
	if err != nil {
		return err
	}
	w := csv.NewWriter(to)
	w.UseCRLF = true
	err = w.Write(orderColumns)
	for _, r := range rows {
		number := ""
		if r.Number != nil {
			number = strconv.FormatInt(*r.Number, 10)
		}
		place := r.Place()
		fields := []string{
			number, r.At.UTC().Format(time.RFC3339), r.Standing, r.Name, r.Email, place["street"], place["postcode"], place["town"], cmp.Or(address.Code(place["country"]), place["country"]),
			r.Items, strconv.Itoa(r.Units), money.Of(r.TotalMinor, r.Currency).Plain(), money.Of(r.RefundedMinor, r.Currency).Plain(), r.Currency, r.Carrier, r.Parcel, r.Campaign,
			place["extra"], place["region"], r.said("company"), r.said("phone"),
		}
		err = errors.Join(err, w.Write(catalogue.Guarded(fields)))
	}
	w.Flush()
	return errors.Join(err, w.Error())
}
