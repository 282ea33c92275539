package house

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"unicode/utf8"

	"chrysagon/app/factbook"
	"chrysagon/core/checkout"
	"chrysagon/core/own"
	"chrysagon/core/refusal"
	"chrysagon/core/target"
	"chrysagon/store"

	"gorm.io/gorm"
)

// Imprint is what all pages say of the store.
type Imprint struct {
	Name, LegalName, LegalAddress, ContactEmail, Phone, Privacy, Terms, Icon string
}

// Imprint reads them.
func (k *Keeper) Imprint(ctx context.Context) (Imprint, own.Code, error) {
	s, err := k.Store.Shop(ctx)
	return Imprint{Name: s.Name, LegalName: s.LegalName, LegalAddress: s.LegalAddress, ContactEmail: s.ContactEmail, Phone: s.Phone, Privacy: s.Privacy, Terms: s.Terms, Icon: factbook.Deref(s.IconID)}, factbook.OwnOf(s.Own), err
}

// faults says, field by field, what must be mended.
func (w Imprint) faults() map[string]string {
	faults := map[string]string{}
	must := func(field, value string, most int, what string) {
		switch n := utf8.RuneCountInString(value); {
		case n == 0 && what != "":
			faults[field] = "Write " + what + "."
		case n > most:
			faults[field] = fmt.Sprintf("This has %d characters; at most %d fit.", n, most)
		}
	}
	must("name", w.Name, 80, "what the store is called")
	must("legal_name", w.LegalName, 200, "who the seller is by law")
	must("legal_address", w.LegalAddress, 300, "where the seller can be reached by post")
	must("privacy", w.Privacy, 20_000, "what you keep of your buyers, and why")
	must("terms", w.Terms, 20_000, "the terms on which you sell")
	must("phone", w.Phone, 40, "")
	if w.Phone != "" && len(target.Dialled(w.Phone)) < 5 {
		faults["phone"] = "This has too few digits to be called."
	}
	if why := checkout.EmailFault(w.ContactEmail); why != "" {
		faults["contact_email"] = why
	}
	return faults
}

// SetImprint changes what all pages say of the store, at once; faults are by field.
func (k *Keeper) SetImprint(ctx context.Context, w Imprint) (map[string]string, error) {
	faults := w.faults()
	var icon *string
	if w.Icon != "" {
		icon = &w.Icon
		if _, known, err := k.Pictures.PictureOf(ctx, w.Icon); err != nil || !known {
			faults["icon"] = "This picture is no longer on the shelf. Choose another."
		}
	}
	if len(faults) > 0 {
		return faults, nil
	}
	err := k.Store.On(ctx).Model(&store.Shop{}).Where("id = 1").Updates(map[string]any{
		"name": w.Name, "legal_name": w.LegalName, "legal_address": w.LegalAddress, "contact_email": w.ContactEmail, "phone": w.Phone, "privacy": w.Privacy, "terms": w.Terms, "icon_id": icon,
	}).Error
	k.News.FactsChanged()
	return nil, err
}

// SetOwn keeps code of the store's own, brought together with what others made
// of it since its writer saw it, and says what it has come to.
func (k *Keeper) SetOwn(ctx context.Context, was, mine own.Code) (own.Code, error) {
	var code own.Code
	err := k.Store.In(ctx, func(tx *gorm.DB) error {
		row, err := locked(tx)
		if err != nil {
			return err
		}
		code = own.Merge(was, mine, factbook.OwnOf(row.Own))
		if err := code.Validate(); err != nil {
			return refusal.Of(refusal.ErrInvalid, "%s.", strings.ToUpper(err.Error()[:1])+err.Error()[1:])
		}
		raw, err := json.Marshal(append(own.Code{}, code...))
		if err != nil {
			return fmt.Errorf("write own code: %w", err)
		}
		return tx.Exec("UPDATE store SET own = ?", store.JSON(raw)).Error
	})
	k.News.FactsChanged()
	return code, err
}
