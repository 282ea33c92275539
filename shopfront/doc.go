// Package shopfront is the visitor's side: published pages, checkout, offers after
// paying, forms, the buyer's order. Its parts are joined in internal/server/shopfront.go.
package shopfront
