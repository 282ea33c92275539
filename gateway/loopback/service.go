package loopback

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
)

// Service is an outside service that is spoken with in JSON.
type Service struct {
	Name   string // in errors: the till
	Origin string // such as http://till.localhost:8080
	Key    string // proves who is calling
	HTTP   *http.Client
	Most   int64 // bytes of an answer that are read
}

// Call sends a request, with a body unless that is nil, and gives what came
// back, whatever its status. The same idempotency key is the same request.
func (s Service) Call(ctx context.Context, method, path, idempotency string, body any) (status int, said []byte, err error) {
	var raw []byte
	if body != nil {
		if raw, err = json.Marshal(body); err != nil {
			return 0, nil, fmt.Errorf("write to %s: %w", s.Name, err)
		}
	}
	req, err := http.NewRequestWithContext(ctx, method, s.Origin+path, bytes.NewReader(raw))
	if err != nil {
		return 0, nil, fmt.Errorf("write to %s: %w", s.Name, err)
	}
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("Authorization", "Bearer "+s.Key)
	req.Header.Set("Idempotency-Key", idempotency)
	resp, err := s.HTTP.Do(req)
	if err != nil {
		return 0, nil, fmt.Errorf("call %s: %w", s.Name, err)
	}
	defer func() { _ = resp.Body.Close() }()
	said, err = io.ReadAll(io.LimitReader(resp.Body, s.Most))
	if err != nil {
		return 0, nil, fmt.Errorf("read the answer of %s: %w", s.Name, err)
	}
	return resp.StatusCode, said, nil
}
