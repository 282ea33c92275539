package factbook

import (
	"context"

	"chrysagon/app/ports"
	"chrysagon/core/appointment"
	"chrysagon/core/facts"
	chooser "chrysagon/pieces/appointment"
)

// readSlots asks the book for the times that a page offers. A book that does
// not answer keeps no page from being shown.
func (reader *Reader) readSlots(ctx context.Context, names []string, f *facts.Facts) {
	if len(names) == 0 || reader.Ports.Book == nil {
		return
	}
	f.Slots = map[string][]appointment.Slot{}
	for _, minutes := range names {
		free, err := reader.Ports.Book.Free(ctx, ports.DaysAhead, chooser.Minutes(minutes), f.Store.Zone)
		if err != nil {
			reader.Log.Warn("the appointment book does not answer", "err", err)
			continue
		}
		f.Slots[minutes] = free
	}
}
