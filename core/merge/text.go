package merge

import (
	"strings"
	"unicode"
	"unicode/utf8"
)

// Words merges two changes of a text word by word.
func Words(base, mine, theirs string) string { return texts(base, mine, theirs, false) }

// Copy merges two changes of HTML, tag by tag and word by word. What comes of
// it holds all words, and is to be brought into form again: a tag that one of
// them closed may have been taken away by the other.
func Copy(base, mine, theirs string) string { return texts(base, mine, theirs, true) }

func texts(base, mine, theirs string, tags bool) string {
	switch {
	case base == mine, mine == theirs:
		return theirs
	case base == theirs:
		return mine
	}
	list := words.merged(tokens(base, tags), tokens(mine, tags), tokens(theirs, tags))
	if n := len(list) - 1; n >= 0 && !list[n].tag { // what stands last now may have stood before something
		list[n].space = trailing(theirs)
		if trailing(mine) != trailing(base) {
			list[n].space = trailing(mine)
		}
	}
	var out strings.Builder
	for i, t := range list {
		out.WriteString(t.word + t.space)
		// Only what was brought together can stand without a space between.
		if t.space == "" && !t.tag && i+1 < len(list) && !list[i+1].tag {
			out.WriteByte(' ')
		}
	}
	return out.String()
}

func trailing(text string) string { return text[len(strings.TrimRightFunc(text, unicode.IsSpace)):] }

// token is a word with the white space after it, or a tag.
type token struct {
	word, space string
	tag         bool
}

var words = rules[token]{
	alike: func(base, side []token, i, j int) float64 {
		a, b := base[i], side[j]
		switch {
		case a.tag != b.tag:
			return 0
		case a.word == b.word:
			return 1
		case a.tag:
			return 0
		}
		return nearly(a.word, b.word)
	},
	same: func(a, b token) bool { return a.word == b.word && a.tag == b.tag },
	both: func(base, mine, theirs token) token {
		out := theirs
		if theirs.space == base.space {
			out.space = mine.space
		}
		out.word = letters(base.word, mine.word, theirs.word)
		return out
	},
}

// tokens cuts a text into words, and into tags where it may have them. White
// space at the beginning stands by itself.
func tokens(text string, tags bool) []token {
	var out []token
	for text != "" {
		if tags && text[0] == '<' {
			if end := strings.IndexByte(text, '>'); end > 0 {
				out = append(out, token{word: text[:end+1], tag: true})
				text = text[end+1:]
				continue
			}
		}
		stop := func(r rune) bool { return unicode.IsSpace(r) || (tags && r == '<') }
		word := len(text)
		if i := strings.IndexFunc(text[utf8Len(text):], stop); i >= 0 {
			word = i + utf8Len(text)
		}
		if unicode.IsSpace(first(text)) {
			word = 0
		}
		space := len(text) - word
		if i := strings.IndexFunc(text[word:], func(r rune) bool { return !unicode.IsSpace(r) }); i >= 0 {
			space = i
		}
		out = append(out, token{word: text[:word], space: text[word : word+space]})
		text = text[word+space:]
	}
	return out
}

func first(text string) rune { r, _ := utf8.DecodeRuneInString(text); return r }

func utf8Len(text string) int { _, n := utf8.DecodeRuneInString(text); return n }

// nearly says how much two words have in common: their equal beginning and
// end, as a share of the longer one; under a half they are two words.
func nearly(a, b string) float64 {
	ra, rb := []rune(a), []rune(b)
	head, tail := ends(ra, rb)
	share := float64(head+tail) / float64(max(len(ra), len(rb), 1))
	if share < 0.5 {
		return 0
	}
	return 0.9 * share
}

// ends are the lengths of the equal beginning and the equal end of two words.
func ends(a, b []rune) (head, tail int) {
	for head < len(a) && head < len(b) && a[head] == b[head] {
		head++
	}
	for tail < len(a)-head && tail < len(b)-head && a[len(a)-1-tail] == b[len(b)-1-tail] {
		tail++
	}
	return head, tail
}

// letters merges two changes of one word: where they touch other letters both
// are made, and else both words stay.
func letters(base, mine, theirs string) string {
	switch {
	case base == mine, mine == theirs:
		return theirs
	case base == theirs:
		return mine
	}
	b, m, t := []rune(base), []rune(mine), []rune(theirs)
	mh, mt := ends(b, m)
	th, tt := ends(b, t)
	switch {
	case len(b)-tt <= mh: // theirs lies before mine
		return string(t[:len(t)-tt]) + string(b[len(b)-tt:mh]) + string(m[mh:])
	case len(b)-mt <= th:
		return string(m[:len(m)-mt]) + string(b[len(b)-mt:th]) + string(t[th:])
	}
	return theirs + " " + mine
}
