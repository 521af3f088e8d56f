package thermal

import "math"

// properties fills in what a step takes from its start state.
func (b *Body) properties(s *state, c *cells) {
	inside := 0.0
	for i, w := range s.water {
		inside += b.lean[i] * w
	}
	c.share = 1
	c.activity, c.left, c.crust = 1, math.Inf(1), 0
	if s.film < 0 {
		left := inside + s.film
		c.share = max(left, 0) / inside
		c.crust = b.crust.Resistance * b.debt(-s.film/b.crust.Surface)
		if left < dryingBelow*b.water0 {
			c.activity = 1 - math.Exp(-max(left, 0)/(drynessScale*b.water0))
			c.left = max(left, 0)
		}
	}
	n := len(s.t)
	k0, toWater := b.cut.Conductivity*0.5, b.cut.Conductivity*0.5/b.cut.startWater()
	solids, bone := solidsHeat*(1-b.cut.LeanWater), boneHeat*b.cut.Bone
	fat, chi := fatHeat*b.cut.Fat, b.cut.RenderShare
	water, unmelted, lean, mass, face := s.water[:n], s.unmelted[:n], b.lean[:n], b.mass[:n], b.face[:n]
	conduct, heat, boil := c.conduct[:n], c.heat[:n], c.boil[:n]
	before := 0.0
	for i, t := range s.t {
		k := k0 + toWater*water[i]
		heat[i] = lean[i]*(waterHeat*water[i]+solids) + mass[i]*(fat*(1-chi*(1-unmelted[i]))+bone)
		boil[i] = 0
		if t > b.boiling {
			free := water[i] * c.share
			boil[i] = heat[i] / boilTime * free / (free + boilWater)
		}
		if i > 0 {
			conduct[i] = face[i] * 2 * k * before / ((k + before) * b.h)
		}
		before = k
	}
	c.outer = 2 * before / b.h
}

// debt is the missing water to the power of the crust.
func (b *Body) debt(missing float64) float64 {
	if b.crust.Power == 2 {
		return missing * missing
	}
	return math.Pow(missing, b.crust.Power)
}

// sweep is the forward elimination of a step: each cell's temperature is
// alpha + beta times that of the next cell out, the last one's times the skin's.
type sweep struct{ alpha, beta []float64 }

// eliminate prepares a backward Euler step of dt.
func (b *Body) eliminate(from *state, c *cells, dt float64, out *sweep) {
	n := len(from.t)
	start, conduct, heat, boil := from.t[:n], c.conduct[:n], c.heat[:n], c.boil[:n]
	alpha, beta := out.alpha[:n], out.beta[:n]
	inv := 1 / dt
	a, be, inner := 0.0, 0.0, 0.0 // of the cell further in
	for i := range n - 1 {
		outward := conduct[i+1]
		hold := heat[i] * inv
		den := 1 / (hold + boil[i] + inner*(1-be) + outward)
		a = (hold*start[i] + boil[i]*b.boiling + inner*a) * den
		be = outward * den
		alpha[i], beta[i] = a, be
		inner = outward
	}
	hold := (heat[n-1] + b.added) * inv
	den := 1 / (hold + boil[n-1] + inner*(1-be) + c.outer)
	alpha[n-1] = (hold*start[n-1] + boil[n-1]*b.boiling + inner*a) * den
	beta[n-1] = c.outer * den
}

// eliminateTwice prepares a step and one of half its length from the same
// start. Side by side the two long chains of divisions overlap in the
// processor, which makes the pair little slower than one.
func (b *Body) eliminateTwice(from *state, c *cells, dt float64, whole, half *sweep) {
	n := len(from.t)
	start, conduct, heat, boil := from.t[:n], c.conduct[:n], c.heat[:n], c.boil[:n]
	alpha1, beta1, alpha2, beta2 := whole.alpha[:n], whole.beta[:n], half.alpha[:n], half.beta[:n]
	inv := 1 / dt
	a1, be1, a2, be2, inner := 0.0, 0.0, 0.0, 0.0, 0.0
	for i := range n {
		outward, added := c.outer, b.added
		if i+1 < n {
			outward, added = conduct[i+1], 0
		}
		hold, sink := (heat[i]+added)*inv, boil[i]*b.boiling
		den1 := 1 / (hold + boil[i] + inner*(1-be1) + outward)
		den2 := 1 / (2*hold + boil[i] + inner*(1-be2) + outward)
		hold *= start[i]
		a1 = (hold + sink + inner*a1) * den1
		a2 = (2*hold + sink + inner*a2) * den2
		be1, be2 = outward*den1, outward*den2
		alpha1[i], beta1[i], alpha2[i], beta2[i] = a1, be1, a2, be2
		inner = outward
	}
}

// implicit takes the backward Euler step that was eliminated.
func (b *Body) implicit(from *state, c *cells, in *sweep, around *surface, dt float64, to *state) {
	n := len(from.t)
	start, t := from.t[:n], to.t[:n]
	heat, boil := c.heat[:n], c.boil[:n]
	alpha, beta := in.alpha[:n], in.beta[:n]

	around.activity, around.crust = c.activity, c.crust
	around.most = 0.4 * c.left / dt
	around.inward, around.a, around.beta = c.outer, alpha[n-1], beta[n-1]
	skin, j, net := around.solve(from.skin)

	held, gone, steam, steamHeat := 0.0, 0.0, 0.0, 0.0
	outer := skin
	r := dt / b.cut.JuiceTime
	slow := 1 / (1 + r)
	water, left, lean := from.water[:n], to.water[:n], b.lean[:n]
	for i := n - 1; i >= 0; i-- {
		v := alpha[i] + beta[i]*outer
		t[i], outer = v, v
		held += heat[i] * (v - start[i])
		w := water[i]
		if !b.off.NoJuice {
			k, u := place(v - b.cut.HeldShift)
			keep := table[k].held + u*(table[k+1].held-table[k].held) + b.brineHeld
			if w > keep {
				kept := (w + r*keep) * slow
				gone += lean[i] * (w - kept)
				w = kept
			}
		}
		if boil[i] > 0 && v > b.boiling {
			taken := boil[i] * (v - b.boiling) * dt
			out := min(taken/evaporationHeat(b.boiling), 0.5*c.share*water[i]*lean[i])
			steam += out
			steamHeat += taken
			w -= out / lean[i]
		}
		left[i] = w
	}
	held += b.added * (t[n-1] - start[n-1])

	film := from.film + b.crust.JuiceOut*gone - j*dt
	runs := 0.0
	if film > 0 {
		dry := film / (1 + dt/filmTime)
		runs, film = film-dry, dry
	}
	to.skin, to.film = skin, film
	to.evaporate = from.evaporate + j*dt
	to.boiled = from.boiled + steam
	to.drip = from.drip + (1-b.crust.JuiceOut)*gone + runs
	to.heatIn = from.heatIn + net*dt - steamHeat
	to.heatHeld = from.heatHeld + held
}

// air is the mean temperature around the cut over a step and its two halves.
type air struct{ whole, first, second float64 }

// attempt computes the state after dt into next, as one step and as two of
// half the length, and returns the error ratio; 1 is just good enough.
func (b *Body) attempt(x *Exchange, dt float64, a air) float64 {
	around := surface{x: x, hc: b.crust.HeatTransfer * x.HeatTransfer, emissivity: x.Emissivity, size: b.crust.Surface, lift: 1, pressure: b.pressure, noEvaporation: b.off.NoEvaporation}
	if b.off.NoRadiation {
		around.emissivity = 0
	}
	if b.crust.Lift != 0 {
		around.lift = math.Exp(b.crust.Lift * (b.now.skin - 75) / 25)
	}
	through := lewis * seaLevel / b.pressure * around.hc * b.crust.Evaporation
	around.open = 1/through + x.VapourResistance
	// The unmelted fat stands still within a step.
	b.half.unmelted = b.now.unmelted
	b.properties(&b.now, &b.first)

	b.eliminateTwice(&b.now, &b.first, dt, &b.whole, &b.halved)
	around.meet(a.whole)
	b.implicit(&b.now, &b.first, &b.whole, &around, dt, &b.coarse)
	around.meet(a.first)
	b.implicit(&b.now, &b.first, &b.halved, &around, dt/2, &b.half)
	b.properties(&b.half, &b.second)
	b.eliminate(&b.half, &b.second, dt/2, &b.halved)
	around.meet(a.second)
	b.implicit(&b.half, &b.second, &b.halved, &around, dt/2, &b.next)

	worst := 0.0
	s, c := &b.next, &b.coarse
	for i, fine := range s.t {
		d := fine - c.t[i]
		worst = max(worst, d, -d)
		s.t[i] = fine + d
		s.water[i] = 2*s.water[i] - c.water[i]
	}
	ratio := max(worst/b.tol, math.Abs(s.film-c.film)/filmTolerance)
	s.skin += s.skin - c.skin
	s.film += s.film - c.film
	s.evaporate += s.evaporate - c.evaporate
	s.boiled += s.boiled - c.boiled
	s.drip += s.drip - c.drip
	s.heatIn += s.heatIn - c.heatIn
	s.heatHeld += s.heatHeld - c.heatHeld
	return ratio
}

// meet takes the air of a step into the surface balance.
func (s *surface) meet(air float64) {
	s.air = air
	s.radK = air + s.x.RadiantExcess + kelvin
	s.radK2 = s.radK * s.radK
	if s.x.Relative {
		s.vapour = s.x.RH * min(SaturationPressure(air), s.pressure)
	} else {
		s.vapour = SaturationPressure(min(s.x.DewPoint, air))
	}
}

// ripen carries fat and collagen over the step in next, by the trapezoid rule.
func (b *Body) ripen(dt float64) {
	b.rate(&b.next, b.renderNext, b.ratNext)
	for i := range b.n {
		q := dt / 2 * (b.renderNow[i] + b.renderNext[i])
		b.next.unmelted[i] = b.now.unmelted[i] * max(0, 1-q/2) / (1 + q/2)
		b.next.collagen[i] = b.now.collagen[i] + dt/2*(b.rateNow[i]+b.ratNext[i])
	}
}

func (b *Body) commit(dt float64) {
	b.now, b.next = b.next, b.now
	b.renderNow, b.renderNext = b.renderNext, b.renderNow
	b.rateNow, b.ratNext = b.ratNext, b.rateNow
	b.clock += dt
}
