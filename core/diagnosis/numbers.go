package diagnosis

import (
	"fmt"
)

// Number is one number of the reasoning, all of them ours. docs/method.md's table is made from them.
type Number struct {
	Name  string
	Value float64
	Text  string
}

// numbers are every number of the reasoning. Those that belong to a fault or to a sign
// stand in core/fault.
var numbers []Number

func number(name string, value float64, text string) float64 {
	numbers = append(numbers, Number{name, value, text})
	return value
}

// Meters.
var (
	modelShared = number(
		"model, shared",
		0.02,
		"of a predicted value: the network is not the pad, at every reading of a stop alike",
	)
	modelOwn   = number("model, own", 0.008, "of a predicted value: what is left to one reading alone")
	curveShape = number(
		"pump curve's shape",
		0.05,
		"of the tank gauge's lift, for each share that the flow lies off the clean line's: a clean line tells the curve at one flow a speed",
	)
	wattShape = number(
		"watts' shape",
		0.7,
		"of the change that a flow off the clean line's should make: a clean line tells the watts at one flow a speed",
	)
	wattLeast = number(
		"watts' shape at least",
		0.2,
		"of the clean line's watts, for each share that the flow lies off it: a label whose line is too flat",
	)
	cellSD = number(
		"within a severity step",
		0.33,
		"one deviation, of the stretch that the step stands for (a uniform's is 0.29)",
	)
	gaugeSlack = number("sound gauge's offset, psi", 0.4, "one deviation, shared by all its readings")
	airShare   = number(
		"bouncing needle",
		0.10,
		"extra deviation of the tank gauge on an airy pump, of its value",
	)
	airLeast  = number("bouncing needle, psi", 0.4, "the least of that")
	hasty     = number("hasty readings", 0.09, "share of readings that are hastyWide times as wide")
	hastyWide = number("hasty, times", 2.5, "their width")
	wild      = number("wrong readings", 0.01, "share of readings that are simply wrong")
	wildWide  = number("wrong, times", 10, "their width")
	doubtMost = number(
		"calibration's reach",
		1.5,
		"a meter that reads more than so many times its sound value keeps that much of the calibration's doubt",
	)
	offsetSD = [...]float64{
		number("offset, slight, psi", 2.5, "deviation of a bad gauge's offset"),
		number("offset, middling, psi", 5, "the same"),
		number("offset, gross, psi", 11, "the same"),
	}
	scaleSD = [...]float64{
		number("scale, slight", 0.15, "deviation of a tired spring's factor from one"),
		number("scale, middling", 0.28, "the same"),
		number("scale, gross", 0.45, "the same"),
	}
	pluggedMean = number("plugged gauge", 0.55, "of the truth that it shows in the mean")
	pluggedSD   = number("plugged gauge, spread", 0.3, "one deviation of that, at each reading anew")
	stuckMost   = number("stuck needle, psi", 40, "it stands anywhere from zero to here")
	stuckSD     = number("stuck needle moves, psi", 0.4, "one deviation between two readings of it")
)

// Priors.
var (
	priorOther    = number("something else", 0.004, "chance of a cause outside the catalogue")
	noticed       = number("something else is noticed", 0.5, "how surely it shows any one symptom")
	leastHealthy  = number("healthy at least", 0.05, "whatever the context makes of the faults")
	openFactor    = number("left open", 6, "times likelier: a suspect that the last visit left open")
	mostWorn      = number("worn, at most", 3, "times likelier: a part past its expected life")
	mostByContext = number("context, at most", 0.3, "chance that context alone may make of a fault")
	callFactor    = number(
		"somebody called",
		28,
		"times less likely: a pad with nothing that anybody could notice; a routine visit's 83 % sound become 15 %",
	)
)

// Load.
var (
	calmTail  = number("load off its forecast", 0.03, "chance that no forecast saw it coming")
	stormTail = number("the same after a storm", 0.15, "")
	freshTail = number("the same just cleaned", 0.08, "share of it that is left when the forecast is fresh")
	settledSD = number("forecast some weeks old", 0.2, "its usual deviation")
	jumpScale = number("a jump of load", 0.9, "mean size of what no forecast saw, beyond it")
	deepLoad  = number(
		"deep dirt",
		3,
		"load from which more of it is thought less and less likely before anything was read",
	)
	leastLoad  = number("load's least deviation", 0.03, "of any forecast")
	afterMean  = number("load after a cleaning", 0.08, "in the mean")
	afterSD    = number("its deviation", 0.1, "")
	notCleaned = number("a cleaning that did not clean", 0.01, "chance of it after a wash of the usual length")
	tooShort   = number("too short a wash", 0.6, "the same when it ran under half its time")
	notMended  = number(
		"a fix that did not mend",
		0.05,
		"chance that a fault is still there after its fix was done",
	)
)

// Signs that follow from the flow.
var (
	looksWeak = number("returns look weak", 0.4, "share of the clean flow at full speed under which they do")
	weakWidth = number("its width", 0.06, "")
	lampFalse = number(
		"lamp without cause",
		0.004,
		"chance that a heater's or cell's lamp says no flow at ample flow",
	)
	lampTrue    = number("lamp with cause", 0.88, "chance that it says so short of flow")
	lampWidth   = number("its width", 0.06, "of the device's least flow")
	weakWithout = number("weak without cause", 0.03, "chance that returns are called weak at ample flow")
)

// Two faults at once.
var (
	unexplained = number(
		"pairs are asked: something else",
		0.1,
		"its chance from which two faults at once are weighed",
	)
	strange = number(
		"pairs are asked: a strange sign",
		0.05,
		"P(sign | leading suspect) at which it is not explained",
	)
	knownBy   = number("known by a sign", 0.5, "P(sign | fault) that makes a fault known by it")
	oddAtLead = number(
		"pairs are asked: an odd reading",
		2.5,
		"deviations that the lead leaves its worst reading off",
	)
	pairCutoff   = number("a pair is told", 0.01, "from this chance")
	pairFaults   = int(number("faults paired in the water", 6, "the likeliest ones"))
	coarseLoads  = int(number("pairs: loads", 3, "every so many entries of the grid"))
	coarseSevere = int(number("pairs: severities", 3, "every so many steps"))
)

// Answers.
var (
	misfitSigmas = number("odd reading", 4.5, "deviations from every suspect at which a reading is called odd")
	worthMisfit  = number("a suspect that may explain it", 0.02, "least chance of one")
	hardly       = number(
		"hardly likely",
		0.004,
		"chance under which a suspect is not asked what another reading would show",
	)
	worthBits    = number("worth a look, bits", 0.05, "least expected information of a check")
	noticeable   = number("worth a line", 0.35, "least log-odds of a piece of evidence")
	explainsSign = number("explains a sign", 3, "times likelier with the suspect than without")
	apart        = number("told apart", 1, "deviations of one meter at least")
	shutOffNear  = number(
		"at its shut-off, psi",
		0.7,
		"a gauge that stands so near under the pump's shut-off pressure says that hardly anything moves",
	)
	shutOffApart = number(
		"shut-off tells, psi",
		2,
		"how far over the filter's limit the shut-off pressure must lie at that speed for it",
	)
	shutOffFlow = number(
		"hardly anything moves",
		0.12,
		"share of the clean flow under which a flow that was read agrees with that",
	)
	sureDanger = number(
		"a danger by the gauges",
		0.5,
		"chance of a dead head or of no suction from which the screen says stop",
	)
)

// Table writes the numbers for docs/method.md.
func Table() string {
	out := "| number | value | says |\n|---|--:|---|\n"
	for _, n := range numbers {
		out += fmt.Sprintf("| %s | %g | %s |\n", n.Name, n.Value, n.Text)
	}
	return out
}
