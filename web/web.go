// Package web embeds the styles, scripts, fonts and icons that the build
// (web/build.mjs) makes. It knows nothing of the rest of the program.
package web

import (
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"html/template"
	"io/fs"
	"path"
	"strconv"
	"strings"
)

//go:embed all:dist
var dist embed.FS

// Assets gives access to what was built.
type Assets struct {
	paths   map[string]string
	served  fs.FS
	icons   map[string]template.HTML
	sheets  map[string]string // style sheets of pages, by their place
	Outside string            // the script that pages outside may have
}

// Open reads the embedded folder. It fails when the assets were not built.
func Open() (*Assets, error) {
	raw, err := dist.ReadFile("dist/manifest.json")
	if err != nil {
		return nil, errors.New("the styles and scripts are not built; run “make assets”")
	}
	a := &Assets{paths: map[string]string{}, icons: map[string]template.HTML{}, sheets: map[string]string{}}
	if err := json.Unmarshal(raw, &a.paths); err != nil {
		return nil, fmt.Errorf("read the manifest of assets: %w", err)
	}
	if a.served, err = fs.Sub(dist, "dist/served"); err != nil {
		return nil, fmt.Errorf("open the served assets: %w", err)
	}
	err = each("dist/icons", func(name, content string) {
		a.icons[name] = template.HTML(content) //nolint:gosec // made by our own build from a pinned icon set
	})
	outside, outsideErr := dist.ReadFile("dist/outside.js")
	a.Outside = string(outside)
	return a, errors.Join(err, outsideErr, a.readSheets())
}

// readSheets reads the style sheets of pages: those that are built, and those that
// former compositions left.
func (a *Assets) readSheets() error {
	return fs.WalkDir(dist, "dist", func(at string, e fs.DirEntry, err error) error {
		if err != nil || e.IsDir() || path.Ext(at) != ".css" || strings.HasPrefix(at, "dist/served/") {
			return err
		}
		content, err := dist.ReadFile(at)
		a.sheets[strings.TrimSuffix(strings.TrimPrefix(at, "dist/"), ".css")] = string(content)
		return err
	})
}

func each(folder string, visit func(name, content string)) error {
	entries, err := dist.ReadDir(folder)
	if err != nil {
		return fmt.Errorf("list %s: %w", folder, err)
	}
	for _, e := range entries {
		content, err := dist.ReadFile(path.Join(folder, e.Name()))
		if err != nil {
			return fmt.Errorf("read %s: %w", e.Name(), err)
		}
		visit(strings.TrimSuffix(e.Name(), path.Ext(e.Name())), string(content))
	}
	return nil
}

// Path is the address of a served file, by its plain name.
func (a *Assets) Path(name string) string { return a.paths[name] }

// Served is the folder of files to serve under /assets/.
func (a *Assets) Served() fs.FS { return a.served }

// Icon is a shipped icon as inline SVG, or nothing when there is none.
func (a *Assets) Icon(name string) template.HTML {
	if own, ok := a.icons[name]; ok {
		return own
	}
	return signs()[name].Drawing
}

// Sheet is a style sheet of pages by its place: page, pieces/KIND, compose/FAMILY,
// compose/FAMILY.MANNER. Nothing, where there is none.
func (a *Assets) Sheet(place string) string { return a.sheets[place] }

// Past is a style sheet as a former composition had it.
func (a *Assets) Past(composition int, place string) string {
	return a.sheets["past/"+strconv.Itoa(composition)+"/"+place]
}
