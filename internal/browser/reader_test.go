package browser_test

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/accessibility"
	"github.com/chromedp/cdproto/dom"
	"github.com/chromedp/chromedp"
)

// A voice is one thing that a screen reader reads.
type voice struct {
	role, name string
	node       *accessibility.Node
}

// heard is what a screen reader reads of the page, in its order.
func (p *page) heard() (list []voice) {
	p.Helper()
	p.do(chromedp.ActionFunc(func(ctx context.Context) error {
		nodes, err := accessibility.GetFullAXTree().Do(ctx)
		if err != nil {
			return err
		}
		of := map[accessibility.NodeID]*accessibility.Node{}
		for _, n := range nodes {
			of[n.NodeID] = n
		}
		var read func(n *accessibility.Node)
		read = func(n *accessibility.Node) {
			if n == nil {
				return
			}
			if !n.Ignored && n.Role != nil {
				v := voice{node: n}
				_ = json.Unmarshal(n.Role.Value, &v.role) // words, or not there
				if n.Name != nil {
					_ = json.Unmarshal(n.Name.Value, &v.name)
				}
				v.name = strings.Join(strings.Fields(v.name), " ")
				// Plain text is read too, and is in the names of what it stands in.
				if v.role != "StaticText" && v.role != "InlineTextBox" && v.role != "generic" {
					list = append(list, v)
				}
			}
			for _, c := range n.ChildIDs {
				read(of[c])
			}
		}
		if len(nodes) > 0 {
			read(nodes[0])
		}
		return nil
	}))
	return list
}

// next waits for a thing of a role, whose name begins so, after the one that was heard last.
func (p *page) next(role, name string, from int) (voice, int) {
	p.Helper()
	for end := time.Now().Add(time.Minute); time.Now().Before(end); {
		for i, v := range p.heard() {
			if i >= from && v.role == role && strings.HasPrefix(v.name, name) {
				return v, i + 1
			}
		}
		// The page may not have been drawn yet: the next frame is waited for.
		p.do(chromedp.Evaluate(`new Promise((done) => requestAnimationFrame(done))`, nil, waits))
	}
	var read strings.Builder
	for _, v := range p.heard()[from:] {
		fmt.Fprintf(&read, "%s %q\n", v.role, v.name)
	}
	p.Fatalf("not read: %s %q; read:\n%s", role, name, &read)
	return voice{}, 0
}

var spoken = regexp.MustCompile(`(?m)^(goes|hears|presses) +(\S+)(?: "(.*)")?$`)

// The main job is read in an order that makes sense, by names that say what each thing is, and
// can be done by keys alone: as docs/screen-reader.md has it.
func TestByEar(t *testing.T) {
	text, err := os.ReadFile("../../docs/screen-reader.md")
	if err != nil {
		t.Fatal(err)
	}
	lines := spoken.FindAllStringSubmatch(string(text), -1)
	if len(lines) < 20 {
		t.Fatal("the path is not written down")
	}
	var p *page
	at := 0
	for _, l := range lines {
		switch l[1] {
		case "goes":
			if p == nil {
				p = open(t, l[2])
			} else {
				p.do(chromedp.Navigate(p.url + l[2]))
			}
			at = 0
		case "hears":
			_, at = p.next(l[2], l[3], at)
		case "presses":
			v, _ := p.next(l[2], l[3], 0)
			p.do(dom.Focus().WithBackendNodeID(v.node.BackendDOMNodeID), chromedp.KeyEvent("\r"))
			at = 0
		}
	}
}
