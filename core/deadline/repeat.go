package deadline

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/teambition/rrule-go"
)

// horizon is for how long after its start a rule is looked through for a first
// occurrence, by how often it repeats.
var horizon = map[rrule.Frequency]int{rrule.YEARLY: 60, rrule.MONTHLY: 60, rrule.WEEKLY: 40, rrule.DAILY: 30, rrule.HOURLY: 9, rrule.MINUTELY: 1}

// repeats refuses a rule that cannot be read or that never comes about.
func (d Deadline) repeats() error {
	option, err := d.option()
	if err != nil {
		return err
	}
	if !option.Until.IsZero() && option.Until.Before(option.Dtstart) {
		return fmt.Errorf("rule: it ends on %s, before it starts on %s; let UNTIL be later", option.Until.Format("2 January 2006, 15:04"), option.Dtstart.Format("2 January 2006, 15:04"))
	}
	if !hasDay(option) {
		return fmt.Errorf("rule: none of its months has such a day, so it never comes about; mend BYMONTH or BYMONTHDAY")
	}
	years := horizon[option.Freq]
	until := option.Dtstart.AddDate(years, 0, 0)
	if option.Until.IsZero() || option.Until.After(until) {
		option.Until = until
	}
	rule, err := rrule.NewRRule(*option)
	if err != nil {
		return fmt.Errorf("rule: %w", err)
	}
	if _, found := rule.Iterator()(); !found {
		return fmt.Errorf("rule: it does not come about within %d years of its start; make it less narrow", years)
	}
	return nil
}

// hasDay tells whether any month that a rule is on has a day that it is on: 30
// February is none.
func hasDay(o *rrule.ROption) bool {
	if len(o.Bymonthday) == 0 {
		return true
	}
	days := [...]int{31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31}
	for m, last := range days {
		if len(o.Bymonth) > 0 && !slices.Contains(o.Bymonth, m+1) {
			continue
		}
		for _, d := range o.Bymonthday {
			if d <= last && d >= -last {
				return true
			}
		}
	}
	return false
}

// walls goes through the local dates and times of the rule. They are computed
// without a zone and given one by Resolve: RFC 5545, 3.3.10 reads a skipped or
// doubled local time as 3.3.5 does.
func (d Deadline) walls() (func() (time.Time, bool), error) {
	option, err := d.option()
	if err != nil {
		return nil, err
	}
	rule, err := rrule.NewRRule(*option)
	if err != nil {
		return nil, fmt.Errorf("rule: %w", err)
	}
	next := rule.Iterator()
	return func() (time.Time, bool) { return next() }, nil
}

// option reads the rule and its start.
func (d Deadline) option() (*rrule.ROption, error) {
	start, err := wall(d.Start)
	if err != nil {
		return nil, fmt.Errorf("start: %w", err)
	}
	if len(d.Rule) > 500 || strings.ContainsAny(d.Rule, "\r\n:") {
		return nil, fmt.Errorf("rule: %.60q is not one RRULE; write it like FREQ=WEEKLY;BYDAY=FR", d.Rule)
	}
	option, err := rrule.StrToROption(d.Rule)
	if err != nil || d.Rule == "" {
		return nil, fmt.Errorf("rule: %.60q is not a rule of RFC 5545; write it like FREQ=WEEKLY;BYDAY=FR", d.Rule)
	}
	if option.Freq == rrule.SECONDLY {
		return nil, errors.New("rule: a deadline cannot repeat every second")
	}
	if err := counts(d.Rule); err != nil {
		return nil, err
	}
	// UNTIL is in UTC when the start has a zone (3.3.10); walls have none.
	if loc, err := zone(d.Zone); err == nil && !option.Until.IsZero() && strings.Contains(d.Rule, "Z") {
		local := option.Until.In(loc)
		_, offset := local.Zone()
		option.Until = option.Until.Add(time.Duration(offset) * time.Second)
	}
	option.Dtstart = start
	return option, nil
}

// maxInterval bounds how many periods a rule may skip.
const maxInterval = 1000

// counts refuses what RFC 5545, 3.3.10 has no meaning for and the library reads
// as if it were not there.
func counts(rule string) error {
	for part := range strings.SplitSeq(rule, ";") {
		name, value, _ := strings.Cut(part, "=")
		if name != "COUNT" && name != "INTERVAL" {
			continue
		}
		n, err := strconv.Atoi(value)
		if err != nil || n < 1 || (name == "INTERVAL" && n > maxInterval) {
			most := ""
			if name == "INTERVAL" {
				most = fmt.Sprintf(" and at most %d", maxInterval)
			}
			return fmt.Errorf("rule: %s=%.20s; it must be a whole number from 1%s", name, value, most)
		}
	}
	return nil
}
