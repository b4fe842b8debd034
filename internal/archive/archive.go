// Package archive reads and writes a team's archive: one ZIP file of JSON, and of JSON a line.
//
// It knows the file, its parts and their limits. What stands in the lines is for the store
// to say.
package archive

import (
	"archive/zip"
	"bufio"
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"regexp"
	"slices"
)

// Format is the version of the file that this program writes and reads.
const Format = 1

// Limits of what is read, so that a small file cannot become a large one.
const (
	maxEntries = 20_000
	maxLine    = 8 << 20
	maxWhole   = 2 << 30
)

// Parts of an archive, in the order in which they are written. Those of later versions of
// the program are left out where a team has none.
const (
	Manifest = "manifest.json"
	Policy   = "policy.json"
	Models   = "models.jsonl"
	Items    = "items.jsonl"
	Serials  = "serials.jsonl"
	People   = "people.jsonl"
	Kits     = "kits.jsonl"
	Versions = "versions.jsonl"
	Photos   = "photos.jsonl"
	Boards   = "boards.jsonl"
	Preplans = "pre-plans.jsonl"
	Runs     = "runs.jsonl"
	Events   = "run-events.jsonl"
	Readings = "readings.jsonl"
	Callouts = "callouts.jsonl"
	Classes  = "classes.jsonl"
	Marks    = "marks.jsonl"
	Records  = "records.jsonl"
)

var known = []string{Manifest, Policy, Models, Items, Serials, People, Kits, Versions, Photos, Boards, Preplans, Runs, Events, Readings, Callouts, Classes, Marks, Records}

var dropFile = regexp.MustCompile(`^drops/[a-z0-9][a-z0-9-]{0,63}\.json$`)

// Drop is the name of a drop's part.
func Drop(id string) string { return "drops/" + id + ".json" }

// Writer writes an archive. Parts of the same content give the same bytes.
type Writer struct{ z *zip.Writer }

// NewWriter begins an archive.
func NewWriter(w io.Writer) *Writer { return &Writer{zip.NewWriter(w)} }

// JSON writes a part that is one value.
func (w *Writer) JSON(name string, v any) error {
	return w.Lines(name, func(add func(any) error) error { return add(v) })
}

// Lines writes a part of a value a line; each gives them one after the other.
func (w *Writer) Lines(name string, each func(add func(any) error) error) error {
	f, err := w.z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Deflate})
	if err != nil {
		return err
	}
	e := json.NewEncoder(f)
	e.SetEscapeHTML(false)
	return each(e.Encode)
}

// Close ends the archive; it does not close what it is written to.
func (w *Writer) Close() error { return w.z.Close() }

// Reader reads an archive.
type Reader struct {
	parts map[string]*zip.File
	drops []string
}

// NewReader looks at an archive of a size, and refuses one with parts that it does not know,
// that are there twice, or that are too many or too large.
func NewReader(r io.ReaderAt, size int64) (*Reader, error) {
	z, err := zip.NewReader(r, size)
	if err != nil {
		return nil, fmt.Errorf("not an archive: %w", err)
	}
	if len(z.File) > maxEntries {
		return nil, fmt.Errorf("%d parts: at most %d are read", len(z.File), maxEntries)
	}
	a, whole := &Reader{parts: map[string]*zip.File{}}, uint64(0)
	for _, f := range z.File {
		isDrop := dropFile.MatchString(f.Name)
		switch {
		case !isDrop && !slices.Contains(known, f.Name):
			return nil, fmt.Errorf("part %q is not known", f.Name)
		case a.parts[f.Name] != nil:
			return nil, fmt.Errorf("%s is there twice", f.Name)
		case isDrop:
			a.drops = append(a.drops, f.Name)
		}
		if whole += f.UncompressedSize64; f.UncompressedSize64 > maxWhole || whole > maxWhole {
			return nil, errors.New("unpacked it is larger than is read")
		}
		a.parts[f.Name] = f
	}
	for _, name := range []string{Manifest, Models, Items, People, Records} {
		if a.parts[name] == nil {
			return nil, fmt.Errorf("%s is missing", name)
		}
	}
	slices.Sort(a.drops)
	return a, nil
}

// Drops are the names of the parts of drops, in order.
func (a *Reader) Drops() []string { return a.drops }

// Has reports whether a part is there.
func (a *Reader) Has(name string) bool { return a.parts[name] != nil }

// JSON reads a part that is one value, at most as long as a line.
func (a *Reader) JSON(name string, read func(data []byte) error) error {
	n := 0
	err := a.Lines(name, func(data []byte) error { n++; return read(data) })
	if err == nil && n != 1 {
		return fmt.Errorf("%s: %d values, and it is one", name, n)
	}
	return err
}

// Lines reads a part line by line; an error of each names the part and the line. A part that
// is missing has no lines.
func (a *Reader) Lines(name string, each func(data []byte) error) error {
	f := a.parts[name]
	if f == nil {
		return nil
	}
	r, err := f.Open()
	if err != nil {
		return fmt.Errorf("%s: %w", name, err)
	}
	defer r.Close()
	lines := bufio.NewScanner(r)
	lines.Buffer(make([]byte, 64<<10), maxLine)
	for n := 1; lines.Scan(); n++ {
		if len(bytes.TrimSpace(lines.Bytes())) == 0 {
			return fmt.Errorf("%s, line %d: empty", name, n)
		}
		if err := each(lines.Bytes()); err != nil {
			return fmt.Errorf("%s, line %d: %w", name, n, err)
		}
	}
	if err := lines.Err(); err != nil {
		return fmt.Errorf("%s: %w", name, err)
	}
	return nil
}

// About is the manifest of an archive.
type About struct {
	Format int    `json:"format" minimum:"1"`
	MadeAt string `json:"made_at" format:"date-time"`
	Team   struct {
		ID       string `json:"id" pattern:"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$"`
		Name     string `json:"name" minLength:"1" maxLength:"80"`
		TimeZone string `json:"time_zone" minLength:"1" maxLength:"60"`
	} `json:"team"`
	Counts Counts `json:"counts"`
	Chain  End    `json:"chain"`
}

// Counts say how much of each kind there is, so that a cut-off part shows.
type Counts struct {
	Models   int `json:"models"`
	Items    int `json:"items"`
	People   int `json:"people"`
	Kits     int `json:"kits"`
	Drops    int `json:"drops"`
	Versions int `json:"versions"`
	Photos   int `json:"photos,omitempty"`
	Records  int `json:"records"`
}

// End is the end of the chain of records.
type End struct {
	Number int64  `json:"number"`
	Seal   string `json:"seal,omitempty" pattern:"^[0-9a-f]{64}$"`
}
