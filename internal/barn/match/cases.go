package match

import "whitebarn/internal/barn"

// What Match changes.
var (
	AddCut       = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "hung a cut"}, addCut)
	SetCut       = barn.Writes(barn.Door{Of: barn.Cut, Kind: barn.Design, What: "changed a cut", Lays: true}, setCut)
	VoidCut      = barn.Writes(barn.Door{Of: barn.Cut, Kind: barn.Layout, What: "took a cut out"}, voidCut)
	DivideCut    = barn.Writes(barn.Door{Of: barn.Cut, Kind: barn.Layout, What: "divided a cut"}, divideCut)
	SetDimension = barn.Writes(barn.Door{Of: barn.Cut, Kind: barn.Design, What: "measured a cut"}, setDimension)

	DrawArms      = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Layout, What: "drew the arms", Lays: true}, drawArms)
	BackToDraw    = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Layout, What: "went back to an earlier draw", Lays: true}, backToDraw)
	SetArms       = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Layout, What: "moved cuts between arms", Lays: true}, setArms)
	PairUp        = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Layout, What: "paired cuts"}, pairUp)
	SetPositions  = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Layout, What: "moved cuts on the grate", Lays: true}, setPositions)
	DrawPositions = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Layout, What: "drew the places", Lays: true}, drawPositions)
	SwapSetups    = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Layout, What: "swapped the set-ups of two pits"}, swapSetups)

	AcceptFinding = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "kept a finding"}, acceptFinding)
	VoidAccepted  = barn.Writes(barn.Door{Of: barn.Accepted, Kind: barn.Design, What: "took a word back"}, voidAccepted)
)
