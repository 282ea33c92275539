package refusal_test

import (
	"errors"
	"fmt"
	"testing"

	"chrysagon/core/refusal"

	"github.com/stretchr/testify/assert"
)

func Example() {
	err := fmt.Errorf("save the page: %w", refusal.Of(refusal.ErrConflict, "Another page already has the address /%s.", "lanterns"))
	fmt.Println(refusal.As(err))
	fmt.Println(errors.Is(err, refusal.ErrConflict))
	// Output:
	// Another page already has the address /lanterns.
	// true
}

func TestOnlyARefusalHasASentence(t *testing.T) {
	assert.Empty(t, refusal.As(errors.New("connection refused")), "what went wrong inside is not said")
	assert.Empty(t, refusal.As(nil))
	assert.Equal(t, "It is empty.", refusal.Sentence(errors.New("it is empty")))
	field, say := refusal.CutPlace("starts: it is no day")
	assert.Equal(t, []string{"starts", "It is no day."}, []string{field, say})
	field, say = refusal.CutPlace("it is no name")
	assert.Equal(t, []string{"name", "it is no name."}, []string{field, say})
}
