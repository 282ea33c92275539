package offers

import (
	"context"
	"fmt"

	"chrysagon/app/factbook"
	"chrysagon/core/deadline"
	"chrysagon/core/refusal"
	"chrysagon/store"

	"gorm.io/gorm"
)

// DeadlineInput is a deadline as it is typed. Durations are in the unit that
// their field names.
type DeadlineInput struct {
	ID, Name, Kind string
	At             string // local date and time, of a fixed one
	Day            string // of one at the visitor's midnight
	Start, Rule    string // of a repeating one
	RunsHours      int
	SpanMinutes    int
	GraceMinutes   int
}

// SaveDeadline moves or makes a deadline. Everything that shares it moves with
// it. Faults are by field.
func (offers *Offers) SaveDeadline(ctx context.Context, in DeadlineInput) (string, map[string]string, error) {
	shop, err := offers.Store.Shop(ctx)
	if err != nil {
		return "", nil, err
	}
	row, faults := readDeadline(in, shop.Zone)
	if len(faults) > 0 {
		return "", faults, nil
	}
	err = offers.Prices.Repricing(ctx, func(tx *gorm.DB) (string, []string, error) {
		why := "deadline " + in.Name
		if in.ID != "" {
			if _, err := store.One[store.Deadline](tx.Where("id = ?", in.ID), "There is no such deadline."); err != nil {
				return why, nil, err
			}
		}
		return why, nil, tx.Save(&row).Error
	})
	if err != nil {
		return "", nil, fmt.Errorf("keep the deadline: %w", err)
	}
	return row.ID, nil, nil
}

func readDeadline(in DeadlineInput, zone string) (store.Deadline, map[string]string) {
	faults := map[string]string{}
	row := store.Deadline{
		ID: in.ID, Name: in.Name, Zone: zone, Kind: in.Kind, Day: in.Day, StartsLocal: in.Start, Rule: in.Rule,
		RunsSeconds: int64(in.RunsHours) * 3600, SpanSeconds: int64(in.SpanMinutes) * 60, GraceSeconds: in.GraceMinutes * 60,
	}
	if in.ID == "" {
		row.ID = store.NewID()
	}
	if row.Kind == "" {
		row.Kind = string(deadline.Fixed)
	}
	if in.Name == "" || len([]rune(in.Name)) > 80 {
		faults["name"] = "Give the deadline a name of at most 80 characters."
	}
	if row.Kind == string(deadline.Fixed) {
		at, err := deadline.Resolve(in.At, zone)
		if err != nil || at.Year() < 2000 || at.Year() > 2200 {
			faults["at"] = "Write the day and time it ends, such as 27 November, 23:59."
		}
		row.At = &at
		return row, faults
	}
	if err := factbook.DeadlineOf(row).Validate(); err != nil {
		field, say := refusal.CutPlace(err.Error())
		faults[field] = say
	}
	return row, faults
}
