package standin_test

import (
	"testing"

	"chrysagon/internal/server"
	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every stand-in says what it does, has a name of its own, and makes its tables in a
// schema of that name, however often it is begun.
func TestStandIns(t *testing.T) {
	s := testkit.Empty(t)
	seen := map[string]bool{}
	for _, one := range server.StandIns {
		assert.NotEmpty(t, one.Says, one.Name)
		assert.False(t, seen[one.Name], one.Name)
		seen[one.Name] = true
		for range 2 {
			require.NoError(t, one.Migrate(t.Context(), s), one.Name)
		}
		var n int64
		require.NoError(t, s.DB.Raw("SELECT count(*) FROM information_schema.tables WHERE table_schema = ?", one.Name).Scan(&n).Error)
		list, _ := one.Tables.ReadDir(".")
		assert.Equal(t, len(list) > 0, n > 0, "%s has the tables it brings", one.Name)
	}
	assert.NotEmpty(t, seen)
}
