package ports_test

import (
	"testing"

	"chrysagon/app/ports"
	"chrysagon/gateway/bookclient"
	"chrysagon/gateway/smtp"
	"chrysagon/gateway/tillclient"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
)

// Clients and fakes answer the same ports, so that what holds with one can be tested
// with the other.
func TestClientsAndFakesAnswerThePorts(t *testing.T) {
	for _, one := range []any{&tillclient.Client{}, &testkit.FakeTill{}} {
		assert.Implements(t, (*ports.Payments)(nil), one)
	}
	for _, one := range []any{&smtp.Sender{}, &testkit.FakePost{}} {
		assert.Implements(t, (*ports.Post)(nil), one)
	}
	for _, one := range []any{&bookclient.Client{}, &testkit.FakeBook{}} {
		assert.Implements(t, (*ports.Appointments)(nil), one)
	}
}
