package frame

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Files are taken at the addresses that the places name, and nowhere else.
func TestFilesAreTakenWhereAPlaceSaysSo(t *testing.T) {
	f := &Frame{files: []string{"/goods/*/file", "/pictures", "/pages/*/feed/*/*"}}
	for address, want := range map[string]bool{
		"/goods/ember/file": true, "/pictures": true, "/pages/p/feed/q/items": true,
		"/goods/ember/cell": false, "/goods/ember/file/x": false, "/pictures/": false, "/offers": false, "/feed/": false, "": false, "/goods//file/": false, "/goods/[/file": true,
	} {
		assert.Equal(t, want, f.TakesFiles(address), address)
	}
}

func TestPercentIsRoundedToOneDigit(t *testing.T) {
	for _, c := range []struct {
		part, whole int64
		want        string
	}{{0, 0, "–"}, {0, 9, "0.0%"}, {1, 3, "33.3%"}, {2, 3, "66.7%"}, {1, 2000, "0.1%"}, {1, 1999, "0.1%"}, {1, 2001, "0.0%"}, {7, 7, "100.0%"}} {
		assert.Equal(t, c.want, Percent(c.part, c.whole), "%d of %d", c.part, c.whole)
	}
}
