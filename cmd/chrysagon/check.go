package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	_ "image/gif" // sizes of what is packed
	_ "image/jpeg"
	_ "image/png"
	"io"
	"os"
	"time"

	"chrysagon/core/check"
	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/manuscript"
	"chrysagon/core/pack"
	"chrysagon/core/purpose"
	"chrysagon/pieces"
	"chrysagon/pieces/all"
	"chrysagon/render"
	"chrysagon/web"

	"github.com/spf13/cobra"
)

// checkOut is what the launch check says of a page package.
type checkOut struct {
	Page      string          `json:"page"`
	Moment    time.Time       `json:"moment"`     // as of which it was checked
	Stops     bool            `json:"stops"`      // something keeps it from going out
	WaysOut   int             `json:"ways_out"`   // links, forms and menus that lead elsewhere
	Calls     int             `json:"calls"`      // to act
	FirstView int             `json:"first_view"` // bytes of HTML and styles, compressed
	Findings  []check.Finding `json:"findings"`
}

// checkCommand runs the launch check on a page package, without a store.
func checkCommand() *cobra.Command {
	var moment string
	c := &cobra.Command{
		Use: "check PACKAGE", Short: "Check a page package (zip in, JSON out)", Args: cobra.ExactArgs(1),
		Long: `Reads a page package (docs/formats/page.md; - is standard input) and answers with
what the launch check finds, by the goods, offers and deadlines packed with the
page. Struck prices are proved by the store's own ledger, which no package has.

Example:
  chrysagon check night-flight.zip --moment 2026-11-27T12:00:00Z`,
		RunE: func(c *cobra.Command, args []string) error {
			at := time.Time{}
			if moment != "" {
				var err error
				if at, err = time.Parse(time.RFC3339, moment); err != nil {
					return badInput{fmt.Errorf("--moment: write it like 2026-11-27T12:00:00Z")}
				}
			}
			raw, err := readPackage(c, args[0])
			if err != nil {
				return err
			}
			out, err := checkPackage(raw, at)
			if err != nil {
				return err
			}
			enc := json.NewEncoder(c.OutOrStdout())
			enc.SetIndent("", "  ")
			enc.SetEscapeHTML(false)
			return enc.Encode(out)
		},
	}
	c.Flags().StringVar(&moment, "moment", "", "as of when; else when it was packed")
	return c
}

func readPackage(c *cobra.Command, name string) ([]byte, error) {
	in := c.InOrStdin()
	if name != "-" {
		f, err := os.Open(name)
		if err != nil {
			return nil, badInput{err}
		}
		defer func() { _ = f.Close() }()
		in = f
	}
	return io.ReadAll(io.LimitReader(in, pack.MaxFile+1))
}

func checkPackage(raw []byte, moment time.Time) (checkOut, error) {
	assets, err := web.Open()
	if err != nil {
		return checkOut{}, err
	}
	registry, err := all.Registry()
	if err != nil {
		return checkOut{}, err
	}
	p, err := pack.Read(raw, registry.Schema())
	if err != nil {
		return checkOut{}, badInput{err}
	}
	if moment.IsZero() {
		moment = p.Page.Facts.At
	}
	f := factsOf(p)
	renderer, in := render.New(registry, assets), render.Input{
		Page: p.Page.Manuscript, Title: p.Page.Title, Description: p.Page.Description, Layout: p.Page.Layout, Facts: f, Moment: moment,
		Place: pieces.Place{Address: p.Page.Address, Upsell: purpose.Of(p.Page.Purpose).Step.Offers()},
	}
	drawn, err := renderer.Page(in)
	if err != nil {
		return checkOut{}, err
	}
	page := check.Page{
		Purpose: p.Page.Purpose, Title: p.Page.Title, Description: p.Page.Description, Schema: registry.Schema(), Manuscript: p.Page.Manuscript, Links: registry.Schema().Links(p.Page.Manuscript), Layout: p.Page.Layout,
		Facts: f, Moment: moment, FirstView: drawn.Weight(), Address: p.Page.Address, Blank: renderer.Blank(in), Template: all.Words(),
	}
	out := checkOut{Page: p.Page.Name, Moment: moment, Findings: append([]check.Finding{}, check.Run(page)...), WaysOut: check.WaysOut(page), FirstView: page.FirstView, Calls: len(check.Calls(page))}
	out.Stops = check.Stopping(out.Findings)
	return out, nil
}

// factsOf are the facts that a package carries.
func factsOf(p pack.Package) facts.Facts {
	in := p.Page.Facts
	f := facts.Facts{
		Store:    facts.Store{Currency: in.Currency, Zone: in.Zone, Phone: in.Phone, ContactEmail: in.Email},
		Products: map[string]goods.Product{}, Deadlines: map[string]deadline.Deadline{}, Pictures: map[string]facts.Picture{}, Pages: map[string]facts.Page{}, Sold: map[string]facts.Page{}, Files: map[string]facts.File{}, Offers: in.Offers,
	}
	for _, g := range in.Goods {
		f.Products[g.ID] = g
	}
	for _, d := range in.Deadlines {
		f.Deadlines[d.ID] = d
	}
	for _, pic := range p.Page.Pictures {
		one := facts.Picture{ID: pic.ID, Name: pic.Name, Alt: pic.Alt, Path: "/pictures/" + pic.File, Width: 1, Height: 1, Focus: facts.Focus{X: 50, Y: 50}, Weight: len(p.Files[pic.File])}
		if size, _, err := image.DecodeConfig(bytes.NewReader(p.Files[pic.File])); err == nil {
			one.Width, one.Height = size.Width, size.Height
		}
		f.Pictures[pic.ID] = one
	}
	// Whether a page that sells them is live is the store's to know; here what is
	// named is taken to be there.
	for _, n := range p.Page.Names {
		switch manuscript.FieldType(n.Type) { //nolint:exhaustive // links lead to nothing else by name
		case manuscript.Link:
			f.Pages[n.ID] = facts.Page{ID: n.ID, Name: n.Name, Address: n.Name}
		case manuscript.Product:
			f.Sold[n.ID] = facts.Page{Name: n.Name}
		case manuscript.File:
			f.Files[n.ID] = facts.File{ID: n.ID, Name: n.Name}
		}
	}
	return f
}
