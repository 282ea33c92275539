package account

import (
	"context"
	"fmt"
	"time"

	"chrysagon/core/signin"
	"chrysagon/store"

	"github.com/mileusna/useragent"
	"gorm.io/gorm"
)

// OpenSession is a browser in which somebody is signed in.
type OpenSession struct {
	ID      string
	Browser string // in words
	Began   time.Time
	Used    time.Time
	Here    bool // the one that asks
}

// Sessions lists where somebody is signed in, the last used first.
func (a *Accounts) Sessions(ctx context.Context, who SignedIn) ([]OpenSession, error) {
	var rows []store.Session
	err := a.open(ctx).Where("user_id = ?", who.User.ID).Order("used_at DESC, id").Find(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("read the sessions: %w", err)
	}
	list := make([]OpenSession, len(rows))
	for i, r := range rows {
		list[i] = OpenSession{ID: r.ID, Browser: browserOf(r.Agent), Began: r.BeganAt, Used: r.UsedAt, Here: r.ID == who.Session}
	}
	return list, nil
}

func browserOf(agent string) string {
	ua := useragent.Parse(agent)
	switch {
	case ua.Name == "" || agent == "":
		return "A browser that does not say which"
	case ua.OS == "":
		return ua.Name
	}
	return ua.Name + " on " + ua.OS
}

// EndSession ends one of somebody's sessions; "" ends all but the one that asks.
func (a *Accounts) EndSession(ctx context.Context, who SignedIn, id string) error {
	q := a.Store.On(ctx).Where("user_id = ?", who.User.ID)
	if id == "" {
		q = q.Where("id <> ?", who.Session)
	} else {
		q = q.Where("id = ?", id)
	}
	return q.Delete(&store.Session{}).Error
}

// ChangePassword gives somebody another password and ends all other sessions.
// Faults are by field.
func (a *Accounts) ChangePassword(ctx context.Context, who SignedIn, now, next string) (map[string]string, error) {
	shop, err := a.Store.Shop(ctx)
	if err != nil {
		return nil, err
	}
	key := []string{"change " + who.User.ID}
	if err := a.admit(ctx, key); err != nil {
		return nil, err
	}
	if right, _ := matches(who.User.PasswordHash, now); !right {
		return map[string]string{"now": "This is not your password now."}, nil
	}
	// Whoever knows it is guessing nothing: what is wrong with the new one costs no wait.
	if err := a.Store.On(ctx).Where("key IN ?", key).Delete(&store.SignInTries{}).Error; err != nil {
		return nil, fmt.Errorf("forget guesses: %w", err)
	}
	if fault := signin.Fault(next, shop.Name, who.User.Name, who.User.Email); fault != "" {
		return map[string]string{"next": fault}, nil
	}
	if next == now {
		return map[string]string{"next": "This is the password you have already."}, nil
	}
	hash := HashPassword(next)
	err = a.Store.In(ctx, func(tx *gorm.DB) error {
		if err := tx.Model(&store.User{}).Where("id = ?", who.User.ID).Update("password_hash", hash).Error; err != nil {
			return err
		}
		if err := tx.Where("user_id = ?", who.User.ID).Delete(&store.KnownBrowser{}).Error; err != nil {
			return err
		}
		return tx.Where("user_id = ? AND id <> ?", who.User.ID, who.Session).Delete(&store.Session{}).Error
	})
	if err != nil {
		return nil, fmt.Errorf("change a password: %w", err)
	}
	return nil, nil
}
