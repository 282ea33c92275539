package find_test

import (
	"net/http"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
)

// One line finds pages, goods and what can be done; what it asks is told back, so that
// an answer that comes late is known to be one.
func TestOneLineFindsEverything(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	for question, path := range map[string]string{"night": "/pages/night-flight", "gull": "/goods/gull", "receipt": "/offers", "undo": "/pages"} {
		page := d.Get(d.At("/find?q=" + question))
		assert.Equal(t, http.StatusOK, page.Status)
		assert.Contains(t, page.Body, `href="`+path+`"`, question)
		assert.Contains(t, page.Body, `data-asked="`+question+`"`)
		assert.Contains(t, page.Body, `role="option"`)
	}
	none := d.Get(d.At("/find?q=%3Cscript%3Ezeppelin")).Body
	assert.Contains(t, none, "Nothing is called “&lt;script&gt;zeppelin”.")
}
