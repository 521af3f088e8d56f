package evidence

import "whitebarn/core/safety"

// Finding is what is shown of a cut against the minimum of its meat.
func (c Cut) Finding(m safety.Minimum) safety.Finding {
	if c.Final == nil {
		return safety.NotShown
	}
	return m.Judge(&c.Final.C)
}

// MayServe says whether the gate to the table is open to it.
func (c Cut) MayServe(m safety.Minimum) bool { return m.MayServe(c.Finding(m), c.GateReason) }
