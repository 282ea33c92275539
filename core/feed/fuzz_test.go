package feed_test

import (
	"testing"
	"unicode/utf8"

	"chrysagon/core/feed"
)

// Whatever feed comes in, its posts are text, or it is refused.
func FuzzParse(f *testing.F) {
	for _, seed := range []string{`<rss><channel><item><title>Kite</title><link>https://gustwell.example/a</link></item></channel></rss>`, `<feed xmlns="http://www.w3.org/2005/Atom"><entry><title>Gull</title></entry></feed>`, `[{"title": "Kite"}]`, "<rss", "", "\xff"} {
		f.Add([]byte(seed))
	}
	f.Fuzz(func(t *testing.T, raw []byte) {
		posts, err := feed.Parse(raw)
		if err != nil {
			return
		}
		for _, p := range posts {
			if !utf8.ValidString(p.Text) || !utf8.ValidString(p.Link) {
				t.Fatalf("%q is no text", p)
			}
		}
	})
}
