// Package studio is the owner's side: a folder a place, each shows what app knows and
// hands on what the owner does. It holds no rules. The places are joined in
// internal/server/studio.go.
package studio
