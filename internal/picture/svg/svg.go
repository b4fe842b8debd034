// Package svg writes drawings as SVG: one as a file of its own, or many on a sheet. The
// browser's core does not carry it: a page draws the shapes as they come.
package svg

import (
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"

	"zealousknot/internal/picture"
)

// colours are those of a drawing by itself, on white.
var colours = map[picture.Ink]string{picture.Rope: "#17446b", picture.Other: "#8a4b14", picture.Outline: "#1b2226", picture.Soft: "#7c8387", picture.Sign: "#1b2226", picture.Moving: "#0b5563", picture.Wrong: "#9c1c1c"}

// Write writes a drawing as a file of its own.
func Write(w io.Writer, d *picture.Drawing) error {
	var b strings.Builder
	fmt.Fprintf(&b, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %s %s" role="img" font-family="sans-serif" font-size="%s" fill="none" stroke-linecap="round" stroke-linejoin="round">`,
		short(d.Width), short(d.Height), short(d.Size()))
	b.WriteString("<title>" + escaped(d.Text) + "</title>")
	inside(&b, d)
	b.WriteString("</svg>\n")
	_, err := io.WriteString(w, b.String())
	return err
}

// Shapes writes the shapes of a drawing, without its words and without the element round them.
func Shapes(w io.Writer, d *picture.Drawing) error {
	var b strings.Builder
	shapes(&b, d)
	_, err := io.WriteString(w, b.String())
	return err
}

// inside writes what is in the box.
func inside(b *strings.Builder, d *picture.Drawing) {
	shapes(b, d)
	for _, l := range d.Labels {
		fmt.Fprintf(b, `<text x="%s" y="%s" text-anchor="%s" fill="#1b2226">%s</text>`, short(l.X), short(l.Y), l.Anchor, escaped(l.Words))
	}
}

func shapes(b *strings.Builder, d *picture.Drawing) {
	for _, s := range d.Shapes {
		fill, dash := "none", ""
		switch {
		case s.Filled:
			fill = colours[s.Ink]
		case strings.HasSuffix(s.Path, "Z"):
			fill = "#fff"
		}
		if s.Dashed {
			dash = ` stroke-dasharray="6 5"`
		}
		if s.Cut {
			dash += ` stroke-linecap="butt"`
		}
		fmt.Fprintf(b, `<path d="%s" stroke="%s" stroke-width="%s" fill="%s"%s/>`, s.Path, colours[s.Ink], short(s.Width), fill, dash)
	}
}

// escaped is text inside an element.
func escaped(text string) string { return escapes.Replace(text) }

var escapes = strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;")

// Sheet writes drawings side by side, each with its words below it, for looking.
func Sheet(w io.Writer, list []*picture.Drawing, across int) error {
	const wide, high = 300, 400
	var b strings.Builder
	rows := (len(list) + across - 1) / across
	fmt.Fprintf(&b, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d %d" font-family="sans-serif" font-size="13" fill="none" stroke-linecap="round" stroke-linejoin="round"><rect width="100%%" height="100%%" fill="#fff"/>`,
		wide*across, high*rows)
	for i, d := range list {
		fmt.Fprintf(&b, `<g transform="translate(%d %d)"><g transform="scale(%s)">`, i%across*wide+15, i/across*high+10, strconv.FormatFloat(min(1, 270/d.Width, 320/d.Height), 'f', 3, 64))
		inside(&b, d)
		b.WriteString("</g>")
		for n, line := range wrapped(d.Text, 48) {
			fmt.Fprintf(&b, `<text x="0" y="%d" font-size="10" fill="#444">%s</text>`, 332+n*12, escaped(line))
		}
		b.WriteString("</g>")
	}
	b.WriteString("</svg>\n")
	_, err := io.WriteString(w, b.String())
	return err
}

func wrapped(text string, width int) (lines []string) {
	line := ""
	for _, word := range strings.Fields(text) {
		if line != "" && len(line)+len(word) >= width {
			lines, line = append(lines, line), ""
		}
		line = strings.TrimPrefix(line+" "+word, " ")
	}
	return append(lines, line)
}

func short(v float64) string { return strconv.FormatFloat(math.Round(v*10)/10, 'f', -1, 64) }
