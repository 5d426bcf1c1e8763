package plumbing

import (
	"errors"
	"fmt"
	"math"

	"gonum.org/v1/gonum/mat"

	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/units"
)

// Value gives what a meter would say in a state, in SI.
func (s State) Value(m pad.Meter) float64 {
	switch m {
	case pad.MeterTank:
		return float64(s.Tank)
	case pad.MeterVacuum:
		return float64(s.Vacuum)
	case pad.MeterFlow:
		return float64(s.Flow)
	default:
		return float64(s.Power)
	}
}

// priorSpread is the standard deviation of each parameter's logarithm before
// any reading: how far a catalogue description is trusted (ours).
var priorSpread = [parameterCount]float64{0.45, 0.45, 0.35, 0.07, 0.30, 0.15, 0.40}

// Nominal are the parameters of an untouched description.
func Nominal() Parameters { return Parameters{1, 1, 1, 1, 1, 1, 1} }

// Fit says how well a clean line was met.
type Fit struct {
	Points    int
	Residuals []Residual
	// Spread is the standard deviation left on each parameter's logarithm, in the
	// order of Parameters' fields.
	Spread [parameterCount]float64
	Odd    *OddReading // nil when the readings agree
}

// Residual is one reading of a clean line against the fitted pad, in SI.
type Residual struct {
	Speed         units.Speed
	Meter         pad.Meter
	Read, Fitted  float64
	Standardised  float64 // (read − fitted) over the meter's noise
	ShareOfFitted float64
}

// Calibrate fits a document's parameters to its clean line by weighted least
// squares with Gaussian priors on the parameters' logarithms (Gauss–Newton; the
// covariance is the inverse of the normal matrix at the end). An empty clean
// line gives the catalogue's pad with its wide prior uncertainty and a nil Fit.
func Calibrate(doc pad.Document, clean []pad.Reading, temp units.Temperature, limit units.Pressure) (*Model, error) {
	m, err := New(doc, Nominal(), temp, 0)
	if err != nil {
		return nil, err
	}
	rows := cleanRows(doc, clean)
	theta := mat.NewVecDense(parameterCount, nil)
	var cov *mat.SymDense
	var jac *mat.Dense
	for range 25 {
		var step *mat.VecDense
		step, cov, jac, err = m.underParameters(fromLogs(theta)).gaussNewton(theta, rows)
		if err != nil {
			return nil, fmt.Errorf("fitting the clean line: %w", err)
		}
		theta.AddVec(theta, step)
		if mat.Norm(step, math.Inf(1)) < 1e-6 {
			break
		}
	}
	m.LimitRise = limit
	out, err := m.with(fromLogs(theta))
	if err != nil {
		return nil, err
	}
	for i := range parameterCount {
		for j := range parameterCount {
			out.Cov[i][j] = cov.At(i, j)
		}
	}
	if len(rows) > 0 {
		if out.Fit, err = out.fit(rows, jac, cov); err != nil {
			return nil, err
		}
	}
	return out, nil
}

func (m *Model) fit(rows []cleanRow, jac *mat.Dense, cov *mat.SymDense) (*Fit, error) {
	fitted, err := m.predictRows(rows)
	if err != nil {
		return nil, err
	}
	f := &Fit{Points: len(rows)}
	for i := range parameterCount {
		f.Spread[i] = math.Sqrt(cov.At(i, i))
	}
	for i, r := range rows {
		f.Residuals = append(f.Residuals, Residual{r.speed, r.meter, r.value, fitted[i],
			(r.value - fitted[i]) / r.noise, (r.value - fitted[i]) / math.Max(math.Abs(fitted[i]), 1e-9)})
	}
	f.Odd = f.odd(rows, jac, cov)
	return f, nil
}

type cleanRow struct {
	speed units.Speed
	meter pad.Meter
	value float64
	noise float64
}

func cleanRows(doc pad.Document, clean []pad.Reading) []cleanRow {
	var rows []cleanRow
	for _, r := range clean {
		for _, meter := range pad.AllMeters {
			if v, ok := r.Value(meter); ok {
				rows = append(rows, cleanRow{r.Speed, meter, v, doc.Meters.Noise(meter, v)})
			}
		}
	}
	return rows
}

func fromLogs(t *mat.VecDense) Parameters {
	p := Nominal()
	for i, f := range p.fields() {
		*f = math.Exp(math.Max(-4, math.Min(4, t.AtVec(i))))
	}
	return p
}

func (m *Model) predictRows(rows []cleanRow) ([]float64, error) {
	s := m.Solver()
	out := make([]float64, len(rows))
	var st State
	var err error
	for i, r := range rows {
		if i == 0 || rows[i-1].speed != r.speed {
			if st, err = s.Solve(pad.Operation{Speed: r.speed}, Effects{}); err != nil {
				return nil, err
			}
		}
		out[i] = st.Value(r.meter)
	}
	return out, nil
}

// gaussNewton gives one step of the parameters' logarithms theta, under which m
// stands, towards the posterior mode, with the covariance there and the rows'
// weighted sensitivities.
func (m *Model) gaussNewton(theta *mat.VecDense, rows []cleanRow) (*mat.VecDense, *mat.SymDense, *mat.Dense, error) {
	normal := mat.NewSymDense(parameterCount, nil)
	right := mat.NewVecDense(parameterCount, nil)
	for i, sd := range priorSpread {
		normal.SetSym(i, i, 1/(sd*sd))
		right.SetVec(i, -theta.AtVec(i)/(sd*sd))
	}
	var jac *mat.Dense
	if len(rows) > 0 {
		base, err := m.predictRows(rows)
		if err != nil {
			return nil, nil, nil, err
		}
		if jac, err = m.sensitivities(rows); err != nil {
			return nil, nil, nil, err
		}
		var jtj mat.SymDense
		jtj.SymOuterK(1, jac.T())
		normal.AddSym(normal, &jtj)
		miss := mat.NewVecDense(len(rows), nil)
		for i, r := range rows {
			miss.SetVec(i, (r.value-base[i])/r.noise)
		}
		var jtr mat.VecDense
		jtr.MulVec(jac.T(), miss)
		right.AddVec(right, &jtr)
	}
	var chol mat.Cholesky
	if !chol.Factorize(normal) {
		return nil, nil, nil, errors.New("the readings do not pin the pad down")
	}
	step := new(mat.VecDense)
	if err := chol.SolveVecTo(step, right); err != nil {
		return nil, nil, nil, err
	}
	cov := new(mat.SymDense)
	if err := chol.InverseTo(cov); err != nil {
		return nil, nil, nil, err
	}
	return step, cov, jac, nil
}

// Spread gives the standard deviation of each meter at a speed that the
// calibration leaves open, in SI, in the order of AllMeters, for a pad that
// carries the given load.
func (m *Model) Spread(op pad.Operation, load float64) ([len(pad.AllMeters)]float64, error) {
	d, err := m.Doubt(op, load)
	return d.Spread(), err
}

// Doubt is what the calibration leaves open of the meters in one way of running:
// independent errors, each one standard deviation of a direction of the
// parameters, and what it moves tank gauge, vacuum and flow by, SI. One pad has one
// error in each direction, so readings of one stop share them.
type Doubt struct {
	Base  State // at the load that it was taken at
	By    [parameterCount][len(pad.AllMeters)]float64
	power [parameterCount][3]float64 // of the logarithms of Idle, Base and PerFlow
	ratio float64
	wire  hydraulics.WirePower
}

// DoubtCount is the number of independent errors.
const DoubtCount = parameterCount

// Doubt takes the doubt of an operation at a load.
func (m *Model) Doubt(op pad.Operation, load float64) (Doubt, error) {
	d := Doubt{ratio: float64(op.Speed) / m.Doc.Pump.TopRPM, wire: m.power}
	var err error
	if d.Base, err = m.Solver().Solve(op, Effects{Load: load}); err != nil {
		return d, err
	}
	var jac [parameterCount][len(pad.AllMeters)]float64
	const h = 0.02
	for j := range parameterCount {
		p := m.Params
		*p.fields()[j] *= math.Exp(h)
		st, err := m.underParameters(p).Solver().Solve(op, Effects{Load: load})
		if err != nil {
			return d, err
		}
		for k, meter := range pad.AllMeters {
			jac[j][k] = (st.Value(meter) - d.Base.Value(meter)) / h
		}
	}
	root := m.covRoot()
	for i := range parameterCount {
		for j := range parameterCount {
			for k := range pad.AllMeters {
				d.By[i][k] += root[j][i] * jac[j][k]
			}
		}
		for k := range d.power[i] {
			d.power[i][k] = root[parameterCount-3+k][i]
		}
	}
	return d, nil
}

// Power is what an error moves the power by at another flow than the base's: along
// the pad's own system curve Idle, Base and PerFlow hold each other, off it they
// do not. flowBy is what the same error moves the flow by there.
func (d *Doubt) Power(error int, flow, flowBy float64) float64 {
	s := d.ratio
	if s <= 0 {
		return 0
	}
	p := &d.power[error]
	return d.wire.Idle*p[0] + s*s*s*d.wire.Base*p[1] + s*s*d.wire.PerFlow*(flow*p[2]+flowBy)
}

// Spread is the standard deviation of each meter, in the order of AllMeters.
func (d *Doubt) Spread() [len(pad.AllMeters)]float64 {
	var out [len(pad.AllMeters)]float64
	for k := range out {
		for i := range d.By {
			out[k] = math.Hypot(out[k], d.By[i][k])
		}
	}
	return out
}

// covRoot is a lower triangular root of Cov: Cov = R·Rᵀ; nothing for a model that was
// never calibrated.
func (m *Model) covRoot() (r [parameterCount][parameterCount]float64) {
	cov := mat.NewSymDense(parameterCount, nil)
	for i := range parameterCount {
		for j := range i + 1 {
			cov.SetSym(i, j, m.Cov[i][j])
		}
	}
	var chol mat.Cholesky
	if !chol.Factorize(cov) {
		return r
	}
	var l mat.TriDense
	chol.LTo(&l)
	for i := range parameterCount {
		for j := range i + 1 {
			r[i][j] = l.At(i, j)
		}
	}
	return r
}
