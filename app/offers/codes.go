package offers

import (
	"context"
	"crypto/rand"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"

	"chrysagon/core/offer"
	"chrysagon/core/refusal"
	"chrysagon/store"

	pgx "github.com/jackc/pgx/v5"
	"gorm.io/gorm"
)

// MaxCodes is how many codes are made at once.
const MaxCodes = 100_000

// codeSigns is how many random signs a generated code has: with 25 signs to
// choose from, one in 1.5·10^11 guesses finds a given code.
const codeSigns = 8

// writeCode keeps an offer's one code. Codes made in bulk stay.
func writeCode(tx *gorm.DB, offerID, code string) error {
	code = strings.TrimSpace(code)
	if code == "" {
		return nil
	}
	if offer.Normal(code) == "" || len([]rune(code)) > 40 {
		return refusal.Of(refusal.ErrInvalid, "A code has from 1 to 40 letters or digits.")
	}
	var owner string
	if err := tx.Raw("SELECT offer_id FROM codes WHERE normal = ?", offer.Normal(code)).Scan(&owner).Error; err != nil {
		return err
	}
	switch owner {
	case offerID:
		return tx.Exec("UPDATE codes SET code = ? WHERE normal = ?", code, offer.Normal(code)).Error
	case "":
		if err := tx.Exec("DELETE FROM codes WHERE offer_id = ? AND (SELECT count(*) FROM codes WHERE offer_id = ?) = 1 AND NOT EXISTS (SELECT FROM offer_uses u WHERE u.offer_id = codes.offer_id AND u.code = codes.normal AND u.held)", offerID, offerID).Error; err != nil {
			return err
		}
		return tx.Create(&store.Code{Normal: offer.Normal(code), Code: code, OfferID: offerID}).Error
	}
	return refusal.Of(refusal.ErrConflict, "Another offer has the code %s already, or one that reads the same. Choose another.", code)
}

// MakeCodes makes many codes for an offer, each good for so many orders.
func (offers *Offers) MakeCodes(ctx context.Context, offerID, prefix string, n, uses int) error {
	prefix = strings.ToUpper(strings.TrimSpace(prefix))
	if n < 1 || n > MaxCodes {
		return refusal.Of(refusal.ErrInvalid, "From 1 to %d codes can be made at once.", MaxCodes)
	}
	if len(prefix) > 16 || strings.Trim(prefix, "ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-") != "" {
		return refusal.Of(refusal.ErrInvalid, "A prefix has at most 16 letters, digits or dashes.")
	}
	if uses < 0 || uses > 1_000_000 {
		return refusal.Of(refusal.ErrInvalid, "Say how often each code may be used: 1, or 0 for no limit.")
	}
	if _, err := store.One[store.Offer](offers.Store.On(ctx).Where("id = ?", offerID), "There is no such offer."); err != nil {
		return err
	}
	made := map[string]string{}
	for len(made) < n {
		code := offer.CodeOf(prefix, fairBytes(codeSigns))
		made[offer.Normal(code)] = code
	}
	return offers.writeCodes(ctx, offerID, made, uses)
}

func (offers *Offers) writeCodes(ctx context.Context, offerID string, made map[string]string, uses int) error {
	rows := make([][]any, 0, len(made))
	for normal, code := range made {
		rows = append(rows, []any{normal, code, offerID, uses})
	}
	tx, err := offers.Store.Pool.Begin(ctx)
	if err != nil {
		return fmt.Errorf("make codes: %w", err)
	}
	defer func() { _ = tx.Rollback(ctx) }()
	if _, err := tx.CopyFrom(ctx, pgx.Identifier{"codes"}, []string{"normal", "code", "offer_id", "max_uses"}, pgx.CopyFromRows(rows)); err != nil {
		if store.IsDuplicate(err) {
			return refusal.Of(refusal.ErrConflict, "Some codes exist already. Press the button once more, or choose another prefix.")
		}
		return fmt.Errorf("make codes: %w", err)
	}
	if _, err := tx.Exec(ctx, "UPDATE offers SET needs_code = true WHERE id = $1", offerID); err != nil {
		return fmt.Errorf("make codes: %w", err)
	}
	if err := tx.Commit(ctx); err != nil {
		return fmt.Errorf("make codes: %w", err)
	}
	offers.News.FactsChanged()
	return nil
}

func fairBytes(n int) []byte {
	out := make([]byte, 0, n)
	for len(out) < n {
		one := make([]byte, 2*n)
		_, _ = rand.Read(one) // never fails: crypto/rand ends the program instead
		for _, r := range one {
			if len(out) < n && offer.Fair(r) {
				out = append(out, r)
			}
		}
	}
	return out
}

// ExportCodes writes an offer's codes as CSV (RFC 4180).
func (offers *Offers) ExportCodes(ctx context.Context, offerID string, to io.Writer) error {
	w := csv.NewWriter(to)
	w.UseCRLF = true
	if err := w.Write([]string{"code", "max_uses", "used"}); err != nil {
		return err
	}
	rows, err := offers.Store.Pool.Query(ctx, `SELECT c.code, c.max_uses, coalesce(u.used, 0) FROM codes c
		LEFT JOIN (SELECT code, count(*) AS used FROM offer_uses WHERE offer_id = $1 AND held GROUP BY code) u ON u.code = c.normal
		WHERE c.offer_id = $1 ORDER BY c.code`, offerID)
	if err != nil {
		return fmt.Errorf("read the codes: %w", err)
	}
	defer rows.Close()
	for rows.Next() {
		var code string
		var most, used int
		if err := rows.Scan(&code, &most, &used); err != nil {
			return err
		}
		if err := w.Write([]string{code, strconv.Itoa(most), strconv.Itoa(used)}); err != nil {
			return err
		}
	}
	w.Flush()
	return errors.Join(rows.Err(), w.Error())
}
