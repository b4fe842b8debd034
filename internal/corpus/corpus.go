// Package corpus holds answers of the program against those that it gave before. Only
// tests use it.
//
// A corpus does not say what is right: properties and independent readers do. It says
// that something changed, for how many cases and which, so that a change meant for one
// case cannot alter others unseen.
package corpus

import (
	"bytes"
	"crypto/sha256"
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"
	"unicode"
	"unicode/utf8"
)

var update = flag.Bool("update", false, "write the corpora again, after looking at what changed")

// words are the fields of answers that hold text for a reader: another wording changes
// the second sum of a case and not the first. So is every sentence, wherever it stands.
var words = map[string]bool{
	"what": true, "why": true, "remedy": true, "title": true, "text": true, "label": true, "words": true, "call": true,
	"say": true, "says": true, "reason": true, "impossible": true, "working": true, "name": true, "source": true,
}

// Line is one case: its name, what it comes to in short, and two sums over the whole
// answer, of the facts and of the words. An answer is anything that can be written as
// JSON.
func Line(t testing.TB, name, short string, answer any) string {
	t.Helper()
	text, err := json.Marshal(answer)
	if err != nil {
		t.Fatal(err)
	}
	d := json.NewDecoder(bytes.NewReader(text))
	d.UseNumber()
	var v any
	if err := d.Decode(&v); err != nil {
		t.Fatal(err)
	}
	var facts, said bytes.Buffer
	split(v, false, &facts, &said)
	return fmt.Sprintf("%s  %s  %s %s", name, short, sum(facts), sum(said))
}

func sum(b bytes.Buffer) string {
	s := sha256.Sum256(b.Bytes())
	return fmt.Sprintf("%x", s[:4])
}

// split writes a value's facts and its words, each with where it stands. Numbers have
// nine digits: another processor's last ones may differ.
func split(v any, text bool, facts, said *bytes.Buffer) {
	switch v := v.(type) {
	case map[string]any:
		keys := make([]string, 0, len(v))
		for k := range v {
			keys = append(keys, k)
		}
		slices.Sort(keys)
		for _, k := range keys {
			facts.WriteString("{" + k)
			split(v[k], text || words[k], facts, said)
		}
	case []any:
		facts.WriteString("[" + strconv.Itoa(len(v)))
		for _, e := range v {
			split(e, text, facts, said)
		}
	case json.Number:
		f, _ := v.Float64()
		facts.WriteString("#" + strconv.FormatFloat(f, 'g', 9, 64))
	case string:
		if text || isSentence(v) {
			said.WriteString(v + "\n")
			return
		}
		facts.WriteString("'" + v + "'")
	default:
		fmt.Fprint(facts, v)
	}
}

// isSentence is whether a text has three words or more; ids have none.
func isSentence(text string) bool {
	first, _ := utf8.DecodeRuneInString(text)
	return (unicode.IsLetter(first) || unicode.IsDigit(first)) && strings.Count(text, " ") > 1
}

// Same fails where lines differ from those in a file, and names the first that do. With
// -update it writes the file instead.
func Same(t *testing.T, path string, lines []string) {
	t.Helper()
	if *update {
		if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(path, []byte(strings.Join(lines, "\n")+"\n"), 0o644); err != nil {
			t.Fatal(err)
		}
		return
	}
	text, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	was := strings.Split(strings.TrimSuffix(string(text), "\n"), "\n")
	differ := 0
	for i := range max(len(was), len(lines)) {
		before, now := "(no case)", "(no case)"
		if i < len(was) {
			before = was[i]
		}
		if i < len(lines) {
			now = lines[i]
		}
		if before == now {
			continue
		}
		if differ++; differ <= 4 {
			t.Errorf("was %s\nis  %s", before, now)
		}
	}
	if differ > 0 {
		t.Errorf("%d of %d cases differ from %s; if they should: go test -run '^%s$' -update", differ, len(was), path, t.Name())
	}
}
