package pages

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"slices"
	"strings"

	"chrysagon/app/drafts"
	"chrysagon/app/pictures"
	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/manuscript"
	"chrysagon/core/pack"
	"chrysagon/core/publish"
	"chrysagon/core/refusal"
	"chrysagon/core/words"
	"chrysagon/store"
)

// Pack makes a package of a page: docs/formats/page.md.
func (ps *Pages) Pack(ctx context.Context, pageID string) (pack.Package, []byte, error) {
	d, err := ps.Drafts.Draft(ctx, pageID)
	if err != nil {
		return pack.Package{}, nil, err
	}
	names := ps.Render.Registry.Schema().Names(d.Tree)
	for _, id := range names.Sold { // goods that links lead to are goods, by name and SKU
		if !slices.Contains(names.Products, id) {
			names.Products = append(names.Products, id)
		}
	}
	f, err := ps.Facts.DraftFacts(ctx, d.ID, names)
	if err != nil {
		return pack.Package{}, nil, err
	}
	p := pack.Package{Files: map[string][]byte{}, Page: pack.Page{
		ID: d.ID, Name: d.Name, Address: d.Address, Purpose: d.Purpose, Layout: drafts.LayoutOf(d.Layout), Title: d.Title, Description: d.Description, Manuscript: d.Tree,
		Names: packNames(names, f), Facts: ps.packFacts(f),
	}}
	var pics []store.Picture
	if err := ps.Store.On(ctx).Where("id IN ?", append(names.Pictures, "")).Order("id").Find(&pics).Error; err != nil {
		return p, nil, fmt.Errorf("read the pictures: %w", err)
	}
	for _, r := range pics {
		one := pack.Picture{ID: r.ID, File: r.Hash + extensionOf(r), Name: r.Name, Alt: r.Alt}
		if focus := (facts.Focus{X: r.FocusX, Y: r.FocusY}); focus.Class() != "" {
			one.Focus = &[2]int{r.FocusX, r.FocusY}
		}
		if cut := (pictures.Part{r.CropX, r.CropY, r.CropW, r.CropH}); cut != pictures.Whole {
			one.Crop = cut
		}
		p.Page.Pictures = append(p.Page.Pictures, one)
		p.Files[one.File] = r.Bytes
	}
	raw, err := pack.Write(p)
	return p, raw, err
}

// extensionOf is that of the file as it came.
func extensionOf(r store.Picture) string {
	if r.Mime == "image/svg+xml" {
		return ".svg"
	}
	_, format, err := image.DecodeConfig(bytes.NewReader(r.Bytes))
	if err != nil || format == "jpeg" {
		return ".jpg"
	}
	return "." + format
}

// packNames are what a page refers to and does not contain, by name.
func packNames(n manuscript.Names, f facts.Facts) []pack.Name {
	var out []pack.Name
	for _, all := range []struct {
		of   manuscript.FieldType
		ids  []string
		name func(id string) (name, sku string)
	}{
		{manuscript.Product, n.Products, func(id string) (string, string) { return f.Products[id].Name, f.Products[id].SKU }},
		{manuscript.Deadline, n.Deadlines, func(id string) (string, string) { return f.Deadlines[id].Name, "" }},
		{manuscript.Shelf, n.Shelves, func(id string) (string, string) { return f.Shelves[id].Name, "" }},
		{manuscript.Group, n.Groups, func(id string) (string, string) { return f.Groups[id].Name, "" }},
		{manuscript.Video, n.Videos, func(id string) (string, string) { return f.Videos[id].Name, "" }},
		{manuscript.Mailing, n.Mailings, func(id string) (string, string) { return f.Mailings[id].Name, "" }},
		{manuscript.File, n.Files, func(id string) (string, string) { return f.Files[id].Name, "" }},
		{manuscript.Link, n.Pages, func(id string) (string, string) { return f.Pages[id].Address, "" }},
	} {
		for _, id := range all.ids {
			name, sku := all.name(id)
			out = append(out, pack.Name{Type: string(all.of), ID: id, Name: name, SKU: sku})
		}
	}
	return out
}

// packFacts are what a launch check needs. Costs stay here, and so do offers
// that need a code: a package is handed around.
func (ps *Pages) packFacts(f facts.Facts) pack.Facts {
	out := pack.Facts{Currency: f.Store.Currency, Zone: f.Store.Zone, Phone: f.Store.Phone, Email: f.Store.ContactEmail, At: ps.Store.Now()}
	for _, p := range f.Products {
		p.Cost = nil
		out.Goods = append(out.Goods, p)
	}
	for _, o := range f.Offers {
		if !o.NeedsCode {
			out.Offers = append(out.Offers, o)
		}
	}
	for _, d := range f.Deadlines {
		out.Deadlines = append(out.Deadlines, d)
	}
	by := func(a, b string) int { return strings.Compare(a, b) }
	slices.SortFunc(out.Goods, func(a, b goods.Product) int { return by(a.ID, b.ID) })
	slices.SortFunc(out.Deadlines, func(a, b deadline.Deadline) int { return by(a.ID, b.ID) })
	return out
}

// TakePackage makes a page of a package, and says what of it this store does
// not have. Nothing is kept of a package that is refused.
func (ps *Pages) TakePackage(ctx context.Context, campaignID string, raw []byte) (drafts.Draft, []string, error) {
	schema := ps.Render.Registry.Schema()
	p, err := pack.Read(raw, schema)
	if err != nil {
		return drafts.Draft{}, nil, refusal.Of(refusal.ErrInvalid, "The package cannot be taken: %s.", strings.TrimSuffix(err.Error(), "."))
	}
	naming := publish.Naming{Name: p.Page.Name, Address: p.Page.Address, Title: p.Page.Title, Description: p.Page.Description}
	for field, why := range naming.Faults() {
		return drafts.Draft{}, nil, refusal.Of(refusal.ErrInvalid, "The package cannot be taken: page.json %s: %s", field, why)
	}
	var notes []string
	known := map[string]string{}
	for i, pic := range p.Page.Pictures {
		id, note, err := ps.takePicture(ctx, pic, p.Files[pic.File])
		if err != nil {
			return drafts.Draft{}, nil, fmt.Errorf("page.json pictures[%d]: %w", i, err)
		}
		if known[string(manuscript.Picture)+" "+pic.ID] = id; note != "" {
			notes = append(notes, note)
		}
	}
	for _, n := range p.Page.Names {
		id, err := ps.found(ctx, n)
		if err != nil {
			return drafts.Draft{}, nil, err
		}
		if known[n.Type+" "+n.ID] = id; id == "" {
			notes = append(notes, fmt.Sprintf("There is no %s “%s” here; choose another where the page shows it.", typeWords[n.Type], n.Name))
		}
	}
	tree := schema.Refer(p.Page.Manuscript, func(of manuscript.FieldType, id string) string { return known[string(of)+" "+id] })
	address, err := ps.freeAddress(ctx, p.Page.Address)
	if err != nil {
		return drafts.Draft{}, nil, err
	}
	in := NewPage{CampaignID: campaignID, Purpose: p.Page.Purpose, Name: p.Page.Name, Address: address, Layout: drafts.LayoutOf(p.Page.Layout), Tree: &tree}
	d, faults, err := ps.AddPage(ctx, in)
	if err != nil {
		return d, nil, err
	}
	for field, why := range faults {
		return d, nil, refusal.Of(refusal.ErrInvalid, "The package cannot be taken: page.json %s: %s", field, why)
	}
	err = ps.Store.On(ctx).Model(&store.Page{}).Where("id = ?", d.ID).Updates(map[string]any{"title": p.Page.Title, "description": p.Page.Description}).Error
	if err != nil {
		return d, nil, err
	}
	d, err = ps.Drafts.Draft(ctx, d.ID)
	return d, notes, err
}

var typeWords = map[string]string{"product": "product", "deadline": "deadline", "shelf": "shelf", "group": "group of goods", "video": "video", "file": "file", "mailing": "list of people", "link": "page at the address"}

// takePicture finds a picture of a package on the shelf, or puts it there.
func (ps *Pages) takePicture(ctx context.Context, pic pack.Picture, raw []byte) (id, note string, err error) {
	p := pictures.Part(pic.Crop)
	if p == (pictures.Part{}) {
		p = pictures.Whole
	}
	if !p.Sound() {
		return "", "", refusal.Of(refusal.ErrInvalid, "The part of “%s” that is cut out does not lie on it.", pic.Name)
	}
	row, fresh, err := ps.Pictures.KeepPicture(ctx, pic.Name+".x", raw, p)
	var refusal refusal.Refusal
	if errors.As(err, &refusal) {
		return "", refusal.Say, nil
	}
	if err != nil || !fresh {
		return row.ID, "", err
	}
	focus := [2]int{50, 50}
	if pic.Focus != nil {
		focus = *pic.Focus
	}
	return row.ID, "", ps.Pictures.Describe(ctx, row.ID, pictures.Picturing{Name: row.Name, Alt: words.Cut(pic.Alt, 500), FocusX: min(max(focus[0], 0), 100), FocusY: min(max(focus[1], 0), 100)})
}

// found is what a name stands for in this store: the same ID, or what is called
// so; "" when there is none.
func (ps *Pages) found(ctx context.Context, n pack.Name) (string, error) {
	queries := map[string]string{
		"product":  "SELECT id FROM variants WHERE id = @id OR (sku = @sku AND @sku <> '') ORDER BY (id = @id) DESC LIMIT 1",
		"deadline": "SELECT id FROM deadlines WHERE id = @id OR name = @name ORDER BY (id = @id) DESC LIMIT 1",
		"shelf":    "SELECT id FROM shelves WHERE id = @id OR name = @name ORDER BY (id = @id) DESC LIMIT 1",
		"group":    "SELECT id FROM goods_groups WHERE id = @id OR name = @name ORDER BY (id = @id) DESC LIMIT 1",
		"video":    "SELECT id FROM videos WHERE id = @id OR name = @name ORDER BY (id = @id) DESC LIMIT 1",
		"file":     "SELECT id FROM handouts WHERE id = @id OR name = @name ORDER BY (id = @id) DESC LIMIT 1",
		"mailing":  "SELECT id FROM lists WHERE id = @id OR name = @name ORDER BY (id = @id) DESC LIMIT 1",
		"link":     "SELECT id FROM pages WHERE id = @id OR address = @name ORDER BY (id = @id) DESC LIMIT 1",
	}
	query, ok := queries[n.Type]
	if !ok {
		return "", refusal.Of(refusal.ErrInvalid, "The package cannot be taken: page.json names: %q is nothing that a page refers to.", n.Type)
	}
	var id string
	err := ps.Store.On(ctx).Raw(query, map[string]any{"id": n.ID, "name": n.Name, "sku": n.SKU}).Scan(&id).Error
	return id, err
}
