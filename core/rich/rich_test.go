package rich_test

import (
	"fmt"
	"strings"
	"testing"

	"chrysagon/core/rich"

	"github.com/stretchr/testify/assert"
	parser "golang.org/x/net/html"
	"pgregory.net/rapid"
)

func keep(target string) bool {
	return strings.HasPrefix(target, "https:") || strings.HasPrefix(target, "page:")
}

func TestWhatComesInIsCleanAndKeepsItsStructure(t *testing.T) {
	for name, c := range map[string][2]string{
		"paragraphs":           {"<p>One</p>\n<p> Two  words </p>", "<p>One</p><p>Two words</p>"},
		"divs are paragraphs":  {"<div>One</div><div>Two<br>more</div>", "<p>One</p><p>Two<br>more</p>"},
		"headings are one":     {"<h1>Big</h1><h5>Small</h5>", "<h3>Big</h3><h3>Small</h3>"},
		"marks":                {"<p>a <strong>b</strong> <em>c <b>d</b></em></p>", "<p>a <b>b</b> <i>c </i><b><i>d</i></b></p>"},
		"neighbours are one":   {"<p><b>a</b><b>b</b></p>", "<p><b>ab</b></p>"},
		"lists":                {"<ul>\n<li>one</li>\n<li><p>two</p><p>three</p></li></ul>", "<ul><li>one</li><li>twothree</li></ul>"},
		"lists in lists":       {"<ol><li>one<ul><li>deep</li></ul></li><li>two</li></ol>", "<ol><li>one</li><li>deep</li><li>two</li></ol>"},
		"links that lead":      {`<p><a href="page:x" onclick="evil()" target="_blank">go</a></p>`, `<p><a href="page:x">go</a></p>`},
		"links that do not":    {`<p><a href="javascript:alert(1)">go</a> <a>on</a></p>`, "<p>go on</p>"},
		"styles and scripts":   {"<p style='color:red'>a<script>alert(1)</script><style>p{}</style></p>", "<p>a</p>"},
		"pictures and frames":  {"<p>a<img src=x onerror=alert(1)><iframe src=//evil></iframe><svg><text>x</text></svg></p>", "<p>a</p>"},
		"tables keep words":    {"<table><tr><td>a</td><td>b</td></tr></table>", "<p>a</p><p>b</p>"},
		"no-break spaces":      {"<p>a&nbsp;b&nbsp;</p>", "<p>a b</p>"},
		"empty blocks go":      {"<p></p><p> <b> </b> </p><ul><li></li></ul>", ""},
		"signs are written so": {"<p>a &lt; b &amp; c</p>", "<p>a &lt; b &amp; c</p>"},
		"loose words":          {"<b>loose</b> words<p>then</p>", "<p><b>loose</b> words</p><p>then</p>"},
		"comments":             {"<!--[if gte mso 9]><xml>x</xml><![endif]--><p>a<!-- b --></p>", "<p>a</p>"},
		"right to left":        {"<p dir=rtl>عفيفة 🪁</p>", "<p>عفيفة 🪁</p>"},
		"plain stays plain":    {"a < b\nsecond", "a < b\nsecond"},
	} {
		assert.Equal(t, c[1], rich.Clean(c[0], keep), name)
	}
}

// Whatever is typed or pasted: what is kept is made of nothing but the elements
// of copy, and cleaning it again changes nothing.
func TestNothingButCopyIsEverKept(t *testing.T) {
	parts := []string{"<p>", "</p>", "<b>", "</b>", "<i>", "<ul>", "<li>", "</ul>", "<ol>", "<a href='https://x.example'>", "<a href='javascript:x'>", "</a>", "<script>", "</script>", "<svg>", "<math><mtext>", "<style>", "<img src=x onerror=y>",
		"<div>", "<table><td>", "<h2>", "<br>", "&lt;script&gt;", "&#0;", "\x00", "<!--", "-->", "<![CDATA[", "<template>", "<noscript>", "word", " ", "é🪁", "\"'><", "<p x=\"", "<plaintext>", "<textarea>", "<title>", "<select><option>"}
	allowed := map[string]bool{"p": true, "h3": true, "ul": true, "ol": true, "li": true, "b": true, "i": true, "a": true, "br": true}
	rapid.Check(t, func(t *rapid.T) {
		text := "<p>" + strings.Join(rapid.SliceOfN(rapid.OneOf(rapid.SampledFrom(parts), rapid.StringN(0, 6, -1)), 0, 40).Draw(t, "parts"), "")
		clean := rich.Clean(text, keep)
		assert.Equal(t, clean, rich.Clean(clean, keep), "once is enough")
		z := parser.NewTokenizer(strings.NewReader(clean))
		for z.Next() != parser.ErrorToken {
			tok := z.Token()
			switch tok.Type {
			case parser.StartTagToken:
				if !allowed[tok.Data] {
					t.Fatalf("%q is no copy: %s", tok.Data, clean)
				}
				for _, a := range tok.Attr {
					if a.Key != "href" || tok.Data != "a" || !keep(a.Val) {
						t.Fatalf("%s=%q on %s", a.Key, a.Val, tok.Data)
					}
				}
			case parser.CommentToken, parser.DoctypeToken, parser.SelfClosingTagToken:
				t.Fatalf("%s", clean)
			default:
			}
		}
	})
}

func TestWordsAreReplacedWithinTheirMarks(t *testing.T) {
	is, times := rich.Replace(`<p>A kite, <b>one kite</b></p><ul><li><a href="page:kite">kite</a></li></ul>`, "kite", "<gull>")
	assert.Equal(t, `<p>A &lt;gull&gt;, <b>one &lt;gull&gt;</b></p><ul><li><a href="page:kite">&lt;gull&gt;</a></li></ul>`, is)
	assert.Equal(t, 3, times, "where a link leads is no word")
	same, none := rich.Replace("<p>A kite</p>", "boat", "x")
	assert.Equal(t, "<p>A kite</p>", same)
	assert.Zero(t, none)
}

func TestWhatAReaderReads(t *testing.T) {
	text := `<h3>By night</h3><p>It <b>glows</b>.<br>Softly.</p><ul><li>one</li><li><a href="page:x">two</a></li></ul>`
	assert.Equal(t, "By night\nIt glows.\nSoftly.\none\ntwo", rich.Text(text))
	assert.Equal(t, []string{"page:x"}, rich.Targets(text))
	assert.Equal(t, []string{"page:x", "page:y"}, rich.Targets(`<p><b><a href="page:x">one</a></b> <i><a href="page:y">two</a></i></p>`), "each link once, whatever marks are around it")
	assert.Equal(t, "plain\ntext", rich.Text("plain\ntext"))
}

func TestHugeAndDeepCopyIsHarmless(t *testing.T) {
	deep := strings.Repeat("<div><b>", 5000) + "x"
	assert.LessOrEqual(t, len(rich.Clean("<p>"+deep, keep)), 100)
	long := "<p>" + strings.Repeat("w ", 50_000) + "</p>"
	assert.Len(t, rich.Clean(long, keep), 50_000*2+6)
}

func ExampleHTML() {
	lead := func(target string) (string, bool) { return "/night-flight", target == "page:x" }
	fmt.Println(rich.HTML(`<p>Fly <b>by night</b>, <a href="page:x">with us</a></p><h3>Or not</h3>`, 2, lead))
	fmt.Println(rich.HTML("Two lines\nare two paragraphs", 3, lead))
	// Output:
	// <p>Fly <b>by night</b>, <a href="/night-flight">with us</a></p><h2>Or not</h2>
	// <p>Two lines</p><p>are two paragraphs</p>
}
