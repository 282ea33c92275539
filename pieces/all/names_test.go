package all

import (
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// named are the ways in which code asks for a kind of piece by its name.
var named = regexp.MustCompile(`(?:Kind (?:==|!=) |Sheet\(|View\(|Count\([^()]*, |Kind: )"([a-z]+)"`)

// Nothing knows a kind's name but the kind: what pieces are to their page, the kinds say
// themselves. The demo, arrangements and templates are made of kinds, and name them.
func TestNothingKnowsAKindsNameButTheKind(t *testing.T) {
	root := filepath.Join("..", "..")
	for _, floor := range []string{"core", "render", "store", "app", "studio", "shopfront", "standin", "gateway", "internal", "cmd"} {
		require.NoError(t, filepath.WalkDir(filepath.Join(root, floor), func(path string, e fs.DirEntry, err error) error {
			if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
				return err
			}
			raw, err := os.ReadFile(path)
			for _, m := range named.FindAllStringSubmatch(string(raw), -1) {
				_, kind := schema()[m[1]]
				assert.False(t, kind, "%s: %s", path, m[0])
			}
			return err
		}))
	}
}
