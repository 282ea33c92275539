package pictures

import (
	"context"

	"chrysagon/store"

	"gorm.io/gorm"
)

// Former is a live page that still shows what a picture was before it was replaced
// or cut.
type Former struct{ PictureID, PageID, Page string }

const formers = `SELECT DISTINCT s.picture_id, one->>'id' AS page_id, one->>'name' AS page FROM campaigns c JOIN edition_pictures s ON s.edition_id = c.live_edition_id
	LEFT JOIN pictures p ON p.id = s.picture_id JOIN editions e ON e.id = c.live_edition_id, jsonb_array_elements(e.content->'pages') AS one
	WHERE p.hash IS DISTINCT FROM s.hash AND strpos(one::text, '"' || s.picture_id || '"') > 0`

// Formers lists the live pages, of all campaigns, that show former pictures until
// they are published anew.
func (l *Library) Formers(ctx context.Context) ([]Former, error) {
	var list []Former
	err := l.Store.On(ctx).Raw(formers + " ORDER BY page, 1").Scan(&list).Error
	return list, err
}

// FormersOf are those of one campaign, to be read with other lists.
func FormersOf(campaignID string, into *[]Former) store.Part {
	return store.Part{SQL: formers + " AND c.id = ? ORDER BY page, 1", Args: []any{campaignID}, Into: into}
}

// keepShown keeps a copy of what a picture shows where an edition shows it, before
// it is cut anew.
func keepShown(tx *gorm.DB, row store.Picture) error {
	var sizes []store.PictureSize
	if err := tx.Where("picture_id = ?", row.ID).Find(&sizes).Error; err != nil {
		return err
	}
	var shown int64
	if err := tx.Raw("SELECT count(*) FROM edition_pictures WHERE hash = ?", row.Hash).Scan(&shown).Error; err != nil || shown == 0 {
		return err
	}
	// Out of the way first: no two pictures have one address.
	if err := tx.Exec("UPDATE pictures SET hash = 'of ' || id WHERE id = ?", row.ID).Error; err != nil {
		return err
	}
	row.ID = store.NewID()
	if err := tx.Create(&row).Error; err != nil {
		return err
	}
	for i := range sizes {
		sizes[i].PictureID = row.ID
	}
	if len(sizes) == 0 {
		return nil
	}
	return tx.Create(&sizes).Error
}
