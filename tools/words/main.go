// Command words reads what people read and fails where it is not plain: a phrase of banned.txt
// anywhere in screens, findings, docs or comments, a sentence of more than longest words, or
// sentences that are too long on average.
//
//	go run ./tools/words [-long 40] [DIRECTORY]
//
// -long also prints every sentence of that many words or more.
package main

import (
	_ "embed"
	"flag"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
)

//go:embed banned.txt
var bannedList string

// longest is how many words a sentence may have at most.
const longest = 45

// A kind of text, how long its sentences may be on average, and how they are found in a file.
type kind struct {
	name    string
	bar     float64
	matches func(path string) bool
	// sentences splits a file's prose; what is code, or a name of fewer than four words, is
	// left out.
	sentences func(content string) []string
}

var kinds = []kind{
	{"docs", 20, isDoc, markdownSentences},
	{"screens", 18, isScreen, screenSentences},
	{"findings", 18, isFinding, literalSentences},
}

func isDoc(path string) bool { return strings.HasSuffix(path, ".md") }

func isScreen(path string) bool {
	return strings.HasPrefix(path, "web/src/") && strings.HasSuffix(path, ".vue")
}

func isFinding(path string) bool {
	return strings.HasPrefix(path, "internal/core/") && isGo(path)
}

func isGo(path string) bool {
	return strings.HasSuffix(path, ".go") && !strings.HasSuffix(path, "_test.go")
}

// isRead says whether banned phrases count in a file: all that people wrote, but this tool's list.
func isRead(path string) bool {
	switch filepath.Ext(path) {
	case ".go", ".vue", ".ts", ".md", ".sql", ".json", ".css":
		return path != "web/src/api/schema.d.ts" && path != "docs/formats/openapi.json" &&
			!strings.HasPrefix(path, "tools/words/")
	}
	return false
}

func main() {
	long := flag.Int("long", 0, "print sentences of this many words or more")
	flag.Parse()
	root := "."
	if flag.NArg() > 0 {
		root = flag.Arg(0)
	}
	failures, err := run(os.DirFS(root), *long, os.Stdout)
	if err != nil {
		fmt.Fprintln(os.Stderr, "words:", err)
		os.Exit(2)
	}
	if failures > 0 {
		os.Exit(1)
	}
}

// run reads the tree, prints what is wrong and one line for each kind of text, and returns how
// many things were wrong.
func run(tree fs.FS, long int, out io.Writer) (int, error) {
	failures := 0
	lengths := make([]tally, len(kinds))
	err := fs.WalkDir(tree, ".", func(path string, entry fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if entry.IsDir() {
			return skip(path, entry.Name())
		}
		if !isRead(path) {
			return nil
		}
		content, err := fs.ReadFile(tree, path)
		if err != nil {
			return err
		}
		failures += printBanned(out, path, string(content))
		for i, k := range kinds {
			if k.matches(path) {
				failures += lengths[i].add(out, path, k.sentences(string(content)), long)
			}
		}
		return nil
	})
	for i, k := range kinds {
		mean := lengths[i].mean()
		fmt.Fprintf(out, "%s: %d sentences, %.1f words on average (bar %.0f)\n", k.name, lengths[i].sentences, mean, k.bar)
		if mean > k.bar {
			failures++
		}
	}
	return failures, err
}

func skip(path, name string) error {
	switch {
	case name == "node_modules", name == "dist", name == "testdata", path == "bin",
		name != "." && strings.HasPrefix(name, "."):
		return fs.SkipDir
	}
	return nil
}

// A tally counts sentences and their words.
type tally struct{ sentences, words int }

// add counts sentences, prints the long ones, and returns how many are too long.
func (t *tally) add(out io.Writer, path string, sentences []string, long int) (failures int) {
	for _, s := range sentences {
		n := words(s)
		t.sentences++
		t.words += n
		if n > longest {
			failures++
		}
		if n > longest || long > 0 && n >= long {
			fmt.Fprintf(out, "%s: %d words: %s\n", path, n, s)
		}
	}
	return failures
}

func (t *tally) mean() float64 {
	if t.sentences == 0 {
		return 0
	}
	return float64(t.words) / float64(t.sentences)
}
