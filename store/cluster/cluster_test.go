package cluster

import (
	"context"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A server that died without a word is there again, at the same address and with
// what it had kept.
func TestADeadServerIsStartedAgain(t *testing.T) {
	data, err := os.MkdirTemp("/tmp", "chrysagon-*")
	require.NoError(t, err)
	t.Cleanup(func() { _ = Remove(data); _ = os.RemoveAll(data) })
	c, err := Start(t.Context(), Options{Data: data})
	require.NoError(t, err)
	require.NoError(t, c.CreateDatabase(t.Context(), "kites"))
	before := c.URL("kites")

	raw, err := os.ReadFile(filepath.Join(c.folder, "postmaster.pid"))
	require.NoError(t, err)
	pid, err := strconv.Atoi(strings.SplitN(string(raw), "\n", 2)[0])
	require.NoError(t, err)
	ctx, end := context.WithCancel(t.Context())
	defer end()
	tick, told := make(chan time.Time), make(chan error)
	go c.Keep(ctx, tick, func(err error) { told <- err })
	tick <- time.Time{} // it runs: there is nothing to tell
	require.NoError(t, syscall.Kill(pid, syscall.SIGKILL))
	for again := false; !again; {
		select {
		case tick <- time.Time{}:
		case err := <-told:
			again = err == nil
		}
	}
	assert.Equal(t, before, c.URL("kites"), "whoever holds its address finds it again")
	conn, err := pgx.Connect(t.Context(), before)
	require.NoError(t, err)
	require.NoError(t, conn.Close(t.Context()))
}
