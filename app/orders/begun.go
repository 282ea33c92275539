package orders

import (
	"context"
	"fmt"
	"time"
)

// Begun is a checkout that somebody began and has not paid for.
type Begun struct {
	Name, Email, Consent string
	Page                 string
	Part                 int
	At                   time.Time
}

// begunShown is how many are listed.
const begunShown = 50

// Begun lists the checkouts that were begun and not paid for, the newest first, with how
// many there are.
func (office *Office) Begun(ctx context.Context) (list []Begun, all int, err error) {
	db := office.Store.On(ctx)
	if err := db.Raw("SELECT count(*) FROM unfinished").Scan(&all).Error; err != nil || all == 0 {
		return nil, all, err
	}
	err = db.Raw(`SELECT u.name, u.email, u.consent, p.name AS page, u.part, u.at FROM unfinished u JOIN pages p ON p.id = u.page_id
		ORDER BY u.at DESC, u.visitor LIMIT ?`, begunShown).Scan(&list).Error
	if err != nil {
		return nil, 0, fmt.Errorf("read unfinished checkouts: %w", err)
	}
	return list, all, nil
}

// ForgetBegun forgets what somebody typed in a checkout and did not pay for, by their
// email: in every page and browser.
func (office *Office) ForgetBegun(ctx context.Context, email string) error {
	if err := office.Store.On(ctx).Exec("DELETE FROM unfinished WHERE lower(email) = lower(?)", email).Error; err != nil {
		return fmt.Errorf("forget unfinished checkouts: %w", err)
	}
	return nil
}
