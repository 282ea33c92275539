package testkit

import (
	"context"

	"chrysagon/core/check"
	m "chrysagon/core/manuscript"
	"chrysagon/core/publish"
	"chrysagon/pieces/all"

	"github.com/stretchr/testify/require"
)

// Write gives the pages of a campaign words of their own where those of their
// templates would keep them from going out, as an owner does before publishing.
func (s *Shop) Write(campaign string) {
	s.t.Helper()
	ctx := context.Background()
	var user string
	require.NoError(s.t, s.Store.DB.Raw("SELECT id FROM users ORDER BY id LIMIT 1").Scan(&user).Error)
	var ids []string
	require.NoError(s.t, s.Store.DB.Raw("SELECT id FROM pages WHERE campaign_id = ? AND aside_at IS NULL", campaign).Scan(&ids).Error)
	for _, id := range ids {
		d, err := s.App.Drafts.Draft(ctx, id)
		require.NoError(s.t, err)
		d.Tree.Walk(func(_ m.Band, p m.Piece) {
			if text := p.Fields.Text("text"); all.Words()[check.Plain(text)] && (s.App.Render.Registry.Schema().Headline(p) || d.Purpose == "legal") {
				_, err := s.App.Desk.Edit(ctx, user, id, m.Command{Op: m.SetField, Piece: p.ID, Field: "text", Value: "In our own words: " + text}, false)
				require.NoError(s.t, err)
			}
		})
	}
}

// Rename calls a page otherwise, as an owner does.
func (s *Shop) Rename(id string, n publish.Naming) {
	s.t.Helper()
	c := m.Command{Op: m.Several}
	for field, value := range map[string]string{m.Name: n.Name, m.Address: n.Address, m.Title: n.Title} {
		c.Steps = append(c.Steps, m.Command{Op: m.SetPage, Field: field, Value: value})
	}
	_, err := s.App.Desk.Edit(context.Background(), "marta", id, c, false)
	require.NoError(s.t, err)
}

// Set sets fields of a piece of a demo's page and publishes its campaign, as an owner
// does.
func (s *Shop) Set(page, piece string, fields m.Fields) {
	s.t.Helper()
	ctx := context.Background()
	c := m.Command{Op: m.Several}
	for name, value := range fields {
		c.Steps = append(c.Steps, m.Command{Op: m.SetField, Piece: piece, Field: name, Value: value})
	}
	_, err := s.App.Desk.Edit(ctx, "marta", page, c, false)
	require.NoError(s.t, err)
	var campaign string
	require.NoError(s.t, s.Store.DB.Raw("SELECT campaign_id FROM pages WHERE id = ?", page).Scan(&campaign).Error)
	_, err = s.App.Publishing.Publish(ctx, campaign, "Marta Venn")
	require.NoError(s.t, err)
	s.Forget()
}
