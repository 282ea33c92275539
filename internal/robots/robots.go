// Package robots tells robots from people by what they call themselves.
package robots

import (
	"fmt"
	"strings"
	"sync"
	"time"

	"github.com/dlclark/regexp2"
)

// longest is how much of a name is looked at; real ones are shorter.
const longest = 512

// kept is how many names are remembered with their answers.
const kept = 2048

// Known knows robots by patterns. It can be asked by many at once.
type Known struct {
	all *regexp2.Regexp
	mu  sync.Mutex
	of  map[string]bool
}

// New makes one of patterns as ECMAScript has them (some look behind and ahead,
// which the standard library's do not).
func New(patterns []string) (*Known, error) {
	all, err := regexp2.Compile("(?:"+strings.Join(patterns, ")|(?:")+")", regexp2.IgnoreCase)
	if err != nil {
		return nil, fmt.Errorf("read the patterns of robots: %w", err)
	}
	all.MatchTimeout = 50 * time.Millisecond
	return &Known{all: all, of: map[string]bool{}}, nil
}

// Is tells whether whoever calls itself that is a robot. Whoever gives no name is
// none of those who browse; a name that takes too long to read is not one either.
func (k *Known) Is(name string) bool {
	if name == "" {
		return true
	}
	name = name[:min(len(name), longest)]
	k.mu.Lock()
	is, known := k.of[name]
	k.mu.Unlock()
	if known {
		return is
	}
	is, err := k.all.MatchString(name)
	is = is || err != nil
	k.mu.Lock()
	defer k.mu.Unlock()
	if len(k.of) >= kept {
		clear(k.of)
	}
	k.of[strings.Clone(name)] = is
	return is
}
