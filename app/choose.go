package app

import (
	"context"
	"fmt"

	"chrysagon/core/facts"
	"chrysagon/store"
)

// chosenFrom is how many of a kind a chooser shows; a word narrows them.
const chosenFrom = 60

// ChoosePictures lists pictures to choose from by a word of their names or of
// what they show, and how many there are in all.
func (a *App) ChoosePictures(ctx context.Context, find string) (list []facts.Picture, all int64, err error) {
	like := words(find)
	var rows []store.Picture
	err = a.db(ctx).Omit("bytes", "patches").Where("name ILIKE ? OR alt ILIKE ?", like, like).Order("added_at DESC, name").Limit(chosenFrom).Find(&rows).Error
	if err == nil {
		err = a.db(ctx).Model(&store.Picture{}).Where("name ILIKE ? OR alt ILIKE ?", like, like).Count(&all).Error
	}
	if err != nil {
		return nil, 0, fmt.Errorf("find pictures: %w", err)
	}
	for _, r := range rows {
		list = append(list, pictureFacts(r))
	}
	return list, all, nil
}

// PictureOf is one picture of the shelf by its ID; false when it is gone.
func (a *App) PictureOf(ctx context.Context, id string) (facts.Picture, bool, error) {
	var row store.Picture
	if err := a.db(ctx).Omit("bytes").Where("id = ?", id).Limit(1).Find(&row).Error; err != nil {
		return facts.Picture{}, false, fmt.Errorf("read a picture: %w", err)
	}
	return pictureFacts(row), row.ID != "", nil
}

// ChooseGoods lists goods to choose from, by words of their names or the
// beginning of their SKU.
func (a *App) ChooseGoods(ctx context.Context, find string) (GoodsList, error) {
	return a.Goods(ctx, GoodsQuery{Find: find, Number: chosenFrom})
}

// ChoosePages lists the pages that a link can lead to, those of a campaign first.
func (a *App) ChoosePages(ctx context.Context, campaignID, find string) ([]PageChoice, error) {
	var list []PageChoice
	err := a.db(ctx).Raw(`SELECT p.id, p.name, c.name AS campaign FROM pages p JOIN campaigns c ON c.id = p.campaign_id
		WHERE p.aside_at IS NULL AND (p.name ILIKE @q OR p.address ILIKE @q) ORDER BY (c.id = @campaign) DESC, c.name, p.name LIMIT @most`,
		map[string]any{"q": words(find), "campaign": campaignID, "most": chosenFrom}).Scan(&list).Error
	return list, err
}

// ChooseFiles lists the files that a link can hand out.
func (a *App) ChooseFiles(ctx context.Context, find string) ([]Choice, error) {
	var list []Choice
	err := a.db(ctx).Raw("SELECT id, name FROM handouts WHERE name ILIKE ? ORDER BY name LIMIT ?", words(find), chosenFrom).Scan(&list).Error
	return list, err
}
