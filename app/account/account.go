// Package account begins a store, signs its owner in and keeps the password.
package account

import (
	"chrysagon/app/ports"
	"chrysagon/store"
	"log/slog"
)

// Accounts is the use cases of signing in.
type Accounts struct {
	Log   *slog.Logger
	Ports *ports.Ports
	Store *store.Store
}
