package names_test

import (
	"context"
	"testing"

	"chrysagon/gateway/names"

	"github.com/stretchr/testify/assert"
)

// What cannot be asked is an error, not an empty answer: nobody is told that a record is
// missing which could not be looked for.
func TestWhatCannotBeAskedIsAnError(t *testing.T) {
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	found, err := names.Resolver{}.TXT(ctx, "gustwell.example")
	assert.Error(t, err)
	assert.Empty(t, found)
}
