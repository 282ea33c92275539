package audience

import (
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"time"

	"chrysagon/core/catalogue"
	"chrysagon/core/mailing"
	"chrysagon/core/segment"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Person is a contact in a list of them.
type Person struct {
	ID, Email, Name string
	FirstAt         time.Time
	Lists           string // they are on, in words
	Orders          int
	Minor           int64 // what those came to, less what went back
}

// Shown is how many people are listed at once. CountedTo is up to how many are counted as
// fast as they are listed; of more it is said that they are more, until they are counted.
const (
	Shown     = 50
	CountedTo = 10_000
)

// People lists them, who came last first, or joined last the list that is asked for, by a word of name or address and by a sentence,
// and says how many there are; of more than [CountedTo], one more than that.
func (a *Audience) People(ctx context.Context, find string, rule segment.Rule) ([]Person, int, error) {
	db := a.Store.On(ctx)
	where, args, err := a.found(db, find, rule)
	if err != nil {
		return nil, 0, err
	}
	var count int
	if err := db.Raw("SELECT count(*) FROM (SELECT FROM contacts c WHERE "+where+" LIMIT ?) found", append(slices.Clone(args), CountedTo+1)...).Scan(&count).Error; err != nil {
		return nil, 0, fmt.Errorf("count people: %w", err)
	}
	from := comeBy(rule)
	args = append(from.args, append(args, Shown)...)
	var out []Person
	err = db.Raw(`WITH found AS (SELECT c.*, `+from.newest+` AS newest FROM `+from.sql+where+` ORDER BY `+from.newest+` DESC, `+from.key+` LIMIT ?)
		SELECT s.id, s.email, s.name, s.first_at, coalesce((SELECT string_agg(l.name, ', ' ORDER BY l.name) FROM members m JOIN lists l ON l.id = m.list_id WHERE m.contact_id = s.id AND m.state = 'on'), '') AS lists,
			coalesce(o.orders, 0) AS orders, coalesce(o.minor, 0) AS minor
		FROM found s LEFT JOIN LATERAL (SELECT count(*) AS orders, sum(total_minor - refunded_minor) AS minor FROM orders WHERE lower(email) = lower(s.email) AND state = 'paid') o ON true
		ORDER BY s.newest DESC, s.id`, args...).Scan(&out).Error
	if err != nil {
		return nil, 0, fmt.Errorf("read people: %w", err)
	}
	return out, count, nil
}

// come is from where people c are read, with its values, and in which order: the newest first,
// and by a key.
type come struct {
	sql         string
	args        []any
	newest, key string
}

// comeBy is from where, and in which order, those are read whom a rule picks: by what they did
// last of the first thing that it asks for, so that what it asks for is near the beginning;
// else by when they came. Each comes once.
func comeBy(rule segment.Rule) come {
	for _, c := range rule.All {
		switch {
		case c.Not:
			continue
		case c.Did == segment.OnList && c.Of != "":
			return come{"members o JOIN contacts c ON c.id = o.contact_id WHERE o.list_id = ? AND o.state = 'on' AND ", []any{c.Of}, "o.on_at", "o.contact_id"}
		case c.Did == segment.Sent || c.Did == segment.Clicked:
			at := map[segment.Deed]string{segment.Sent: "sent_at", segment.Clicked: "clicked_at"}[c.Did]
			of := func(table string) (string, []any) {
				if c.Of == "" {
					return table + ".letter_id IS NOT NULL", nil
				}
				return table + ".letter_id = ?", []any{c.Of}
			}
			one, args := of("o")
			later, more := of("later")
			return come{
				"postings o JOIN contacts c ON c.id = o.contact_id WHERE " + one + " AND o." + at + " IS NOT NULL AND NOT EXISTS (SELECT FROM postings later WHERE later.contact_id = o.contact_id AND " +
					later + " AND (later." + at + ", later.id) > (o." + at + ", o.id)) AND ", append(args, more...), "o." + at, "o.contact_id",
			}
		}
	}
	return come{sql: "contacts c WHERE ", newest: "c.first_at", key: "c.id"}
}

// Count counts all whom a word and a sentence find, however many.
func (a *Audience) Count(ctx context.Context, find string, rule segment.Rule) (int, error) {
	db := a.Store.On(ctx)
	where, args, err := a.found(db, find, rule)
	if err != nil {
		return 0, err
	}
	var count int
	if err := db.Raw("SELECT count(*) FROM contacts c WHERE "+where, args...).Scan(&count).Error; err != nil {
		return 0, fmt.Errorf("count people: %w", err)
	}
	return count, nil
}

// found is the condition on contacts c of a word and a sentence.
func (a *Audience) found(db *gorm.DB, find string, rule segment.Rule) (string, []any, error) {
	where, args, err := a.Picks(db, rule)
	if find != "" {
		where += " AND (c.email ILIKE ? OR c.name ILIKE ?)"
		args = append(args, store.Pattern(find), store.Pattern(find))
	}
	return where, args, err
}

// Deed is one thing in somebody's timeline.
type Deed struct {
	At   time.Time `json:"at"`
	What string    `json:"what"`
	Of   string    `json:"of,omitempty"`
	More string    `json:"more,omitempty"`
	Link string    `json:"-"` // of a place of the studio
}

// Known is all that is known of one person.
type Known struct {
	Contact store.Contact `json:"contact"`
	Lists   []struct {
		Name, State, Consent string
		AskedAt              time.Time
		OnAt, OffAt          *time.Time
	} `json:"lists"`
	Deeds  []Deed `json:"timeline"` // the latest first
	Tasks  []Task `json:"-"`        // not done
	Hushed bool   `json:"never_written_to"`
	Silent string `json:"why_not,omitempty"` // why, as it is kept: all_off, erased, gone or complained
	Wishes string `json:"-"`                 // the page where they say what they want
}

// Known reads it.
func (a *Audience) Known(ctx context.Context, id string) (Known, error) {
	db := a.Store.On(ctx)
	out := Known{Deeds: []Deed{}}
	var err error
	if out.Contact, err = ContactOf(db, id); err != nil {
		return out, err
	}
	key, err := a.key(ctx)
	if err != nil {
		return out, err
	}
	if err := db.Raw("SELECT why FROM hushed WHERE hush = ?", mailing.Hush(key, out.Contact.Email)).Scan(&out.Silent).Error; err != nil {
		return out, err
	}
	out.Hushed = out.Silent != ""
	out.Wishes = a.Wishes(key, id, "")
	err = db.Raw("SELECT l.name, m.state, m.consent, m.asked_at, m.on_at, m.off_at FROM members m JOIN lists l ON l.id = m.list_id WHERE m.contact_id = ? ORDER BY l.name", id).Scan(&out.Lists).Error
	if err != nil {
		return out, fmt.Errorf("read somebody's lists: %w", err)
	}
	err = db.Raw(`SELECT * FROM (
		SELECT m.asked_at AS at, 'asked for' AS what, l.name AS of, coalesce('by the form on “' || p.name || '”', '') || CASE WHEN m.source <> '' THEN ', by the link ' || m.source ELSE '' END AS more, '' AS link
			FROM members m JOIN lists l ON l.id = m.list_id LEFT JOIN pages p ON p.id = m.page_id WHERE m.contact_id = @id
		UNION ALL SELECT m.on_at, 'is on', l.name, CASE WHEN l.confirmed THEN 'confirmed it by a press' ELSE '' END, '' FROM members m JOIN lists l ON l.id = m.list_id WHERE m.contact_id = @id AND m.on_at IS NOT NULL
		UNION ALL SELECT m.off_at, 'left', l.name, '', '' FROM members m JOIN lists l ON l.id = m.list_id WHERE m.contact_id = @id AND m.off_at IS NOT NULL
		UNION ALL SELECT p.sent_at, 'was sent', p.subject, '', coalesce('/pages/' || p.letter_id, '') FROM postings p WHERE p.contact_id = @id AND p.sent_at IS NOT NULL
		UNION ALL SELECT p.clicked_at, 'came by', p.subject, 'a link in the letter', coalesce('/pages/' || p.letter_id, '') FROM postings p WHERE p.contact_id = @id AND p.clicked_at IS NOT NULL
		UNION ALL SELECT r.at, CASE r.kind WHEN 'complaint' THEN 'complained of' WHEN 'late' THEN 'does not have yet' ELSE 'sent back' END, p.subject, trim(r.status || ' ' || r.says), '' FROM returns r JOIN postings p ON p.id = r.posting_id WHERE p.contact_id = @id
		UNION ALL SELECT p.due_at, 'is not sent', coalesce(g.name, 'a letter'), p.dropped, '' FROM postings p LEFT JOIN pages g ON g.id = p.letter_id WHERE p.contact_id = @id AND p.dropped <> ''
		UNION ALL SELECT o.paid_at, 'ordered', 'order ' || o.number, coalesce('by the letter “' || t.subject || '”', ''), '/orders/' || o.id FROM orders o LEFT JOIN postings t ON t.id = o.posting_id WHERE lower(o.email) = lower(@email) AND o.state = 'paid'
		UNION ALL SELECT w.begun_at, 'came to', coalesce(p.name, 'a page'), CASE WHEN w.source <> '' THEN 'by ' || w.source ELSE '' END, '' FROM visitor_emails v JOIN walks w ON w.visitor = v.visitor
			LEFT JOIN steps s ON s.id = w.landing LEFT JOIN pages p ON p.id = s.page_id WHERE v.email = lower(@email)
		UNION ALL SELECT n.at, CASE WHEN n.due_on IS NULL THEN 'noted' WHEN n.done_at IS NULL THEN 'to do until ' || to_char(n.due_on, 'FMDD FMMonth') || ':' ELSE 'done:' END, n.says, n.by, '' FROM notes n WHERE n.contact_id = @id
		UNION ALL SELECT d.at, 'filled in', CASE d.kind WHEN 'message' THEN 'a message' WHEN 'appointment' THEN 'an appointment on ' || to_char(d.slot_at AT TIME ZONE (SELECT zone FROM store), 'FMDD FMMonth, HH24:MI') ELSE 'a form' END, coalesce('on “' || p.name || '”', ''), '' FROM leads d LEFT JOIN pages p ON p.id = d.page_id WHERE lower(d.email) = lower(@email)
	) deeds ORDER BY at DESC, what LIMIT 500`, map[string]any{"id": id, "email": out.Contact.Email}).Scan(&out.Deeds).Error
	if err != nil {
		return out, fmt.Errorf("read what somebody did: %w", err)
	}
	out.Tasks, err = a.Tasks(ctx, id)
	return out, err
}

// ExportOne writes everything about one person as JSON.
func (a *Audience) ExportOne(ctx context.Context, id string, to io.Writer) error {
	known, err := a.Known(ctx, id)
	if err != nil {
		return err
	}
	out := json.NewEncoder(to)
	out.SetIndent("", "  ")
	if err := out.Encode(known); err != nil {
		return fmt.Errorf("write what is known of somebody: %w", err)
	}
	return nil
}

// Erase lets go of all that is known of a person, but for orders, which the law of receipts
// keeps. Of the address an HMAC stays, so that it is never written to again.
func (a *Audience) Erase(ctx context.Context, id string) error {
	err := a.Store.In(ctx, func(tx *gorm.DB) error {
		who, err := ContactOf(tx, id)
		if err != nil {
			return err
		}
		key, err := a.key(store.Within(ctx, tx))
		if err != nil {
			return err
		}
		if err := tx.Exec("INSERT INTO hushed (hush, why, at) VALUES (?, 'erased', ?) ON CONFLICT (hush) DO UPDATE SET why = 'erased'", mailing.Hush(key, who.Email), a.Store.Now()).Error; err != nil {
			return err
		}
		for _, sql := range []string{"DELETE FROM leads WHERE lower(email) = lower(?)", "DELETE FROM unfinished WHERE lower(email) = lower(?)", "DELETE FROM visitor_emails WHERE email = lower(?)", "DELETE FROM sightings WHERE email = lower(?)", "DELETE FROM agreed WHERE lower(email) = lower(?)", "DELETE FROM contacts WHERE lower(email) = lower(?)"} {
			if err := tx.Exec(sql, who.Email).Error; err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return fmt.Errorf("erase a person: %w", err)
	}
	return nil
}

// Export writes everybody as CSV (RFC 4180), a line for each list they stand to.
func (a *Audience) Export(ctx context.Context, to io.Writer) error {
	w := csv.NewWriter(to)
	w.UseCRLF = true
	if err := w.Write([]string{"email", "name", "list", "state", "since", "consent", "source"}); err != nil {
		return err
	}
	rows, err := a.Store.On(ctx).Raw(`SELECT c.email, c.name, coalesce(l.name, ''), coalesce(m.state, ''), coalesce(m.off_at, m.on_at, m.asked_at, c.first_at), coalesce(m.consent, ''), coalesce(m.source, '')
		FROM contacts c LEFT JOIN members m ON m.contact_id = c.id LEFT JOIN lists l ON l.id = m.list_id ORDER BY c.first_at DESC, c.id, l.name`).Rows()
	if err != nil {
		return fmt.Errorf("read people: %w", err)
	}
	defer func() { _ = rows.Close() }()
	for rows.Next() {
		var at time.Time
		f := make([]string, 7)
		if err := rows.Scan(&f[0], &f[1], &f[2], &f[3], &at, &f[5], &f[6]); err != nil {
			return err
		}
		f[4] = at.UTC().Format(time.RFC3339)
		if err := w.Write(catalogue.Guarded(f)); err != nil {
			return err
		}
	}
	w.Flush()
	return errors.Join(rows.Err(), w.Error())
}

// Sums are what is told of all at once.
type Sums struct{ People, On, Silent, Today int }

// Sums counts people, those on a list, those who asked for silence, and the letters that go
// out until the end of the day where the store is.
func (a *Audience) Sums(ctx context.Context) (Sums, error) {
	var s Sums
	err := a.Store.On(ctx).Raw(`SELECT (SELECT count(*) FROM contacts) AS people, (SELECT count(DISTINCT contact_id) FROM members WHERE state = 'on') AS "on",
		(SELECT count(*) FROM hushed) AS silent,
		(SELECT count(*) FROM postings, store WHERE sent_at IS NULL AND dropped = '' AND due_at < (date_trunc('day', ?::timestamptz AT TIME ZONE store.zone) + interval '1 day') AT TIME ZONE store.zone) AS today`, a.Store.Now()).Scan(&s).Error
	return s, err
}

// SentSince counts the letters that went out since a moment.
func (a *Audience) SentSince(ctx context.Context, since time.Time) (int, error) {
	var n int
	err := a.Store.On(ctx).Raw("SELECT count(*) FROM postings WHERE sent_at >= ?", since).Scan(&n).Error
	return n, err
}
