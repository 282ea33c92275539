package store

import (
	"crypto/rand"
	"strings"
)

// NewID makes an identifier: short, unguessable enough to be unique.
func NewID() string { return strings.ToLower(rand.Text()[:16]) }

// NewSecret makes a token of 130 random bits.
func NewSecret() string { return strings.ToLower(rand.Text()) }
