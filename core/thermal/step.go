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
		c.crust = b.crust.Resistance * b.debt(-s.film)
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

// implicit takes one backward Euler step of dt from one state into another.
func (b *Body) implicit(from *state, c *cells, around *surface, dt float64, to *state) {
	n := len(from.t)
	start, t := from.t[:n], to.t[:n]
	conduct, heat, boil := c.conduct[:n], c.heat[:n], c.boil[:n]
	alpha, beta := b.alpha[:n], b.beta[:n]
	inv := 1 / dt

	a, be, inner := 0.0, 0.0, 0.0 // of the cell further in
	for i := range n {
		outward := c.outer
		if i+1 < n {
			outward = conduct[i+1]
		}
		hold := heat[i] * inv
		if i+1 == n {
			hold += b.added * inv
		}
		den := 1 / (hold + boil[i] + inner*(1-be) + outward)
		a = (hold*start[i] + boil[i]*b.boiling + inner*a) * den
		be = outward * den
		alpha[i], beta[i] = a, be
		inner = outward
	}

	around.activity, around.crust = c.activity, c.crust
	around.most = 0.4 * c.left * inv
	around.inward, around.a, around.beta = c.outer, a, be
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
			k, u := place(v)
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
	around := surface{x: x, hc: b.crust.HeatTransfer * x.HeatTransfer, emissivity: x.Emissivity, pressure: b.pressure, noEvaporation: b.off.NoEvaporation}
	if b.off.NoRadiation {
		around.emissivity = 0
	}
	through := lewis * seaLevel / b.pressure * around.hc * b.crust.Evaporation
	around.open = 1/through + x.VapourResistance
	// The unmelted fat stands still within a step.
	b.half.unmelted = b.now.unmelted
	b.properties(&b.now, &b.first)

	around.meet(a.whole)
	b.implicit(&b.now, &b.first, &around, dt, &b.coarse)
	around.meet(a.first)
	b.implicit(&b.now, &b.first, &around, dt/2, &b.half)
	b.properties(&b.half, &b.second)
	around.meet(a.second)
	b.implicit(&b.half, &b.second, &around, dt/2, &b.next)

	worst := 0.0
	s, c := &b.next, &b.coarse
	for i, fine := range s.t {
		d := fine - c.t[i]
		worst = max(worst, d, -d)
		s.t[i] = fine + d
		s.water[i] = 2*s.water[i] - c.water[i]
	}
	ratio := max(worst/b.tol, math.Abs(s.film-c.film)/filmTolerance)
	for _, v := range [...][2]*float64{
		{&s.skin, &c.skin}, {&s.film, &c.film}, {&s.evaporate, &c.evaporate}, {&s.boiled, &c.boiled},
		{&s.drip, &c.drip}, {&s.heatIn, &c.heatIn}, {&s.heatHeld, &c.heatHeld},
	} {
		*v[0] = 2**v[0] - *v[1]
	}
	return ratio
}

// meet takes the air of a step into the surface balance.
func (s *surface) meet(air float64) {
	s.air = air
	s.radK = air + s.x.RadiantExcess + kelvin
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
