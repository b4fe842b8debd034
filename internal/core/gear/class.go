// Package gear describes rope access gear: a Model is what a manufacturer's
// instructions say, an Item is one serial-numbered thing of that model.
//
// It knows classes, models, items and their own limits (life, wear, dates). It
// does not know where an item is used or with what: that is package fit's.
package gear

import "slices"

// Class is the class a model belongs to.
type Class string

const (
	Rope          Class = "rope"
	Descender     Class = "descender"
	ChestAscender Class = "chest-ascender"
	HandAscender  Class = "hand-ascender"
	BackupDevice  Class = "backup-device"
	AnchorBrake   Class = "anchor-brake"
	RopeGrab      Class = "rope-grab"
	WindingDev    Class = "winding-descender"
	Pulley        Class = "pulley"
	CapturePulley Class = "capture-pulley"
	Hitch         Class = "load-releasing-hitch"
	Evacuation    Class = "evacuation-kit"
	Connector     Class = "connector"
	Lanyard       Class = "lanyard"
	Sling         Class = "sling"
	Absorber      Class = "absorber"
	Harness       Class = "harness"
	FootLoop      Class = "foot-loop"
	Gloves        Class = "gloves"
	EdgeProtector Class = "edge-protector"
)

// part names a block of a model that only some classes have.
type part string

const (
	ropePart       part = "rope"
	devicePart     part = "device"
	backupPart     part = "backup"
	pulleyPart     part = "pulley"
	windingPart    part = "winding"
	connectorPart  part = "connector"
	lengthPart     part = "length"
	absorberPart   part = "absorber"
	harnessPart    part = "harness"
	evacuationPart part = "evacuation"
	hitchPart      part = "hitch"
)

// classInfo is what the program knows of a class. A new class is a line here.
type classInfo struct {
	words   string
	needs   []part
	may     []part
	textile bool
	// bears is set for what stands in a load path and so has a strength.
	bears bool
	// rides is set for what runs or grips on a rope.
	rides bool
}

var classes = map[Class]classInfo{
	Rope:          {words: "rope", needs: []part{ropePart}, textile: true, bears: true},
	Descender:     {words: "descender", needs: []part{devicePart}, bears: true, rides: true},
	ChestAscender: {words: "chest ascender", needs: []part{devicePart}, bears: true, rides: true},
	HandAscender:  {words: "hand ascender", needs: []part{devicePart}, bears: true, rides: true},
	BackupDevice:  {words: "backup device", needs: []part{devicePart, backupPart}, bears: true, rides: true},
	AnchorBrake:   {words: "anchor brake", needs: []part{devicePart}, bears: true, rides: true},
	RopeGrab:      {words: "rope grab", needs: []part{devicePart}, bears: true, rides: true},
	WindingDev:    {words: "winding descender", needs: []part{devicePart, windingPart}, bears: true, rides: true},
	Pulley:        {words: "pulley", needs: []part{pulleyPart}, bears: true},
	CapturePulley: {words: "capture pulley", needs: []part{devicePart, pulleyPart}, bears: true, rides: true},
	Hitch:         {words: "load-releasing hitch", needs: []part{hitchPart}, textile: true, bears: true},
	Evacuation:    {words: "evacuation kit", needs: []part{evacuationPart}, bears: true},
	Connector:     {words: "connector", needs: []part{connectorPart}, may: []part{lengthPart}, bears: true},
	Lanyard:       {words: "lanyard", needs: []part{lengthPart}, textile: true, bears: true},
	Sling:         {words: "sling", needs: []part{lengthPart}, textile: true, bears: true},
	Absorber:      {words: "absorber", needs: []part{lengthPart, absorberPart}, textile: true, bears: true},
	Harness:       {words: "harness", needs: []part{harnessPart}, textile: true, bears: true},
	FootLoop:      {words: "foot loop", needs: []part{lengthPart}, textile: true},
	Gloves:        {words: "gloves"},
	EdgeProtector: {words: "edge protector"},
}

// Words is the class as people say it.
func (c Class) Words() string { return classes[c].words }

// Textile reports whether strength is lost as in textiles, not as in metal.
func (c Class) Textile() bool { return classes[c].textile }

// Bears reports whether things of this class stand in a load path.
func (c Class) Bears() bool { return classes[c].bears }

// RidesRope reports whether things of this class run or grip on a rope.
func (c Class) RidesRope() bool { return classes[c].rides }

// Parts are the parts of a model that things of this class need, and those that they may
// have, by their JSON names.
func (c Class) Parts() (needs, may []string) {
	info := classes[c]
	for _, p := range info.needs {
		needs = append(needs, p.field())
	}
	for _, p := range info.may {
		may = append(may, p.field())
	}
	return needs, may
}

// Classes gives every class in alphabetical order.
func Classes() []Class {
	list := make([]Class, 0, len(classes))
	for c := range classes {
		list = append(list, c)
	}
	slices.Sort(list)
	return list
}
