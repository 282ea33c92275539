package audience

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"chrysagon/core/catalogue"
	"chrysagon/core/mailing"
	"chrysagon/core/refusal"
	"chrysagon/core/words"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Importing is a file of people that are to be put on a list.
type Importing struct {
	ListID  string
	Raw     []byte
	Consent string // where and when they said yes, in words
	Look    bool   // it is only looked at: nothing is kept
}

// Imported is what came of a file, or would.
type Imported struct {
	New     int // nobody knew them
	Added   int // known, and new to the list
	Already int // on the list
	Left    int // had ended it, and stay off it
	Hushed  int // must not be written to
	Twice   int // stand in the file more than once
	Faults  []catalogue.Fault
	Faulty  int // lines, of which Faults shows the first
	Looked  bool
}

const (
	shownFaults = 50
	inOneGo     = 5000
)

// Import puts people of a file on a list, or says what would come of it. They begin no
// follow-up: they did not ask just now. Who has left the list stays off it, and who must not
// be written to is not taken at all.
func (a *Audience) Import(ctx context.Context, in Importing) (Imported, error) {
	out := Imported{Looked: in.Look}
	if in.Consent = words.Tidy(in.Consent); len([]rune(in.Consent)) < 10 && !in.Look {
		return out, refusal.Of(refusal.ErrInvalid, "Say in words where and when these people agreed to your letters; it is kept with each of them.")
	}
	if _, err := a.List(ctx, in.ListID); err != nil {
		return out, err
	}
	people, err := peopleOf(in.Raw, &out)
	if err != nil {
		return out, refusal.Of(refusal.ErrInvalid, "The file cannot be taken: %s.", strings.TrimSuffix(err.Error(), "."))
	}
	key, err := a.key(ctx)
	if err != nil {
		return out, err
	}
	err = a.Store.In(ctx, func(tx *gorm.DB) error {
		for from := 0; from < len(people); from += inOneGo {
			if err := a.take(tx, in, key, people[from:min(from+inOneGo, len(people))], &out); err != nil {
				return err
			}
		}
		if in.Look {
			return errLooked
		}
		return nil
	})
	if err != nil && !errors.Is(err, errLooked) {
		return out, fmt.Errorf("import people: %w", err)
	}
	return out, nil
}

// errLooked takes back what was only tried.
var errLooked = errors.New("it was only looked at")

type importedPerson struct{ email, name string }

// peopleOf reads the people of a file, each once.
func peopleOf(raw []byte, out *Imported) ([]importedPerson, error) {
	if first, _, _ := bytes.Cut(raw, []byte("\n")); len(bytes.TrimSpace(raw)) > 0 && bytes.IndexByte(first, 0) < 0 && !bytes.ContainsAny(first, ",;\t|") { // one column alone
		raw = append([]byte("email,name\n"), bytes.ReplaceAll(bytes.TrimRight(raw, "\r\n"), []byte("\n"), []byte(",\n"))...)
	}
	sheet, err := catalogue.Open(raw)
	if err != nil {
		return nil, err
	}
	columns, ok := mailing.ColumnsOf(sheet.Header)
	if !ok {
		return nil, errors.New("no column is called email; the first line must name the columns")
	}
	var people []importedPerson
	seen := map[string]bool{}
	fault := func(f catalogue.Fault) {
		if out.Faulty++; len(out.Faults) < shownFaults {
			out.Faults = append(out.Faults, f)
		}
	}
	err = sheet.Lines(func(fields []string, line int) {
		email, name, wrong := columns.Person(fields)
		switch {
		case strings.EqualFold(email, "email"): // a head that was put before one
		case wrong != "":
			fault(catalogue.Fault{Line: line, Value: email, Reason: wrong})
		case seen[mailing.Plain(email)]:
			out.Twice++
		default:
			seen[mailing.Plain(email)] = true
			people = append(people, importedPerson{strings.Clone(email), strings.Clone(name)})
		}
	}, fault)
	return people, err
}

// take takes some people, by as many statements for many as for one.
func (a *Audience) take(tx *gorm.DB, in Importing, key []byte, people []importedPerson, out *Imported) error {
	byHush := make(map[string]importedPerson, len(people))
	hushes := make([]string, len(people))
	for i, p := range people {
		hushes[i] = mailing.Hush(key, p.email)
		byHush[hushes[i]] = p
	}
	var never []string
	if err := tx.Raw("SELECT hush FROM hushed WHERE hush = ANY(?::text[])", store.TextArray(hushes)).Scan(&never).Error; err != nil {
		return err
	}
	out.Hushed += len(never)
	for _, h := range never {
		delete(byHush, h)
	}
	var ids, emails, names []string
	for _, h := range hushes {
		if p, is := byHush[h]; is {
			ids, emails, names = append(ids, store.NewID()), append(emails, p.email), append(names, p.name)
		}
	}
	var came struct{ New, Added, Already, Left int }
	now := a.Store.Now().Truncate(time.Microsecond)
	err := tx.Raw(`WITH given AS (SELECT * FROM unnest(?::text[], ?::text[], ?::text[]) AS g(id, email, name)),
		was AS (SELECT g.email, c.id AS contact, m.state FROM given g LEFT JOIN contacts c ON lower(c.email) = lower(g.email) LEFT JOIN members m ON m.contact_id = c.id AND m.list_id = ?),
		kept AS (INSERT INTO contacts (id, email, name, first_at) SELECT id, email, name, ?::timestamptz FROM given
			ON CONFLICT (lower(email)) DO UPDATE SET name = CASE WHEN contacts.name = '' THEN EXCLUDED.name ELSE contacts.name END RETURNING id),
		joined AS (INSERT INTO members (list_id, contact_id, state, consent, source, asked_at, on_at, told_at) SELECT ?, id, 'on', ?, 'import', at.at, at.at, at.at FROM kept, (SELECT ?::timestamptz AS at) at
			ON CONFLICT (list_id, contact_id) DO NOTHING RETURNING contact_id)
		SELECT count(*) FILTER (WHERE contact IS NULL) AS new, count(*) FILTER (WHERE contact IS NOT NULL AND state IS NULL) AS added,
			count(*) FILTER (WHERE state IN ('on', 'asked')) AS already, count(*) FILTER (WHERE state = 'off') AS "left" FROM was`,
		store.TextArray(ids), store.TextArray(emails), store.TextArray(names), in.ListID, now, in.ListID, in.Consent, now).Scan(&came).Error
	if err != nil {
		return err
	}
	out.New, out.Added, out.Already, out.Left = out.New+came.New, out.Added+came.Added, out.Already+came.Already, out.Left+came.Left
	return nil
}
