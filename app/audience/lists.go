package audience

import (
	"context"
	"fmt"
	"strings"

	"chrysagon/app/factbook"
	"chrysagon/core/mailing"
	"chrysagon/core/refusal"
	"chrysagon/core/words"
	"chrysagon/store"
)

// ListRow is a list with what came of it.
type ListRow struct {
	mailing.List
	On, Asked, Off int
}

const countedLists = `SELECT l.*, coalesce(m.on, 0) AS "on", coalesce(m.asked, 0) AS asked, coalesce(m.off, 0) AS off
	FROM lists l LEFT JOIN (SELECT list_id, count(*) FILTER (WHERE state = 'on') AS "on", count(*) FILTER (WHERE state = 'asked') AS asked,
		count(*) FILTER (WHERE state = 'off') AS off FROM members GROUP BY list_id) m ON m.list_id = l.id`

type countedList struct {
	store.List
	On, Asked, Off int
}

func (r countedList) row() ListRow {
	return ListRow{List: factbook.ListOf(r.List), On: r.On, Asked: r.Asked, Off: r.Off}
}

// Lists lists them by name, each with how many are on it.
func (a *Audience) Lists(ctx context.Context) ([]ListRow, error) {
	var rows []countedList
	if err := a.Store.On(ctx).Raw(countedLists + " ORDER BY l.name").Scan(&rows).Error; err != nil {
		return nil, fmt.Errorf("read the lists: %w", err)
	}
	out := make([]ListRow, len(rows))
	for i, r := range rows {
		out[i] = r.row()
	}
	return out, nil
}

// List reads one.
func (a *Audience) List(ctx context.Context, id string) (ListRow, error) {
	var rows []countedList
	if err := a.Store.On(ctx).Raw(countedLists+" WHERE l.id = ?", id).Scan(&rows).Error; err != nil {
		return ListRow{}, fmt.Errorf("read a list: %w", err)
	}
	if len(rows) == 0 {
		return ListRow{}, refusal.Of(refusal.ErrNotFound, "There is no such list.")
	}
	return rows[0].row(), nil
}

// SaveList keeps a list, a new one where it has no ID. Faults are by field.
func (a *Audience) SaveList(ctx context.Context, l mailing.List) (string, map[string]string, error) {
	l.Name, l.FromName, l.Why, l.ReplyTo = words.Tidy(l.Name), words.Tidy(l.FromName), words.Tidy(l.Why), strings.TrimSpace(l.ReplyTo)
	faults := l.Faults()
	if l.Gives != "" {
		if _, err := factbook.File(a.Store.On(ctx), l.Gives); err != nil {
			faults["gives"] = "This file is gone; choose another."
		}
	}
	for _, of := range []struct{ field, sql, id string }{{"code", "SELECT count(*) FROM offers WHERE id = ? AND needs_code AND ended_at IS NULL", l.Code}, {"after", "SELECT count(*) FROM pages WHERE id = ? AND NOT by_mail AND aside_at IS NULL", l.After}} {
		var n int64
		if err := a.Store.On(ctx).Raw(of.sql, of.id).Scan(&n).Error; err != nil {
			return "", nil, err
		}
		if of.id != "" && n == 0 {
			faults[of.field] = "This is gone; choose another."
		}
	}
	if len(faults) > 0 {
		return "", faults, nil
	}
	row := store.List{ID: l.ID, Name: l.Name, FromName: l.FromName, ReplyTo: l.ReplyTo, Why: l.Why, Confirmed: l.Confirmed, Tells: string(l.Tells), CreatedAt: a.Store.Now()}
	row.Gives, row.CodeOffer, row.AfterID = factbook.Ref(l.Gives), factbook.Ref(l.Code), factbook.Ref(l.After)
	db := a.Store.On(ctx)
	var err error
	if row.ID == "" {
		row.ID = store.NewID()
		err = db.Create(&row).Error
	} else {
		err = db.Model(&store.List{}).Where("id = ?", row.ID).Select("name", "from_name", "reply_to", "why", "confirmed", "gives", "code_offer", "after_id", "tells").Updates(&row).Error
	}
	if store.IsDuplicate(err) {
		return "", map[string]string{"name": "Another list has this name. Choose another."}, nil
	}
	if err != nil {
		return "", nil, fmt.Errorf("keep a list: %w", err)
	}
	a.News.FactsChanged()
	return row.ID, nil, nil
}

// RemoveList takes a list away that nobody is on and no live page's form puts people on.
func (a *Audience) RemoveList(ctx context.Context, id string) error {
	l, err := a.List(ctx, id)
	if err != nil {
		return err
	}
	if l.On+l.Asked > 0 {
		return refusal.Of(refusal.ErrConflict, "%d people are on “%s”; a list can be taken away once nobody is.", l.On+l.Asked, l.Name)
	}
	used, err := a.usedBy(ctx, id)
	if err != nil {
		return err
	}
	if used != "" {
		return refusal.Of(refusal.ErrConflict, "A form on “%s” puts people on “%s”; choose another list there first.", used, l.Name)
	}
	if err := a.Store.On(ctx).Delete(&store.List{}, "id = ?", id).Error; err != nil {
		return fmt.Errorf("take a list away: %w", err)
	}
	a.News.FactsChanged()
	return nil
}

// usedBy is the name of a page, drafted or live, with a form that puts people on a list.
func (a *Audience) usedBy(ctx context.Context, listID string) (string, error) {
	var name string
	const names = "jsonb_path_query_array(%s, '$.bands[*].columns[*].pieces[*].fields.list') @> to_jsonb(?::text)"
	err := a.Store.On(ctx).Raw(`SELECT p.name FROM pages p WHERE `+fmt.Sprintf(names, "p.manuscript")+`
		UNION ALL
		SELECT one ->> 'name' FROM campaigns c JOIN editions e ON e.id = c.live_edition_id, jsonb_array_elements(e.content -> 'pages') AS one
			WHERE `+fmt.Sprintf(names, "one -> 'manuscript'")+` LIMIT 1`, listID, listID).Scan(&name).Error
	if err != nil {
		return "", fmt.Errorf("look for forms of a list: %w", err)
	}
	return name, nil
}
