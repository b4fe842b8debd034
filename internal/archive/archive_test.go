package archive_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"strings"
	"testing"

	"zealousknot/internal/archive"
)

// read goes over every part of an archive, and gives how many lines it has.
func read(data []byte) (lines int, err error) {
	a, err := archive.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return 0, err
	}
	for _, name := range append(a.Drops(), archive.Manifest, archive.Models, archive.Items, archive.People, archive.Records) {
		if err := a.Lines(name, func([]byte) error { lines++; return nil }); err != nil {
			return lines, err
		}
	}
	return lines, nil
}

func packed(parts ...string) []byte {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for n := 0; n < len(parts); n += 2 {
		w, _ := z.Create(parts[n])
		_, _ = io.WriteString(w, parts[n+1])
	}
	_ = z.Close()
	return b.Bytes()
}

var bare = []string{archive.Manifest, "{}\n", archive.Models, "", archive.Items, "", archive.People, "", archive.Records, ""}

// What is written is read again, line by line and the same each time; what is too long, too
// much, or nowhere known is refused without being unpacked.
func TestLimits(t *testing.T) {
	write := func() []byte {
		var b bytes.Buffer
		w := archive.NewWriter(&b)
		for n := 0; n < len(bare); n += 2 {
			if err := w.Lines(bare[n], func(add func(any) error) error { return add(map[string]string{"a": "<&>\u2028\n"}) }); err != nil {
				t.Fatal(err)
			}
		}
		if err := w.JSON(archive.Drop("face-4"), 1); err != nil {
			t.Fatal(err)
		}
		if err := w.Close(); err != nil {
			t.Fatal(err)
		}
		return b.Bytes()
	}
	if n, err := read(write()); n != 6 || err != nil || !bytes.Equal(write(), write()) {
		t.Errorf("%d lines, %v", n, err)
	}
	many := append([]string{}, bare...)
	for n := range 20_001 {
		many = append(many, fmt.Sprintf("drops/d%d.json", n), "")
	}
	for what, c := range map[string]struct {
		data []byte
		says string
	}{
		"nothing":         {nil, "not an archive"},
		"many parts":      {packed(many...), "at most 20000"},
		"a long line":     {packed(append(bare[:8:8], archive.Records, strings.Repeat("x", 8<<20+1))...), "token too long"},
		"an empty line":   {packed(append(bare[:8:8], archive.Records, "1\n\n2\n")...), "records.jsonl, line 2: empty"},
		"a way out":       {packed(append(bare[:10:10], "../x", "")...), "is not known"},
		"a drop's name":   {packed(append(bare[:10:10], "drops/../x.json", "")...), "is not known"},
		"without records": {packed(bare[:8]...), "records.jsonl is missing"},
	} {
		if _, err := read(c.data); err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v", what, err)
		}
	}
	a, err := archive.NewReader(bytes.NewReader(packed(bare...)), int64(len(packed(bare...))))
	if err != nil {
		t.Fatal(err)
	}
	if err := a.JSON(archive.Items, func([]byte) error { return nil }); err == nil || !strings.Contains(err.Error(), "0 values") {
		t.Error(err)
	}
}

func FuzzReader(f *testing.F) {
	f.Add(packed(bare...))
	f.Add(packed(append(bare[:10:10], "drops/a.json", "{}")...))
	f.Fuzz(func(_ *testing.T, data []byte) { _, _ = read(data) })
}
