package words_test

import (
	"testing"

	"chrysagon/core/words"

	"github.com/stretchr/testify/assert"
)

func TestPlacesInARow(t *testing.T) {
	for n, want := range map[int]string{1: "first", 2: "second", 10: "tenth", 11: "11th", 12: "12th", 13: "13th", 21: "21st", 22: "22nd", 33: "33rd", 40: "40th", 111: "111th", 121: "121st"} {
		assert.Equal(t, want, words.Nth(n))
	}
}
