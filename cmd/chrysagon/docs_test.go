package main

import (
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var (
	namedTest = regexp.MustCompile("`(Test[A-Za-z0-9]+)`")
	namedFile = regexp.MustCompile("`((?:app|core|cmd|store|studio|shopfront|standin|render|pieces|internal|gateway|e2e|docs|web)/[a-z_0-9./-]+)`")
)

// What the documents name as proof is there: a test that was renamed or taken away
// takes its claim along.
func TestWhatTheDocumentsNameIsThere(t *testing.T) {
	root := filepath.Join("..", "..")
	var tests strings.Builder
	require.NoError(t, filepath.WalkDir(root, func(path string, e fs.DirEntry, err error) error {
		if err == nil && e.IsDir() && (e.Name() == ".data" || e.Name() == "node_modules") {
			return fs.SkipDir // what others are writing to
		}
		if err != nil || !strings.HasSuffix(path, "_test.go") {
			return err
		}
		raw, err := os.ReadFile(path)
		tests.Write(raw)
		return err
	}))
	for _, doc := range []string{"docs/security.md", "docs/architecture.md", "README.md", "CONTRIBUTING.md"} {
		raw, err := os.ReadFile(filepath.Join(root, doc))
		require.NoError(t, err)
		for _, m := range namedTest.FindAllStringSubmatch(string(raw), -1) {
			assert.Contains(t, tests.String(), "func "+m[1]+"(", "%s names %s", doc, m[1])
		}
		for _, m := range namedFile.FindAllStringSubmatch(string(raw), -1) {
			if strings.Contains(m[1], "web/dist") {
				continue // what the build makes
			}
			_, err := os.Stat(filepath.Join(root, m[1]))
			assert.NoError(t, err, "%s names %s", doc, m[1])
		}
	}
}

// docs/architecture.md lists every package, with what its own comment says of it.
func TestTheArchitectureListsEveryPackage(t *testing.T) {
	root := filepath.Join("..", "..")
	list := exec.Command("go", "list", "-f", "{{.ImportPath}}|{{.Doc}}", "./...")
	list.Dir = root
	out, err := list.Output()
	require.NoError(t, err)
	raw, err := os.ReadFile(filepath.Join(root, "docs", "architecture.md"))
	require.NoError(t, err)
	said := map[string]string{}
	for _, m := range regexp.MustCompile("(?m)^- `([a-z/]+)` (.*)$").FindAllStringSubmatch(string(raw), -1) {
		said[m[1]] = m[2]
	}
	for line := range strings.Lines(strings.TrimSpace(string(out))) {
		path, doc, _ := strings.Cut(strings.TrimSpace(line), "|")
		path = strings.TrimPrefix(path, "chrysagon/")
		if strings.HasPrefix(path, "pieces/") {
			continue // one folder a kind
		}
		_, says, _ := strings.Cut(strings.TrimPrefix(strings.TrimPrefix(doc, "Package "), "Command "), " ")
		assert.Equal(t, says, said[path], "docs/architecture.md says this of %s", path)
		delete(said, path)
	}
	assert.Empty(t, said, "packages that are gone")
}

// Every package of core shows how it is used.
func TestEveryRoomOfCoreHasAnExample(t *testing.T) {
	core := filepath.Join("..", "..", "core")
	rooms, err := os.ReadDir(core)
	require.NoError(t, err)
	for _, room := range rooms {
		shown := false
		tests, err := filepath.Glob(filepath.Join(core, room.Name(), "*_test.go"))
		require.NoError(t, err)
		for _, test := range tests {
			raw, err := os.ReadFile(test)
			require.NoError(t, err)
			shown = shown || strings.Contains(string(raw), "\nfunc Example")
		}
		assert.True(t, shown, "core/%s has no Example", room.Name())
	}
}

// Every package has a test of its own.
func TestEveryPackageHasATest(t *testing.T) {
	list := exec.Command("go", "list", "-f", "{{if not (or .TestGoFiles .XTestGoFiles)}}{{.ImportPath}}{{end}}", "./...")
	list.Dir = filepath.Join("..", "..")
	out, err := list.Output()
	require.NoError(t, err)
	assert.Empty(t, strings.Fields(string(out)))
}
