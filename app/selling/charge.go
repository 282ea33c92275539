package selling

import (
	"context"
	"errors"
	"fmt"
	"net/url"

	"chrysagon/app/factbook"
	"chrysagon/app/ports"
	"chrysagon/app/walks"
	"chrysagon/core/deadline"
	"chrysagon/core/money"
	"chrysagon/core/order"
	"chrysagon/core/route"
	"chrysagon/store"
)

// underway tells a browser whose order is being paid for where that order is.
func (counter *Counter) underway(ctx context.Context, in PayInput) (bool, PayOutcome, error) {
	var o store.Order
	err := counter.Store.On(ctx).Raw(`SELECT * FROM orders WHERE visitor = ? AND step_id = ? AND state = 'paying'`,
		in.Visitor, in.at.Step.ID).Scan(&o).Error
	if err != nil || o.ID == "" {
		return false, PayOutcome{}, err
	}
	return true, PayOutcome{Go: order.Path(o.Token)}, nil
}

func (counter *Counter) alreadyBought(c Checkout, o store.Order) (PayOutcome, error) {
	said := "You have already ordered this, and your order waits for your payment. To order once more, tick the box and press the button."
	if o.PaidAt != nil {
		said = fmt.Sprintf(
			"You have already ordered this: order %d, paid on %s. Nothing was charged again. To order once more, tick the box and press the button.",
			*o.Number, deadline.Written(*o.PaidAt, c.Facts.Store.Zone))
	}
	outcome, err := c.told(said)
	outcome.Again = o.Token
	return outcome, err
}

// unsold tells a buyer that somebody else was quicker; other errors pass.
func (counter *Counter) unsold(ctx context.Context, in PayInput, cause error) (PayOutcome, error) {
	var gone soldOut
	if !errors.As(cause, &gone) {
		return PayOutcome{}, fmt.Errorf("begin the order: %w", cause)
	}
	c, err := counter.Checkout(ctx, in)
	if err != nil {
		return PayOutcome{}, err
	}
	notice := gone.said() + " Nothing was charged."
	if c.Sale.Closed != "" {
		return PayOutcome{Notice: notice, Errors: map[string]string{}}, nil
	}
	return c.told(notice + " Look at what holds now, then press the button again.")
}

// charge asks the till outside any transaction and acts on the answer.
func (counter *Counter) charge(ctx context.Context, in PayInput, s started) (PayOutcome, error) {
	if in.Values["token"] == "" && s.payment.AmountMinor > 0 && s.payment.Way == string(order.ByCard) {
		return counter.toTill(ctx, s)
	}
	answer, err := counter.askTill(ctx, s, in.Values["token"])
	if err != nil {
		// Not known what happened: the buyer waits on the order's page, and
		// the reconciling job finds out.
		counter.Log.Warn("the till did not answer", "order", s.order.ID, "error", err)
		return PayOutcome{Go: order.Path(s.order.Token)}, nil
	}
	if err := counter.Settle(ctx, answer); err != nil {
		return PayOutcome{}, err
	}
	switch answer.State {
	case order.Confirming:
		return PayOutcome{Go: answer.ConfirmURL}, nil
	case order.Charged:
		path, err := counter.nextPath(ctx, s.order.ID, in.at, route.Bought)
		return PayOutcome{Go: path}, err
	case order.Refused, order.Cancelled, order.Asked, order.Waiting:
	}
	return PayOutcome{Errors: map[string]string{"card": answer.Message}, Notice: answer.Message}, nil
}

// toTill sends a buyer without script to the till's own card page. The charge
// is stored and will be asked for when they come back with a card.
func (counter *Counter) toTill(ctx context.Context, s started) (PayOutcome, error) {
	err := counter.Store.On(ctx).Model(&store.Payment{}).Where("id = ?", s.payment.ID).Update("awaits_card", true).Error
	if err != nil {
		return PayOutcome{}, err
	}
	back := counter.Origins.Shop + order.Path(s.order.Token) + "/card"
	return PayOutcome{Go: counter.Origins.Till + "/card?return=" + url.QueryEscape(back)}, nil
}

// ErrNoGateway leaves a payment as it is until a gateway is connected again.
var ErrNoGateway = errors.New("no payment gateway is connected")

// askTill charges, and when the answer does not come asks once more what
// became of it.
func (counter *Counter) askTill(ctx context.Context, s started, token string) (ports.ChargeAnswer, error) {
	if s.payment.AmountMinor == 0 {
		return ports.ChargeAnswer{Key: s.payment.Key, State: order.Charged}, nil
	}
	if counter.Ports.Payments == nil {
		return ports.ChargeAnswer{}, ErrNoGateway
	}
	answer, err := counter.Ports.Payments.Charge(ctx, ports.ChargeRequest{
		Key: s.payment.Key, Amount: money.Of(s.payment.AmountMinor, s.order.Currency), Way: order.Way(s.payment.Way), Token: token,
		Reference: "order " + s.order.ID, ReturnURL: counter.Origins.Shop + order.Path(s.order.Token),
	})
	if err == nil {
		return answer, nil
	}
	concluded, again := counter.Ports.Payments.Conclude(ctx, s.payment.Key)
	if again != nil {
		return ports.ChargeAnswer{}, errors.Join(err, again)
	}
	if concluded.State == order.Cancelled {
		concluded.Message = "The till did not answer, so nothing was charged. Press the button to try again."
	}
	return concluded, nil
}

// nextPath is where an outcome leads an order's buyer. Where nothing leads on any
// more, the order's own page tells what it is.
func (counter *Counter) nextPath(ctx context.Context, orderID string, at walks.Place, outcome route.Outcome) (string, error) {
	o, err := store.One[store.Order](counter.Store.On(ctx).Where("id = ?", orderID), factbook.NoOrder)
	if err != nil {
		return "", err
	}
	to, err := counter.Guide.After(ctx, o, at, outcome)
	if errors.Is(err, walks.ErrNowhere) {
		counter.Log.Error("a route is missing", "step", at.Step.ID, "outcome", string(outcome))
		return order.Path(o.Token), nil
	}
	return pathOf(to, o), err
}

// pathOf is where a step is found, with the order's token where it is for who has paid.
func pathOf(to walks.To, o store.Order) string {
	if to.Step.Kind.AfterPayment() {
		return to.Path + "?order=" + o.Token
	}
	return to.Path
}
