package rich_test

import (
	"strings"
	"testing"

	"chrysagon/core/rich"
)

// Whatever is pasted, what is kept is copy: cleaning it again changes nothing, and
// neither scripts nor events get through.
func FuzzClean(f *testing.F) {
	for _, seed := range []string{"plain", "<p>Fly <b>high</b></p>", `<a href="javascript:go()">x</a>`, "<p><script>go()</script>", `<img src=x onerror=go()>`, "<svg><style><img title='</style><img src=x onerror=go()>'>", "<ul><li>a<li>b", "\xff<p>"} {
		f.Add(seed)
	}
	any := func(target string) bool { return !strings.HasPrefix(target, "javascript:") }
	f.Fuzz(func(t *testing.T, text string) {
		once := rich.Clean(text, any)
		if again := rich.Clean(once, any); again != once {
			t.Fatalf("%q became %q", once, again)
		}
		drawn := strings.ToLower(rich.HTML(once, 2, func(target string) (string, bool) { return target, any(target) }))
		for _, bad := range []string{"<script", "<img", "<svg", "<style", "<iframe"} {
			if strings.Contains(drawn, bad) {
				t.Fatalf("%q draws %q", text, drawn)
			}
		}
	})
}
