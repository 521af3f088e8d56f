package trial

// Hands are the people a trial may wait on: those who may decide, those who may
// work, and the tasters whose ballots are open.
type Hands struct {
	Pitmasters, Crew, OpenBallots []string
}

// WaitsOn says whom a step waits on: tasters while their ballots are open, a
// pitmaster where something is decided, else whoever of the crew has a hand free.
func WaitsOn(s Step, h Hands) []string {
	switch {
	case s == StepTable && len(h.OpenBallots) > 0:
		return h.OpenBallots
	case s == StepAsk || s == StepPlan || s == StepTable || s == StepSettle:
		return h.Pitmasters
	}
	return h.Crew
}
