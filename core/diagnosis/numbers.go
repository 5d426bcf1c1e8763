package diagnosis

import (
	"fmt"
)

// Standing is where a number of the reasoning comes from.
type Standing string

// The standings.
const (
	Ours     Standing = "ours"
	Practice Standing = "common practice"
)

// Number is one number of the reasoning. docs/method.md's table is made from them.
type Number struct {
	Name     string
	Value    float64
	Standing Standing
	Text     string
}

// numbers are every number of the reasoning. Those that belong to a fault or to a sign
// stand in core/fault.
var numbers []Number

func number(name string, value float64, standing Standing, text string) float64 {
	numbers = append(numbers, Number{name, value, standing, text})
	return value
}

// Meters.
var (
	modelShared = number(
		"model, shared",
		0.02,
		Ours,
		"of a predicted value: the network is not the pad, at every reading of a stop alike",
	)
	modelOwn   = number("model, own", 0.008, Ours, "of a predicted value: what is left to one reading alone")
	curveShape = number(
		"pump curve's shape",
		0.05,
		Ours,
		"of the tank gauge's lift, for each share that the flow lies off the clean line's: a clean line tells the curve at one flow a speed",
	)
	cellSD = number(
		"within a severity step",
		0.33,
		Ours,
		"one deviation, of the stretch that the step stands for (a uniform's is 0.29)",
	)
	gaugeSlack = number("sound gauge's offset, psi", 0.4, Ours, "one deviation, shared by all its readings")
	airShare   = number(
		"bouncing needle",
		0.10,
		Ours,
		"extra deviation of the tank gauge on an airy pump, of its value",
	)
	airLeast  = number("bouncing needle, psi", 0.4, Ours, "the least of that")
	hasty     = number("hasty readings", 0.09, Ours, "share of readings that are hastyWide times as wide")
	hastyWide = number("hasty, times", 2.5, Ours, "their width")
	wild      = number("wrong readings", 0.01, Ours, "share of readings that are simply wrong")
	wildWide  = number("wrong, times", 10, Ours, "their width")
	doubtMost = number(
		"calibration's reach",
		1.5,
		Ours,
		"a meter that reads more than so many times its sound value keeps that much of the calibration's doubt",
	)
	offsetSD = [...]float64{
		number("offset, slight, psi", 2.5, Ours, "deviation of a bad gauge's offset"),
		number("offset, middling, psi", 5, Ours, "the same"),
		number("offset, gross, psi", 11, Ours, "the same"),
	}
	scaleSD = [...]float64{
		number("scale, slight", 0.15, Ours, "deviation of a tired spring's factor from one"),
		number("scale, middling", 0.28, Ours, "the same"),
		number("scale, gross", 0.45, Ours, "the same"),
	}
	pluggedMean = number("plugged gauge", 0.55, Ours, "of the truth that it shows in the mean")
	pluggedSD   = number("plugged gauge, spread", 0.3, Ours, "one deviation of that, at each reading anew")
	stuckMost   = number("stuck needle, psi", 40, Ours, "it stands anywhere from zero to here")
	stuckSD     = number("stuck needle moves, psi", 0.4, Ours, "one deviation between two readings of it")
)

// Priors.
var (
	priorOther    = number("something else", 0.004, Ours, "chance of a cause outside the catalogue")
	noticed       = number("something else is noticed", 0.5, Ours, "how surely it shows any one symptom")
	leastHealthy  = number("healthy at least", 0.05, Ours, "whatever the context makes of the faults")
	openFactor    = number("left open", 6, Ours, "times likelier: a suspect that the last visit left open")
	mostWorn      = number("worn, at most", 3, Ours, "times likelier: a part past its expected life")
	mostByContext = number("context, at most", 0.3, Ours, "chance that context alone may make of a fault")
	callFactor    = number(
		"somebody called",
		28,
		Ours,
		"times less likely: a pad with nothing that anybody could notice; a routine visit's 83 % sound become 15 %",
	)
)

// Load.
var (
	calmTail  = number("load off its forecast", 0.03, Ours, "chance that no forecast saw it coming")
	stormTail = number("the same after a storm", 0.15, Ours, "")
	freshTail = number("the same just cleaned", 0.08, Ours, "share of it that is left when the forecast is fresh")
	settledSD = number("forecast some weeks old", 0.2, Ours, "its usual deviation")
	jumpScale = number("a jump of load", 0.9, Ours, "mean size of what no forecast saw, beyond it")
	deepLoad  = number(
		"deep dirt",
		3,
		Ours,
		"load from which more of it is thought less and less likely before anything was read",
	)
	leastLoad  = number("load's least deviation", 0.03, Ours, "of any forecast")
	afterMean  = number("load after a cleaning", 0.08, Ours, "in the mean")
	afterSD    = number("its deviation", 0.1, Ours, "")
	notCleaned = number("a cleaning that did not clean", 0.01, Ours, "chance of it after a wash of the usual length")
	tooShort   = number("too short a wash", 0.6, Ours, "the same when it ran under half its time")
	notMended  = number(
		"a fix that did not mend",
		0.05,
		Ours,
		"chance that a fault is still there after its fix was done",
	)
)

// Signs that follow from the flow.
var (
	looksWeak = number("returns look weak", 0.4, Ours, "share of the clean flow at full speed under which they do")
	weakWidth = number("its width", 0.06, Ours, "")
	lampFalse = number(
		"lamp without cause",
		0.004,
		Ours,
		"chance that a heater's or cell's lamp says no flow at ample flow",
	)
	lampTrue    = number("lamp with cause", 0.88, Ours, "chance that it says so short of flow")
	lampWidth   = number("its width", 0.06, Ours, "of the device's least flow")
	weakWithout = number("weak without cause", 0.03, Ours, "chance that returns are called weak at ample flow")
)

// Two faults at once.
var (
	unexplained = number(
		"pairs are asked: something else",
		0.1,
		Ours,
		"its chance from which two faults at once are weighed",
	)
	strange = number(
		"pairs are asked: a strange sign",
		0.05,
		Ours,
		"P(sign | leading suspect) at which it is not explained",
	)
	knownBy   = number("known by a sign", 0.5, Ours, "P(sign | fault) that makes a fault known by it")
	oddAtLead = number(
		"pairs are asked: an odd reading",
		2.5,
		Ours,
		"deviations that the lead leaves its worst reading off",
	)
	pairCutoff   = number("a pair is told", 0.01, Ours, "from this chance")
	pairFaults   = int(number("faults paired in the water", 6, Ours, "the likeliest ones"))
	coarseLoads  = int(number("pairs: loads", 3, Ours, "every so many entries of the grid"))
	coarseSevere = int(number("pairs: severities", 3, Ours, "every so many steps"))
)

// Answers.
var (
	misfitSigmas = number("odd reading", 4.5, Ours, "deviations from every suspect at which a reading is called odd")
	worthMisfit  = number("a suspect that may explain it", 0.02, Ours, "least chance of one")
	hardly       = number(
		"hardly likely",
		0.004,
		Ours,
		"chance under which a suspect is not asked what another reading would show",
	)
	worthBits    = number("worth a look, bits", 0.05, Ours, "least expected information of a check")
	noticeable   = number("worth a line", 0.35, Ours, "least log-odds of a piece of evidence")
	explainsSign = number("explains a sign", 3, Ours, "times likelier with the suspect than without")
	apart        = number("told apart", 1, Ours, "deviations of one meter at least")
	shutOffNear  = number(
		"at its shut-off, psi",
		0.7,
		Ours,
		"a gauge that stands so near under the pump's shut-off pressure says that hardly anything moves",
	)
	shutOffApart = number(
		"shut-off tells, psi",
		2,
		Ours,
		"how far over the filter's limit the shut-off pressure must lie at that speed for it",
	)
	shutOffFlow = number(
		"hardly anything moves",
		0.12,
		Ours,
		"share of the clean flow under which a flow that was read agrees with that",
	)
	sureDanger = number(
		"a danger by the gauges",
		0.5,
		Ours,
		"chance of a dead head or of no suction from which the screen says stop",
	)
)

// Table writes the numbers for docs/method.md.
func Table() string {
	out := "| number | value | standing | says |\n|---|--:|---|---|\n"
	for _, n := range numbers {
		out += fmt.Sprintf("| %s | %g | %s | %s |\n", n.Name, n.Value, n.Standing, n.Text)
	}
	return out
}
