package main

import (
	"fmt"
	"go/scanner"
	"go/token"
	"html"
	"io"
	"regexp"
	"strconv"
	"strings"
)

// banned matches every phrase of the list as whole words, also across a line break.
var banned = compile(bannedList)

func compile(list string) *regexp.Regexp {
	var phrases []string
	for line := range strings.Lines(list) {
		if line = strings.TrimSpace(line); line != "" && line[0] != '#' {
			phrases = append(phrases, strings.ReplaceAll(regexp.QuoteMeta(line), " ", `\s+(?://\s*|--\s*)?`))
		}
	}
	return regexp.MustCompile(`(?i)\b(?:` + strings.Join(phrases, "|") + `)\b`)
}

func printBanned(out io.Writer, path, content string) int {
	found := banned.FindAllStringIndex(content, -1)
	for _, at := range found {
		fmt.Fprintf(out, "%s:%d: %q\n", path, 1+strings.Count(content[:at[0]], "\n"), content[at[0]:at[1]])
	}
	return len(found)
}

var (
	word      = regexp.MustCompile(`\p{L}`)
	fence     = regexp.MustCompile("(?ms)^ *```.*?^ *```")
	link      = regexp.MustCompile(`!?\[([^\]]*)\]\([^)]*\)`)
	block     = regexp.MustCompile(`(?m)^\s*(?:#+|[-*]|\d+\.) |^\s*$|\||^[<>].*$`)
	end       = regexp.MustCompile(`[.!?](?:[)"*”]*)\s`)
	template  = regexp.MustCompile(`(?s)<template>.*</template>`)
	comment   = regexp.MustCompile(`(?s)<!--.*?-->`)
	hole      = regexp.MustCompile(`(?s)\{\{.*?\}\}`)
	attribute = regexp.MustCompile(`(?s)\s(?:title|aria-label|placeholder|label|help|note)="([^"]*)"`)
	tag       = regexp.MustCompile(`(?s)<(/?)([A-Za-z0-9-]+)(?:[^>"]|"[^"]*")*>`)
)

// words counts what has a letter in it.
func words(sentence string) int {
	n := 0
	for _, w := range strings.Fields(sentence) {
		if word.MatchString(w) {
			n++
		}
	}
	return n
}

// split cuts a block into sentences of four words and more.
func split(text string) []string {
	var sentences []string
	text = strings.Join(strings.Fields(text), " ") + " "
	for text != "" {
		cut := len(text)
		if at := end.FindStringIndex(text); at != nil {
			cut = at[1]
		}
		if words(text[:cut]) > 3 {
			sentences = append(sentences, strings.TrimSpace(text[:cut]))
		}
		text = text[cut:]
	}
	return sentences
}

func markdownSentences(content string) []string {
	content = link.ReplaceAllString(fence.ReplaceAllString(content, "\n\n"), "$1")
	var sentences []string
	for _, b := range block.Split(content, -1) {
		sentences = append(sentences, split(b)...)
	}
	return sentences
}

// inline are the tags that do not end a sentence.
var inline = map[string]bool{"b": true, "em": true, "strong": true, "span": true, "i": true, "RouterLink": true, "a": true, "kbd": true, "template": true}

func screenSentences(content string) []string {
	content = comment.ReplaceAllString(template.FindString(content), "")
	var sentences []string
	for _, a := range attribute.FindAllStringSubmatch(content, -1) {
		sentences = append(sentences, split(html.UnescapeString(a[1]))...)
	}
	content = tag.ReplaceAllStringFunc(hole.ReplaceAllString(content, "x"), func(t string) string {
		if inline[tag.FindStringSubmatch(t)[2]] {
			return " "
		}
		return "\x00"
	})
	for _, b := range strings.Split(content, "\x00") {
		sentences = append(sentences, split(html.UnescapeString(b))...)
	}
	return sentences
}

// literalSentences reads the string literals of a Go file. A literal with a placeholder is a
// sentence too; its figures do not count as words.
func literalSentences(content string) []string {
	var (
		scan      scanner.Scanner
		set       = token.NewFileSet()
		sentences []string
	)
	scan.Init(set.AddFile("", set.Base(), len(content)), []byte(content), nil, 0)
	for {
		_, kind, literal := scan.Scan()
		if kind == token.EOF {
			return sentences
		}
		if kind != token.STRING {
			continue
		}
		if text, err := strconv.Unquote(literal); err == nil && !strings.Contains(text, `json:"`) {
			sentences = append(sentences, split(text)...)
		}
	}
}
