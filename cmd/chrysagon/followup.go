package main

import (
	"errors"
	"fmt"
	"strings"
	"time"

	"chrysagon/core/followup"

	"github.com/spf13/cobra"
)

type followupIn struct {
	Followup followup.Followup `json:"followup"`
	History  []followup.Event  `json:"history"` // what happened to one person, in any order
	Zone     string            `json:"zone"`    // where they live, IANA name
}

type followupOut struct {
	Told []followup.Told `json:"told"` // one for each letter, in the order of the line; none: it has not begun
}

func followupCommand() *cobra.Command {
	return computation("followup", "Tell who gets which letter when (JSON in, JSON out)", `Reads a follow-up and what happened to one person, and answers what becomes of each of
its letters for them, and when: docs/formats/followup.md.

Example:
  chrysagon followup <<'END'
  {"followup": {"begins": {"what": "joined", "of": "guide"},
                "steps": [{"letter": "wind", "days": 1, "clock": {"hour": 10, "minute": 0}}, {"letter": "bridles", "days": 2}]},
   "history": [{"what": "joined", "of": "guide", "at": "2026-11-23T14:05:00Z"}, {"what": "bought", "of": "ember", "at": "2026-11-25T08:00:00Z"}],
   "zone": "Europe/Lisbon"}
  END`, tellFollowup)
}

func tellFollowup(in followupIn) (followupOut, error) {
	zone, err := time.LoadLocation(in.Zone)
	if err != nil || in.Zone == "" || in.Zone == "Local" {
		return followupOut{}, fmt.Errorf("zone: %q is not the name of a zone, such as Europe/Lisbon", in.Zone)
	}
	if faults := in.Followup.Faults(); len(faults) > 0 {
		return followupOut{}, errors.New("followup: " + strings.Join(faults, " "))
	}
	for i, e := range in.History {
		if e.At.IsZero() {
			return followupOut{}, fmt.Errorf("history[%d].at: missing; write it like 2026-11-23T12:33:00Z", i)
		}
	}
	out := followupOut{Told: in.Followup.Tell(in.History, zone)}
	for i := range out.Told {
		out.Told[i].At = out.Told[i].At.UTC()
	}
	if out.Told == nil {
		out.Told = []followup.Told{}
	}
	return out, nil
}
