package reeving

import (
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/quantity"
)

// Change is one change to a reeving, with what it then is.
type Change struct {
	Words   string         `json:"words"`
	Reeving []Rope         `json:"reeving"`
	Ideal   quantity.Ratio `json:"ideal_ratio"`
}

// Changes lists what can be done at one part of a rope of a reeving: every change gives
// a reeving that can be solved and that raises the load. Index is the part's as in
// Forces: 0 is the part at the hand. A rope or part that is missing gives none.
func Changes(ropes []Rope, rope string, index int) []Change {
	at := slices.IndexFunc(ropes, func(r Rope) bool { return r.Rope == rope })
	if at < 0 || index < 0 || index >= len(ropes[at].Path)-1 {
		return nil
	}
	c := &changer{ropes: ropes, at: at, index: index}
	c.pulleys()
	c.grabs()
	c.more()
	c.ends()
	return c.list
}

type changer struct {
	ropes     []Rope
	at, index int
	list      []Change
}

// add keeps a change that makes a reeving which raises the load.
func (c *changer) add(made []Rope, format string, args ...any) {
	ideal, err := solved(made, "")
	if err != nil || slices.ContainsFunc(made, idle) || slices.ContainsFunc(c.list, func(o Change) bool { return same(o.Reeving, made) }) || same(made, c.ropes) {
		return
	}
	c.list = append(c.list, Change{fmt.Sprintf(format, args...), made, quantity.Ratio(ideal)})
}

// idle reports whether a rope goes from one thing to the same thing: it turns nothing.
func idle(rope Rope) bool {
	last := ""
	for _, token := range rope.Path {
		on := token
		if _, to, ok := cutPulley(token); ok {
			on = to
		}
		if on == last {
			return true
		}
		last = on
	}
	return false
}

func same(a, b []Rope) bool {
	return slices.EqualFunc(a, b, func(x, y Rope) bool { return x.Rope == y.Rope && slices.Equal(x.Path, y.Path) })
}

// path is a copy of the reeving with another path on the rope that is changed.
func (c *changer) path(tokens ...string) []Rope {
	made := slices.Clone(c.ropes)
	made[c.at].Path = tokens
	return made
}

func (c *changer) tokens() []string { return slices.Clone(c.ropes[c.at].Path) }

// insert is the reeving with tokens put in at the part.
func (c *changer) insert(tokens ...string) []Rope {
	return c.path(slices.Insert(c.tokens(), c.index+1, tokens...)...)
}

// fixings are what a pulley can be fixed to.
func (c *changer) fixings() []string {
	_, grabs := Parts("", c.ropes)
	list := []string{"anchor", "load"}
	for _, g := range grabs {
		list = append(list, "grab:"+g)
	}
	return list
}

// free gives names that no part has yet.
func (c *changer) free(n int) []string {
	pulleys, grabs := Parts("", c.ropes)
	var list []string
	for i := 0; len(list) < n; i++ {
		name := string(rune('A' + i%26))
		if i >= 26 {
			name += fmt.Sprint(i / 26)
		}
		if !slices.Contains(pulleys, name) && !slices.Contains(grabs, name) {
			list = append(list, name)
		}
	}
	return list
}

// words say what a fixing is.
func words(fixed string) string {
	if g, ok := strings.CutPrefix(fixed, "grab:"); ok {
		return "grab " + g
	}
	return "the " + fixed
}

func cutPulley(token string) (name, to string, ok bool) {
	rest, ok := strings.CutPrefix(token, "pulley:")
	if !ok {
		return "", "", false
	}
	return strings.Cut(rest, "@")
}

// pulleys are put in, taken out and fixed to something else.
func (c *changer) pulleys() {
	path := c.ropes[c.at].Path
	name := c.free(1)[0]
	for _, to := range c.fixings() {
		c.add(c.insert("pulley:"+name+"@"+to), "add a pulley here, on %s", words(to))
	}
	for _, i := range []int{c.index, c.index + 1} {
		pulley, on, ok := cutPulley(path[i])
		if !ok {
			continue
		}
		for _, to := range c.fixings() {
			if to != on {
				moved := c.tokens()
				moved[i] = "pulley:" + pulley + "@" + to
				c.add(c.path(moved...), "fix pulley %s to %s", pulley, words(to))
			}
		}
		c.add(c.path(slices.Delete(c.tokens(), i, i+1)...), "take pulley %s out", pulley)
	}
}

// grabs are moved to this part, or taken off it.
func (c *changer) grabs() {
	for i, rope := range c.ropes {
		for j := 1; j < len(rope.Path)-1; j++ {
			name, ok := strings.CutPrefix(rope.Path[j], "grab:")
			if !ok || i == c.at && (j == c.index || j == c.index+1) {
				continue
			}
			made := c.insert(rope.Path[j])
			from := j
			if i == c.at && j > c.index {
				from++
			}
			made[i].Path = slices.Delete(slices.Clone(made[i].Path), from, from+1)
			c.add(made, "move grab %s here", name)
		}
	}
}

// more multiplies the pull on this part.
func (c *changer) more() {
	n := c.free(3)
	grab, first, second := n[0], n[1], n[2]
	if c.index == 0 && c.ropes[c.at].Path[0] == "hand" {
		c.add(c.insert("pulley:"+first+"@grab:"+grab, "pulley:"+second+"@anchor", "grab:"+grab), "pull this part by a 3:1 of the same rope")
	}
	other := 1
	for slices.ContainsFunc(c.ropes, func(r Rope) bool { return r.Rope == fmt.Sprint("rope ", other) }) {
		other++
	}
	// The rope before the new grab hangs slack.
	tail := append([]string{"slack", "grab:" + grab}, c.tokens()[c.index+1:]...)
	with := func(path ...string) []Rope {
		return append(c.path(tail...), Rope{fmt.Sprint("rope ", other), path})
	}
	c.add(with("hand", "pulley:"+first+"@grab:"+grab, "anchor"), "pull this part by a 2:1 of another rope")
	c.add(with("hand", "pulley:"+first+"@anchor", "pulley:"+second+"@grab:"+grab, "anchor"), "pull this part by a 2:1 of another rope, the hands at the anchor")
	c.add(with("hand", "grab:"+grab), "pull this part by another rope, straight")
}

// ends are changed at the last part.
func (c *changer) ends() {
	last := len(c.ropes[c.at].Path) - 1
	if c.index+1 != last {
		return
	}
	for _, to := range c.fixings() {
		ended := c.tokens()
		ended[last] = to
		c.add(c.path(ended...), "end this rope at %s", words(to))
	}
}
