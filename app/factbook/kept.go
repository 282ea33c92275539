package factbook

import (
	"context"
	"maps"
	"reflect"
	"slices"
	"sync"
	"time"

	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
)

// keptFor is how long facts of a draft are kept at most: what outside services say is
// told by nobody.
const keptFor = 20 * time.Second

// keptDrafts is how many are kept before all are let go.
const keptDrafts = 64

// Kept are facts of drafts that are being written. A key typed changes none of them, so
// they are read once and kept until something they show is told to have changed, or can
// change by itself.
type Kept struct {
	mu    sync.Mutex
	pages map[string]keptFacts
}

type keptFacts struct {
	names manuscript.Names
	facts facts.Facts
	age   uint64
	until time.Time
}

// DraftFactsKept is [Reader.DraftFacts], from what was read before where that holds.
func (reader *Reader) DraftFactsKept(ctx context.Context, pageID string, names manuscript.Names) (facts.Facts, error) {
	age, heard := reader.News.Age(pageID)
	now := reader.Store.Now()
	if f, ok := reader.Kept.get(pageID, names, age, now); heard && ok {
		return f, nil
	}
	f, err := reader.DraftFacts(ctx, pageID, names)
	if err == nil && heard {
		reader.Kept.put(pageID, keptFacts{names: names, facts: apart(f), age: age, until: holds(f, now)})
	}
	return f, err
}

// holds is until when facts of a draft hold, as far as they can change by themselves.
func holds(f facts.Facts, now time.Time) time.Time {
	until := now.Add(keptFor)
	for _, s := range f.Shelves {
		if !s.Changes.IsZero() && s.Changes.Before(until) {
			until = s.Changes
		}
	}
	return until
}

func (k *Kept) get(pageID string, names manuscript.Names, age uint64, now time.Time) (facts.Facts, bool) {
	k.mu.Lock()
	defer k.mu.Unlock()
	was, ok := k.pages[pageID]
	if !ok || was.age != age || !now.Before(was.until) || !reflect.DeepEqual(was.names, names) {
		return facts.Facts{}, false
	}
	return apart(was.facts), true
}

func (k *Kept) put(pageID string, f keptFacts) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.pages == nil || len(k.pages) >= keptDrafts {
		k.pages = map[string]keptFacts{}
	}
	k.pages[pageID] = f
}

// apart is a copy of facts, apart in what those who look at them fill in.
func apart(f facts.Facts) facts.Facts {
	f.Pictures, f.Deadlines = maps.Clone(f.Pictures), maps.Clone(f.Deadlines)
	f.Bound, f.Ends = maps.Clone(f.Bound), maps.Clone(f.Ends)
	f.Offers, f.Codes = slices.Clone(f.Offers), slices.Clone(f.Codes)
	f.Visitor.FirstSeen = maps.Clone(f.Visitor.FirstSeen)
	return f
}
