package manuscript

import "reflect"

// Difference says what became of one band between two states of a page.
type Difference struct {
	Band string `json:"band"` // its name
	How  string `json:"how"`  // added, removed, changed or moved
}

// Differences lists the bands that differ between an edition and a draft, in
// the draft's order, then those that are gone.
func Differences(live, draft Page) []Difference {
	var list []Difference
	before := make(map[string]Band, len(live.Bands))
	var order []string // of the bands both have
	for _, b := range live.Bands {
		before[b.ID] = b
		if _, _, kept := draft.Band(b.ID); kept {
			order = append(order, b.ID)
		}
	}
	at := 0
	for _, b := range draft.Bands {
		old, was := before[b.ID]
		if !was {
			list = append(list, Difference{Band: b.Name, How: "added"})
			continue
		}
		switch {
		case !reflect.DeepEqual(old, b):
			list = append(list, Difference{Band: b.Name, How: "changed"})
		case order[at] != b.ID:
			list = append(list, Difference{Band: b.Name, How: "moved"})
		}
		at++
	}
	for _, b := range live.Bands {
		if _, _, kept := draft.Band(b.ID); !kept {
			list = append(list, Difference{Band: b.Name, How: "removed"})
		}
	}
	return list
}
