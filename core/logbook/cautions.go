package logbook

// Caution is what must be known before an act that can hurt somebody. It is read before
// the first one of a cook.
type Caution struct {
	Words  []string `json:"words"`
	Source string   `json:"source"`
}

// Said says whether there is one.
func (c Caution) Said() bool { return len(c.Words) > 0 }

var (
	oil = Caution{
		Words: []string{
			"The piece is thawed through and its skin is dry: water under hot oil throws it out of the kettle.",
			"Find the fill line beforehand: put the piece in, cover it with water, take it out, mark the water. Then dry kettle and piece.",
			"The kettle stands outdoors, level, away from walls and roofs. Nobody leaves it while it is hot.",
			"Lower it in slowly with the flame off. No water near it, nor on an oil fire.",
			"Lid and a fire extinguisher for fats stand at hand. It stays hot for hours.",
		},
		Source: "USDA FSIS, Deep Fat Frying and Food Safety; the maker's instructions. Your local fire rules come first.",
	}
	torches = Caution{
		Words: []string{
			"Light it away from fat, paper and spirits, and look where the flame goes before you do.",
			"Cylinder upright, in the open or under proper draught; let it cool before it is put away.",
			"Melted fat burns: lid at hand, sleeves back, nobody behind the piece.",
		},
		Source: "The maker's instructions of the torch and its cylinder. Your local fire rules come first.",
	}
	coals = Caution{
		Words: []string{
			"Charcoal burns outdoors or under proper draught alone: its carbon monoxide has no smell and kills.",
			"Fat flares up: long tongs, gloves, lid at hand. No water on burning fat.",
			"Ash stays hot: 48 hours in a lidded metal bin before it goes anywhere.",
		},
		Source: "U.S. Consumer Product Safety Commission, on charcoal and carbon monoxide; U.S. Fire Administration, on ash. Your local fire rules come first.",
	}
)
