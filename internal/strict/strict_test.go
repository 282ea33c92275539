package strict_test

import (
	"strings"
	"testing"

	"chrysagon/internal/strict"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

type cart struct {
	Product  string `json:"product"`
	Quantity int    `json:"quantity" jsonschema:"minimum=1,maximum=9"`
	Note     string `json:"note,omitempty"`
}

// Each thing that a lenient decoder lets through is refused, with its place.
func TestWhatIsRefused(t *testing.T) {
	r := strict.Reader{Most: 1 << 10}
	for text, says := range map[string]string{
		`{"product":"ember","quantity":1,"surprise":2}`:   "surprise",
		`{"product":"ember","product":"x","quantity":1}`:  "product",
		`{"Product":"ember","quantity":1}`:                "Product",
		`{"quantity":1}`:                                  "product",
		`{"product":null,"quantity":1}`:                   "product",
		`{"product":"ember","quantity":1.5}`:              "quantity",
		`{"product":"ember","quantity":0}`:                "quantity",
		`{"product":"ember","quantity":10}`:               "quantity",
		`{"product":"ember","quantity":"1"}`:              "quantity",
		"{\"product\":\"\xff\",\"quantity\":1}":           "UTF-8",
		`{"product":"ember","quantity":1} x`:              "after",
		``:                                                "empty",
		`[]`:                                              "object",
		`{"product":"` + strings.Repeat("a", 1<<10) + `"`: "",
	} {
		var c cart
		err := r.Read(strings.NewReader(text), &c)
		require.Error(t, err, text)
		assert.Contains(t, err.Error(), says, text)
	}
	var c cart
	require.NoError(t, r.Read(strings.NewReader(` {"product":"ember","quantity":9} `), &c))
	assert.Equal(t, cart{Product: "ember", Quantity: 9}, c)
}
