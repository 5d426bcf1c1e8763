package stage

import (
	"fmt"
	"os"
	"time"

	"fairlap/internal/clock"
	"fairlap/internal/demo"
)

// The variables by which a test run is as of another moment: like 2028-02-29T23:30, in a zone of the company's.
const (
	asOf   = "TEST_TOWN_AS_OF"
	asZone = "TEST_TOWN_ZONE"
)

// Day is the moment of whose day the tests' town is, in its zone: 24 November 2026, or what the variables say. The
// machine's clock then says that moment too.
var Day = func() time.Time {
	name := os.Getenv(asZone)
	if name == "" {
		name = demo.Zone
	}
	zone, err := time.LoadLocation(name)
	if err != nil {
		panic(fmt.Sprintf("%s: %v", asZone, err))
	}
	text := os.Getenv(asOf)
	if text == "" {
		return time.Date(2026, 11, 24, 11, 0, 0, 0, zone)
	}
	at, err := time.ParseInLocation("2006-01-02T15:04", text, zone)
	if err != nil {
		panic(fmt.Sprintf("%s: %v", asOf, err))
	}
	clock.As(at)
	return at
}()

// Now is when the tests' town is: 10:42 on the day of Day.
func Now() time.Time { return demo.Clock(Day)().Truncate(time.Minute) }
