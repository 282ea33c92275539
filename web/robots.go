package web

import (
	_ "embed" // for the list of robots
	"strings"
)

//go:embed dist/robots.list
var robots string

// Robots are the patterns by which robots are known, as the package isbot
// publishes them: regular expressions over a User-Agent, in any case.
func Robots() []string { return strings.Split(strings.TrimSpace(robots), "\n") }
