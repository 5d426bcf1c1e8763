package pool

import (
	"time"

	"fairlap/core/units"
)

// waterF is the water of an unheated outdoor pool by month, °F, where pools are open all year (from memory; a
// thermometer rules).
var waterF = [12]float64{50, 52, 58, 66, 74, 80, 84, 84, 79, 70, 60, 52}

// UsualWater is what a pool's water is where nobody took its temperature, by month; the south has the other half year.
func UsualWater(m time.Month, south bool) units.Temperature {
	i := int(m) - 1
	if south {
		i = (i + 6) % 12
	}
	return units.Fahrenheit(waterF[i])
}
