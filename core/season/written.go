package season

import (
	"encoding/json"
)

// Written are a campaign's first and last day as they are stored.
func Written(from, to Moment) (begins, ends string, err error) {
	first, err := json.Marshal(from)
	if err != nil {
		return "", "", err
	}
	last, err := json.Marshal(to)
	return string(first), string(last), err
}
