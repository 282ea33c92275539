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
	"strings"
)

//go:embed all:dist
var dist embed.FS

// Assets gives access to what was built.
type Assets struct {
	paths   map[string]string
	served  fs.FS
	icons   map[string]template.HTML
	pieces  map[string]string
	PageCSS string
	Outside string // the script that pages outside may have
}

// Open reads the embedded folder. It fails when the assets were not built.
func Open() (*Assets, error) {
	raw, err := dist.ReadFile("dist/manifest.json")
	if err != nil {
		return nil, errors.New("the styles and scripts are not built; run “make assets”")
	}
	a := &Assets{paths: map[string]string{}, icons: map[string]template.HTML{}, pieces: map[string]string{}}
	if err := json.Unmarshal(raw, &a.paths); err != nil {
		return nil, fmt.Errorf("read the manifest of assets: %w", err)
	}
	if a.served, err = fs.Sub(dist, "dist/served"); err != nil {
		return nil, fmt.Errorf("open the served assets: %w", err)
	}
	err = each("dist/icons", func(name, content string) {
		a.icons[name] = template.HTML(content) //nolint:gosec // made by our own build from a pinned icon set
	})
	if err == nil {
		err = each("dist/pieces", func(name, content string) { a.pieces[name] = content })
	}
	page, pageErr := dist.ReadFile("dist/page.css")
	outside, outsideErr := dist.ReadFile("dist/outside.js")
	a.PageCSS, a.Outside = string(page), string(outside)
	return a, errors.Join(err, pageErr, outsideErr)
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

// PieceCSS is the style of a kind of piece.
func (a *Assets) PieceCSS(kind string) string { return a.pieces[kind] }
