package factbook

import (
	"fmt"

	"chrysagon/core/facts"
	"chrysagon/core/purpose"
	"chrysagon/store"

	"gorm.io/gorm"
)

// readPages reads the pages that links and menus lead to: where they are live,
// or where they will be.
func readPages(db *gorm.DB, ids []string, f *facts.Facts) error {
	f.Pages = map[string]facts.Page{}
	var rows []struct {
		ID, Name, Address, Purpose string
		Live, Aside                bool
	}
	err := db.Raw(`SELECT p.id, p.name, coalesce(l.address, p.address) AS address, p.purpose, l.address IS NOT NULL AS live, p.aside_at IS NOT NULL AS aside
		FROM pages p LEFT JOIN live_pages l ON l.page_id = p.id
		WHERE p.id = ANY(?::text[]) OR (l.address IS NOT NULL AND p.purpose = ANY(?::text[])) ORDER BY p.name`, store.TextArray(ids), store.TextArray(purpose.Led())).Scan(&rows).Error
	if err != nil {
		return fmt.Errorf("read the pages: %w", err)
	}
	for _, r := range rows {
		page := facts.Page{ID: r.ID, Name: r.Name, Address: r.Address, Live: r.Live, Aside: r.Aside}
		f.Pages[r.ID] = page
		switch of := purpose.Of(r.Purpose); {
		case r.Live && of.Menu:
			f.Menu = append(f.Menu, page)
		case r.Live && of.Foot:
			f.Legal = append(f.Legal, page)
		}
	}
	return nil
}

// readGroups reads groups of goods with the live page that shows each one's shelf.
func readGroups(db *gorm.DB, ids []string, f *facts.Facts) error {
	if len(ids) == 0 {
		return nil
	}
	var rows []struct {
		ID, Name, Address string
		PictureID         *string
	}
	err := db.Raw(`SELECT g.id, g.name, g.picture_id, coalesce((SELECT min(s.address) FROM public_shows s WHERE s.what = 'shelf' AND s.ref = g.shelf_id), '') AS address
		FROM goods_groups g WHERE g.id IN ?`, ids).Scan(&rows).Error
	if err != nil {
		return fmt.Errorf("read the groups: %w", err)
	}
	f.Groups = map[string]facts.Group{}
	var pictures []string
	for _, r := range rows {
		if r.PictureID != nil {
			pictures = append(pictures, *r.PictureID)
		}
	}
	shown := facts.Facts{Pictures: map[string]facts.Picture{}}
	if err := ReadPictures(db, pictures, &shown); err != nil {
		return err
	}
	for _, r := range rows {
		g := facts.Group{ID: r.ID, Name: r.Name, Address: r.Address}
		if r.PictureID != nil {
			g.Picture = shown.Pictures[*r.PictureID]
		}
		f.Groups[r.ID] = g
	}
	return nil
}
