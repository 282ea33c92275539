package ports

import (
	"context"
	"errors"

	"chrysagon/core/appointment"
)

// ErrTaken says that somebody else has that time.
var ErrTaken = errors.New("that time is taken")

// Booking is an appointment that somebody asks for.
type Booking struct {
	appointment.Slot
	Name, Email, Subject string
}

// Appointments is the appointment book, an outside service.
type Appointments interface {
	// Free lists the times that can be taken within so many days.
	Free(ctx context.Context, days, minutes int, zone string) ([]appointment.Slot, error)
	// Take writes one down, once for each key; ErrTaken when somebody was first.
	Take(ctx context.Context, key string, b Booking) error
}

// DaysAhead is how far ahead appointments are offered.
const DaysAhead = 14
