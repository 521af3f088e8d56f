package forecast

import (
	"math"
	"math/rand/v2"
	"sort"

	"whitebarn/core/thermal"
)

// The truth the forecasts are judged by is not the model that makes them: an
// explicit scheme, vapour that drives itself (Stefan flow), conduction that
// grows with temperature, a heat transfer that drifts, other crusts; in set B
// also a true two-dimensional section, which no single shape number matches.

// lump is one finite volume of the true cut, per metre or per m2.
type lump struct {
	t, water   float64
	mass, lean float64
}

// link conducts heat between two lumps; skin is a lump's open face.
type link struct {
	a, b int
	path float64 // area over distance, m
}

type skin struct {
	of         int
	area, path float64
	t, film    float64
}

// trueCut is a cut as it really is.
type trueCut struct {
	lumps                              []lump
	links                              []link
	skins                              []skin
	k0, start, juice, shift            float64
	crust, power, out, vapour, heat    float64
	driftSize, driftPeriod, driftPhase float64
	fatShare, boneShare, leanShare     float64
	tip                                func() float64
	flow                               []float64
}

func (c *trueCut) capacity(l *lump) float64 {
	return l.lean*(4180*l.water+1500*0.255) + l.mass*(2000*c.fatShare+1400*c.boneShare)
}

// drive is the pressure that moves vapour, with the flow it makes itself.
func drive(at, away float64) float64 {
	const p = 101325.0
	return p * math.Log((p-min(away, 0.98*p))/(p-min(at, 0.98*p)))
}

// advance takes the cut through dt in air at a temperature.
func (c *trueCut) advance(dt, time, air float64, x thermal.Exchange) {
	h := x.HeatTransfer * c.heat * (1 + c.driftSize*math.Sin(2*math.Pi*time/c.driftPeriod+c.driftPhase))
	away := thermal.SaturationPressure(min(x.DewPoint, air))
	if c.flow == nil {
		c.flow = make([]float64, len(c.lumps))
	}
	for i := range c.flow {
		c.flow[i] = 0
	}
	conduct := func(l *lump) float64 {
		return c.k0 * (0.92 + 0.0015*l.t) * (0.5 + 0.5*l.water/0.745)
	}
	for _, l := range c.links {
		a, b := &c.lumps[l.a], &c.lumps[l.b]
		q := (conduct(a) + conduct(b)) / 2 * l.path * (a.t - b.t)
		c.flow[l.a] -= q
		c.flow[l.b] += q
	}
	for i := range c.skins {
		s := &c.skins[i]
		cell := &c.lumps[s.of]
		inward := conduct(cell) * s.path / s.area
		radiant := air + x.RadiantExcess + 273.15
		resistance := 1/(6.8e-9*h*c.vapour) + x.VapourResistance
		crusted := resistance
		if s.film < 0 {
			crusted += c.crust * math.Pow(-s.film, c.power)
		}
		var j float64
		for range 3 {
			tk := s.t + 273.15
			hr := x.Emissivity * 5.67e-8 * (tk + radiant) * (tk*tk + radiant*radiant)
			full := thermal.SaturationPressure(s.t)
			d := drive(full, away)
			r := crusted
			if d < 0 {
				r = resistance
			}
			j = d / r
			latent := 2.501e6 - 2361*s.t
			through := 1 / (1 + (h+hr)*x.WrapResistance)
			miss := (h*(air-s.t)+hr*(radiant-tk))*through - latent*j - inward*(s.t-cell.t)
			rise := full * math.Ln10 * 1730.63 / math.Pow(233.426+s.t, 2) * 101325 / (101325 - min(full, 0.98*101325))
			s.t += miss / ((h+4*hr/4)*through + latent*rise/r + inward)
		}
		s.film -= j * dt
		c.flow[s.of] += inward * s.area * (s.t - cell.t)
	}
	juice := 0.0
	for i := range c.lumps {
		l := &c.lumps[i]
		q := c.flow[i]
		if l.t > 100 {
			q -= c.capacity(l) / 200 * (l.t - 100)
		}
		l.t += q * dt / c.capacity(l)
		if keep := 0.745 - 0.345/(1+30*math.Exp(-0.25*(l.t-c.shift-52))); l.water > keep {
			gone := (l.water - keep) * (1 - math.Exp(-dt/c.juice))
			l.water -= gone
			juice += gone * l.lean
		}
	}
	area := 0.0
	for _, s := range c.skins {
		area += s.area
	}
	for i := range c.skins {
		s := &c.skins[i]
		s.film += c.out * juice / area
		if s.film > 0 {
			s.film /= 1 + dt/600
		}
	}
}

func draw(r *rand.Rand, f thermal.Family, mass, wide float64) *trueCut {
	spread := func(sd float64) float64 { return math.Exp(wide * sd * r.NormFloat64()) }
	usual := f.Cut(mass, 0, 4)
	c := &trueCut{
		k0: usual.Conductivity, start: 3.5 + 1.2*r.NormFloat64(), shift: 1.5 * wide * r.NormFloat64(),
		crust: 1.5e8 * spread(0.4), power: 1.6 + r.Float64(), out: min(max(0.68+0.05*wide*r.NormFloat64(), 0.3), 0.95),
		vapour: spread(0.25), heat: spread(0.15), driftSize: 0.1 * r.Float64(), driftPeriod: 3600 * (3 + 6*r.Float64()), driftPhase: 6 * r.Float64(),
		fatShare: f.Fat, boneShare: f.Bone, leanShare: f.Lean,
	}
	c.crust *= math.Pow(1.5, 2-c.power)
	c.juice = usual.JuiceTime * spread(0.3)
	return c
}

// add appends a lump of a volume in m3.
func (c *trueCut) add(volume, density float64) {
	m := volume * density
	c.lumps = append(c.lumps, lump{t: c.start, water: 0.745, mass: m, lean: m * c.leanShare})
}

// plainTruth is a one-dimensional piece.
func plainTruth(r *rand.Rand, f thermal.Family, mass, wide float64) *trueCut {
	const n = 20
	c := draw(r, f, mass, wide)
	half := f.Cut(mass, 0, 4).HalfThickness * math.Exp(wide*0.1*r.NormFloat64())
	s := min(max(f.Shape+wide*0.3*(2*r.Float64()-1), 0), 2)
	h := half / n
	for i := range n {
		low, top := float64(i)/n, float64(i+1)/n
		c.add(half/(s+1)*(math.Pow(top, s+1)-math.Pow(low, s+1)), f.Density)
		if i > 0 {
			c.links = append(c.links, link{i - 1, i, math.Pow(low, s) / h})
		}
	}
	c.skins = []skin{{of: n - 1, area: 1, path: 2 / h, t: c.start}}
	at := min(int(0.25*r.Float64()*n), n-1)
	c.tip = func() float64 { return c.lumps[at].t }
	return c
}

// sectionTruth is a quarter of a rectangular section, one metre long.
func sectionTruth(r *rand.Rand, f thermal.Family, mass, wide float64) *trueCut {
	c := draw(r, f, mass, wide)
	usual := f.Cut(mass, 0, 4)
	aspect := 1 + 2*r.Float64()
	thin := usual.HalfThickness / (f.Shape + 1) * (1 + 1/aspect) * math.Exp(wide*0.1*r.NormFloat64())
	const nx = 9
	dx := thin / nx
	ny := int(math.Round(nx * aspect))
	dy := thin * aspect / float64(ny)
	for y := range ny {
		for x := range nx {
			c.add(dx*dy, f.Density)
			i := y*nx + x
			if x > 0 {
				c.links = append(c.links, link{i - 1, i, dy / dx})
			}
			if y > 0 {
				c.links = append(c.links, link{i - nx, i, dx / dy})
			}
			if x == nx-1 {
				c.skins = append(c.skins, skin{of: i, area: dy, path: 2 * dy / dx, t: c.start})
			}
			if y == ny-1 {
				c.skins = append(c.skins, skin{of: i, area: dx, path: 2 * dx / dy, t: c.start})
			}
		}
	}
	at := min(int(0.25*r.Float64()*nx), nx-1)
	c.tip = func() float64 { return c.lumps[at].t }
	return c
}

// trueCook is a cook with its log and its real end.
type trueCook struct {
	log    Log // all of it
	cover  string
	wrap   thermal.Exchange
	wrapAt float64    // C; 0 is bare
	target float64    // C
	stepAt float64    // C of the core at which the pit is set hotter; 0: it is not
	sets   [2]float64 // C, before and after the step
	done   float64    // s when the probe's place is at the target
	stall  float64    // s, middle of the stall; 0 when none
	probe  []Sample
}

type kind int

const (
	oneDimension kind = iota
	section
)

// cookTruth lights a pit, cooks a random cut and writes the log a crew would have.
func cookTruth(r *rand.Rand, k kind, wide float64) trueCook {
	families := []string{"brisket", "brisket", "brisket", "porkbutt", "porkbutt", "brisketpoint", "chuck", "plate"}
	f, _ := thermal.FamilyOf(families[r.IntN(len(families))])
	mass := f.Mass * math.Exp(0.15*r.NormFloat64())
	makeCut := plainTruth
	if k == section {
		makeCut = sectionTruth
	}
	c := makeCut(r, f, mass, wide)
	pits := []string{"generic", "offset", "drum", "cabinet", "kettle"}
	pit, _ := thermal.SurroundingsOf(pits[r.IntN(len(pits))])
	usual, _ := thermal.SurroundingsOf("generic")
	bare, _ := thermal.WrapOf("none")
	wrap, _ := thermal.WrapOf([]string{"none", "paper", "foil"}[r.IntN(3)])
	set := 107 + 28*r.Float64()
	out := trueCook{target: 90.5 + 5*r.Float64(), cover: wrap.Key, wrap: usual.Exchange(wrap)}
	if wrap.Key != "none" {
		out.wrapAt = 73.9
	}
	out.log = Log{Family: f, Mass: mass, Start: math.NaN(), SetPoint: set, Stages: []Stage{{Exchange: usual.Exchange(bare)}}}

	// One cook in three is stepped; told by its weight, so that what is drawn stays as it was.
	aim := set
	out.sets = [2]float64{set, set}
	if int(mass*1e6)%3 == 0 {
		out.stepAt, out.sets[1] = 68, set+22
	}
	out.log.Sets = []Sample{{0, set}}
	true1 := pit.Exchange(bare)
	sensor := 2.5 * r.NormFloat64()
	wander, lid, nextLid := 0.0, 0.0, 60*(45+90*r.Float64())
	gapFrom := 3600 * (1 + 6*r.Float64())
	gapTo := gapFrom + 60*(10+24*r.Float64())
	const dt = 6.0
	for t := 0.0; t < 34*3600; t += dt {
		wander += dt/1500*(-wander) + 3.5*math.Sqrt(2*dt/1500)*r.NormFloat64()
		if t > nextLid {
			lid, nextLid = 0.45*(set-20), t+60*(45+90*r.Float64())
		}
		lid *= math.Exp(-dt / 300)
		set += (aim - set) * (1 - math.Exp(-dt/600))
		air := set + wander - lid
		c.advance(dt, t, air, true1)
		tip := c.tip()
		if math.Mod(t, 60) != 0 {
			continue
		}
		out.probe = append(out.probe, Sample{t, tip})
		reading := tip + 0.3*r.NormFloat64()
		switch u := r.Float64(); {
		case u < 0.002:
			reading = 300 * r.Float64()
		case lid > 30:
			reading -= 4 * r.Float64()
		}
		missing := t > gapFrom && t < gapTo
		if !missing && r.Float64() > 0.03 {
			out.log.Probe = append(out.log.Probe, Sample{t, reading})
		}
		if !missing && r.Float64() > 0.03 {
			out.log.Pit = append(out.log.Pit, Sample{t, air + sensor + 0.5*r.NormFloat64()})
		}
		if out.stepAt > 0 && tip >= out.stepAt && len(out.log.Sets) == 1 {
			aim = out.sets[1]
			out.log.Sets = append(out.log.Sets, Sample{t, aim})
		}
		if out.wrapAt > 0 && tip >= out.wrapAt && len(out.log.Stages) == 1 {
			out.log.Stages = append(out.log.Stages, Stage{From: t, Exchange: out.wrap})
			true1 = pit.Exchange(wrap)
		}
		if tip >= out.target {
			out.done = t
			break
		}
	}
	times, cores := make([]float64, len(out.probe)), make([]float64, len(out.probe))
	for i, s := range out.probe {
		times[i], cores[i] = s.Time, s.C
	}
	if s, found := thermal.StallOf(times, cores); found {
		out.stall = (s.From + s.To) / 2
	}
	return out
}

// until is the log as it stood at a moment, and what was still to come.
func (c trueCook) until(now float64) (Log, []Ahead) {
	l := c.log
	l.Now = now
	l.Stages = nil
	var covers []float64
	for _, s := range c.log.Stages {
		if s.From < now {
			l.Stages = append(l.Stages, s)
			if s.From > 0 {
				covers = append(covers, s.From)
			}
		}
	}
	l.Sets = nil
	for _, s := range c.log.Sets {
		if s.Time <= now {
			l.Sets, l.SetPoint = append(l.Sets, s), s.C
		}
	}
	seen := l
	seen.Probe = l.Probe[:sort.Search(len(l.Probe), func(i int) bool { return l.Probe[i].Time > now })]
	return l, Planned(c.cover, c.wrapAt, c.target, c.stepAt, c.sets, seen, covers)
}
