package forms_test

import (
	"net/http"
	"net/url"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
)

// A form that is on no page takes nothing, and says so.
func TestAFormThatIsOnNoPage(t *testing.T) {
	shop := testkit.Open(t)
	answer := shop.Browser().Post("/night-flight/forms/none", url.Values{"email": {"ines@example.org"}}, "")
	assert.GreaterOrEqual(t, answer.Status, http.StatusBadRequest)
	assert.Zero(t, shop.Number("SELECT count(*) FROM leads"))
}
