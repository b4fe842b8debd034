package svg_test

import (
	"bytes"
	"encoding/xml"
	"errors"
	"io"
	"strings"
	"testing"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/picture"
	"zealousknot/internal/picture/svg"
)

// TestSVG holds that a file is well formed whatever a thing is called, and holds its text.
func TestSVG(t *testing.T) {
	l := picture.Loading{Label: `<b>"7 & 8"</b>`, Kind: picture.CamAndPost, Side: gear.Right, Threaded: rig.ThreadedRight}
	var one, sheet bytes.Buffer
	if err := errors.Join(svg.Write(&one, l.Draw()), svg.Sheet(&sheet, []*picture.Drawing{l.Draw(), l.Proof(gear.Jerk)}, 2)); err != nil {
		t.Fatal(err)
	}
	for _, b := range []*bytes.Buffer{&one, &sheet} {
		d := xml.NewDecoder(bytes.NewReader(b.Bytes()))
		paths := 0
		for {
			token, err := d.Token()
			if errors.Is(err, io.EOF) {
				break
			}
			if err != nil {
				t.Fatal(err)
			}
			if e, ok := token.(xml.StartElement); ok && e.Name.Local == "path" {
				paths++
			}
		}
		if paths < 10 {
			t.Errorf("%d paths", paths)
		}
	}
	if !strings.Contains(one.String(), "<title>&lt;b&gt;") {
		t.Errorf("%.200s", one.String())
	}
}
