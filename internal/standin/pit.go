package standin

import (
	"math"
	"math/rand/v2"
	"time"

	rules "whitebarn/core/pit"
)

// pit is a smoker with a fire, a controller, a lid and weather: one lump of
// air and wall, heated by fuel.
type pit struct {
	script   Pit
	setC     float64
	ambientC float64
	air      float64 // C
	fire     float64 // W
	fuel     float64 // kg left
	sum      float64 // of the controller
	demand   float64 // W, of a hand on the vents
	handed   float64 // s, when the hand last turned them
	flutter  float64 // C, draught
	lidUntil float64 // s
	sun      []sunny
	random   *rand.Rand
	splits   []float64 // s, when each was put on
	water    float64   // kg in the trough
	waterC   float64
	takes    float64 // W from the air into it
	steam    float64 // W that leave with it
	stood    float64 // s, since when the bed burns down; 0: it is still building up
	points   *rand.Rand
}

type sunny struct{ from, to, adds float64 } // s, s, C

// Of a pit's make. A brick pit is slow, a drum quick.
const (
	leak      = 7.0   // W/K
	openLid   = 38.0  // W/K more with the lid up
	fuelHeat  = 1.4e7 // J/kg that stay in the pit
	hottestBy = 230.0 // K over the set point that a full fire would reach
	dying     = 0.35  // kg at which the fire begins to fail
	handEvery = 480   // s
)

func capacity(kind string) float64 {
	switch kind {
	case "offset", "ceramic":
		return 26000 // J/K
	case "cabinet", "pellet":
		return 9000
	}
	return 13000
}

// step moves the pit on by dt seconds to time t since the day's start.
func (p *pit) step(t, dt float64) {
	loss := leak * (1 + p.script.Wind)
	if t < p.lidUntil {
		loss += openLid
	}
	warm := 0.0
	for _, s := range p.sun {
		if t >= s.from && t < s.to {
			warm += s.adds * leak
		}
	}
	most := leak * (p.setC + hottestBy - p.ambientC) * min(1, p.fuel/dying)
	if t < p.script.Light.Seconds() {
		most = 0
	}
	need := leak * (p.setC - p.ambientC)
	miss := p.setC - p.air
	if p.script.Control == bySplits {
		p.demand = p.bed(t, need, miss, most)
	} else if p.script.Control == "fan" {
		p.sum = min(max(p.sum+miss*dt/400, -12), 12)
		p.demand = need + 14*miss + 22*p.sum
	} else if t-p.handed >= handEvery {
		p.handed = t
		p.demand = need*(1+0.03*p.random.NormFloat64()) + 6*miss
	}
	p.fire += (min(max(p.demand, 0), most) - p.fire) * (1 - math.Exp(-dt/150))
	p.fuel = max(0, p.fuel-p.fire*dt/fuelHeat)
	p.air += (p.fire + warm - loss*(p.air-p.ambientC) - p.trough(dt)) * dt / capacity(p.script.Kind)
	keep := math.Exp(-dt / 90)
	p.flutter = keep*p.flutter + 1.3*math.Sqrt(1-keep*keep)*p.random.NormFloat64()
}

// Of a fire of splits: what one gives, how fast, and how long the bed of coals lasts.
const (
	splitHeat = 7.4e5   // J that stay in the pit
	splitTau  = 240.0   // s to its peak
	bedShare  = 0.34    // of what is needed, when the bed is at its best
	bedTau    = 30000.0 // s
)

// bed is the heat of a fire that is kept by splits alone: it builds up until the pit stands,
// then burns down but for what is put on.
func (p *pit) bed(t, need, miss, most float64) float64 {
	if most == 0 {
		return 0
	}
	if p.stood == 0 && miss < 4 {
		p.stood = t
	}
	w := most
	if p.stood > 0 {
		w = (bedShare*need + p.takes) * math.Exp(-(t-p.stood)/bedTau)
	}
	for _, s := range p.splits {
		if since := t - s; since > 0 {
			w += splitHeat * since / (splitTau * splitTau) * math.Exp(-since/splitTau)
		}
	}
	return w
}

// Of a trough: what passes from the air to a kilogram of its water, and what steams off.
const (
	troughGain = 4.5   // W/K a kg
	waterHeat  = 4186. // J/kg K
	steamMost  = 22.0  // W a kg, simmering
	vapourHeat = 2.3e6 // J/kg
)

// trough is what the water takes from the air, W.
func (p *pit) trough(dt float64) float64 {
	if p.water <= 0 {
		return 0
	}
	p.takes = troughGain * p.water * (p.air - p.waterC)
	p.steam = steamMost * p.water * math.Pow(max(0, p.waterC-p.ambientC)/(97-p.ambientC), 3)
	p.waterC = min(p.waterC+(p.takes-p.steam)*dt/(waterHeat*p.water), 97)
	p.water -= p.steam * dt / vapourHeat
	return p.takes
}

// How far apart the ends of a grate lie over a fire that just keeps the pit, C; a trough
// lies between fire and grate.
const (
	spreadDry    = 23.0
	spreadTrough = 3.0
)

// pointC is what a probe at a named point shows.
func (p *pit) pointC(point string) float64 {
	spread := spreadDry
	if p.water > 0 {
		spread = spreadTrough
	}
	// A great fire throws its heat, but not further than the air is warm.
	spread = min(spread*p.fire/max(leak*(p.setC-p.ambientC), 1), 0.4*max(p.air-p.ambientC, 0))
	switch point {
	case "dial":
		return p.at() + 2 + 0.6*spread
	case "wet bulb":
		return min(p.at(), 44+19*p.steam/(steamMost*5))
	}
	for _, row := range rules.Points() {
		if row.Key == point {
			return p.at() + spread*(0.5-row.Along)
		}
	}
	return p.at()
}

func (p *pit) at() float64 { return p.air + p.flutter }

// pan is a covered pan of water in a holder.
type pan struct {
	script Pan
	in     *holder
	tau    float64 // s
	water  float64 // C
}

// panTau is the time constant of a kilogram of water under a lid in the still air of a box, s (ours).
const panTau = 3200.0

func (p *pan) step(now, dt float64) {
	if now >= p.script.PutIn.Seconds() {
		p.water += (p.in.air - p.water) * (1 - math.Exp(-dt/p.tau))
	}
}

// holder is a warm box that switches on and off.
type holder struct {
	script Holder
	lowC   float64
	highC  float64
	air    float64
	on     bool
}

func (h *holder) step(dt float64) {
	switch {
	case h.air <= h.lowC:
		h.on = true
	case h.air >= h.highC:
		h.on = false
	}
	toward := 20.0
	if h.on {
		toward = h.highC + 25
	}
	period := max(time.Duration(h.script.Period).Seconds(), 300)
	h.air += (toward - h.air) * (1 - math.Exp(-dt/(period*2)))
}
