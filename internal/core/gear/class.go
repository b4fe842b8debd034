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
	// No rule of a rig reads the following: they are kept, examined and retired.
	Helmet       Class = "helmet"
	Stretcher    Class = "stretcher"
	RiggingPlate Class = "rigging-plate"
	Swivel       Class = "swivel"
	FixedAnchor  Class = "fixed-anchor"
	Tripod       Class = "tripod"
	Bag          Class = "bag"
	Other        Class = "other"
)

// inOrder are all classes, in the order in which they are listed.
var inOrder = []Class{
	Rope, Descender, ChestAscender, HandAscender, BackupDevice, AnchorBrake, RopeGrab, WindingDev, Pulley, CapturePulley, Hitch, Evacuation, Connector, Lanyard, Sling, Absorber, Harness, FootLoop, Gloves, EdgeProtector, Helmet, Stretcher, RiggingPlate, Swivel, FixedAnchor, Tripod, Bag, Other,
}

// Enum are the ids of all classes: no other is read.
func (Class) Enum() []string {
	ids := make([]string, len(inOrder))
	for i, c := range inOrder {
		ids[i] = string(c)
	}
	return ids
}

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
	// examined is set for what is thoroughly examined at an interval.
	examined bool
	// links is set for what may stand between a device and a harness.
	links bool
	// rides is set for what runs or grips on a rope.
	rides bool
}

var classes = map[Class]classInfo{
	Rope:          {words: "rope", needs: []part{ropePart}, textile: true, examined: true},
	Descender:     {words: "descender", needs: []part{devicePart}, examined: true, rides: true},
	ChestAscender: {words: "chest ascender", needs: []part{devicePart}, examined: true, rides: true},
	HandAscender:  {words: "hand ascender", needs: []part{devicePart}, examined: true, rides: true},
	BackupDevice:  {words: "backup device", needs: []part{devicePart, backupPart}, examined: true, rides: true},
	AnchorBrake:   {words: "anchor brake", needs: []part{devicePart}, examined: true, rides: true},
	RopeGrab:      {words: "rope grab", needs: []part{devicePart}, examined: true, rides: true},
	WindingDev:    {words: "winding descender", needs: []part{devicePart, windingPart}, examined: true, rides: true},
	Pulley:        {words: "pulley", needs: []part{pulleyPart}, examined: true},
	CapturePulley: {words: "capture pulley", needs: []part{devicePart, pulleyPart}, examined: true, rides: true},
	Hitch:         {words: "load-releasing hitch", needs: []part{hitchPart}, textile: true, examined: true},
	Evacuation:    {words: "evacuation kit", needs: []part{evacuationPart}, examined: true},
	Connector:     {words: "connector", needs: []part{connectorPart}, may: []part{lengthPart}, examined: true, links: true},
	Lanyard:       {words: "lanyard", needs: []part{lengthPart}, textile: true, examined: true, links: true},
	Sling:         {words: "sling", needs: []part{lengthPart}, textile: true, examined: true, links: true},
	Absorber:      {words: "absorber", needs: []part{lengthPart, absorberPart}, textile: true, examined: true, links: true},
	Harness:       {words: "harness", needs: []part{harnessPart}, textile: true, examined: true},
	FootLoop:      {words: "foot loop", needs: []part{lengthPart}, textile: true},
	Gloves:        {words: "gloves"},
	EdgeProtector: {words: "edge protector"},
	Helmet:        {words: "helmet", examined: true},
	Stretcher:     {words: "stretcher", textile: true, examined: true},
	RiggingPlate:  {words: "rigging plate", examined: true},
	Swivel:        {words: "swivel", examined: true},
	FixedAnchor:   {words: "fixed anchor", examined: true},
	Tripod:        {words: "tripod or high directional", examined: true},
	Bag:           {words: "bag"},
	Other:         {words: "other thing", examined: true},
}

// Words is the class as people say it.
func (c Class) Words() string { return classes[c].words }

// Textile reports whether strength is lost as in textiles, not as in metal.
func (c Class) Textile() bool { return classes[c].textile }

// Examined reports whether things of this class are thoroughly examined at an interval.
func (c Class) Examined() bool { return classes[c].examined }

// Links reports whether things of this class may stand between a device and a harness: the
// rules of a load path know them.
func (c Class) Links() bool { return classes[c].links }

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
