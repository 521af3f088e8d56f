package standin

import (
	"math"
	"math/rand/v2"
	"sort"
	"time"

	"whitebarn/core/thermal"
	"whitebarn/core/units"
)

// Reading is what a device of the simulated barn shows.
type Reading struct {
	Channel string
	At      time.Time
	Weight  bool
	Value   float64 // C or kg
}

// Barn is a simulated barn under way. It is deterministic: the same script
// and the same acts give the same readings.
type Barn struct {
	script  Script
	start   time.Time
	now     float64 // s since the start
	pits    []*pit
	cuts    []*piece
	holders []*holder
	pans    []*pan
	events  []Event // to come, in order
	due     float64 // s, next reading
	random  *rand.Rand
}

// piece is a cut with what is hidden about it.
type piece struct {
	script  Cut
	body    *thermal.Body
	result  thermal.Result
	wrap    string
	where   where
	holder  int
	stage   float64 // s, end of oil or torch
	stageAt float64 // C
	spritz  float64 // kg/m2, at the next step
	seen    float64 // C, what the lagging probe has come to
	slipped bool
	silent  float64 // s, until when the probe is lost
	random  *rand.Rand
}

type where int

const (
	inFridge where = iota
	inPit
	onCounter
	inHolder
	inOil
	underTorch
)

const (
	tick         = 10.0 // s
	usualEvery   = 15 * time.Second
	spritzAmount = 0.06 // kg/m2
	fridge       = 3.5
	room         = 21.0
	burst        = 240.0 // s a probe is lost for, at most
)

// hidden spreads of a cut around its family.
const (
	spreadThick    = 0.09
	spreadMeasured = 0.03
	spreadHeat     = 0.12
	spreadCrust    = 0.35
	spreadJuice    = 0.25
)

// New sets up the barn of a script at a moment.
func New(s Script, start time.Time) (*Barn, error) {
	if err := s.check(); err != nil {
		return nil, err
	}
	if s.Every <= 0 {
		s.Every = Duration(usualEvery)
	}
	b := &Barn{script: s, start: start, random: rand.New(rand.NewPCG(s.Seed, 0xba12))}
	for i, p := range s.Pits {
		ambient := celsius(p.Ambient, 14)
		made := &pit{script: p, setC: celsius(p.SetPoint, 121), ambientC: ambient, air: ambient, fuel: kilograms(p.Fuel, 14),
			handed: math.Inf(-1), random: rand.New(rand.NewPCG(s.Seed, uint64(100+i))),
			water: kilograms(p.Trough, 0), waterC: ambient, points: rand.New(rand.NewPCG(s.Seed, uint64(500+i)))}
		for _, sun := range p.Sun {
			made.sun = append(made.sun, sunny{sun.From.Seconds(), sun.To.Seconds(), sun.Adds})
		}
		b.pits = append(b.pits, made)
	}
	for _, h := range s.Holders {
		low, high := celsius(h.Low, 62), celsius(h.High, 69)
		b.holders = append(b.holders, &holder{script: h, lowC: low, highC: high, air: (low + high) / 2})
	}
	for _, p := range s.Pans {
		// Water warms by its surface: the constant goes with the cube root of its weight.
		b.pans = append(b.pans, &pan{script: p, in: b.holders[s.holderNamed(p.Holder)], tau: panTau * math.Cbrt(kilograms(p.Water, 3.6)),
			water: celsius(p.Fill, 16)})
	}
	for i, c := range s.Cuts {
		p, err := newPiece(c, rand.New(rand.NewPCG(s.Seed, uint64(1000+i))))
		if err != nil {
			return nil, err
		}
		b.cuts = append(b.cuts, p)
		if c.On >= 0 { // else it waits for a hand
			b.events = append(b.events, Event{At: c.On, Do: doOn, Cut: c.Name})
		}
	}
	b.events = append(b.events, s.Events...)
	sort.SliceStable(b.events, func(i, j int) bool { return b.events[i].At < b.events[j].At })
	return b, nil
}

func newPiece(c Cut, r *rand.Rand) (*piece, error) {
	family, err := c.family()
	if err != nil {
		return nil, err
	}
	thick, spread := 0.0, spreadThick
	if l, err := units.ParseLength(c.Thick); err == nil {
		thick, spread = l.M, spreadMeasured
	}
	cut := family.Cut(kilograms(c.Weight, family.Mass), thick, fridge+0.8*r.NormFloat64())
	factor := func(sd float64) float64 { return math.Exp(sd * r.NormFloat64()) }
	cut.HalfThickness = min(max(cut.HalfThickness*factor(spread), 0.003), 0.14)
	cut.JuiceTime *= factor(spreadJuice)
	cut.HeldShift = 1.2 * r.NormFloat64()
	cut.ProbeDepth = cut.HalfThickness * (1 - 0.15*r.Float64())
	crust := thermal.UsualCrust
	crust.HeatTransfer, crust.Resistance, crust.Lift = factor(spreadHeat), crust.Resistance*factor(spreadCrust), 0.4
	crust.JuiceOut = min(max(0.68+0.05*r.NormFloat64(), 0.3), 0.95)
	body, err := thermal.NewBody(cut, crust, thermal.Settings{Cells: 20, Tolerance: 0.2})
	if err != nil {
		return nil, err
	}
	return &piece{script: c, body: body, wrap: "none", seen: fridge, random: r}, nil
}

// Now is how far the barn has come.
func (b *Barn) Now() time.Time { return b.start.Add(time.Duration(b.now * float64(time.Second))) }

// Advance moves the barn on to a moment and hands out its readings in order
// of time.
func (b *Barn) Advance(to time.Time, out func(Reading)) error {
	for end := to.Sub(b.start).Seconds(); b.now+tick <= end; {
		for len(b.events) > 0 && b.events[0].At.Seconds() <= b.now {
			e := b.events[0]
			b.events = b.events[1:]
			if err := b.do(e, out); err != nil {
				return err
			}
		}
		if err := b.step(); err != nil {
			return err
		}
		if b.now >= b.due {
			b.read(out)
			b.due += b.script.Every.Seconds()
		}
	}
	return nil
}

func (b *Barn) step() error {
	b.now += tick
	for _, p := range b.pits {
		p.step(b.now, tick)
	}
	for _, h := range b.holders {
		h.step(tick)
	}
	for _, p := range b.pans {
		p.step(b.now, tick)
	}
	for _, c := range b.cuts {
		if c.where == inFridge {
			continue
		}
		if (c.where == inOil || c.where == underTorch) && b.now >= c.stage {
			c.where = onCounter
		}
		air, x := b.around(c)
		phase := [1]thermal.Phase{{Air: air, Exchange: x, Spritz: c.spritz, End: thermal.ByTime, Value: tick}}
		c.spritz = 0
		if err := c.body.Follow(phase[:], 0, &c.result); err != nil {
			return err
		}
		c.follow(b)
	}
	return nil
}

// around is the air and the exchange where a cut lies.
func (b *Barn) around(c *piece) (float64, thermal.Exchange) {
	place := func(key string) thermal.Exchange {
		s, _ := thermal.SurroundingsOf(key)
		w, _ := thermal.WrapOf(c.wrap)
		return s.Exchange(w)
	}
	switch c.where {
	case inPit:
		p := b.pits[b.script.pitNamed(c.script.Pit)]
		w, _ := thermal.WrapOf(c.wrap)
		return min(max(p.at()+c.script.Grate+w.AirAdd, -30), 380), place(p.script.Kind)
	case inHolder:
		return b.holders[c.holder].air, place("box")
	case inOil:
		return c.stageAt, thermal.Exchange{HeatTransfer: 100, DewPoint: 20}
	case underTorch:
		return 380, thermal.Exchange{HeatTransfer: 40, Emissivity: 0.9, DewPoint: 20}
	}
	return room, place("counter")
}

// follow does what the script says of a cut's own temperature.
func (c *piece) follow(b *Barn) {
	core := c.body.At(c.depth())
	if c.where != inPit {
		return
	}
	if c.wrap == "none" && c.script.Wrap != "" && c.script.WrapAt != "" && core >= celsius(c.script.WrapAt, 999) {
		c.wrap = c.script.Wrap
	}
	if c.script.PullAt != "" && core >= celsius(c.script.PullAt, 999) {
		c.pull(b)
	}
}

func (c *piece) depth() float64 { return c.body.Cut().ProbeDepth }

func (c *piece) pull(b *Barn) {
	c.where = onCounter
	for i, h := range b.holders {
		if h.script.Name == c.script.Holder {
			c.where, c.holder = inHolder, i
		}
	}
}

// read hands out what each channel shows now.
func (b *Barn) read(out func(Reading)) {
	at := b.Now()
	show := func(channel string, p Probe, r *rand.Rand, v float64) {
		noise, lost := r.NormFloat64(), r.Float64()
		if channel == "" || lost < p.Dropout {
			return
		}
		v += p.Offset + p.Noise*noise
		out(Reading{Channel: channel, At: at, Value: math.Round(v*20) / 20})
	}
	for _, p := range b.pits {
		show(p.script.Channel, p.script.Probe, p.random, p.at())
		for _, point := range p.script.Points {
			show(point.Channel, point.Probe, p.points, p.pointC(point.At))
		}
	}
	for _, h := range b.holders {
		show(h.script.Channel, Probe{Noise: 0.2}, b.random, h.air)
	}
	for _, p := range b.pans {
		if b.now >= p.script.PutIn.Seconds() {
			show(p.script.Channel, p.script.Probe, b.random, p.water)
		}
	}
	for _, c := range b.cuts {
		if c.where == inFridge {
			continue
		}
		v := c.body.At(c.depth())
		if c.slipped || c.script.Probe.Slip > 0 && b.now >= c.script.Probe.Slip.Seconds() {
			air, _ := b.around(c)
			v = 0.35*v + 0.65*air
		}
		lag := max(c.script.Probe.Lag.Seconds(), 1)
		c.seen += (v - c.seen) * (1 - math.Exp(-b.script.Every.Seconds()/lag))
		if start := c.random.Float64(); start < c.script.Probe.Dropout/20 {
			c.silent = b.now + burst*c.random.Float64()
		}
		if b.now < c.silent {
			continue
		}
		show(c.script.Channel, c.script.Probe, c.random, c.seen)
	}
}

// CutNow is how a cut stands.
type CutNow struct {
	Wrap string  // of thermal.Wraps
	Out  bool    // pulled
	Kg   float64 // what it weighs
}

// Cut is how a cut stands now; the zero value when there is none of the name.
func (b *Barn) Cut(name string) CutNow {
	for _, c := range b.cuts {
		if c.script.Name == name {
			return CutNow{c.wrap, c.where > inPit, c.body.Masses().Now}
		}
	}
	return CutNow{}
}
