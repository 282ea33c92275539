package find

import (
	"context"
	"fmt"

	"chrysagon/app/assortment"
	"chrysagon/app/factbook"
	"chrysagon/core/facts"
	"chrysagon/store"
)

// chosenFrom is how many of a kind a chooser shows; a word narrows them.
const chosenFrom = 60

// ChoosePictures lists pictures to choose from by a word of their names or of
// what they show, and how many there are in all.
func (f *Finder) ChoosePictures(ctx context.Context, find string) (list []facts.Picture, all int64, err error) {
	like := store.Pattern(find)
	var rows []store.Picture
	err = f.Store.On(ctx).Omit("bytes", "patches").Where("name ILIKE ? OR alt ILIKE ?", like, like).Order("added_at DESC, name").Limit(chosenFrom).Find(&rows).Error
	if err == nil {
		err = f.Store.On(ctx).Model(&store.Picture{}).Where("name ILIKE ? OR alt ILIKE ?", like, like).Count(&all).Error
	}
	if err != nil {
		return nil, 0, fmt.Errorf("find pictures: %w", err)
	}
	for _, r := range rows {
		list = append(list, factbook.PictureFacts(r))
	}
	return list, all, nil
}

// ChooseGoods lists goods to choose from, by words of their names or the
// beginning of their SKU.
func (f *Finder) ChooseGoods(ctx context.Context, find string) (assortment.GoodsList, error) {
	return f.Goods.Goods(ctx, assortment.GoodsQuery{Find: find, Number: chosenFrom})
}

// ChoosePages lists the pages that a link can lead to, those of a campaign first.
func (f *Finder) ChoosePages(ctx context.Context, campaignID, find string) ([]PageChoice, error) {
	var list []PageChoice
	err := f.Store.On(ctx).Raw(`SELECT p.id, p.name, c.name AS campaign FROM pages p JOIN campaigns c ON c.id = p.campaign_id
		WHERE p.aside_at IS NULL AND NOT p.by_mail AND (p.name ILIKE @q OR p.address ILIKE @q) ORDER BY (c.id = @campaign) DESC, c.name, p.name LIMIT @most`,
		map[string]any{"q": store.Pattern(find), "campaign": campaignID, "most": chosenFrom}).Scan(&list).Error
	return list, err
}

// ChooseFiles lists the files that a link can hand out.
func (f *Finder) ChooseFiles(ctx context.Context, find string) ([]Choice, error) {
	var list []Choice
	err := f.Store.On(ctx).Raw("SELECT id, name FROM handouts WHERE name ILIKE ? ORDER BY name LIMIT ?", store.Pattern(find), chosenFrom).Scan(&list).Error
	return list, err
}
