package lap

import (
	"time"

	"github.com/google/uuid"
)

// ID is the id of somebody's lap of a day: whoever lays it out, and also in a record that was put back to before it.
func ID(who uuid.UUID, day time.Time) uuid.UUID {
	return uuid.NewSHA1(who, []byte(day.Format(time.DateOnly)))
}

// StopID is the id of a lap's stop at a pool, alike.
func StopID(of, pool uuid.UUID) uuid.UUID { return uuid.NewSHA1(of, pool[:]) }
