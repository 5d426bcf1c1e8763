package plumbing

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/stat/distuv"

	"fairlap/core/pad"
	"fairlap/core/units"
)

// OddReading is the reading of a clean line that disagrees with the rest.
type OddReading struct {
	Residual
	// Rest is what the other readings say it should have been, and Strays how many
	// standard deviations it lies away from that.
	Rest, Strays float64
}

// NextReading is the one more reading that would pin the pad down best.
type NextReading struct {
	Speed units.Speed
	Meter pad.Meter
	// Parameter is what it narrows most: its spread before and after, as standard
	// deviations of the logarithm.
	Parameter     ParameterID
	Before, After float64
}

// ParameterID names a fitted parameter.
type ParameterID string

// parameterIDs are the names of Parameters' fields, in order.
var parameterIDs = [parameterCount]ParameterID{"suction", "return", "media", "head", "idle", "base", "per-flow"}

// oddChance is how seldom the worst of a sound clean line's readings strays as
// far as an odd one does (Bonferroni over the readings).
const oddChance = 0.01

// odd finds the reading that disagrees with the rest: the largest deletion
// residual of the weighted fit. With noise known, deleting row i moves its own
// prediction by r/(1−h) and its residual's deviation is 1/√(1−h), h being the
// row's leverage (Cook and Weisberg 1982, with the priors as further rows).
func (f *Fit) odd(rows []cleanRow, jac *mat.Dense, cov *mat.SymDense) *OddReading {
	limit := distuv.UnitNormal.Quantile(1 - oddChance/2/math.Max(1, float64(len(rows))))
	var worst *OddReading
	for i, r := range f.Residuals {
		g := jac.RowView(i)
		h := math.Min(0.999, mat.Inner(g, cov, g))
		strays := math.Abs(r.Standardised) / math.Sqrt(1-h)
		if strays > limit && (worst == nil || strays > worst.Strays) {
			worst = &OddReading{r, r.Read - r.Standardised/(1-h)*rows[i].noise, strays}
		}
	}
	return worst
}

// hydraulicParameters are the first of Parameters' fields: those that say what
// the gauges should read, before those that say what the meter should.
const hydraulicParameters = 4

// NextReading finds the reading, among this pad's meters and speeds in steps of
// 250, that takes the most from the joint uncertainty of the hydraulic
// parameters (a D-optimal choice for that block): a row g of the weighted
// sensitivities shrinks their covariance's determinant by the share
// (C·g)ₕᵀ·Cₕ⁻¹·(C·g)ₕ / (1 + gᵀ·C·g). nil when no speed is fit to read at.
func (m *Model) NextReading() (*NextReading, error) {
	cov := mat.NewSymDense(parameterCount, nil)
	block := mat.NewSymDense(hydraulicParameters, nil)
	for i := range parameterCount {
		for j := i; j < parameterCount; j++ {
			cov.SetSym(i, j, m.Cov[i][j])
			if j < hydraulicParameters {
				block.SetSym(i, j, m.Cov[i][j])
			}
		}
	}
	var sharp mat.Cholesky
	if !sharp.Factorize(block) {
		return nil, nil
	}
	var rows []cleanRow
	for _, rpm := range m.candidateSpeeds() {
		st, err := m.Solver().Solve(pad.Operation{Speed: rpm}, Effects{})
		if err != nil {
			return nil, err
		}
		if st.Tank >= ServiceCeiling {
			continue
		}
		for _, meter := range m.Doc.MetersRead() {
			v := st.Value(meter)
			rows = append(rows, cleanRow{rpm, meter, v, m.Doc.Meters.Noise(meter, v)})
		}
	}
	if len(rows) == 0 {
		return nil, nil
	}
	jac, err := m.sensitivities(rows)
	if err != nil {
		return nil, err
	}
	best, at := 0.0, -1
	for i := range rows {
		g := jac.RowView(i)
		var cg, whitened mat.VecDense
		cg.MulVec(cov, g)
		h := cg.SliceVec(0, hydraulicParameters)
		if err := sharp.SolveVecTo(&whitened, h); err != nil {
			return nil, fmt.Errorf("weighing a reading: %w", err)
		}
		if gain := mat.Dot(h, &whitened) / (1 + mat.Inner(g, cov, g)); gain > best {
			best, at = gain, i
		}
	}
	if at < 0 {
		return nil, nil
	}
	out := &NextReading{Speed: rows[at].speed, Meter: rows[at].meter}
	var cg mat.VecDense
	cg.MulVec(cov, jac.RowView(at))
	whole := 1 + mat.Inner(jac.RowView(at), cov, jac.RowView(at))
	most := 0.0
	for j := range hydraulicParameters {
		before := cov.At(j, j)
		after := before - cg.AtVec(j)*cg.AtVec(j)/whole
		if gain := math.Log(before / math.Max(after, 1e-12)); gain > most {
			most = gain
			out.Parameter, out.Before, out.After = parameterIDs[j], math.Sqrt(before), math.Sqrt(math.Max(0, after))
		}
	}
	return out, nil
}

func (m *Model) candidateSpeeds() []units.Speed {
	switch p := &m.Doc.Pump; p.Kind {
	case pad.SingleSpeed:
		return []units.Speed{m.TopSpeed()}
	case pad.TwoSpeed:
		return []units.Speed{units.Speed(p.LeastRPM), m.TopSpeed()}
	default:
		var out []units.Speed
		for rpm := m.TopSpeed(); rpm >= units.Speed(math.Max(p.LeastRPM, 750)); rpm -= 250 {
			out = append(out, rpm)
		}
		return out
	}
}

// sensitivities is the change of each row's prediction, in its own noise, by each
// parameter's logarithm.
func (m *Model) sensitivities(rows []cleanRow) (*mat.Dense, error) {
	base, err := m.predictRows(rows)
	if err != nil {
		return nil, err
	}
	jac := mat.NewDense(len(rows), parameterCount, nil)
	const h = 1e-4
	for j := range parameterCount {
		p := m.Params
		*p.fields()[j] *= math.Exp(h)
		out, err := m.underParameters(p).predictRows(rows)
		if err != nil {
			return nil, err
		}
		for i := range rows {
			jac.Set(i, j, (out[i]-base[i])/h/rows[i].noise)
		}
	}
	return jac, nil
}

// Unlikely tells that the readings pulled the parameter further from its
// description than a description is ever off: the description, a meter or the
// pad itself is not what it is taken for.
func (p Pinned) Unlikely() bool { return math.Abs(math.Log(p.Factor)) > 2.5*p.Before }

// Pinned is a parameter after a fit: its factor on the description's figure, and
// one standard deviation of its logarithm before any reading and now.
type Pinned struct {
	Parameter             ParameterID
	Factor, Before, After float64
}

// Pinned lists the fitted parameters.
func (f *Fit) Pinned(p Parameters) []Pinned {
	out := make([]Pinned, parameterCount)
	for i, v := range p.fields() {
		out[i] = Pinned{parameterIDs[i], *v, priorSpread[i], f.Spread[i]}
	}
	return out
}
