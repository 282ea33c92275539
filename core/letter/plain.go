package letter

import (
	"html"
	"regexp"
	"strings"
)

var (
	apart    = regexp.MustCompile(`\n[ \t]*\n`)
	marked   = regexp.MustCompile(`^\s*(#{1,6})\s+(.+)$`)
	bulleted = regexp.MustCompile(`^\s*[-*•‣–]\s+(.+)$`)
	numbered = regexp.MustCompile(`^\s*[0-9]{1,2}[.)]\s+(.+)$`)
)

// fromPlain reads plain text: paragraphs are set apart by empty lines. A short line alone
// that ends no sentence is a heading, the first of them before any copy the title; # before
// a line makes it one in any case; lines that begin with > are a quotation; with a dash, a
// dot or a number, points.
func fromPlain(text string) []Part {
	text = strings.NewReplacer("\r\n", "\n", "\r", "\n").Replace(text)
	var parts []Part
	for _, block := range apart.Split(text, -1) {
		if part, ok := plainPart(lines(block), len(parts) == 0); ok {
			parts = append(parts, part...)
		}
	}
	return parts
}

func lines(block string) []string {
	var out []string
	for l := range strings.SplitSeq(block, "\n") {
		if l = clean(l); l != "" {
			out = append(out, l)
		}
	}
	return out
}

func plainPart(lines []string, first bool) ([]Part, bool) {
	if len(lines) == 0 {
		return nil, false
	}
	heading := func(text string) Part {
		if first {
			return Part{Kind: Title, Text: text}
		}
		return Part{Kind: Heading, Text: text}
	}
	if m := marked.FindStringSubmatch(lines[0]); m != nil {
		out := []Part{heading(m[2])}
		if len(m[1]) > 1 {
			out[0].Kind = Heading
		}
		rest, _ := plainPart(lines[1:], false)
		return append(out, rest...), true
	}
	if items, ok := each(lines, bulleted); ok {
		return []Part{{Kind: Points, Items: items}}, true
	}
	if items, ok := each(lines, numbered); ok {
		return []Part{{Kind: Points, Items: items, Count: true}}, true
	}
	if quote, ok := cited(lines); ok {
		return []Part{quoted(quote, "")}, true
	}
	if len(lines) == 1 && isHeading(lines[0]) {
		return []Part{heading(lines[0])}, true
	}
	var out strings.Builder
	for _, l := range lines {
		out.WriteString("<p>" + html.EscapeString(l) + "</p>")
	}
	return []Part{{Kind: Copy, Rich: out.String()}}, true
}

// each takes the items of lines that all begin as those of a list do; at least two.
func each(lines []string, item *regexp.Regexp) ([]string, bool) {
	var out []string
	for _, l := range lines {
		m := item.FindStringSubmatch(l)
		if m == nil {
			return nil, false
		}
		out = append(out, m[1])
	}
	return out, len(out) > 1
}

// cited takes the > before the lines of a quotation away; a line with a dash may follow.
func cited(lines []string) ([]string, bool) {
	var out []string
	for i, l := range lines {
		cut, is := strings.CutPrefix(l, ">")
		if _, dash := dashed(l); !is && (i == 0 || i < len(lines)-1 || !dash) {
			return nil, false
		}
		if cut = strings.TrimSpace(cut); cut != "" {
			out = append(out, cut)
		}
	}
	return out, len(out) > 0
}

// isHeading tells whether a line that stands alone is a heading: short, and no sentence.
func isHeading(line string) bool {
	n := len([]rune(line))
	return n >= 3 && n <= 80 && !strings.ContainsAny(line[len(line)-1:], ".,;:!)") && !strings.HasSuffix(line, "…") && len(strings.Fields(line)) <= 12
}
