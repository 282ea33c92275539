// Package reading measures how long and how hard a text is to read.
package reading

import (
	"strings"
	"time"
	"unicode"
)

// WordsAMinute is the pace at which adults read English silently: 238 words a
// minute is the mean that Brysbaert found over 190 studies (How many words do
// we read per minute?, 2019); the value is from memory.
const WordsAMinute = 238

// Text is what was counted in a text.
type Text struct {
	Words, Sentences, Syllables int
}

// Count counts words, sentences and syllables. A line that ends without a full
// stop ends a sentence all the same: headings and points do.
func Count(text string) Text {
	var t Text
	for line := range strings.SplitSeq(text, "\n") {
		inSentence := false
		for word := range strings.FieldsSeq(line) {
			if !strings.ContainsFunc(word, func(r rune) bool { return unicode.IsLetter(r) || unicode.IsDigit(r) }) {
				continue
			}
			t.Words++
			t.Syllables += Syllables(word)
			inSentence = true
			if strings.ContainsAny(word[len(word)-1:], ".!?") || strings.HasSuffix(word, ".”") || strings.HasSuffix(word, "…") {
				t.Sentences++
				inSentence = false
			}
		}
		if inSentence {
			t.Sentences++
		}
	}
	return t
}

// Add joins two counts.
func (t Text) Add(o Text) Text {
	return Text{t.Words + o.Words, t.Sentences + o.Sentences, t.Syllables + o.Syllables}
}

// Ease is Flesch's reading ease in tenths of a point, rounded half up:
// 206.835 − 1.015 × words a sentence − 84.6 × syllables a word (Flesch, A new
// readability yardstick, 1948). Higher is easier; it is made for English.
// False when there is nothing to measure.
func (t Text) Ease() (tenths int, ok bool) {
	if t.Words == 0 || t.Sentences == 0 {
		return 0, false
	}
	w, s, y := int64(t.Words), int64(t.Sentences), int64(t.Syllables)
	// All over 1000·w·s, so that nothing is rounded before the end.
	over := 1000 * w * s
	sum := 206_835*w*s - 1_015*w*w - 84_600*y*s
	scaled := sum*20 + over
	tenth := scaled / (2 * over)
	if scaled < 0 && scaled%(2*over) != 0 {
		tenth--
	}
	return int(tenth), true
}

// Level says an ease in Flesch's own words.
func Level(tenths int) string {
	for _, step := range []struct {
		from int
		say  string
	}{{900, "very easy"}, {800, "easy"}, {700, "fairly easy"}, {600, "standard"}, {500, "fairly difficult"}, {300, "difficult"}} {
		if tenths >= step.from {
			return step.say
		}
	}
	return "very difficult"
}

// Takes is how long the words take to read.
func (t Text) Takes() time.Duration {
	return time.Duration(t.Words) * time.Minute / WordsAMinute
}

// Syllables counts the syllables of an English word by its groups of vowels: a
// silent e at the end, and the e of a past tense, are none. Dictionaries differ
// from it in about one word of ten (common practice, no source).
func Syllables(word string) int {
	word = strings.ToLower(strings.TrimFunc(word, func(r rune) bool { return !unicode.IsLetter(r) }))
	if word == "" {
		return 1 // a number is read as something
	}
	n, before := 0, false
	for _, r := range word {
		vowel := strings.ContainsRune("aeiouyáàâãéêèíóôõöúüäœæ", r)
		if vowel && !before {
			n++
		}
		before = vowel
	}
	switch {
	case n <= 1:
	case strings.HasSuffix(word, "le") && !strings.ContainsAny(word[len(word)-3:len(word)-2], "aeiouy"):
	case strings.HasSuffix(word, "e") && !strings.ContainsAny(word[len(word)-2:len(word)-1], "aeiouy"):
		n--
	case strings.HasSuffix(word, "ed") && !strings.HasSuffix(word, "ted") && !strings.HasSuffix(word, "ded"):
		n--
	case strings.HasSuffix(word, "es") && !strings.ContainsAny(word[len(word)-3:len(word)-2], "scxzh"):
		n--
	}
	return max(1, n)
}
