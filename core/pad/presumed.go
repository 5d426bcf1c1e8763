package pad

// Unknown is the filter kind of a pad that nobody has described.
const Unknown FilterKind = ""

// The pump and the filter that hold the place of what nobody has described (common practice: what
// an ordinary backyard has; no figure of it is ever shown).
var (
	presumedPump = Pump{
		Kind: VariableSpeed, TopRPM: 3450, LeastRPM: 600, IdleW: 16, BaseW: 650, PerGpmW: 8,
		Curve: []CurveFt{{GPM: 0, Ft: 72}, {GPM: 40, Ft: 64}, {GPM: 80, Ft: 46}, {GPM: 110, Ft: 24}},
	}
	presumedFilter = Filter{
		Kind: Cartridge, AreaFt2: 320, Valve: NoValve, AtGPM: 60, MediaPsi: 1.2, VesselPsi: 0.6,
	}
)

// Presume is a pad that holds the place of one that nobody has described: a pool is on the route,
// has visits, notes and a calendar before anybody knows its pump.
func Presume() Document {
	k := Sketch{Pump: presumedPump, Filter: presumedFilter, PipeIn: 2, LengthFt: 40, HasVacuum: true, HasFlow: true}
	d := k.Document()
	d.Presumed = true
	return d
}
