package render

import (
	"html/template"
	"testing"

	"github.com/stretchr/testify/assert"
)

// What is seen first is fetched first, what is below the fold when it comes near.
func TestTheFirstViewIsFetchedFirst(t *testing.T) {
	const picture = `<img src="/pictures/a.jpg?w=320" srcset="/pictures/a.jpg?w=320 320w" sizes="50vw" alt="" loading="lazy">`
	bands := []Band{{"strip", "<p>New</p>"}, {"top", "<h1>Fly</h1>" + picture + picture}, {"low", `<img src="/b.jpg" alt=""><iframe src="/v"></iframe>` + picture}}
	head := firstView(bands, "")
	assert.Equal(t, template.HTML(`<link rel="preload" as="image" href="/pictures/a.jpg?w=320" fetchpriority="high" imagesrcset="/pictures/a.jpg?w=320 320w" imagesizes="50vw">`), head)
	assert.Equal(t, template.HTML(`<h1>Fly</h1><img fetchpriority="high" src="/pictures/a.jpg?w=320" srcset="/pictures/a.jpg?w=320 320w" sizes="50vw" alt=""><img src="/pictures/a.jpg?w=320" srcset="/pictures/a.jpg?w=320 320w" sizes="50vw" alt="">`), bands[1].HTML)
	assert.Equal(t, `<img loading="lazy" src="/b.jpg" alt=""><iframe loading="lazy" src="/v"></iframe>`+picture, string(bands[2].HTML))

	const css = `#band-other{background-image:url("/z.jpg")}#band-top{color:red;background-image:linear-gradient(#000,#000),url("/n.jpg?w=800");x:y}@media (min-width: 768px){#band-top{background-image:url("/n.jpg?w=1600")}}`
	bands = []Band{{"top", "<h1>Fly</h1>" + picture}}
	assert.Equal(t, template.HTML(`<link rel="preload" as="image" href="/n.jpg?w=800" media="(max-width: 767.98px)" fetchpriority="high"><link rel="preload" as="image" href="/n.jpg?w=1600" media="(min-width: 768px)" fetchpriority="high">`), firstView(bands, css), "its ground before what stands on it")
	assert.NotContains(t, bands[0].HTML, "fetchpriority")
	assert.Empty(t, groundOf("to", css))
	assert.Equal(t, `<link rel="preload" as="image" href="/z.jpg" fetchpriority="high">`, groundOf("other", css))
}
