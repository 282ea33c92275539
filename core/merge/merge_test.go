package merge_test

import (
	"fmt"
	"strings"
	"testing"

	"chrysagon/core/merge"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func ExampleWords() {
	fmt.Println(merge.Words("A kite for light wind.", "A kite for light and steady wind.", "A red kite for light wind, sewn here."))
	// Output: A red kite for light and steady wind, sewn here.
}

func TestTwoChangesOfAText(t *testing.T) {
	for name, c := range map[string]struct{ base, mine, theirs, want string }{
		"only mine":                         {"a b", "a x b", "a b", "a x b"},
		"only theirs":                       {"a b", "a b", "a b y", "a b y"},
		"the same":                          {"a b", "a c", "a c", "a c"},
		"at either end":                     {"the kite", "see the kite", "the kite flies", "see the kite flies"},
		"both at the end":                   {"the kite", "the kite rises", "the kite falls", "the kite falls rises"},
		"into nothing":                      {"", "mine", "theirs", "theirs mine"},
		"both at the end of one word":       {"kite", "kites", "kite!", "kite!s"},
		"letters of one word, apart":        {"lantren", "lantern", "Lantren", "Lantern"},
		"one word made two others":          {"red", "blue", "green", "green blue"},
		"one goes, another comes":           {"one two three", "one three", "one two three four", "one three four"},
		"what they took away I changed":     {"one two three", "one twofold three", "one three", "one twofold three"},
		"what I took away they changed":     {"one two three", "one three", "one twofold three", "one twofold three"},
		"the last word goes, another comes": {"a b", "a", "a b c", "a c"},
		"lines":                             {"one\ntwo", "one\nhalf\ntwo", "one\ntwo\nthree", "one\nhalf\ntwo\nthree"},
		"white space at the beginning":      {" a", " a b", "  a", "  a b"},
		"no spaces between words":           {"凧揚げ", "凧揚げ大会", "新春凧揚げ", "新春凧揚げ大会"},
		"emoji":                             {"🪁 up", "🪁 up 🌬️", "🪁 🪁 up", "🪁 🪁 up 🌬️"},
	} {
		assert.Equal(t, c.want, merge.Words(c.base, c.mine, c.theirs), name)
	}
}

func TestTwoChangesOfCopy(t *testing.T) {
	assert.Equal(t, "<p>A red kite.</p><ul><li>light</li><li>strong</li></ul>",
		merge.Copy("<p>A kite.</p><ul><li>light</li></ul>", "<p>A kite.</p><ul><li>light</li><li>strong</li></ul>", "<p>A red kite.</p><ul><li>light</li></ul>"))
	assert.Equal(t, "<h2>A kite that glows</h2>",
		merge.Copy("<p>A kite</p>", "<h2>A kite</h2>", "<p>A kite that glows</p>"), "one makes it a heading, another writes on")
}

var wordsOf = rapid.SliceOfN(rapid.StringMatching(`[a-e]{1,3}`), 0, 12)

// change is a text with some words taken out and some of its own put in.
func change(t *rapid.T, base []string, own string) (text []string, added, gone []string) {
	for i, w := range base {
		if rapid.IntRange(0, 5).Draw(t, "goes") == 0 {
			gone = append(gone, w)
			continue
		}
		if rapid.IntRange(0, 4).Draw(t, "comes") == 0 {
			one := fmt.Sprintf("%s%d", own, i)
			text, added = append(text, one), append(added, one)
		}
		text = append(text, w)
	}
	if rapid.Bool().Draw(t, "goes on") {
		text, added = append(text, own+"Z"), append(added, own+"Z")
	}
	return text, added, gone
}

// Nothing that either of them added is lost, nothing that neither took away
// goes, and nothing comes from nowhere.
func TestNoWordIsLost(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		base := wordsOf.Draw(t, "base")
		mine, addedM, goneM := change(t, base, "MINE")
		theirs, addedT, goneT := change(t, base, "HERS")
		join := func(list []string) string { return strings.Join(list, " ") }
		got := strings.Fields(merge.Words(join(base), join(mine), join(theirs)))
		for _, w := range append(addedM, addedT...) {
			assert.Contains(t, got, w)
		}
		count := func(list []string) map[string]int {
			out := map[string]int{}
			for _, w := range list {
				out[w]++
			}
			return out
		}
		kept, went := count(got), count(append(append([]string{}, goneM...), goneT...))
		for w, n := range count(base) {
			assert.GreaterOrEqual(t, kept[w], n-went[w], w)
			assert.LessOrEqual(t, kept[w], n, w)
		}
	})
}

// Whoever has changed nothing takes what the other has, whatever it is.
func TestOneChangeIsTakenAsItIs(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		base, other := rapid.String().Draw(t, "base"), rapid.String().Draw(t, "other")
		for _, f := range []func(base, mine, theirs string) string{merge.Words, merge.Copy} {
			assert.Equal(t, other, f(base, other, base))
			assert.Equal(t, other, f(base, base, other))
			assert.Equal(t, other, f(base, other, other))
		}
	})
}

// A text of many words is not held against another one word by word for ever.
func TestLongTextsAreMergedInBlocks(t *testing.T) {
	base, mine, theirs := make([]string, 5000), make([]string, 5000), make([]string, 5000)
	for i := range base {
		base[i], mine[i], theirs[i] = fmt.Sprint("b", i), fmt.Sprint("m", i), fmt.Sprint("t", i)
	}
	got := merge.Words("start "+strings.Join(base, " ")+" end", "start "+strings.Join(mine, " ")+" end", "start "+strings.Join(theirs, " ")+" end")
	assert.Equal(t, "start "+strings.Join(theirs, " ")+" "+strings.Join(mine, " ")+" end", got)
}

func item(title, text string) any { return map[string]any{"title": title, "text": text} }

func words(_ string, base, mine, theirs any) any {
	b, _ := base.(string)
	m, _ := mine.(string)
	t, _ := theirs.(string)
	return merge.Words(b, m, t)
}

func TestTwoChangesOfAList(t *testing.T) {
	base := []any{item("Light", "Thirty grams."), item("Mended", "For life."), item("Tried", "By hand.")}
	for name, c := range map[string]struct{ mine, theirs, want []any }{
		"two items": {
			[]any{item("Very light", "Thirty grams."), base[1], base[2]}, []any{base[0], base[1], item("Tried", "By hand, twice.")},
			[]any{item("Very light", "Thirty grams."), base[1], item("Tried", "By hand, twice.")},
		},
		"two fields of one": {
			[]any{base[0], item("Mended free", "For life."), base[2]}, []any{base[0], item("Mended", "For your life."), base[2]},
			[]any{base[0], item("Mended free", "For your life."), base[2]},
		},
		"one goes, the next is changed": {
			[]any{base[1], base[2]}, []any{base[0], item("Mended", "For ever."), base[2]},
			[]any{item("Mended", "For ever."), base[2]},
		},
		"both add": {
			[]any{base[0], base[1], base[2], item("Mine", "")}, []any{base[0], base[1], base[2], item("Theirs", "")},
			[]any{base[0], base[1], base[2], item("Theirs", ""), item("Mine", "")},
		},
		"one adds, one takes away": {
			[]any{base[0], base[1], base[2], item("Mine", "")}, []any{base[0], base[2]},
			[]any{base[0], base[2], item("Mine", "")},
		},
		"what one took away the other changed": {
			[]any{base[0], base[2]}, []any{base[0], item("Mended", "For ever and a day."), base[2]},
			[]any{base[0], item("Mended", "For ever and a day."), base[2]},
		},
	} {
		assert.Equal(t, c.want, merge.Items(base, c.mine, c.theirs, words), name)
	}
	blank := []any{item("", ""), item("", "")}
	assert.Equal(t, []any{item("A title", "Some text"), item("", "")},
		merge.Items(blank, []any{item("A title", ""), item("", "")}, []any{item("", "Some text"), item("", "")}, words), "an empty one is filled by two")
}
