package reading_test

import (
	"testing"
	"time"

	"chrysagon/core/reading"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestWordsSentencesAndSyllablesAreCounted(t *testing.T) {
	assert.Equal(t, reading.Text{Words: 6, Sentences: 1, Syllables: 6}, reading.Count("The cat sat on the mat."))
	assert.Equal(t, reading.Text{Words: 5, Sentences: 3, Syllables: 5}, reading.Count("Fly it. Now?\n\nOne — light"))
	assert.Equal(t, reading.Text{}, reading.Count(" — \n… "))
}

// “The cat sat on the mat.” is the usual worked example: 116.145 by the
// formula (one sentence of six words, six syllables).
func TestEaseFollowsFleschsFormula(t *testing.T) {
	ease, ok := reading.Count("The cat sat on the mat.").Ease()
	assert.True(t, ok)
	assert.Equal(t, 1161, ease)
	// Worked by hand: 100 words in 5 sentences with 150 syllables:
	// 206.835 − 1.015·20 − 84.6·1.5 = 59.635.
	ease, _ = reading.Text{Words: 100, Sentences: 5, Syllables: 150}.Ease()
	assert.Equal(t, 596, ease)
	// One word of ten syllables: 206.835 − 1.015 − 846 = −640.18.
	ease, _ = reading.Text{Words: 1, Sentences: 1, Syllables: 10}.Ease()
	assert.Equal(t, -6402, ease)
	_, ok = reading.Text{}.Ease()
	assert.False(t, ok)
}

// The bands of Flesch's table (1948).
func TestLevelsAreFleschsOwn(t *testing.T) {
	for tenths, want := range map[int]string{1000: "very easy", 900: "very easy", 899: "easy", 750: "fairly easy", 650: "standard", 600: "standard", 599: "fairly difficult", 300: "difficult", 299: "very difficult", -5: "very difficult"} {
		assert.Equal(t, want, reading.Level(tenths), tenths)
	}
}

// Syllables as dictionaries have them.
func TestSyllables(t *testing.T) {
	for word, want := range map[string]int{
		"kite": 1, "lantern": 2, "steady": 2, "wind": 1, "table": 2, "evening": 3, "flies": 1, "made": 1, "walked": 1, "wanted": 2, "horses": 2, "the": 1, "beautiful": 3, "180": 1, "sails.": 1, "workshop": 2,
	} {
		assert.Equal(t, want, reading.Syllables(word), word)
	}
}

func TestTakesIsByThePaceOfAdults(t *testing.T) {
	assert.Equal(t, 2*time.Minute, reading.Text{Words: 2 * reading.WordsAMinute}.Takes())
}

// Two texts one after the other are counted like the two apart, and no text is
// counted without a sentence for its words.
func TestCountsAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a, b := rapid.String().Draw(t, "a"), rapid.String().Draw(t, "b")
		assert.Equal(t, reading.Count(a).Add(reading.Count(b)), reading.Count(a+"\n"+b))
		c := reading.Count(a)
		assert.Equal(t, c.Words == 0, c.Sentences == 0)
		assert.GreaterOrEqual(t, c.Syllables, c.Words)
	})
}
