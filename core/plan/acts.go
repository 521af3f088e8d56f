package plan

import "whitebarn/core/logbook"

// logged are the acts of the fire as a plan has them.
var logged = map[logbook.Act]Act{
	logbook.Lit: ActLight, logbook.On: ActOn, logbook.Spritz: ActSpritz, logbook.Wood: ActWood, logbook.Wrap: ActWrap,
	logbook.Unwrap: ActUnwrap, logbook.Pull: ActPull, logbook.Hold: ActHold, logbook.Carve: ActSlice, logbook.Probe: ActCheck,
	logbook.Set: ActSet, logbook.Move: ActMove, logbook.Turn: ActTurn, logbook.Flip: ActFlip, logbook.Rotate: ActRotate,
	logbook.Baste: ActBaste,
	logbook.Sauce: ActSauce, logbook.Sear: ActSear, logbook.Fry: ActFry, logbook.Broil: ActBroil, logbook.Chill: ActChill,
	logbook.Reheat: ActReheat,
}

// ActOf is an act of the log as a plan has it; ok is false for one that no
// plan sees coming.
func ActOf(a logbook.Act) (act Act, ok bool) {
	act, ok = logged[a]
	return act, ok
}

// Logs is the act a pad logs a planned act as; ok is false where none does.
func (a Act) Logs() (act logbook.Act, ok bool) {
	for of, planned := range logged {
		if planned == a {
			return of, true
		}
	}
	return "", false
}

// Letter stands for an act that is only planned; what a pad logs has the pad's.
func (a Act) Letter() string {
	return map[Act]string{ActPrepare: "Pr"}[a]
}
