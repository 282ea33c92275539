package letter_test

import (
	"fmt"
	"strings"
	"testing"

	"chrysagon/core/letter"
	"chrysagon/core/rich"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func none(string) bool { return false }

func Example() {
	for _, p := range letter.Read("Why we sew by daylight\n\nThe lamp lies about amber.\n\n> I flew it until March.\n— Rita Sol\n\nWhat is in the bag\n\n- one kite\n- one line", none) {
		fmt.Println(p.Kind, p.Text, p.Rich, p.Who, p.Items)
	}
	// Output:
	// title Why we sew by daylight   []
	// copy  <p>The lamp lies about amber.</p>  []
	// quote I flew it until March.  Rita Sol []
	// heading What is in the bag   []
	// points    [one kite one line]
}

func kinds(parts []letter.Part) string {
	var out []string
	for _, p := range parts {
		out = append(out, string(p.Kind))
	}
	return strings.Join(out, " ")
}

// What a word processor and a mail program put on the clipboard, cut down: the names of
// classes and the styles are from memory of what they write (common practice, no source).
func TestWhatIsPastedKeepsWhatItIs(t *testing.T) {
	for name, c := range map[string]struct{ html, want string }{
		"of a word processor": {`<p class=MsoTitle>Night flight</p><p class=MsoSubtitle>Light you can hold on a line</p><p class=MsoNormal>It began on the mole.</p>
			<p class=MsoQuote>We stayed until our feet were wet.</p><h1>What it weighs</h1><p class=MsoNormal>Thirty grams.</p><h1>Whom it is for</h1><p class=MsoNormal>Anyone.</p>`,
			"title teaser copy quote heading copy heading copy"},
		"of a writing program in a browser": {`<b style="font-weight:normal"><p dir="ltr"><span style="font-size:26pt">Night flight</span></p><h2>What it weighs</h2><p><span style="font-size:11pt">Thirty grams.</span></p>
			<ul><li><p>kite</p></li><li><p>line</p></li><li><p>bag</p></li></ul></b>`, "title heading copy points"},
		"of a page":                {`<article><h1>Night flight</h1><section><h2>Weight</h2><p>Thirty.</p><blockquote><p>Until March.</p><footer>— Rita</footer></blockquote></section><aside><h4>By hand</h4><p>Each.</p></aside></article>`, "title heading copy quote aside"},
		"a box of a style":         {`<div style="border:1px solid #ccc;padding:1em"><p><strong>Our word</strong></p><p>Sewn again.</p></div><p>After.</p>`, "aside copy"},
		"a box of one cell":        {`<table><tbody><tr><td><p>Sewn again.</p></td></tr></tbody></table>`, "copy"},
		"a mail framed as a whole": {`<table style="border:1px solid #ddd"><tr><td><h2>Weight</h2><p>` + strings.Repeat("Thirty grams. ", 120) + `</p></td></tr></table>`, "heading copy"},
		"a box of a cell's edge":   {`<table style="border-collapse:collapse;border:solid windowtext 1.0pt"><tr><td><p>Sewn again.</p></td></tr></table>`, "aside"},
		"a list within its copy":   {`<p>In it:</p><ul><li>a <a href="https://x.example">link</a></li><li>b</li><li>c</li></ul>`, "copy"},
		"two items are no points":  {`<ul><li>a</li><li>b</li></ul>`, "copy"},
		"nothing":                  {`<p>&nbsp;</p><div></div><h2> </h2>`, ""},
	} {
		assert.Equal(t, c.want, kinds(letter.Read(c.html, none)), name)
	}
	parts := letter.Read(`<blockquote>“Until March.”<br>— Rita Sol, north mole</blockquote><div style="background:#f4ead0"><b>Our word</b><p>Sewn <i>again</i>.</p></div>`, none)
	require.Len(t, parts, 2)
	assert.Equal(t, letter.Part{Kind: letter.Quote, Text: "Until March.", Who: "Rita Sol, north mole"}, parts[0])
	assert.Equal(t, letter.Part{Kind: letter.Aside, Text: "Our word", Rich: "<p>Sewn <i>again</i>.</p>"}, parts[1])
}

func TestPlainTextHasItsOwnSigns(t *testing.T) {
	parts := letter.Read("# Night flight\r\n\r\nIt began on the mole,\r\nand ended there.\r\n \r\n## What it weighs\r\nThirty grams.\r\n\r\n1. unfold\r\n2. run", none)
	assert.Equal(t, "title copy heading copy points", kinds(parts))
	assert.True(t, parts[4].Count)
	assert.Equal(t, "<p>It began on the mole,</p><p>and ended there.</p>", parts[1].Rich)
	assert.Equal(t, "copy", kinds(letter.Read("Dear flyer,\n\nThirty grams.", none)), "who is greeted is no heading")
}

// Three thousand words come in whole: no word is lost, none is added, and their order stays.
func TestNoWordIsLost(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		word := rapid.StringMatching(`[a-z]{1,9}`)
		var html, want strings.Builder
		for range rapid.IntRange(1, 40).Draw(t, "blocks") {
			words := rapid.SliceOfN(word, 1, 30).Draw(t, "words")
			text := strings.Join(words, " ")
			want.WriteString(text + " ")
			switch rapid.IntRange(0, 6).Draw(t, "what") {
			case 0:
				html.WriteString("<h2>" + text + "</h2>")
			case 1:
				html.WriteString("<blockquote><p>" + text + "</p></blockquote>")
			case 2:
				html.WriteString(`<div style="border: 1px solid red"><p>` + text + "</p></div>")
			case 3:
				html.WriteString("<ul><li>" + strings.Join(words, "</li><li>") + "</li></ul>")
			case 4:
				html.WriteString("<div><p><b>" + text + "</b></p></div>")
			case 5:
				html.WriteString("<h1>" + text + "</h1>")
			default:
				html.WriteString("<p>" + text + "</p>")
			}
		}
		var got []string
		for _, p := range letter.Read(html.String(), none) {
			got = append(got, p.Text, rich.Text(p.Rich), strings.Join(p.Items, " "), p.Who)
		}
		assert.Equal(t, strings.Fields(want.String()), strings.Fields(strings.Join(got, " ")))
	})
}

func FuzzRead(f *testing.F) {
	for _, s := range []string{"<p>a</p>", "<table><td style='border:1px solid'>x", "> a\n— b", "<blockquote><blockquote>", "<h1><h2>", "\xff<p", "<svg><p>x</p></svg>", strings.Repeat("<div>", 400)} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		for _, p := range letter.Read(text, none) {
			if p.Words() == 0 {
				t.Fatalf("%+v says nothing", p)
			}
			if p.Rich != rich.Clean(p.Rich, none) {
				t.Fatalf("%q is not copy as it is kept", p.Rich)
			}
		}
	})
}
