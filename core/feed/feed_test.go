package feed_test

import (
	"strings"
	"testing"

	"chrysagon/core/feed"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The shapes are those of the examples in the published formats: jsonfeed.org
// version 1.1; RFC 4287, 1.1; the RSS 2.0 specification's sample, with an
// enclosure as its section "<enclosure> sub-element of <item>" writes it.
func TestTheSamePostsInThreeOpenFormats(t *testing.T) {
	want := []feed.Post{
		{Text: "Ember over the dunes & home again", Link: "https://pictures.example/p/1", Image: "dunes.jpg"},
		{Text: "Second flight", Link: "https://pictures.example/p/2", Image: ""},
	}
	for name, raw := range map[string]string{
		"json": `{"version":"https://jsonfeed.org/version/1.1","title":"Flights","items":[
			{"id":"1","url":"https://pictures.example/p/1","content_html":"<p>Ember over the <b>dunes</b> &amp; home again</p><script>x()</script>","image":"https://pictures.example/files/dunes.jpg?size=big"},
			{"id":"2","url":"https://pictures.example/p/2","content_text":"Second flight","attachments":[{"url":"a.mp3","mime_type":"audio/mpeg"}]}]}`,
		"atom": `<?xml version="1.0" encoding="utf-8"?><feed xmlns="http://www.w3.org/2005/Atom"><title>Flights</title>
			<entry><title>One</title><link href="https://pictures.example/p/1"/><link rel="enclosure" type="image/jpeg" href="dunes.jpg"/><summary type="html">&lt;p&gt;Ember over the &lt;b&gt;dunes&lt;/b&gt; &amp;amp; home again&lt;/p&gt;</summary></entry>
			<entry><title>Second flight</title><link rel="alternate" href="https://pictures.example/p/2"/></entry></feed>`,
		"rss": `<?xml version="1.0"?><rss version="2.0"><channel><title>Flights</title>
			<item><title>One</title><link>https://pictures.example/p/1</link><description>Ember over the &lt;b&gt;dunes&lt;/b&gt; &amp;amp; home again</description><enclosure url="http://pictures.example/dunes.jpg" length="12" type="image/jpeg"/></item>
			<item><title>Second flight</title><link>https://pictures.example/p/2</link></item></channel></rss>`,
	} {
		posts, err := feed.Parse([]byte(raw))
		require.NoError(t, err, name)
		assert.Equal(t, want, posts, name)
	}
}

func TestWhatIsNoFeedIsRefusedWithItsCause(t *testing.T) {
	for raw, cause := range map[string]string{
		"":                            "empty",
		"id,url\n1,x":                 "no feed",
		`{"items":[]}`:                "no JSON Feed",
		`{"version":`:                 "cannot be read",
		"<html><body>x</body></html>": "neither Atom nor RSS",
		"<rss><channel>":              "cannot be read",
		`<?xml version="1.0"?><!DOCTYPE rss [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><rss version="2.0"><channel><item><title>&b;</title></item></channel></rss>`: "cannot be read",
	} {
		_, err := feed.Parse([]byte(raw))
		require.ErrorContains(t, err, cause, raw)
	}
}

func TestHostileFeedsAreTamed(t *testing.T) {
	many := `{"version":"https://jsonfeed.org/version/1.1","items":[` + strings.Repeat(`{"url":"javascript:alert(1)","content_text":"`+strings.Repeat("long ", 100)+`","image":"../../etc/passwd"},`, 99) + `{}]}`
	posts, err := feed.Parse([]byte(many))
	require.NoError(t, err)
	require.Len(t, posts, feed.MaxPosts)
	assert.Empty(t, posts[0].Link, "no script is a link")
	assert.Equal(t, "passwd", posts[0].Image, "a name, and no path")
	assert.Len(t, []rune(posts[0].Text), 200)
}
