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
