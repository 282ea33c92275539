package offers_test

import (
	"net/url"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A receipt is computed at every key: it asks the database eight times at most,
// whatever the offer is, and however many there are.
func TestAReceiptAsksLittle(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	base := url.Values{"name": {"Wind week"}, "kind": {"amount_off"}, "amount": {"3"}, "goods": {"ember"}, "item": {"ember", "gull"}, "qty": {"1", "2"}, "via": {"page", "page"}}
	var step, deadline, shelf string
	require.NoError(t, shop.Store.DB.Raw("SELECT id FROM steps ORDER BY id LIMIT 1").Scan(&step).Error)
	require.NoError(t, shop.Store.DB.Raw("SELECT id FROM deadlines ORDER BY id LIMIT 1").Scan(&deadline).Error)
	require.NoError(t, shop.Store.DB.Raw("SELECT id FROM shelves ORDER BY id LIMIT 1").Scan(&shelf).Error)
	for name, with := range map[string]url.Values{
		"plain": {}, "with a code typed": {"try_code": {"LANTERN"}}, "on a step": {"step": {step}}, "with a deadline": {"deadline": {deadline}},
		"on a shelf": {"covers": {"shelf"}, "shelf": {shelf}}, "on everything": {"covers": {"all"}}, "a gift": {"kind": {"gift"}, "gift_id": {"gull"}},
		"a set":       {"kind": {"set"}, "amount": {"60"}, "of-parts-ember": {"1"}, "of-parts-gull": {"1"}},
		"all at once": {"try_code": {"LANTERN"}, "step": {step}, "deadline": {deadline}, "covers": {"shelf"}, "shelf": {shelf}, "first_order": {"1"}, "try_country": {"DE"}},
	} {
		form := url.Values{}
		for _, part := range []url.Values{base, with} {
			for k, v := range part {
				form[k] = v
			}
		}
		before := shop.Store.Watch.Asked()
		body := d.Send("/offers/receipt", form).Body
		assert.LessOrEqual(t, shop.Store.Watch.Asked()-before, int64(8), name)
		assert.Contains(t, body, "1 × Ember", "%s: %s", name, body)
	}
}
