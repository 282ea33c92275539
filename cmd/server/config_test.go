package server_test

import (
	"testing"

	"chrysagon/cmd/server"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestSettingsComeFromTheEnvironment(t *testing.T) {
	for _, name := range []string{"PORT", "CHRYSAGON_DATA", "DATABASE_URL"} {
		t.Setenv(name, "")
	}
	c, err := server.FromEnv()
	require.NoError(t, err)
	assert.Equal(t, server.Config{Port: 8080, Data: ".data"}, c)

	t.Setenv("PORT", "9001")
	t.Setenv("CHRYSAGON_DATA", "/tmp/elsewhere")
	t.Setenv("DATABASE_URL", "postgres://x")
	c, err = server.FromEnv()
	require.NoError(t, err)
	assert.Equal(t, server.Config{Port: 9001, Data: "/tmp/elsewhere", DatabaseURL: "postgres://x"}, c)

	for _, bad := range []string{"0", "65536", "-1", "eighty", "80.5"} {
		t.Setenv("PORT", bad)
		_, err = server.FromEnv()
		require.ErrorContains(t, err, "it must be a number from 1 to 65535", bad)
	}
}
