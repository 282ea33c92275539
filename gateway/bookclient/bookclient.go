// Package bookclient calls the appointment book over HTTP.
package bookclient

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"strconv"

	"chrysagon/app/ports"
	"chrysagon/core/appointment"
	"chrysagon/gateway/loopback"
)

// Client is the appointment book as the program sees it.
type Client struct {
	Origin string
	Key    string
	HTTP   *http.Client
}

// Free lists the times that can be taken.
func (c *Client) Free(ctx context.Context, days, minutes int, zone string) ([]appointment.Slot, error) {
	q := url.Values{"days": {strconv.Itoa(days)}, "minutes": {strconv.Itoa(minutes)}, "zone": {zone}}
	status, said, err := c.call(ctx, http.MethodGet, "/api/slots?"+q.Encode(), "", nil)
	if err != nil {
		return nil, err
	}
	var out []appointment.Slot
	if status != http.StatusOK || json.Unmarshal(said, &out) != nil {
		return nil, fmt.Errorf("the appointment book answered %d: %.200s", status, said)
	}
	return out, nil
}

// Take writes one down, once for each key; ports.ErrTaken when somebody else has
// that time.
func (c *Client) Take(ctx context.Context, key string, b ports.Booking) error {
	status, said, err := c.call(ctx, http.MethodPost, "/api/bookings", key, map[string]any{"at": b.At, "minutes": b.Minutes, "name": b.Name, "email": b.Email, "subject": b.Subject})
	switch {
	case err != nil:
		return err
	case status == http.StatusConflict:
		return ports.ErrTaken
	case status != http.StatusCreated:
		return fmt.Errorf("the appointment book answered %d: %.200s", status, said)
	}
	return nil
}

func (c *Client) call(ctx context.Context, method, path, key string, body any) (int, []byte, error) {
	return loopback.Service{Name: "the appointment book", Origin: c.Origin, Key: c.Key, HTTP: c.HTTP, Most: 1 << 20}.Call(ctx, method, path, key, body)
}
