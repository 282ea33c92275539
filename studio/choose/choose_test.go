package choose_test

import (
	"strings"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
)

// Where a link can lead is offered with what it is: what the page has first, then the
// store's; goods once somebody looks for them. Every value is a target that can be kept.
func TestWhereALinkCanLead(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	all := d.Get(d.At("/choose/link?page=night-flight")).Words()
	for _, value := range []string{`data-pick="checkout"`, `data-pick="home"`, `data-pick="mailto:"`, `data-pick="appointment"`, `data-pick="page:thank-you"`} {
		assert.Contains(t, all, value)
	}
	assert.NotContains(t, all, `data-pick="yes"`, "this page asks nothing")
	assert.NotContains(t, all, `data-pick="product:`)
	assert.Less(t, strings.Index(all, `data-pick="checkout"`), strings.Index(all, `data-pick="page:`))
	assert.Contains(t, d.Get(d.At("/choose/link?page=night-flight&q=gull")).Words(), `data-pick="product:gull"`)
	assert.Contains(t, d.Get(d.At("/choose/link?page=quiver-bag")).Words(), `data-pick="yes"`)
}
