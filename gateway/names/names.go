// Package names asks the names of the internet.
package names

import (
	"context"
	"errors"
	"fmt"
	"net"
)

// Resolver asks the system's own resolver.
type Resolver struct{}

// TXT are the texts that stand under a name.
func (Resolver) TXT(ctx context.Context, name string) ([]string, error) {
	out, err := net.DefaultResolver.LookupTXT(ctx, name)
	var none *net.DNSError
	if errors.As(err, &none) && none.IsNotFound {
		return nil, nil
	}
	if err != nil {
		return nil, fmt.Errorf("ask for %s: %w", name, err)
	}
	return out, nil
}
