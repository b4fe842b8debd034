package fit

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// PersonFamiliar is person.familiar: a person has a record for the model of
// every device they carry or hang from; and where two generations of its class
// are on site, for both.
func PersonFamiliar(p *rig.PersonView, c *Context) []finding.Finding {
	var found []finding.Finding
	seen := map[string]bool{}
	for _, piece := range p.All {
		m := piece.Model
		if !m.Class.RidesRope() && m.Class != gear.Evacuation || seen[m.ID] {
			continue
		}
		seen[m.ID] = true
		subject := finding.Subject{Kind: finding.Person, ID: p.ID, Label: p.Name, Person: p.ID, Item: piece.Item.ID}
		if !familiar(p, m.ID) {
			found = append(found, NotFamiliar(subject, p.Name, m, ""))
			continue
		}
		if other := otherGeneration(c.Rig, m); other != nil && !familiar(p, other.ID) {
			found = append(found, NotFamiliar(subject, p.Name, other, " It stands beside "+m.Title()+" on this site and handles otherwise."))
		}
	}
	return found
}

// PersonListed is person.listed: the figures of somebody are those that the team's people have
// of them.
func PersonListed(p *rig.PersonView, _ *Context) []finding.Finding {
	l := p.Listed
	if l == nil {
		return nil
	}
	var found []finding.Finding
	add := func(name string, here, there finding.Figure) {
		if there.Value == 0 || here.Value == there.Value {
			return
		}
		is := here.Text
		if here.Value == 0 {
			is = "not measured"
		}
		found = append(found, finding.Finding{
			Severity: finding.Look, Subject: finding.Subject{Kind: finding.Person, ID: p.ID, Label: p.Name, Person: p.ID},
			What:    fmt.Sprintf("The %s of %s is %s here, and %s among the team's people.", name, p.Name, is, there.Text),
			Figures: []finding.Figure{here, there},
			Why:     "Ratings, forces and reach are computed with the figure of the drop.",
			Remedy:  "Take over what the team's people have, or say there or here what it is.",
			Source:  byRule,
		})
	}
	add("mass", finding.Fig("here", p.MassKg), finding.Fig("of the team's people", l.MassKg))
	add("reach up", finding.Fig("here", p.ReachUpM), finding.Fig("of the team's people", l.ReachUpM))
	add("reach to the side", finding.Fig("here", p.ReachOutM), finding.Fig("of the team's people", l.ReachOutM))
	add("hand", finding.Fig("here", p.HandMM), finding.Fig("of the team's people", l.HandMM))
	return found
}

// operatorsFamiliar is person.familiar of those who work a team's brakes and are on the drop; of
// others their team's board says it.
func operatorsFamiliar(c *Context) (found []finding.Finding, looked int) {
	if c.Rig.Team == nil {
		return nil, 0
	}
	for _, o := range c.Rig.Team.Operated() {
		i := slices.IndexFunc(c.Rig.People, func(p *rig.PersonView) bool { return rig.SameName(p.Name, o.Name) })
		if i < 0 {
			continue
		}
		looked++
		p := c.Rig.People[i]
		if !familiar(p, o.Brake.Model.ID) {
			subject := finding.Subject{Kind: finding.Person, ID: p.ID, Label: p.Name, Person: p.ID, Item: o.Brake.Item.ID}
			found = append(found, NotFamiliar(subject, p.Name, o.Brake.Model, " They work "+o.Brake.Item.Label+"."))
		}
	}
	return found, looked
}

// NotFamiliar is person.familiar of somebody and a model of which they have no record; more is said
// after it.
func NotFamiliar(s finding.Subject, name string, m *gear.Model, more string) finding.Finding {
	return finding.Finding{
		Severity: finding.Look, Subject: s,
		What:    fmt.Sprintf("%s has no familiarisation record for %s.%s", name, m.Title(), more),
		Figures: []finding.Figure{finding.State("model", m.Title()), finding.State("record", "none")},
		Why:     "Devices of one class differ in small ways that matter under load.",
		Remedy:  fmt.Sprintf("Have %s shown it near the ground and record it, or give them a model they know.", name),
		Source:  byRule,
	}
}

func familiar(p *rig.PersonView, model string) bool {
	return slices.ContainsFunc(p.Familiar, func(f rig.Familiarity) bool { return f.Model == model })
}

// otherGeneration is another generation of a model's class that is on site.
func otherGeneration(r *rig.Rig, m *gear.Model) *gear.Model {
	for _, o := range r.Pieces {
		if m.Generation != "" && o.Model.Generation != "" && o.Model.Class == m.Class && o.Model.ID != m.ID {
			return o.Model
		}
	}
	return nil
}

// HandsGloves is hands.gloves: who handles a live load has gloves on the list.
func HandsGloves(p *rig.PersonView, _ *Context) []finding.Finding {
	handles := slices.ContainsFunc(p.Holds, func(h *rig.HoldView) bool { return h.Role() == rig.ToDescend })
	gloves := count(p, gear.Gloves)
	if !handles || gloves > 0 {
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Look, Subject: p.Subject(),
		What:    fmt.Sprintf("%s handles a live load and carries no gloves.", p.Name),
		Figures: []finding.Figure{finding.Fig("gloves", quantity.Count(gloves))},
		Why:     "A running rope burns the hand that should stop it.",
		Remedy:  "Put gloves on the kit list, and on before a live load.",
		Source:  byRule,
	})
}

func count(p *rig.PersonView, classes ...gear.Class) int {
	n := 0
	for _, piece := range p.All {
		if slices.Contains(classes, piece.Model.Class) {
			n++
		}
	}
	return n
}

// StandardRole is standard.role: one of the standards the policy names for the
// role is marked on the model. A role for which the policy names none is not
// judged.
func StandardRole(h *rig.HoldView, c *Context) []finding.Finding {
	roles := map[rig.HoldRole]string{rig.ToDescend: "descend", rig.ToAscend: "ascend", rig.Third: "ascend", rig.ToBackUp: "backup"}
	found := standard(h, h.Device, roles[h.Role()], c)
	classes := map[gear.Class]string{gear.Connector: "connector", gear.Lanyard: "lanyard", gear.Sling: "lanyard", gear.Absorber: "absorber"}
	for _, l := range h.Links {
		found = append(found, standard(h, l.Piece, classes[l.Model.Class], c)...)
	}
	for _, r := range h.Strand.Ropes {
		found = append(found, standard(h, r.Piece, "rope", c)...)
	}
	if p := h.Person; p.Harness != nil && p.Holds[0] == h {
		found = append(found, standard(h, p.Harness, "harness", c)...)
	}
	return found
}

func standard(h *rig.HoldView, p *rig.Piece, role string, c *Context) []finding.Finding {
	wants := c.Policy.Standards(role)
	if wants == nil || slices.ContainsFunc(p.Model.Standards, func(s string) bool { return slices.Contains(wants, s) }) {
		return nil
	}
	marked := strings.Join(p.Model.Standards, ", ")
	return one(finding.Finding{
		Severity: finding.Look, Subject: h.LinkSubject(p),
		What:    fmt.Sprintf("%s is marked %s; for the role %q the policy asks for %s.", p.Item.Label, orNone(marked), role, strings.Join(wants, " or ")),
		Figures: []finding.Figure{finding.State("marked", orNone(marked)), finding.State("required", strings.Join(wants, " or "))},
		Why:     "A class says what a thing was tested for; another use was not tested.",
		Remedy:  "Use a model marked for this role, or have the person in charge judge it.",
		Source:  byPolicy(c.Policy),
	})
}

// bundle is a number of things of each class that together serve a need.
type bundle map[gear.Class]int

// need is something a move needs: any one of its bundles.
type need struct {
	words string
	anyOf []bundle
}

var (
	needDescender = need{"a descender", []bundle{{gear.Descender: 1}, {gear.WindingDev: 1}}}
	needBackup    = need{"a backup device", []bundle{{gear.BackupDevice: 1}}}
	needChest     = need{"a chest ascender", []bundle{{gear.ChestAscender: 1}}}
	needHand      = need{"a hand ascender", []bundle{{gear.HandAscender: 1}}}
	needFootLoop  = need{"a foot loop", []bundle{{gear.FootLoop: 1}}}
	needLanyard   = need{"a lanyard with its connector", []bundle{{gear.Lanyard: 1, gear.Connector: 1}}}
	// Passing a knot on the backup strand: a second device with what links it, or a temporary
	// loop knot and a short connection to it.
	needCover = need{
		"a second backup device, or a lanyard and connector for a temporary loop",
		[]bundle{{gear.BackupDevice: 2, gear.Absorber: 1}, {gear.Lanyard: 1, gear.Connector: 1}},
	}
	needFour = need{
		"a second backup device, or a second lanyard for a loop in the other backup strand",
		[]bundle{{gear.BackupDevice: 2, gear.Absorber: 1}, {gear.BackupDevice: 2, gear.Lanyard: 1}, {gear.Lanyard: 2, gear.Connector: 2}},
	}
	needThreeTails = need{"three lanyards", []bundle{{gear.Lanyard: 3, gear.Connector: 3}}}
	needCasualty   = need{"a second lanyard and two connectors for the casualty", []bundle{{gear.Lanyard: 2, gear.Connector: 2}}}
	needKit        = need{"an evacuation kit", []bundle{{gear.Evacuation: 1}}}
)

// moveNeeds is what each move needs at least, whichever school it follows.
var moveNeeds = map[manoeuvre.MoveName][]need{
	"leave-ground":      {needChest, needHand, needFootLoop, needBackup},
	"ascend":            {needHand, needFootLoop, needBackup},
	"ascend-to-descend": {needDescender, needChest, needHand, needFootLoop, needBackup},
	"descend-to-ascend": {needDescender, needChest, needHand, needFootLoop, needBackup},
	"descend":           {needDescender, needBackup},
	"pass-knots-up":     {needChest, needHand, needFootLoop, needBackup, needCover},
	"pass-knots-down":   {needDescender, needChest, needHand, needFootLoop, needBackup, needCover},
	"isolate-damage":    {needBackup, needCover},
	"transfer":          {needDescender, needChest, needBackup, needFour},
	"rebelay-up":        {needChest, needHand, needFootLoop, needBackup, needLanyard},
	"rebelay-down":      {needDescender, needBackup, needLanyard},
	"deviation-up":      {needChest, needHand, needFootLoop, needBackup, needLanyard},
	"deviation-down":    {needDescender, needBackup, needLanyard},
	"aid":               {needThreeTails, needBackup},
	"over-edge":         {needDescender, needBackup},
	"there-and-back":    {needDescender, needChest, needHand, needFootLoop, needBackup},
	"short-work":        {needDescender, needBackup},
	"pick-off":          {needDescender, needBackup, needCasualty},
	"evacuate":          {needKit},
}

// Need is something that a move needs: any one of its bundles, a number of things of each
// class.
type Need struct {
	Rule, Move, Words string
	AnyOf             []map[gear.Class]int
}

// Needs is what moves need at least, each thing once, in the order of the moves.
func Needs(moves []manoeuvre.MoveName) (list []Need) {
	seen := map[string]bool{}
	for _, move := range moves {
		for _, n := range moveNeeds[move] {
			if seen[n.words] {
				continue
			}
			seen[n.words] = true
			all := Need{Rule: "kit.missing", Move: string(move), Words: n.words}
			for _, b := range n.anyOf {
				all.AnyOf = append(all.AnyOf, maps.Clone(b))
			}
			list = append(list, all)
		}
	}
	return list
}

// KitMissing is kit.missing: a person carries what each move on their plan needs
// at least. What a move needs in a given place is for the search to say.
func KitMissing(p *rig.PersonView, c *Context) []finding.Finding {
	var found []finding.Finding
	if len(p.Moves) == 0 {
		return nil
	}
	ready := usable(p, c)
	for _, move := range p.Moves {
		if move == pickOff && !descendsWithTwo(p) {
			found = append(found, lacks(p, move, "does not carry", "a descender rated for two"))
		}
		for _, n := range moveNeeds[move] {
			if slices.ContainsFunc(n.anyOf, func(b bundle) bool { return b.in(ready) }) {
				continue
			}
			how := "does not carry"
			if slices.ContainsFunc(n.anyOf, func(b bundle) bool { return b.in(free(p)) }) {
				how = "carries none that may be used here of"
			}
			found = append(found, lacks(p, move, how, n.words))
		}
	}
	return found
}

func lacks(p *rig.PersonView, move manoeuvre.MoveName, how, what string) finding.Finding {
	return finding.Finding{
		Severity: finding.Stop, Subject: p.Subject(),
		What:    fmt.Sprintf("%s plans %s and %s %s.", p.Name, move, how, what),
		Figures: []finding.Figure{finding.State("move", string(move)), finding.State("missing", what)},
		Why:     "Found missing on the rope, it means a rescue.",
		Remedy:  fmt.Sprintf("Add %s to the kit, or take the move off the plan.", what),
		Source:  byRule,
	}
}

// descendsWithTwo reports whether somebody has a descender with a mode for two.
func descendsWithTwo(p *rig.PersonView) bool {
	return slices.ContainsFunc(p.All, func(o *rig.Piece) bool {
		descends := o.Model.Class == gear.Descender || o.Model.Class == gear.WindingDev
		return descends && slices.ContainsFunc(o.Model.Device.Modes, func(m gear.Mode) bool { return m.Persons > 1 })
	})
}

// in reports whether enough of each class is there.
func (b bundle) in(there map[gear.Class]int) bool {
	for class, n := range b {
		if there[class] < n {
			return false
		}
	}
	return true
}

// classes counts things by their class.
func classes(list []*rig.Piece) map[gear.Class]int {
	n := map[gear.Class]int{}
	for _, o := range list {
		n[o.Model.Class]++
	}
	return n
}

// free are the things of a person by class: what is worn, carried, and the devices in holds. What
// links a device to the body stays where it is: a lanyard there clips into nothing else.
func free(p *rig.PersonView) map[gear.Class]int {
	n := classes(p.All)
	for _, h := range p.Holds {
		for _, l := range h.Links {
			if c := l.Model.Class; c == gear.Lanyard || c == gear.Connector || c == gear.Absorber {
				n[l.Model.Class]--
			}
		}
	}
	return n
}

// usable are those that count for a move: of what is carried, what could be made a hold.
func usable(p *rig.PersonView, c *Context) map[gear.Class]int {
	n := free(p)
	for _, o := range p.Carries {
		if why, _ := unfit(p, o, c); why != "" || !linked(p, o) {
			n[o.Model.Class]--
		}
	}
	return n
}

// linked reports whether a backup device that is carried has something beside it that links it to
// the body; of everything else that it needs none.
func linked(p *rig.PersonView, o *rig.Piece) bool {
	b := o.Model.Backup
	return b == nil || slices.ContainsFunc(p.Carries, func(l *rig.Piece) bool {
		return slices.ContainsFunc(b.Links, func(a gear.AllowedLink) bool { return a.Model == l.Model.ID })
	})
}
