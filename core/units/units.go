// Package units holds the typed quantities that the rest of the core computes
// with, and their trade and metric conversions. Values are SI inside (pump
// speed excepted: revolutions per minute, as every display shows it); trade
// units appear only where people read or type them.
//
// Conversion factors: NIST SP 811 (2008), from memory, except where a comment
// says otherwise.
package units

// Gravity is the standard acceleration of free fall, m/s².
const Gravity = 9.80665

type (
	// Flow is a volume flow in m³/s.
	Flow float64
	// Pressure is a gauge pressure in Pa; a vacuum reading is kept positive.
	Pressure float64
	// Head is a height of water in m.
	Head float64
	// Length is in m.
	Length float64
	// Volume is in m³.
	Volume float64
	// Power is in W.
	Power float64
	// Speed is a shaft speed in revolutions per minute.
	Speed float64
	// Temperature is in °C.
	Temperature float64
)

const (
	gallon     = 3.785411784e-3 // m³, US
	inch       = 0.0254
	foot       = 0.3048
	psi        = 6894.757293168
	inHg       = 3386.389 // at 0 °C
	gpm        = gallon / 60
	cubicMHour = 1.0 / 3600
	bar        = 1e5
	kPa        = 1e3
)

// GPM makes a Flow from US gallons per minute.
func GPM(v float64) Flow { return Flow(v * gpm) }

// GPM gives the flow in US gallons per minute.
func (q Flow) GPM() float64 { return float64(q) / gpm }

// PSI makes a Pressure from pounds per square inch.
func PSI(v float64) Pressure { return Pressure(v * psi) }

// PSI gives the pressure in pounds per square inch.
func (p Pressure) PSI() float64 { return float64(p) / psi }

// InHg makes a Pressure from inches of mercury.
func InHg(v float64) Pressure { return Pressure(v * inHg) }

// InHg gives the pressure in inches of mercury.
func (p Pressure) InHg() float64 { return float64(p) / inHg }

// Feet makes a Length from feet.
func Feet(v float64) Length { return Length(v * foot) }

// Feet gives the length in feet.
func (l Length) Feet() float64 { return float64(l) / foot }

// Inches makes a Length from inches.
func Inches(v float64) Length { return Length(v * inch) }

// FeetHead makes a Head from feet of water.
func FeetHead(v float64) Head { return Head(v * foot) }

// Feet gives the head in feet of water.
func (h Head) Feet() float64 { return float64(h) / foot }

// Gallons makes a Volume from US gallons.
func Gallons(v float64) Volume { return Volume(v * gallon) }

// Gallons gives the volume in US gallons.
func (v Volume) Gallons() float64 { return float64(v) / gallon }

// Fahrenheit makes a Temperature from °F.
func Fahrenheit(v float64) Temperature { return Temperature((v - 32) / 1.8) }

// Fahrenheit gives the temperature in °F.
func (t Temperature) Fahrenheit() float64 { return float64(t)*1.8 + 32 }
