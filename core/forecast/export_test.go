package forecast

// Planned says what is still to come of a cook by its plan, as the application has it: by the
// wrap's key, at which core it is wrapped and pulled, the log so far, and when it was
// wrapped. The tests that may import the plan put it in.
var Planned func(wrap string, wrapAt, target, stepAt float64, sets [2]float64, l Log, wrapped []float64) []Ahead
