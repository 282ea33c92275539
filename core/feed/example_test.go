package feed_test

import (
	"fmt"

	"chrysagon/core/feed"
)

func Example() {
	posts, err := feed.Parse([]byte(`{"version": "https://jsonfeed.org/version/1.1", "title": "Gustwell", "items": [{"id": "1", "content_text": "Night wind tonight"}]}`))
	fmt.Println(len(posts), err)
	// Output: 1 <nil>
}
